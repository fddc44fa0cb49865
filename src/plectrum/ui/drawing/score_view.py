"""The scrolling score of the Bowing screen: systems with their bow paths, and work on them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

from PySide6.QtCore import QPoint, QPointF, Qt, QTimer, Signal
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QWidget

from plectrum.core.document.sections import Section
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.rules import CELLS_N
from plectrum.core.wording import tr
from plectrum.ui.drawing.path_painter import PathPainter
from plectrum.ui.drawing.path_row import PathRow, drawn_otherwise, same_rows
from plectrum.ui.drawing.section_letters import Letter
from plectrum.ui.drawing.strips import Strip
from plectrum.ui.drawing.system_item import SystemItem
from plectrum.ui.engraving.system import System
from plectrum.ui.engraving.systems_view import SystemsView

FLASH_MS = 1600
STILL = 4.0  # a letter that is moved by less is chosen
GRIP = 9.0  # how near the mouse must be to the end of a stroke to take hold of it


@dataclass(frozen=True, slots=True)
class Handle:
    """One end of a unit's bow under the mouse."""

    unit: int
    at_start: bool
    item: SystemItem


class ScoreView(SystemsView[SystemItem]):
    """Shows one plan, or several under one staff."""

    grows = True
    most_bars_n = 5
    note_clicked = Signal(int, bool)
    end_dragged = Signal(int, bool, int)
    drag_ended = Signal(bool)
    section_moved = Signal(str, int)
    section_opened = Signal(str)
    section_chosen = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(tr("Score with bow path"))
        self.viewport().setMouseTracking(True)
        self.strips: tuple[Strip, ...] = ()
        self.rows: tuple[PathRow, ...] = ()
        self.form: tuple[Section, ...] = ()
        self._letter: Letter | None = None
        self._pressed_at = QPointF()
        self._like: list[tuple[int, int]] = []
        self._selection: tuple[int, int] | None = None
        self._drag: Handle | None = None
        self._dragged_cell = -1
        self._flash = QTimer(self, singleShot=True, interval=FLASH_MS)
        self._flash.timeout.connect(lambda: self._set_changed(frozenset()))

    def make_item(self, system: System) -> SystemItem | None:
        fits = self.rows and all(max(system.bars) < len(r.plan.part.bars) for r in self.rows)
        return SystemItem(system, self.rows, self.strips, self.form) if fits else None

    def item_added(self, item: SystemItem) -> None:
        item.set_selected(self._selection)
        item.set_alike(self._like)
        if self._selection is not None and item.holds(self._selection[0]):
            self.reveal(self._selection[0])

    # what is shown

    def set_strips(self, strips: Sequence[Strip]) -> None:
        """Show these strips under every bow path; nothing is engraved again."""
        self.strips = tuple(strips)
        for item in self.items_by_system:
            item.set_strips(self.strips)
        self.stack_items()
        if self._selection is not None:
            self.reveal(self._selection[0])

    def set_form(self, form: tuple[Section, ...]) -> None:
        """Show these sections over the music."""
        if form != self.form:
            self.form = form
            for item in self.items_by_system:
                item.set_form(form)

    def set_rows(self, rows: Sequence[PathRow], changed_bars: tuple[int, ...] = ()) -> None:
        """Show other plans of the same notes; nothing is engraved again."""
        restack = len(rows) != len(self.rows)
        self.rows = tuple(rows)
        otherwise = cache(drawn_otherwise)  # all lines ask the same
        for item in self.items_by_system:
            item.set_rows(self.rows, otherwise)
        if restack:
            self.stack_items()
        self._set_changed(frozenset(changed_bars))
        self._flash.start()

    def foresee(self, rows: Sequence[PathRow]) -> None:
        """Paint what other plans would change in the lines that are in sight, for when they are
        shown."""
        if len(rows) != len(self.rows) or same_rows(rows, self.rows):
            return
        otherwise = cache(drawn_otherwise)
        for item in self.items_by_system:
            item.foresee(rows, otherwise, in_sight=self.in_sight(item))

    def hold_changed(self, bars: tuple[int, ...]) -> None:
        """Mark bars until something else is shown."""
        self._flash.stop()
        self._set_changed(frozenset(bars))

    def _set_changed(self, bars: frozenset[int]) -> None:
        for item in self.items_by_system:
            item.set_changed_bars(bars)

    def select(self, first: int, last: int, focus: int) -> None:
        """Frame a run of notes and scroll one of them into sight."""
        self._selection = (first, last)
        for item in self.items_by_system:
            item.set_selected(self._selection)
        self.reveal(focus)

    def show_alike(self, places: list[tuple[int, int]]) -> None:
        """Frame places that are like the selected one, faintly."""
        self._like = places
        for item in self.items_by_system:
            item.set_alike(places)

    def clear_selection(self) -> None:
        self._selection = None
        for item in self.items_by_system:
            item.set_selected(None)

    def reveal(self, note: int) -> None:
        item = self.item_of(note)
        if item is not None:
            rect = item.mapRectToScene(item.note_rect(note))
            self.ensureVisible(rect, 24, 24)

    def beside_selection(self) -> QPoint:
        """Where a menu for the selection opens: under its first note, in the view."""
        first = 0 if self._selection is None else self._selection[0]
        item = self.item_of(first)
        if item is None:
            return QPoint(40, 40)
        rect = item.mapRectToScene(item.note_rect(first))
        return self.mapFromScene(rect.bottomRight())

    def item_of(self, note: int) -> SystemItem | None:
        """The system a note begins on, if it is engraved already."""
        return next((i for i in self.items_by_system if i.holds(note)), None)

    def show_playhead(self, at_q: float | None) -> None:
        """Mark a time of the music, in quarters; None takes the mark away."""
        for item in self.items_by_system:
            timeline = item.timeline
            here = at_q is not None and timeline.start_q <= at_q < timeline.end_q
            item.set_playhead(timeline.x(at_q) if here and at_q is not None else None)
            if here:
                self.ensureVisible(item.mapRectToScene(item.boundingRect()), 0, 8)

    # the mouse

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        at = self.mapToScene(event.position().toPoint())
        if event.button() == Qt.MouseButton.LeftButton:
            self._letter = self.letter_at(at)
            if self._letter is not None:
                self._pressed_at = event.position()
                event.accept()
                return
            self._drag = self.handle_at(at)
            self._dragged_cell = -1
            note = self._note_at(at)
            if self._drag is not None:
                note = self._drag_note(self._drag)
            if note is not None:
                extend = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
                self.note_clicked.emit(note, extend)
        event.accept()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = self.mapToScene(event.position().toPoint())
        if self._drag is None:
            shape = Qt.CursorShape.ArrowCursor
            if self._letter is not None or self.letter_at(at) is not None:
                shape = Qt.CursorShape.SizeHorCursor
            elif self.handle_at(at) is not None:
                shape = Qt.CursorShape.SizeVerCursor
            self.viewport().setCursor(shape)
            return
        item = self._drag.item
        strip = item.strip
        share = (strip.bottom() - item.mapFromScene(at).y()) / strip.height()
        cell = min(CELLS_N, max(0, round(share * CELLS_N)))
        if cell != self._dragged_cell:
            self._dragged_cell = cell
            self.end_dragged.emit(self._drag.unit, self._drag.at_start, cell)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        letter = self.letter_at(self.mapToScene(event.position().toPoint()))
        self._letter = None
        if letter is not None:
            self.section_opened.emit(letter.section.key)
            event.accept()
            return
        super().mouseDoubleClickEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._letter is not None:
            letter, self._letter = self._letter, None
            note = self._note_at(self.mapToScene(event.position().toPoint()))
            moved = (event.position() - self._pressed_at).manhattanLength() > STILL
            if not moved:
                self.section_chosen.emit(letter.section.key)
            elif note is not None and note != letter.section.first_note:
                self.section_moved.emit(letter.section.key, note)
        if self._drag is not None:
            self._drag = None
            self.drag_ended.emit(self._dragged_cell >= 0)
        event.accept()

    def cancel_drag(self) -> None:
        """Let go without taking anything."""
        self._drag = None

    def _drag_note(self, handle: Handle) -> int:
        unit = self.plan_shown.units[handle.unit]
        return unit.first if handle.at_start else unit.last

    @property
    def plan_shown(self) -> Plan:
        return self.rows[0].plan

    def _note_at(self, at: QPointF) -> int | None:
        item = self.item_at(at)
        if item is None:
            return None
        return item.timeline.note_at(item.mapFromScene(at).x() - item.margin)

    def letter_at(self, at: QPointF) -> Letter | None:
        """The letter of a section at a place of the scene."""
        item = self.item_at(at)
        if item is None:
            return None
        local = item.mapFromScene(at) - QPointF(item.margin, 0)
        return next((letter for letter in item.letters if letter.rect.contains(local)), None)

    def handle_at(self, at: QPointF) -> Handle | None:
        """The end of a stroke at a place of the scene; only where one plan is shown."""
        item = self.item_at(at)
        if item is None or len(item.rows) != 1 or len(self.rows) != 1:
            return None
        local = item.mapFromScene(at) - QPointF(item.margin, 0)
        best: tuple[float, Handle] | None = None
        for unit, at_start, end in self.ends_on(item):
            away = (end - local).manhattanLength()
            if away <= GRIP and (best is None or away < best[0]):
                best = away, Handle(unit, at_start, item)
        return best[1] if best is not None else None

    def ends_on(self, item: SystemItem) -> list[tuple[int, bool, QPointF]]:
        """Unit, whether it is its start, and place of every stroke's end on a system."""
        plan = item.plan
        rect = item.strip.translated(-item.margin, 0)
        painter = PathPainter(plan, item.timeline, type(item.geometry)(rect))
        found = []
        for segment in item.timeline.segments:
            planned = plan.notes[segment.note]
            if planned is None:
                continue
            unit = plan.units[planned.unit]
            a, b = painter.ends(segment, planned)
            if segment.note == unit.last and segment.share_to >= 1.0:
                found.append((planned.unit, False, b))
            if segment.note == unit.first and segment.share_from == 0:
                found.append((planned.unit, True, a))
        return found
