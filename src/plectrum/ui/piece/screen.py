"""The Piece screen: the notes as they are written, typed and corrected here, and at a glance."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QEvent, QObject, Qt, QTimer
from PySide6.QtGui import QKeyEvent, QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from plectrum.core.advice.overview import Overview, overview_of
from plectrum.core.document.choices import Choices
from plectrum.core.document.document import Document
from plectrum.core.instrument.specification import instrument
from plectrum.core.planning.plan import Plan
from plectrum.core.score.model import Metre
from plectrum.core.score.writing.editor import Editor
from plectrum.core.score.writing.fitting import fit_interval
from plectrum.core.wording import in_words, say, tr
from plectrum.ui.desk.desk import Desk
from plectrum.ui.desk.screen import Screen
from plectrum.ui.drawing.staff_view import StaffLook, StaffView
from plectrum.ui.editing.runner import Runner
from plectrum.ui.look import theme
from plectrum.ui.look.labels import label, scrolling, set_side_width
from plectrum.ui.look.speaking import describe
from plectrum.ui.piece.glance import Glance
from plectrum.ui.piece.head_form import HeadForm
from plectrum.ui.piece.toolstrip import Toolstrip
from plectrum.ui.piece.typing import Typing

WIDTH = 328
LOOK_MS = 250
HINT = tr(
    "Letters a to g type notes, 1 2 4 8 6 choose the length, r a rest. Arrows move, Shift selects, "
    "Up and Down change the pitch. F1 shows every key."
)


class PieceScreen(Screen):
    """Shows and edits the document's written notes."""

    def __init__(self, desk: Desk, parent: QWidget | None = None) -> None:
        super().__init__(desk, parent)
        self.channel = desk.engraver.channel("piece")
        self.typing = Typing(self.session, self)
        self.toolstrip = Toolstrip()
        self.view = StaffView()
        self.view.zoom = desk.settings.zoom
        self.hint = label("muted", HINT, wrap=True)
        self.head = HeadForm()
        self.glance = Glance()
        self.overview: Overview | None = None
        self._reader = Runner(self)
        self._seer = Runner(self)
        # While someone types, the page is looked at when the hand rests.
        self._look_soon = QTimer(self, singleShot=True, interval=LOOK_MS)
        self._look_soon.timeout.connect(self._look)
        self._stale = True
        self._unseen = True
        self._lay_out()
        self.view.installEventFilter(self)
        self._connect()

    def _lay_out(self) -> None:
        panel = QWidget()
        panel.setObjectName("panel")
        column = QVBoxLayout(panel)
        column.setContentsMargins(16, 12, 16, 16)
        column.setSpacing(4)
        column.addWidget(label("section", tr("THE TUNE")))
        column.addWidget(self.head)
        column.addSpacing(8)
        column.addWidget(label("notetitle", tr("At a glance")))
        column.addWidget(self.glance)
        column.addStretch(1)
        self.scroll_area = scrolling(panel)
        self.scroll_area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        left = QVBoxLayout()
        left.setContentsMargins(0, 0, 0, 0)
        left.setSpacing(0)
        left.addWidget(self.toolstrip)
        left.addWidget(self.view, 1)
        self.hint.setContentsMargins(16, 4, 16, 6)
        left.addWidget(self.hint)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addLayout(left, 1)
        row.addWidget(self.scroll_area)
        self.fit()

    def catch_up(self) -> None:
        self.typing.begin()
        self._score_changed()
        self._look_soon.start()

    @property
    def focus_target(self) -> QWidget:
        return self.view

    def fit(self) -> None:
        """As wide as the interface scale wants it."""
        set_side_width(self.scroll_area, theme.px(WIDTH))

    def refresh_look(self) -> None:
        self.fit()
        self.view.repaint_all()

    def zoom(self, steps: int) -> None:
        self.view.zoom_by(steps)

    def set_zoom(self, zoom: float) -> None:
        self.view.set_zoom(zoom)

    def _connect(self) -> None:
        self.session.opened.connect(self.typing.begin)
        self.session.score_changed.connect(self._score_changed)
        self.session.detailed.connect(self._look_soon.start)
        self.session.form_changed.connect(self._look_soon.start)
        self.channel.failed.connect(self.session.not_engraved)
        self.view.zoom_changed.connect(self.desk.settings.keep_zoom)
        self.channel.laid_out.connect(self.view.expect)
        self.channel.system_ready.connect(self.view.add_system)
        self.view.layout_wanted.connect(self.engrave)
        self.view.note_clicked.connect(
            lambda note_id, extend: self.typing.go_to(note_id, extend=extend)
        )
        self.typing.moved.connect(self._show_marks)
        self.typing.refused.connect(self.message)
        self.toolstrip.pressed.connect(self._press_button)
        self.toolstrip.dynamic_wanted.connect(self._choose_dynamic)
        self.glance.note_wanted.connect(self._go_to_note)
        head, whole = self.head, self.typing.edit_whole
        head.title_wanted.connect(self._set_title)
        head.key_wanted.connect(lambda k: whole("key", lambda e: e.set_key(k)))
        head.metre_wanted.connect(self._set_metre)
        head.pickup_wanted.connect(lambda q: whole("pickup", lambda e: e.set_pickup(q)))
        head.tempo_wanted.connect(self._set_tempo)
        head.instrument_wanted.connect(self._set_instrument)

    # showing

    def engrave(self) -> None:
        """Lay the staff out for the present width and zoom, now or when it is next seen."""
        document = self.session.document
        if document is None:
            return
        if not self.isVisible():
            self._stale = True
            return
        self._stale = False
        self.view.engrave(
            self.channel, document.score, (document.part_id,), document.choices.instrument
        )

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.fit()  # only now the words have their sizes
        if self._stale:
            self.engrave()
        if self._unseen:
            self._look()

    def _score_changed(self) -> None:
        document = self.session.document
        if document is None:
            return
        self.engrave()
        if not self.typing.busy:
            self._reader.run(
                lambda: _read(document),
                lambda done: self.typing.show(*done),
                self.session.failed.emit,
            )

    def _look(self) -> None:
        """The plan is whole: say what the page holds, now or when it is next seen."""
        plan = self.session.plan
        self._unseen = not self.isVisible()
        if plan is not None and not self._unseen:
            self._seer.run(lambda: (overview_of(plan), plan), self._show_look, self._not_seen)

    def _not_seen(self, error: Exception) -> None:
        self.session.failed.emit(error)

    def _show_look(self, result: Any) -> None:
        plan: Plan
        seen, plan = result
        document, now = self.session.both
        if plan is not now or document is None:
            return
        self.overview = seen
        self.glance.show_overview(seen, plan, document.form)
        QTimer.singleShot(0, self, self.fit)  # what is told may have longer words
        written = document.part.tempo.bpm
        self.head.show_tune(document.title, plan, self.typing.fifths, written)
        numbers = {t.bar for t in seen.tricky}
        ids = [note.id for note in document.part.notes]
        tricky = frozenset(b.index for b in plan.part.bars if b.number in numbers)
        self.view.set_look(
            StaffLook(
                {bar: k for k, bars in enumerate(seen.equal_bars) for bar in bars},
                {ids[s.first_note]: s.name for s in document.form if not s.figure},
                tricky,
            )
        )

    def _show_marks(self) -> None:
        typing = self.typing
        self.view.show_marks([w.id for w in typing.selected], typing.caret)
        self.toolstrip.show_typing(typing)
        describe(self.view, typing.words, typing.caret)

    # keys

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            return self.key(event)
        return super().eventFilter(watched, event)

    def key(self, event: QKeyEvent) -> bool:
        """One key on the staff; True if it meant something."""
        if self.session.document is None:
            return False
        mods = event.modifiers()
        control = bool(mods & Qt.KeyboardModifier.ControlModifier)
        shift = bool(mods & Qt.KeyboardModifier.ShiftModifier)
        alt = bool(mods & Qt.KeyboardModifier.AltModifier)
        key, typing = Qt.Key(event.key()), self.typing
        sideways = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(key)
        upward = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1}.get(key)
        if sideways is not None:
            typing.walk(sideways, extend=shift, by_bar=control)
        elif upward is not None and alt:
            typing.louder(upward)
        elif upward is not None:
            typing.step(upward * (7 if control else 1))
        elif key == Qt.Key.Key_Home:
            typing.walk(-(10**6), extend=shift)
        elif key == Qt.Key.Key_End:
            typing.walk(10**6, extend=shift)
        elif key == Qt.Key.Key_Backspace:
            typing.delete(forward=False)
        elif key == Qt.Key.Key_Delete:
            typing.delete(forward=True)
        elif key == Qt.Key.Key_Escape:
            return typing.let_go()
        elif not control and not alt:
            return typing.press(event.text())
        else:
            return False
        return True

    def _press_button(self, text: str) -> None:
        self.typing.press(text)
        self.view.setFocus()

    def _choose_dynamic(self, name: str | None) -> None:
        self.typing.dynamic(name)
        self.view.setFocus()

    def _go_to_note(self, index: int) -> None:
        plan = self.session.plan
        if plan is not None and index < len(plan.part.notes):
            self.typing.go_to(plan.part.notes[index].id)
            self.view.setFocus()

    # the whole tune

    def _set_title(self, title: str) -> None:
        document = self.session.document
        if document is not None and title.strip() and title != document.title:
            self.typing.edit_whole("title", lambda e: e.set_title(title.strip()))

    def _set_tempo(self, bpm: float) -> None:
        document = self.session.document
        if document is None or round(document.part.tempo.bpm) == round(bpm):
            return
        self.typing.edit_whole("tempo", lambda e: e.set_tempo(bpm))

    def _set_metre(self, metre: Metre) -> None:
        self.typing.edit_whole("metre", lambda e: e.set_metre(metre))

    def _set_instrument(self, name: str) -> None:
        """Rewrite the part for another instrument, moved to where that can play it."""
        document = self.session.document
        if document is None or name == document.choices.instrument:
            return
        self.typing.when_idle(
            lambda: self.session.change_aside(
                lambda d: for_instrument(d, name), say("for {name}", name=in_words(name))
            )
        )
        self.message.emit(
            say("Moved to fit the {name}; Ctrl+Z brings it back.", name=in_words(name))
        )

    def keep_only_this_part(self) -> None:
        """Drop the other parts, so that lengths can be changed."""
        self.typing.edit_whole(tr("keep only this part"), lambda e: e.keep_only_this_part())


def _read(document: Document) -> tuple[Any, int]:
    editor = Editor(document.score, document.part_id)
    return editor.written(), editor.fifths()


def for_instrument(document: Document, name: str) -> Document:
    """The tune written for another string instrument, in its clef and within its reach.

    Raises:
        ScoreError: the part cannot be edited.
    """
    editor = Editor(document.score, document.part_id)
    source = document.choices.instrument
    midis = [p.midi for n in document.part.notes for p in n.pitches]
    if midis:
        interval = fit_interval(midis, editor.fifths(), source, name)
        higher = instrument(name).written_above_semitones
        written = interval.semitones + higher - instrument(source).written_above_semitones
        editor.transpose(interval.fifths, written)
    editor.set_instrument(name)
    usual = Choices.default(name)
    before = document.choices
    choices = Choices(name, usual.bow, before.player, before.school, before.tempo_bpm, {})
    return document.with_choices(choices).with_score(editor.result())
