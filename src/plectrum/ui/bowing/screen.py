"""The Bowing screen: score, selected note, things to look at, and a second plan beside it."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PySide6.QtCore import QEvent, QObject, Qt, QTimer
from PySide6.QtGui import QKeyEvent, QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from plectrum.core.advice.reasons import bars_words
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.advice.words import note_sentence
from plectrum.core.document.choices import Choices
from plectrum.core.planning.plan import Alternative, Plan
from plectrum.core.wording import say, tr
from plectrum.ui.bowing.changes import Changes
from plectrum.ui.bowing.commands import OFTEN, NoteCommands
from plectrum.ui.bowing.compare_bar import CompareBar, Compared
from plectrum.ui.bowing.note_panel import NotePanel
from plectrum.ui.bowing.place_menu import PlaceMenu
from plectrum.ui.bowing.playhead import Playhead
from plectrum.ui.bowing.remedy_finder import RemedyFinder
from plectrum.ui.bowing.section_commands import SectionCommands
from plectrum.ui.bowing.things_list import ThingsList
from plectrum.ui.bowing.trying import Trying
from plectrum.ui.bowing.weigher import Weigher
from plectrum.ui.desk.desk import Desk
from plectrum.ui.desk.screen import Screen
from plectrum.ui.drawing.path_row import PathRow
from plectrum.ui.drawing.score_view import ScoreView
from plectrum.ui.drawing.strips import STRIPS
from plectrum.ui.look.labels import label
from plectrum.ui.look.plain import succeed
from plectrum.ui.look.speaking import describe

PANEL_MS = 20  # by then the music has been painted
NOTHING = tr("There is nothing to bow yet: type the notes on the Piece screen (Ctrl+1).")


class BowingScreen(Screen):
    """Shows the session's plan; every edit goes to the session as a pin."""

    def __init__(self, desk: Desk, parent: QWidget | None = None) -> None:
        super().__init__(desk, parent)
        self.channel = desk.engraver.channel("bowing")
        self.selected = 0
        self.anchor = 0
        self._stale = True
        self._behind = False
        self._panel_soon = QTimer(self, singleShot=True, interval=PANEL_MS)
        self._panel_soon.timeout.connect(self._show_panel)
        self.commands = NoteCommands(self.session, self.selection, self.message.emit)
        self.trying = Trying(self.session, self.commands, lambda: self.selected, self.message.emit)
        self.sections = SectionCommands(self.session, self.selection, self.message.emit, self)
        self.trial_banner = label("trial", wrap=True)
        self.nothing = label("banner", NOTHING, wrap=True)
        self.compare_bar = CompareBar(lambda: [named.player for named in desk.named_players()])
        self.view = ScoreView()
        self.view.zoom = desk.settings.zoom
        self.panel = NotePanel()
        self.things = ThingsList()
        self.changes = Changes()
        self.playhead = Playhead(desk, self)
        self._lay_out()
        self.view.installEventFilter(self)
        self._connect()
        self.trial_banner.hide()
        self.compare_bar.hide()
        self.nothing.hide()
        self.things.hide()
        self.panel.fit()
        self.show_strips()

    def _lay_out(self) -> None:
        left = QVBoxLayout()
        left.setContentsMargins(0, 0, 0, 0)
        left.setSpacing(0)
        for widget in (self.trial_banner, self.nothing, self.compare_bar):
            left.addWidget(widget)
        left.addWidget(self.view, 1)
        left.addWidget(self.things)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addLayout(left, 1)
        row.addWidget(self.panel)

    def _connect(self) -> None:
        self.session.opened.connect(self._opened)
        self.session.score_changed.connect(self._score_changed)
        self.session.planned.connect(self._planned)
        self.session.detailed.connect(self._detailed)
        self.session.trials.changed.connect(self._tried)
        self.session.planner.foresight.foreseen.connect(self._foresee)
        self.session.form_changed.connect(self._show_form)
        self.channel.failed.connect(self.session.not_engraved)
        self.view.zoom_changed.connect(self.desk.settings.keep_zoom)
        self.channel.laid_out.connect(self.view.expect)
        self.channel.system_ready.connect(self.view.add_system)
        self.view.layout_wanted.connect(self.engrave)
        self.view.note_clicked.connect(self.select)
        self.view.section_moved.connect(self.sections.move)
        self.view.section_opened.connect(self._name_section)
        self.view.section_chosen.connect(self.choose_section)
        self.view.end_dragged.connect(self.trying.drag)
        self.view.drag_ended.connect(self.trying.drag_done)
        self.panel.alternative_chosen.connect(self.trying.one)
        self.panel.faults.applied.connect(self.trying.apply_cause)
        self.things.note_wanted.connect(self.select)
        self.weigher = Weigher(self.session, self)
        self.weigher.weighed.connect(self._weighed)
        self.remedies = RemedyFinder(self.session, self)
        self.things.mend_wanted.connect(self.remedies.mend)
        self.remedies.found.connect(self.things.show_remedy)
        self.compare_bar.compared.connect(self._show_compared)
        self.compare_bar.closed.connect(self.stop_comparing)
        self.compare_bar.taken.connect(self._take_compared)
        self.compare_bar.place_wanted.connect(self.select)
        self.compare_bar.failed.connect(self.session.failed)
        self.playhead.moved.connect(self.view.show_playhead)
        self.playhead.silent.connect(self.message)

    # showing

    @property
    def comparing(self) -> bool:
        return not self.compare_bar.isHidden()

    def engrave(self) -> None:
        """Lay the staff out for the present width and zoom, now or when it is next seen."""
        document, plan = self.session.document, self.session.shown_plan
        if document is None or plan is None:
            return
        if not self.isVisible():
            self._stale = True
            return
        self._stale = False
        compared = self.compare_bar.result if self.comparing else None
        self.view.form = document.form
        self.view.rows = compared.rows if compared is not None else (PathRow(plan),)
        self.view.engrave(
            self.channel, document.score, (document.part_id,), document.choices.instrument
        )

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        plan = self.session.shown_plan
        if self._behind and plan is not None:
            self._behind = False
            self._show(plan, ())
            self._detailed()
        if self._stale:
            self.engrave()

    def catch_up(self) -> None:
        self._opened()
        self._score_changed()
        self._planned(())
        self._detailed()

    @property
    def focus_target(self) -> QWidget:
        return self.view

    def refresh_look(self) -> None:
        self.panel.fit()
        self.view.repaint_all()
        if self.session.plan is not None:
            self._show_selection()
            self._detailed()

    def zoom(self, steps: int) -> None:
        self.view.zoom_by(steps)

    def set_zoom(self, zoom: float) -> None:
        self.view.set_zoom(zoom)

    def show_strips(self) -> None:
        """The strips that are chosen, under the bow path."""
        chosen = self.desk.settings.strips
        self.view.set_strips([strip for strip in STRIPS if strip.key in chosen])

    def end(self) -> None:
        self.playhead.stop()

    def _opened(self) -> None:
        self.playhead.stop()
        self.stop_comparing()
        self.view.clear()
        self.view.clear_selection()
        plan = self.session.plan
        first = next((p.note.index for p in plan.notes if p), 0) if plan is not None else 0
        self.selected = self.anchor = first

    def _score_changed(self) -> None:
        self.stop_comparing()
        self.engrave()

    def _planned(self, changed: tuple[int, ...]) -> None:
        document, plan = self.session.both
        if document is None or plan is None:
            return
        self.remedies.stop()
        self.weigher.stop()
        self.playhead.stop()
        last = max(0, len(plan.notes) - 1)  # notes may be gone, also while this is out of sight
        self.selected, self.anchor = min(self.selected, last), min(self.anchor, last)
        words = self.changes.words(plan, changed, self.commands.also)
        self.commands.also = ""
        if words:
            self.message.emit(words)
        if not self.isVisible():
            self._behind = True  # shown when the screen is seen again
            return
        self._show(plan, changed, panel_soon=True)
        if self.comparing:
            self.compare_bar.update_plan(document, plan)

    def _detailed(self) -> None:
        plan = self.session.plan
        if plan is None or not self.isVisible():
            return
        self.things.show_warnings(warnings_of(plan))
        self.remedies.look(plan, self.things.warnings)
        if plan.notes:
            self._show_alternatives(plan)

    def _show_alternatives(self, plan: Plan) -> None:
        self.weigher.stop()
        if self.panel.show_alternatives(plan, self.selected):
            self.weigher.weigh(plan, self.selected)

    def _weighed(self, plan: Plan, note: int, found: Sequence[Alternative]) -> None:
        if plan is self.session.plan and note == self.selected and self.isVisible():
            self.panel.show_alternatives(plan, note, found)

    def _tried(self) -> None:
        trial, plan = self.session.trial, self.session.shown_plan
        if plan is None:
            return
        self.trial_banner.setVisible(trial is not None and not self.trying.dragging)
        if trial is not None:
            where = bars_words(trial.bars) if trial.bars else tr("nothing else")
            self.trial_banner.setText(
                say(
                    "Trying: {text}. It would change {where}.   Enter keeps it, Esc goes back.",
                    text=trial.text,
                    where=where,
                )
            )
        self._show(plan, ())
        self.view.setFocus()  # so that Enter, Esc and the note keys answer at once
        self.view.hold_changed(trial.bars if trial is not None else ())

    def _show(self, plan: Plan, changed: tuple[int, ...], *, panel_soon: bool = False) -> None:
        """Show a plan.

        Args:
            panel_soon: the music is painted first, the panel a moment later.
        """
        self._show_form()
        if not self.comparing:
            self.view.set_rows((PathRow(plan),), changed)
        self.panel.setVisible(bool(plan.notes))
        self.nothing.setVisible(not plan.notes)
        last = max(0, len(plan.notes) - 1)
        self.selected, self.anchor = min(self.selected, last), min(self.anchor, last)
        self._mark_selection()
        if panel_soon:
            self._panel_soon.start()
        else:
            self._show_panel()

    def _foresee(self, plan: Plan) -> None:
        """A key may ask for this plan next."""
        if self.isVisible() and not self.comparing and self.session.trial is None:
            self.view.foresee((PathRow(plan),))

    def _show_form(self) -> None:
        document = self.session.document
        if document is not None:
            self.view.set_form(document.form)

    def _show_selection(self) -> None:
        self._mark_selection()
        self._show_panel()

    def _mark_selection(self) -> None:
        if self.session.plan is not None and self.session.plan.notes:
            self.view.select(*self.selection(), self.selected)

    def _show_panel(self) -> None:
        plan, base = self.session.shown_plan, self.session.plan
        if plan is None or base is None or not plan.notes:
            return
        first, last = self.selection()
        self.panel.show_note(plan, self.selected, base)
        self._show_alike()
        describe(self.view, path_words(plan, first, last))
        if self.session.trial is None:
            self.session.foresee(partial(self.commands.would_ask, OFTEN))

    def _show_alike(self) -> None:
        """The places a correction is meant in too, in words and framed in the music."""
        wide = self.commands.everywhere
        self.panel.show_alike(self.commands.bars_like(), everywhere=wide)
        places = self.commands.places_like() if wide and not self.comparing else []
        self.view.show_alike([(place[0], place[-1]) for place in places])

    # selecting

    def switch_everywhere(self) -> None:
        """Whether corrections are meant for all places that are alike, or for one alone."""
        self.commands.switch_everywhere()
        self._show_alike()

    def choose_section(self, key: str = "") -> None:
        """Select a section's notes: of the one with this key, or that the selected note is in."""
        section = self.sections.named(key) if key else self.sections.here()
        if section is not None:
            self.select(section.first_note)
            self.select(section.last_note, extend=True)

    def say_place(self) -> None:
        """The words for where and how much, at the selected notes."""
        plan = self.session.plan
        if plan is None or not plan.units:
            return
        like = self.commands.bars_like()
        succeed(getattr(self, "place_menu", None))
        commands = self.commands
        self.place_menu = PlaceMenu(
            plan.choices.bow, like, commands.say_place, self, of_note=bool(commands.inside_a_bow())
        )
        self.place_menu.aboutToHide.connect(self._back_soon)
        self.place_menu.popup(self.view.mapToGlobal(self.view.beside_selection()))

    def _name_section(self, key: str) -> None:
        self.sections.name(self.sections.named(key))

    def _back_soon(self) -> None:
        QTimer.singleShot(0, self, self._back_to_music)

    def _back_to_music(self) -> None:
        """The keys belong to the music again; some window systems leave them with the menu."""
        self.window().activateWindow()
        self.view.setFocus()

    def selection(self) -> tuple[int, int]:
        """First and last selected note."""
        return min(self.anchor, self.selected), max(self.anchor, self.selected)

    def select(self, note: int, extend: bool = False) -> None:
        """Select a note; with `extend` keep the other end of the selection."""
        plan, base = self.session.shown_plan, self.session.plan
        if plan is None or base is None or not plan.notes:
            return
        self.selected = min(max(note, 0), len(plan.notes) - 1)
        if not extend:
            self.anchor = self.selected
        self._show_selection()
        self._show_alternatives(base)

    def walk(self, steps: int, extend: bool = False) -> None:
        self.select(self.selected + steps, extend)

    def walk_bars(self, steps: int, extend: bool = False) -> None:
        """To the first note of the next or an earlier bar."""
        plan = self.session.shown_plan
        if plan is None or not plan.notes:
            return
        notes = plan.part.notes
        here = notes[self.selected].bar_index
        if steps > 0:
            following = (n.index for n in notes if n.bar_index > here)
            self.select(next(following, len(notes) - 1), extend)
            return
        first_here = next(n.index for n in notes if n.bar_index == here)
        before = [n.bar_index for n in notes if n.bar_index < here]
        target = here if self.selected > first_here or not before else before[-1]
        self.select(next(n.index for n in notes if n.bar_index == target), extend)

    def go_to_bar(self, number: int) -> None:
        """Select the first note of a bar by its printed number, or of the next that has notes."""
        plan = self.session.shown_plan
        if plan is not None:
            found = (n.index for n in plan.part.notes if n.bar >= number)
            self.select(next(found, len(plan.part.notes) - 1))

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            return self._walk(event)
        return super().eventFilter(watched, event)

    def _walk(self, event: QKeyEvent) -> bool:
        extend = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        by_bar = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is not None:
            (self.walk_bars if by_bar else self.walk)(step, extend)
            return True
        if event.key() == Qt.Key.Key_Home:
            self.select(0, extend)
            return True
        if event.key() == Qt.Key.Key_End:
            self.select(10**9, extend)
            return True
        return False

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.session.trials.keep():
            return
        if event.key() == Qt.Key.Key_Escape and self._let_go():
            return
        super().keyPressEvent(event)

    def _let_go(self) -> bool:
        """What Esc ends: a drag, a trial, the playhead, comparing, or a selection of several."""
        if self.trying.dragging:
            self.view.cancel_drag()
            self.trying.cancel()
            return True
        if self.session.trials.drop():
            return True
        if self.playhead.running:
            self.playhead.stop()
            return True
        if self.comparing:
            self.stop_comparing()
            return True
        if self.anchor != self.selected:
            self.select(self.selected)
            return True
        return False

    def try_next(self) -> None:
        """Try the alternatives of the selected note in turn, cheapest first."""
        self.trying.next([b.alternative for b in self.panel.buttons if b.isEnabled()])

    # playing, comparing

    def play(self) -> None:
        """Run through the music from the selected note, or stop."""
        self._run(loop=False)

    def loop(self) -> None:
        """Run round the selected notes, or stop."""
        self._run(loop=True)

    def _run(self, *, loop: bool) -> None:
        plan = self.session.shown_plan
        if self.playhead.running:
            self.playhead.stop()
        elif plan is not None and plan.notes:
            first, last = self.selection()
            self.playhead.start(plan, first if loop else self.selected, last if loop else None)

    def copy(self) -> None:
        """The bars of the selected notes on the clipboard."""
        document, plan = self.session.both
        if document is not None and plan is not None and plan.notes:
            from plectrum.ui.bowing.copying import copy_bars

            self.view.clear_selection()  # the frame is no part of the picture
            bars = copy_bars(self.view, document, plan, *self.selection())
            self._mark_selection()
            self.message.emit(say("Copied bars {bars}: a picture, and MusicXML.", bars=bars))

    def start_comparing(self) -> None:
        """Show a second plan under the first."""
        document, plan = self.session.both
        if document is None or plan is None or not plan.notes:
            self.message.emit(tr("Open a tune first; there is nothing to compare."))
            return
        self.session.trials.drop()
        self.compare_bar.show()
        self.compare_bar.begin(document, plan)

    def compare_with_today(self) -> None:
        """Show what the planner of today would do under a plan that was kept."""
        self.start_comparing()
        self.compare_bar.choose("today")

    def _show_compared(self, compared: Compared) -> None:
        if not self.comparing:
            return
        self.view.set_rows(compared.rows)

    def stop_comparing(self) -> None:
        """Back to the one plan."""
        if not self.comparing:
            return
        self.compare_bar.hide()
        self.compare_bar.result = None
        plan = self.session.shown_plan
        if plan is not None:
            self.view.set_rows((PathRow(plan),))
        self.view.setFocus()

    def _take_compared(self, choices: Choices, text: str) -> None:
        self.stop_comparing()
        self.session.take_choices(choices, text)


def path_words(plan: Plan, first: int, last: int) -> str:
    """The bow path of some notes in words, for those who do not see it."""
    said = []
    for note in plan.part.notes[first : last + 1]:
        planned = plan.notes[note.index]
        bow = tr("plucked") if planned is None else note_sentence(planned, plan.choices.bow)
        names = tr(" and ").join(p.spoken for p in note.pitches)
        said.append(f"{note.place}, {names}: {bow}")
    return " ".join(said)
