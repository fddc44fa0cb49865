"""The Bowing screen: score, selected note, things to look at, and the keys that change them."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QEvent, QObject, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.planning.choices import Join, Pin
from plectrum.core.planning.plan import Alternative, Plan
from plectrum.core.planning.reasons import bars_words
from plectrum.core.planning.warnings import Severity, warnings_of
from plectrum.core.planning.weights import CELLS_N
from plectrum.core.score.model import Direction
from plectrum.ui.bowing.header import Header
from plectrum.ui.bowing.note_panel import NotePanel
from plectrum.ui.bowing.score_view import ScoreView
from plectrum.ui.engraving.client import EngravingClient
from plectrum.ui.labels import label
from plectrum.ui.session import Session

THINGS_SHOWN_N = 3
_SIGNS = {Severity.PROBLEM: "▲", Severity.CAUTION: "◆", Severity.NOTE: "·"}


class BowingScreen(QWidget):
    """Shows the session's plan; every edit goes to the session as a pin."""

    message = Signal(str)
    warnings_counted = Signal(int)

    def __init__(
        self, session: Session, engraver: EngravingClient, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.session = session
        self.engraver = engraver
        self.selected = 0
        self._anchor = 0
        self._tried_n = 0
        self.header = Header()
        self.trial_banner = label("trial", wrap=True)
        self.view = ScoreView()
        self.panel = NotePanel()
        self.things = QListWidget()
        self.things.setAccessibleName("Things to look at")
        self.things_head = label("section", "THINGS TO LOOK AT")
        self._lay_out()
        self.view.installEventFilter(self)
        self._connect()
        self.trial_banner.hide()

    def _lay_out(self) -> None:
        left = QVBoxLayout()
        left.setContentsMargins(0, 0, 0, 0)
        left.setSpacing(0)
        left.addWidget(self.trial_banner)
        left.addWidget(self.view, 1)
        self.things_head.setContentsMargins(16, 6, 0, 2)
        left.addWidget(self.things_head)
        left.addWidget(self.things)
        row = QHBoxLayout()
        row.setSpacing(0)
        row.addLayout(left, 1)
        row.addWidget(self.panel)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.header)
        whole.addLayout(row, 1)

    def _connect(self) -> None:
        self.session.opened.connect(self._opened)
        self.session.planned.connect(self._planned)
        self.session.tried.connect(self._tried)
        self.engraver.system_ready.connect(self.view.add_system)
        self.view.layout_wanted.connect(self.engrave)
        self.view.note_clicked.connect(self.select)
        self.panel.alternative_chosen.connect(self._try)
        self.header.choices_wanted.connect(self.session.edit)
        self.header.part_wanted.connect(self.session.choose_part)
        self.things.itemActivated.connect(self._jump)
        self.things.itemClicked.connect(self._jump)

    # showing

    def engrave(self) -> None:
        """Lay the staff out for the present width and zoom."""
        document, plan = self.session.document, self.session.shown_plan
        if document is None or plan is None:
            return
        self.view.begin_layout(plan)
        self.engraver.engrave(
            document.score,
            document.part_id,
            document.choices.instrument,
            self.view.engraving_width,
            self.view.engraving_scale,
        )

    def _opened(self) -> None:
        self.view.clear()
        self.view.clear_selection()
        plan = self.session.plan
        first = next((p.note.index for p in plan.notes if p), 0) if plan is not None else 0
        self.selected = self._anchor = first
        self.engrave()

    def _planned(self, changed: tuple[int, ...]) -> None:
        document, plan = self.session.document, self.session.plan
        if document is None or plan is None:
            return
        self.header.show_document(document, plan)
        self._show(plan, changed)
        if changed:
            self.message.emit(f"Changed: {bars_words(changed)}")

    def _tried(self) -> None:
        trial, plan = self.session.trial, self.session.shown_plan
        if plan is None:
            return
        self.trial_banner.setVisible(trial is not None)
        if trial is not None:
            where = bars_words(trial.bars) if trial.bars else "nothing else"
            self.trial_banner.setText(
                f"Trying: {trial.text}. It would change {where}.   Enter keeps it, Esc goes back."
            )
        self._show(plan, ())
        self.view.setFocus()  # so that Enter, Esc and the note keys answer at once
        self.view.hold_changed(trial.bars if trial is not None else ())

    def _show(self, plan: Plan, changed: tuple[int, ...]) -> None:
        self.view.set_plan(plan, changed)
        self.selected = min(self.selected, len(plan.notes) - 1)
        self._anchor = min(self._anchor, len(plan.notes) - 1)
        self._show_selection()
        self._show_things(plan)

    def _show_selection(self) -> None:
        plan = self.session.shown_plan
        if plan is None:
            return
        self.view.select(min(self._anchor, self.selected), max(self._anchor, self.selected))
        self.panel.show_note(plan, self.selected, self.session.plan)

    def _show_things(self, plan: Plan) -> None:
        warnings = warnings_of(plan)
        self.things.clear()
        for warning in warnings:
            item = QListWidgetItem(f"{_SIGNS[warning.severity]}  {warning.text}. {warning.remedy}.")
            item.setData(Qt.ItemDataRole.UserRole, warning.note)
            item.setToolTip(f"{warning.text}. {warning.remedy}.")
            self.things.addItem(item)
        count = len(warnings)
        row = self.things.sizeHintForRow(0) if count else 0
        self.things.setFixedHeight(min(count, THINGS_SHOWN_N) * row + 8)
        for widget in (self.things, self.things_head):
            widget.setVisible(count > 0)
        self.warnings_counted.emit(count)

    def _jump(self, item: QListWidgetItem) -> None:
        note = item.data(Qt.ItemDataRole.UserRole)
        if note is not None:
            self.select(note)

    # selecting

    def select(self, note: int, extend: bool = False) -> None:
        """Select a note; with `extend` keep the other end of the selection."""
        plan = self.session.shown_plan
        if plan is None:
            return
        self.selected = min(max(note, 0), len(plan.notes) - 1)
        if not extend:
            self._anchor = self.selected
        self._show_selection()

    def walk(self, steps: int, extend: bool = False) -> None:
        self.select(self.selected + steps, extend)

    def walk_bars(self, steps: int, extend: bool = False) -> None:
        """To the first note of the next or an earlier bar."""
        plan = self.session.shown_plan
        if plan is None:
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
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.session.keep_trial():
            return
        if event.key() == Qt.Key.Key_Escape and self.session.drop_trial():
            return
        super().keyPressEvent(event)

    # changing

    def try_next(self) -> None:
        """Try the alternatives of the selected note in turn, cheapest first."""
        possible = [b.alternative for b in self.panel.buttons if b.isEnabled()]
        if not possible:
            self.message.emit("There is nothing else to try on this note.")
            return
        self._tried_n = self._tried_n + 1 if self.session.trial is not None else 0
        self._try(possible[self._tried_n % len(possible)])

    def _try(self, alternative: Alternative) -> None:
        plan = self.session.shown_plan
        unit = plan.unit_of(self.selected) if plan is not None else None
        if unit is not None:
            text = _said(alternative.direction, alternative.join)
            self.session.try_alternative(unit, alternative.direction, alternative.join, text)

    def _head_pin(self) -> tuple[str, Pin] | None:
        """Id and pin of the selected note's stroke head; None for a note without bow."""
        plan = self.session.plan
        if plan is None or self.session.document is None:
            return None
        unit = plan.unit_of(self.selected)
        if unit is None:
            self.message.emit("This note is plucked; it takes no bow.")
            return None
        note_id = plan.head_of(unit).id
        return note_id, self.session.pin_of(note_id)

    def pin_direction(self, direction: Direction) -> None:
        """Bow the selected stroke this way."""
        found = self._head_pin()
        if found:
            pin = replace(found[1], direction=direction)
            self.session.pin(found[0], pin, f"{direction}-bow")

    def pin_join(self, join: Join) -> None:
        """Join the selected note to the one before in this way."""
        plan = self.session.plan
        if plan is None or plan.notes[self.selected] is None:
            self.message.emit("This note is plucked; it takes no bow.")
            return
        if plan.notes[self.selected].unit == 0 and plan.units[0].first == self.selected:  # type: ignore[union-attr]
            self.message.emit("The first note has no note before it to join.")
            return
        note_id = plan.part.notes[self.selected].id
        pin = replace(self.session.pin_of(note_id), join=join)
        if join in (Join.TURN, Join.HOOK):  # a way fixed before would stand against it
            pin = replace(pin, direction=None)
        self.session.pin(note_id, pin, _JOIN_TEXT[join])

    def split(self) -> None:
        """Let the selected note begin a bow of its own, if it is inside a slur."""
        plan = self.session.plan
        planned = plan.notes[self.selected] if plan is not None else None
        if planned is None or planned.join is not Join.SLUR:
            self.message.emit("There is no slur to split here: choose a note inside one.")
            return
        self.pin_join(Join.TURN)

    def nudge(self, *, start: int = 0, length: int = 0) -> None:
        """Start later or earlier on the bow, or use more or less of it, in cells."""
        plan = self.session.plan
        found = self._head_pin()
        if found is None or plan is None:
            return
        note_id, pin = found
        unit = plan.unit_of(self.selected)
        if unit is None:
            return
        step = plan.steps[unit]
        if start:
            pin = replace(pin, start_cell=min(CELLS_N, max(0, step.start + start)))
        if length:
            now = abs(step.end - step.start)
            pin = replace(pin, length_cells=min(CELLS_N, max(1, now + length)))
        self.session.pin(note_id, pin, "place on the bow" if start else "length of bow")

    def toggle_pin(self) -> None:
        """Fix the selected stroke as it is, or let it go."""
        plan = self.session.plan
        found = self._head_pin()
        if found is None or plan is None:
            return
        note_id, pin = found
        own_id = plan.part.notes[self.selected].id
        if not self.session.pin_of(own_id).is_empty:
            self.session.pin(own_id, Pin(), "let go")
            return
        if not pin.is_empty:
            self.session.pin(note_id, Pin(), "let go")
            return
        unit = plan.unit_of(self.selected)
        planned = plan.notes[plan.units[unit].first] if unit is not None else None
        if planned is not None:
            join = None if planned.join is Join.START else planned.join
            self.session.pin(note_id, Pin(planned.direction, join), "pin")


_JOIN_TEXT = {
    Join.TURN: "turn the bow",
    Join.HOOK: "hook",
    Join.RETAKE: "lift",
    Join.SLUR: "slur",
}


def _said(direction: Direction, join: Join) -> str:
    if join in (Join.HOOK, Join.RETAKE):
        return f"{_JOIN_TEXT[join]}, then {direction}"
    return f"{direction}-bow"
