"""The Together screen: the bowing sheet of all parts, corrected at any of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent, QResizeEvent, QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from plectrum.core.advice.region_words import places_that_matter
from plectrum.core.advice.rehearsal import to_settle
from plectrum.core.advice.words import note_sentence
from plectrum.core.document.document import Document
from plectrum.core.document.seats import Seat
from plectrum.core.planning.ensemble.carrying import matching_notes
from plectrum.core.planning.ensemble.ensemble import Ensemble
from plectrum.core.planning.plan import Plan
from plectrum.core.player.player import Player
from plectrum.core.practice.class_tune import Student, class_document
from plectrum.core.practice.easier import Easier, easier_part
from plectrum.core.wording import say, tr
from plectrum.ui.bowing.commands import NoteCommands
from plectrum.ui.bowing.place_menu import PlaceMenu
from plectrum.ui.desk.desk import Desk
from plectrum.ui.desk.screen import Screen
from plectrum.ui.editing.runner import Runner
from plectrum.ui.look import theme
from plectrum.ui.look.buttons import check_box, small_button
from plectrum.ui.look.flow_layout import FlowLayout
from plectrum.ui.look.labels import label, scrolling
from plectrum.ui.look.plain import succeed
from plectrum.ui.look.speaking import describe
from plectrum.ui.look.where_to import is_free, may_replace
from plectrum.ui.together.class_dialog import ClassDialog
from plectrum.ui.together.easier_dialog import EasierDialog
from plectrum.ui.together.hand_out import HandOutDialog, PartsWriter, ask_folder
from plectrum.ui.together.rehearsal_list import RehearsalList
from plectrum.ui.together.seats_panel import SeatsPanel
from plectrum.ui.together.sheet_view import SheetRow, SheetView

if TYPE_CHECKING:
    from plectrum.core.advice.rehearsal import ToSettle

WIDTH = 328
SEAT_HEIGHT, FEW_SEATS = 38, 3
SEATS_SHARE = 0.4  # of the panel at most; more of them scroll
ONE_PART = tr(
    "This score has one part for strings. A class on this tune makes a part for each student."
)
APART = tr("Each part is planned by itself. M plans all of them as one.")
NO_NOTES = tr("There is nothing to play yet: type the notes on the Piece screen (Ctrl+1).")
KEY = tr("· moves with others     dashed: goes apart")


class TogetherScreen(Screen):
    """Shows the parts of the session's document; every correction goes to the session as pins."""

    def __init__(self, desk: Desk, parent: QWidget | None = None) -> None:
        super().__init__(desk, parent)
        self.channel = desk.engraver.channel("together")
        self.part = self.selected = self.anchor = 0
        self._stale = True
        self._engraved: tuple[object, ...] = ()
        self._lister = Runner(self)
        self._maker = Runner(self)
        self._listed: Ensemble | None = None
        self.view = SheetView()
        self.view.zoom = desk.settings.zoom
        self.together = check_box(
            tr("Bow all parts together"), tr("Plan all string parts as one, or each by itself  (M)")
        )
        self.words = label("", wrap=False)
        self.class_button = small_button(tr("A class …"), tr("This tune for several students"))
        self.easier_button = small_button(
            tr("Easier part …"), tr("A part for who cannot play it yet")
        )
        self.hand_out_button = small_button(
            tr("Hand out …"), tr("Every player's page, and the score")
        )
        self.nothing = label("banner", "", wrap=True)
        self.seats = SeatsPanel()
        self.list = RehearsalList()
        self.sentence = label("", wrap=True)
        self.moves_with = label("muted", wrap=True)
        self.commands = NoteCommands(
            self.session, self.selection, self.message.emit, self.plan_of_part
        )
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        strip = QWidget()
        strip.setObjectName("toolstrip")
        row = FlowLayout(strip, gap=8)
        row.setContentsMargins(16, 6, 12, 6)
        controls: tuple[QWidget, ...] = (
            self.together, self.words, self.class_button, self.easier_button, self.hand_out_button,
        )  # fmt: skip
        for widget in controls:
            row.addWidget(widget)
        left = QVBoxLayout()
        left.setContentsMargins(0, 0, 0, 0)
        left.setSpacing(0)
        left.addWidget(strip)
        left.addWidget(self.nothing)
        left.addWidget(self.view, 1)
        self.panel = QWidget()
        self.panel.setObjectName("panel")
        column = QVBoxLayout(self.panel)
        column.setContentsMargins(16, 12, 12, 12)
        column.setSpacing(6)
        column.addWidget(self.sentence)
        column.addWidget(self.moves_with)
        column.addWidget(label("section", tr("WHO PLAYS")))
        self.seats_area = scrolling(self.seats, "plainscroll")
        self.seats_area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        column.addWidget(self.seats_area)
        column.addWidget(label("section", tr("TO SETTLE IN REHEARSAL")))
        column.addWidget(self.list, 1)
        column.addWidget(label("muted", KEY, wrap=True))
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addLayout(left, 1)
        whole.addWidget(self.panel)
        self._fit()

    def _fit(self) -> None:
        self.panel.setFixedWidth(theme.px(WIDTH))
        few = theme.px(SEAT_HEIGHT) * FEW_SEATS
        room = max(few, round(self.panel.height() * SEATS_SHARE))
        self.seats_area.setFixedHeight(min(self.seats.wanted_height(), room))
        self.list.setMinimumHeight(theme.px(SEAT_HEIGHT))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _connect(self) -> None:
        self.session.opened.connect(self._opened)
        self.session.score_changed.connect(self._score_changed)
        self.session.planned.connect(lambda _: self._changed())
        self.channel.failed.connect(self.session.not_engraved)
        self.channel.laid_out.connect(self.view.expect)
        self.channel.system_ready.connect(self.view.add_system)
        self.view.layout_wanted.connect(self.engrave)
        self.view.installEventFilter(self)
        self.view.note_clicked.connect(self.select)
        self.together.clicked.connect(lambda _: self.switch_together())
        self.seats.seat_wanted.connect(self._seat)
        self.seats.everybody_wanted.connect(self._seat_all)
        self.list.place_wanted.connect(self.select)
        self.class_button.clicked.connect(lambda _: self.ask_class())
        self.easier_button.clicked.connect(lambda _: self.ask_easier())
        self.hand_out_button.clicked.connect(lambda _: self.hand_out())
        self.desk.players_changed.connect(self._changed)

    # showing

    def catch_up(self) -> None:
        self._opened()

    @property
    def focus_target(self) -> QWidget:
        return self.view

    def refresh_look(self) -> None:
        self._fit()
        self.view.repaint_all()

    def zoom(self, steps: int) -> None:
        self.view.zoom_by(steps)

    def set_zoom(self, zoom: float) -> None:
        self.view.set_zoom(zoom)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._show()
        if self._stale:
            self.engrave()

    def _opened(self) -> None:
        self.part = self.selected = self.anchor = 0
        self._listed = None
        self.view.clear()
        self._stale = True
        self._changed()

    def _score_changed(self) -> None:
        """Other notes, or another part is open: it is the one that is selected."""
        document = self.session.document
        if document is not None and document.together:
            ids = [info.id for info in document.string_parts]
            self.part = ids.index(document.part_id)
        self._changed()

    def _changed(self) -> None:
        """What is shown stays while the parts are planned as one: that is soon done."""
        session = self.session
        together = session.document is not None and session.document.together
        if self.isVisible() and not (together and session.ensemble is None and session.planning):
            self._show()

    @property
    def plans(self) -> tuple[Plan, ...]:
        """The plans of all parts, if they are planned as one; else this part's alone."""
        ensemble, plan = self.session.ensemble, self.session.plan
        if ensemble is not None:
            return ensemble.plans
        return () if plan is None else (plan,)

    def plan_of_part(self) -> Plan | None:
        """The plan of the part in which something is selected."""
        plans = self.plans
        return plans[min(self.part, len(plans) - 1)] if plans else None

    def _show(self) -> None:
        """The present plans, as they are known."""
        document, plan = self.session.both
        if document is None or plan is None:
            return
        if self.commands.also:
            self.message.emit(self.commands.also)
            self.commands.also = ""
        several = len(document.string_parts) > 1
        self.nothing.setVisible(not several or not document.together)
        self.nothing.setText(APART if several else ONE_PART)
        self.together.setChecked(document.together and several)
        self.together.setEnabled(several)
        self.easier_button.setEnabled(bool(plan.notes))
        self.seats.show_seats(document, self.desk.named_players())
        self._fit()
        ensemble = self.session.ensemble
        self.words.setText("" if ensemble is None else f"{_capital(ensemble.words)}.")
        self.view.set_rows(self._rows(document, ensemble))
        if self._wanted_staves() != self._engraved:
            self.engrave()
        self._show_list(ensemble)
        self._show_selection()

    def _wanted_staves(self) -> tuple[object, ...]:
        """What has to be engraved for the plans that are shown."""
        document = self.session.document
        ids = tuple(row.plan.part.id for row in self.view.rows)
        return (None if document is None else document.score, ids)

    def _rows(self, document: Document, ensemble: Ensemble | None) -> list[SheetRow]:
        if ensemble is None:
            plans = self.plans
            return [SheetRow(p, p.player.called, places_that_matter(p)) for p in plans]
        marked = _marked(ensemble)
        return [
            SheetRow(
                plan, plan.player.called, places_that_matter(plan),
                frozenset(marked[k][0]), frozenset(marked[k][1]),
            )
            for k, plan in enumerate(ensemble.plans)
        ]  # fmt: skip

    def engrave(self) -> None:
        """Lay the staves out for the present width and zoom, now or when they are next seen."""
        document, plan = self.session.both
        if document is None or plan is None or not self.view.rows:
            return
        if not self.isVisible():
            self._stale = True
            return
        self._stale = False
        self._engraved = self._wanted_staves()
        ids = [row.plan.part.id for row in self.view.rows]
        self.view.engrave(self.channel, document.score, ids, document.choices.instrument)

    def _show_list(self, ensemble: Ensemble | None) -> None:
        """What is to be settled takes a moment to be found: it is looked for aside."""
        if ensemble is None:
            self._listed = None
            self.list.show_nothing()
            return
        if ensemble is self._listed:
            return
        self._listed = ensemble

        def take(places: tuple[ToSettle, ...]) -> None:
            if ensemble is self._listed:
                self.list.show_places(places)

        self._lister.run(lambda: to_settle(ensemble), take, self.session.failed.emit)

    # selecting

    def selection(self) -> tuple[int, int]:
        """First and last selected note of the part."""
        return min(self.anchor, self.selected), max(self.anchor, self.selected)

    def select(self, part: int, note: int, extend: bool = False) -> None:
        """Select a note of a part; with `extend` keep the other end, if it is the same part's."""
        extend = extend and part == self.part
        self.part, self.selected = part, note
        if not extend:
            self.anchor = note
        self._show_selection()

    def walk(self, steps: int, extend: bool = False) -> None:
        """To the next bow of the part, or an earlier one."""
        self.select(self.part, self.selected + steps, extend)

    def change_part(self, steps: int) -> None:
        """To the part below or above, at the same time of the music."""
        plans, plan = self.plans, self.plan_of_part()
        if plan is None or not plan.part.notes:
            return
        part = (self.part + steps) % len(plans)
        at_q = plan.part.notes[self.selected].onset_q
        notes = plans[part].part.notes
        if notes:
            near = min(notes, key=lambda n: abs(n.onset_q - at_q))
            self.select(part, near.index)

    def _show_selection(self) -> None:
        plan, plans = self.plan_of_part(), self.plans
        if plan is None or not plan.notes:
            self.sentence.setText("")
            self.moves_with.setText("")
            return
        self.part = min(self.part, len(plans) - 1)
        last = len(plan.notes) - 1
        self.selected = min(max(self.selected, 0), last)
        self.anchor = min(max(self.anchor, 0), last)
        self.view.select(self.part, *self.selection(), self.selected)
        note, planned = plan.part.notes[self.selected], plan.notes[self.selected]
        says = tr("plucked") if planned is None else note_sentence(planned, plan.choices.bow)
        self.sentence.setText(f"{plan.part.name}, {note.place}: {says}")
        describe(self.view, self.sentence.text(), (self.part, self.selected))
        ensemble = self.session.ensemble
        others = {} if ensemble is None else matching_notes(ensemble, self.part, self.selected)
        names = [plans[k].part.name for k in others]
        self.moves_with.setText(
            say("Moves with {parts}.", parts=_listed(names)) if names else tr("Moves alone.")
        )

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """The arrows walk through the music instead of scrolling it."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            shift = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            steps = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
            parts = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
            if steps is not None:
                self.walk(steps, shift)
                return True
            if parts is not None:
                self.change_part(parts)
                return True
        return super().eventFilter(watched, event)

    # changing

    def say_place(self) -> None:
        """The words for where and how much, at the selected notes."""
        plan = self.plan_of_part()
        if plan is None or not plan.units:
            return
        succeed(getattr(self, "place_menu", None))
        self.place_menu = PlaceMenu(
            plan.choices.bow, self.commands.bars_like(), self.commands.say_place, self,
            of_note=bool(self.commands.inside_a_bow()),
        )  # fmt: skip
        self.place_menu.popup(self.view.mapToGlobal(self.view.rect().center()))

    def switch_together(self) -> None:
        """Plan all parts as one, or each by itself."""
        document = self.session.document
        if document is None or len(document.string_parts) < 2:
            self.message.emit(ONE_PART)
            return
        wanted = not document.together
        text = tr("bow all parts together") if wanted else tr("bow each part by itself")
        self.session.change(lambda d: replace(d.all_seated(), together=wanted), text)

    def _seat(self, part_id: str, seat: Seat, text: str) -> None:
        self.session.change(lambda d: d.with_seat(part_id, seat), text)

    def _seat_all(self, player: Player) -> None:
        self.session.change(
            lambda d: d.with_everybody(player), say("{title} at all parts", title=player.called)
        )

    # what is made of it

    def ask_class(self) -> None:
        """This tune for several students, a part for each."""
        document = self.session.document
        if document is None or not document.part.notes:
            self.message.emit(NO_NOTES)
            return
        succeed(getattr(self, "class_dialog", None))
        named, instrument = self.desk.named_players(), document.choices.instrument
        self.class_dialog = ClassDialog(named, instrument, self)
        self.class_dialog.wanted.connect(self.make_class)
        self.class_dialog.open()

    def make_class(self, students: Sequence[Student]) -> None:
        """The class as a document of its own."""
        document = self.session.document
        if document is not None:
            self._maker.run(
                lambda: class_document(document, students),
                self.desk.tune_wanted.emit,
                self.session.failed.emit,
            )

    def ask_easier(self) -> None:
        """A part for who cannot play the selected one yet."""
        document, plan = self.session.document, self.plan_of_part()
        if document is None or plan is None or not plan.notes:
            self.message.emit(NO_NOTES)
            return
        succeed(getattr(self, "easier_dialog", None))
        part_id = plan.part.id
        self.easier_dialog = EasierDialog(
            plan.part.name, document.seat_of(part_id), self.desk.named_players(), self
        )
        self.easier_dialog.wanted.connect(
            lambda seat, kind, everywhere: self.make_easier(part_id, seat, kind, everywhere)
        )
        self.easier_dialog.open()

    def make_easier(self, part_id: str, seat: Seat, kind: Easier, everywhere: bool) -> None:
        """Put the easier part under the other; undone as one step."""

        def make(document: Document) -> Document:
            own = document if part_id == document.part_id else document.with_part(part_id)
            proposal = easier_part(own, seat, kind, everywhere=everywhere)
            self.commands.also = f"{proposal.document.part.name}: {proposal.words}"
            return proposal.document

        self.session.change_aside(make, tr("add an easier part"))

    def hand_out(self) -> None:
        """Every player's page, and the score."""
        document = self.session.document
        if document is None or not document.part.notes:
            self.message.emit(NO_NOTES)
            return
        succeed(getattr(self, "hand_out_dialog", None))
        self.hand_out_dialog = HandOutDialog(
            len(document.string_parts), routine=bool(document.homework.routine), parent=self
        )
        self.hand_out_dialog.wanted.connect(self._hand_out_into)
        self.hand_out_dialog.open()

    def _hand_out_into(self, one_file: bool, large: bool) -> None:
        folder = ask_folder(self)
        if folder is not None:
            self.write_parts(folder, one_file=one_file, large=large)

    def write_parts(self, folder: Path, *, one_file: bool = False, large: bool = False) -> None:
        """Write all pages, the score and the plan into a folder; asks what may be replaced."""
        from plectrum.ui.handout.all_parts import PartFiles

        self.session.settle()
        document = self.session.document
        if document is None:
            return
        files = PartFiles.of(document, folder, one_file=one_file).all
        if is_free(self, files, self.session.files) and may_replace(self, files):
            self.writer = PartsWriter(document, self)
            self.writer.done.connect(self.message)
            self.writer.failed.connect(self.session.failed)
            self.writer.start(folder, one_file=one_file, large=large)


def _listed(names: Sequence[str]) -> str:
    """Such as "Violin 1, Viola and Cello"."""
    return tr(" and ").join([", ".join(names[:-1]), names[-1]]) if len(names) > 1 else names[0]


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _marked(ensemble: Ensemble) -> list[tuple[set[int], set[int]]]:
    """Of each part the notes at which it goes with others, and at which it parts from them."""
    found: list[tuple[set[int], set[int]]] = [(set(), set()) for _ in ensemble.plans]
    for row in ensemble.matched.units.tolist():
        for part, unit in enumerate(row):
            if unit >= 0:
                found[part][0].add(ensemble.plans[part].tables.units[unit].first)
    for difference in ensemble.differences:
        for part in difference.odd:
            note = difference.notes[part]
            if note is not None:
                found[part][1].add(note)
                found[part][0].discard(note)
    return found
