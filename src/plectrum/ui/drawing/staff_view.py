"""The engraved staff of the Piece screen: selection, caret, equal bars alike, section names."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from plectrum.core.wording import tr
from plectrum.ui.engraving.engraved_item import EngravedItem, Span
from plectrum.ui.engraving.system import System
from plectrum.ui.engraving.systems_view import SystemsView
from plectrum.ui.look import theme


@dataclass(frozen=True)
class StaffLook:
    """What is drawn on the staff besides the notes.

    Attributes:
        alike: bar index to the number of its group of equal bars.
        sections: id of the note that each section begins with to its name.
        tricky: indices of tricky bars.
    """

    alike: Mapping[int, int] = field(default_factory=dict)
    sections: Mapping[str, str] = field(default_factory=dict)
    tricky: frozenset[int] = frozenset()


class StaffItem(EngravedItem):
    """One engraved line of the written music."""

    margin = 16.0
    above = 30.0

    def __init__(self, system: System, look: StaffLook) -> None:
        super().__init__(system)
        self.look = look
        self.selected: frozenset[str] = frozenset()
        self.caret_x: float | None = None

    @property
    def height(self) -> float:
        return self.above + self.system.height + 12

    def set_look(self, look: StaffLook) -> None:
        if look != self.look:
            self.look = look
            self.repaint_layer()

    def set_marks(self, selected: frozenset[str], caret_x: float | None) -> None:
        if (selected, caret_x) != (self.selected, self.caret_x):
            self.selected, self.caret_x = selected, caret_x
            self.update()

    def box_of(self, note_id: str) -> QRectF | None:
        """A note's head or a rest, in item coordinates."""
        box = self.system.notes.get(note_id)
        if box is None:
            return None
        return QRectF(box[0] + self.margin, box[1] + self.above, box[2], box[3])

    def _reach(self, box: QRectF) -> tuple[float, float]:
        """From where to where a frame round a note goes: the staff, and the note if outside."""
        top, bottom = (self.above + y for y in self.system.staff)
        return min(top, box.top()) - 8, max(bottom, box.bottom()) + 8

    def paint_layer(self, painter: QPainter, span: Span | None = None) -> None:
        now = theme.colours()
        bars = sorted(self.system.bars.items())
        for bar, (left, right) in bars:
            rect = QRectF(left + self.margin, 4, right - left, self.height - 8)
            group = self.look.alike.get(bar)
            if group is not None:
                painter.fillRect(rect, now.tints[group % len(now.tints)])
                painter.setPen(now.ink)
                painter.setFont(theme.label_font(12))
                letter = chr(ord("a") + group % 26)
                foot = QRectF(rect.left(), rect.bottom() - 21, rect.width() - 5, 20)
                painter.drawText(foot, Qt.AlignmentFlag.AlignRight, letter)
            if bar in self.look.tricky:
                painter.setPen(QPen(now.caution, 1.6, Qt.PenStyle.DashLine))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRoundedRect(rect.adjusted(2, 2, -2, -2), 6, 6)
        self.paint_staff(painter)
        font = theme.label_font(15)
        font.setBold(True)
        painter.setFont(font)
        painter.setPen(now.accent)
        for note_id, name in self.look.sections.items():
            box = self.system.notes.get(note_id)
            if box is not None:
                painter.drawText(QPointF(box[0] + self.margin, 22), name)

    def paint_over(self, painter: QPainter) -> None:
        now = theme.colours()
        for note_id in self.selected:
            box = self.box_of(note_id)
            if box is not None:
                painter.setPen(QPen(now.accent, 1.6))
                painter.setBrush(now.accent_wash)
                top, bottom = self._reach(box)
                rect = QRectF(box.left() - 5, top, box.width() + 10, bottom - top)
                painter.drawRoundedRect(rect, 5, 5)
        if self.caret_x is not None:
            painter.setPen(QPen(now.accent, 2.4))
            x = self.caret_x
            top, bottom = (self.above + y for y in self.system.staff)
            top, bottom = top - 14, bottom + 10
            painter.drawLine(QPointF(x, top), QPointF(x, bottom))
            painter.setBrush(now.accent)
            painter.drawPolygon([QPointF(x - 5, top), QPointF(x + 5, top), QPointF(x, top + 7)])


class StaffView(SystemsView[StaffItem]):
    """Shows the written notes with a caret between them, or some of them selected."""

    reuses_items = True
    grows = True
    most_bars_n = 5
    note_clicked = Signal(str, bool)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(tr("The written notes"))
        self.look = StaffLook()
        self._selected: frozenset[str] = frozenset()
        self._caret_after: str | None = None
        self._caret_shown = False

    def make_item(self, system: System) -> StaffItem | None:
        return StaffItem(system, self.look)

    def item_added(self, item: StaffItem) -> None:
        self._mark(item)
        self._reveal(item)

    def set_look(self, look: StaffLook) -> None:
        self.look = look
        for item in self.items_by_system:
            item.set_look(look)

    def show_marks(self, selected: Sequence[str], caret_after: str | None) -> None:
        """Frame these notes; without any show the caret after a note, None for the beginning."""
        self._selected = frozenset(selected)
        self._caret_after = caret_after
        self._caret_shown = not selected
        for item in self.items_by_system:
            self._mark(item)
        for item in self.items_by_system:
            self._reveal(item)

    def _mark(self, item: StaffItem) -> None:
        item.set_marks(self._selected, self._caret_x(item))

    def _caret_x(self, item: StaffItem) -> float | None:
        if not self._caret_shown:
            return None
        if self._caret_after is None:
            if item.system.index:
                return None
            boxes = [b for n in item.system.notes if (b := item.box_of(n)) is not None]
            return min((b.left() for b in boxes), default=60.0) - 7
        box = item.box_of(self._caret_after)
        return None if box is None else box.right() + 8

    def _reveal(self, item: StaffItem) -> None:
        boxes = [b for n in self._selected if (b := item.box_of(n)) is not None]
        caret = self._caret_x(item)
        if boxes or caret is not None:
            rect = QRectF(caret or boxes[0].left(), 0, 1, item.height)
            self.ensureVisible(item.mapRectToScene(rect), 24, 12)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        at = self.mapToScene(event.position().toPoint())
        item = self.item_at(at)
        if item is not None and item.system.notes:
            local = item.mapFromScene(at)
            note_id = min(
                item.system.notes,
                key=lambda n: abs(item.system.notes[n][0] + item.margin + 5 - local.x()),
            )
            extend = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.note_clicked.emit(note_id, extend)
        event.accept()
