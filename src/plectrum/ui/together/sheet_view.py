"""The bowing sheet: every part's staff with its bow signs and the places that matter over it,
moments that match dotted, those that do not framed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFontMetricsF, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from plectrum.core.planning.plan import Plan
from plectrum.core.wording import tr
from plectrum.ui.drawing import sign_row
from plectrum.ui.drawing.sign_row import SignRow
from plectrum.ui.drawing.timeline import SystemTimeline, notes_key
from plectrum.ui.engraving.engraved_item import EngravedItem, Span
from plectrum.ui.engraving.system import System
from plectrum.ui.engraving.systems_view import SystemsView
from plectrum.ui.look import theme

NAMES = 100.0  # room for the parts' names
WORDS = 15.0  # a line of words over the signs
OVER = WORDS + sign_row.ROW + 2.0
UNDER = 8.0
STAFF_GAP = 25  # half spaces: signs and words have to find room between the staves
FLAG = 7.0
STAFF = 150.0  # about what one part takes on a line
SMALLEST, LARGEST = 0.7, 1.0  # of the usual size


@dataclass(frozen=True, eq=False)
class SheetRow:
    """One part on the sheet.

    Attributes:
        words: note index to what is said over it. matching, differing: notes whose bows go with
            those of other parts, and those that part from them.
    """

    plan: Plan
    who: str = ""
    words: dict[int, str] = field(default_factory=dict)
    matching: frozenset[int] = frozenset()
    differing: frozenset[int] = frozenset()


class SheetItem(EngravedItem):
    """One line of all parts."""

    margin = NAMES
    above = OVER

    def __init__(self, system: System, rows: Sequence[SheetRow]) -> None:
        super().__init__(system)
        self.rows = tuple(rows)
        self.selected: tuple[int, int, int] | None = None
        self._timelines = [SystemTimeline(system, row.plan.part) for row in rows]

    @property
    def height(self) -> float:
        return self.above + self.system.height + UNDER

    # geometry

    def timeline(self, part: int) -> SystemTimeline:
        """Where the notes of a part lie."""
        return self._timelines[part]

    def holds(self, part: int, note: int) -> bool:
        return part < len(self.rows) and note in self._timelines[part].notes

    def signs_top(self, part: int) -> float:
        """The top of a part's row of words and signs, over all that its staff holds; the first
        stands over the tempo too."""
        if part == 0:
            return 0.0
        return self.above + min(self.system.staves[part][0], self.system.staves[part][2]) - OVER

    def bottom(self, part: int) -> float:
        """Where a part's staff and notes end."""
        return self.above + max(self.system.staves[part][1], self.system.staves[part][3]) + 4

    def part_at(self, y: float) -> int:
        """The part whose staff is nearest."""
        middles = [self.above + (s[0] + s[1]) / 2 for s in self.system.staves]
        return min(range(len(self.rows)), key=lambda k: abs(middles[k] - y))

    def note_rect(self, part: int, note: int) -> QRectF:
        """A note's place on its own staff, words to the lowest note."""
        for segment in self._timelines[part].segments:
            if segment.note == note:
                left, top = segment.left + self.margin, self.signs_top(part) + WORDS
                width = segment.right - segment.left
                return QRectF(left - 8, top, width, self.bottom(part) - top)
        return QRectF()

    # changing

    def set_rows(self, rows: Sequence[SheetRow]) -> None:
        """Show other plans of the same notes."""
        keys = [notes_key(row.plan.part) for row in rows]
        if keys == [notes_key(row.plan.part) for row in self.rows]:
            self.rows = tuple(rows)
            self.repaint_layer()

    def set_selected(self, selected: tuple[int, int, int] | None) -> None:
        """Part, first and last note of what is selected."""
        if selected != self.selected:
            self.selected = selected
            self.update()

    # painting

    def paint_layer(self, painter: QPainter, span: Span | None = None) -> None:
        self.paint_staff(painter)
        for part, row in enumerate(self.rows):
            self._paint_name(painter, part, row)
            painter.save()
            painter.translate(self.margin, 0)
            row_of_signs = SignRow(
                row.plan, self._timelines[part], pins_shown=True, proposals_shown=True
            )
            row_of_signs.paint(painter, self.signs_top(part) + WORDS)
            self._paint_agreement(painter, part, row, row_of_signs)
            self._paint_words(painter, part, row)
            painter.restore()

    def _paint_name(self, painter: QPainter, part: int, row: SheetRow) -> None:
        now, (top, bottom, *_) = theme.colours(), self.system.staves[part]
        middle = self.above + (top + bottom) / 2
        name = row.plan.part.name
        painter.setPen(now.ink)
        painter.setFont(theme.label_font(12))
        flags = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        wrapped = flags | Qt.TextFlag.TextWordWrap
        rect = QRectF(2, middle - 40, NAMES - 8, 80)
        if row.who not in name:
            rect.translate(0, -8)
        used = painter.boundingRect(rect, wrapped, name)
        painter.drawText(rect, wrapped, name)
        if row.who not in name:
            painter.setPen(now.muted)
            metrics = QFontMetricsF(painter.font())
            who = metrics.elidedText(row.who, Qt.TextElideMode.ElideRight, NAMES - 10)
            painter.drawText(QRectF(2, used.bottom(), NAMES - 8, 16), flags, who)

    def _paint_agreement(
        self, painter: QPainter, part: int, row: SheetRow, row_of_signs: SignRow
    ) -> None:
        now, top = theme.colours(), self.signs_top(part) + WORDS
        for sign in row_of_signs.signs():
            if sign.kind != "bow":
                continue
            if sign.note in row.matching:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(now.muted)
                at = QPointF(sign.rect.center().x(), top + sign.rect.bottom() + 4)
                painter.drawEllipse(at, 1.6, 1.6)
            elif sign.note in row.differing:
                rect = sign.rect.translated(0, top).adjusted(-4, -4, 4, 5)
                painter.setPen(QPen(now.problem, 1.4, Qt.PenStyle.DashLine))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(rect)
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(now.problem)
                corner = rect.topLeft()
                painter.drawPolygon([corner, corner + QPointF(FLAG, 0), corner + QPointF(0, FLAG)])

    def _paint_words(self, painter: QPainter, part: int, row: SheetRow) -> None:
        painter.setPen(theme.colours().muted)
        painter.setFont(theme.label_font(12))
        metrics = QFontMetricsF(painter.font())
        free_from = 0.0
        for segment in self._timelines[part].segments:
            text = row.words.get(segment.note)
            if text is None or segment.share_from:
                continue
            width = metrics.horizontalAdvance(text) + 4
            left = max(min(segment.left, self.system.width - width), free_from)
            rect = QRectF(left, self.signs_top(part), width, WORDS + 3)
            painter.drawText(rect, Qt.AlignmentFlag.AlignLeft, text)
            free_from = rect.right() + 8

    def paint_over(self, painter: QPainter) -> None:
        if self.selected is None or self.selected[0] >= len(self.rows):
            return  # of a layout that is on its way
        part, first, last = self.selected
        notes = [s.note for s in self._timelines[part].segments if first <= s.note <= last]
        if not notes:
            return
        whole = self.note_rect(part, notes[0])
        for note in notes[1:]:
            whole = whole.united(self.note_rect(part, note))
        painter.setPen(QPen(theme.colours().accent, 1.6))
        painter.setBrush(theme.colours().accent_wash)
        painter.drawRoundedRect(whole, 6, 6)


class SheetView(SystemsView[SheetItem]):
    """Shows all parts; a click chooses a note of one of them."""

    grows = False
    staff_gap = STAFF_GAP
    left_room = NAMES
    note_clicked = Signal(int, int, bool)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(tr("All parts with their bows"))
        self.rows: tuple[SheetRow, ...] = ()
        self._selected: tuple[int, int, int] | None = None

    def _fitting(self) -> float:
        """Small enough for a whole line of all parts to be seen, where it can still be read."""
        tall = STAFF * max(1, len(self.rows)) * theme.scale()
        return max(SMALLEST, min(LARGEST, self.viewport().height() / tall))

    def make_item(self, system: System) -> SheetItem | None:
        fits = self.rows and len(system.staves) == len(self.rows)
        fits = fits and all(max(system.bars) < len(row.plan.part.bars) for row in self.rows)
        return SheetItem(system, self.rows) if fits else None

    def item_added(self, item: SheetItem) -> None:
        item.set_selected(self._selected)

    def set_rows(self, rows: Sequence[SheetRow]) -> None:
        """Show other plans of the same notes; nothing is engraved again."""
        self.rows = tuple(rows)
        self.refit()
        for item in self.items_by_system:
            item.set_rows(self.rows)

    def select(self, part: int, first: int, last: int, focus: int) -> None:
        """Frame a run of notes of a part and scroll one of them into sight."""
        self._selected = part, first, last
        for item in self.items_by_system:
            item.set_selected(self._selected)
        shown = self.item_of(part, focus)
        if shown is not None:
            self.ensureVisible(shown.mapRectToScene(shown.note_rect(part, focus)), 24, 24)

    def item_of(self, part: int, note: int) -> SheetItem | None:
        """The line on which a note of a part is, if it is engraved already."""
        return next((i for i in self.items_by_system if i.holds(part, note)), None)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        at = self.mapToScene(event.position().toPoint())
        item = self.item_at(at)
        if item is not None and event.button() == Qt.MouseButton.LeftButton:
            local = item.mapFromScene(at)
            part = item.part_at(local.y())
            note = item.timeline(part).note_at(local.x() - item.margin)
            if note is not None:
                extend = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
                self.note_clicked.emit(part, note, extend)
        event.accept()
