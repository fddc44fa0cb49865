"""One line of music on screen: bow signs, engraved staff, bow path under it."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QByteArray, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPixmap
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from plectrum.core.planning.amounts import school_range
from plectrum.core.planning.choices import Join
from plectrum.core.planning.plan import Plan
from plectrum.ui import theme
from plectrum.ui.bowing import strips as strips_module
from plectrum.ui.bowing.path_painter import PathGeometry, PathPainter, paint_ground
from plectrum.ui.bowing.signs import label_font, paint_sign
from plectrum.ui.bowing.strips import Strip
from plectrum.ui.bowing.timeline import SystemTimeline
from plectrum.ui.engraving.system import System

MARGIN = 48.0  # room at the left for the names of the places on the bow
SIGNS = 34.0
PATH = 112.0
GAP = 4.0
BELOW = 24.0


class SystemItem(QGraphicsItem):
    """Paints one system from the plan it is given; holds nothing else."""

    def __init__(self, system: System, plan: Plan, strips: Sequence[Strip] = ()) -> None:
        super().__init__()
        self.system = system
        self.plan = plan
        self.strips = tuple(strips)
        self.timeline = SystemTimeline(system, plan.part)
        self.selected: tuple[int, int] | None = None
        self.changed_bars: frozenset[int] = frozenset()
        self._renderer = QSvgRenderer(QByteArray(system.svg))
        self._picture: QPixmap | None = None
        left, right = self._bar_edges()
        self._strip = QRectF(left, SIGNS + system.height + GAP, right - left, PATH)
        self.geometry = PathGeometry(self._strip)

    def _bar_edges(self) -> tuple[float, float]:
        lefts = [x for x, _ in self.system.bars.values()]
        rights = [x for _, x in self.system.bars.values()]
        return min(lefts) + MARGIN, max(rights) + MARGIN

    @property
    def height(self) -> float:
        strips = sum(strip.height + strips_module.GAP for strip in self.strips)
        return SIGNS + self.system.height + GAP + PATH + strips + BELOW

    @property
    def strip(self) -> QRectF:
        """The bow path's rectangle in item coordinates."""
        return QRectF(self._strip)

    def boundingRect(self) -> QRectF:
        return QRectF(0, 0, self.system.width + MARGIN, self.height)

    def set_plan(self, plan: Plan) -> None:
        self.plan = plan
        self.update()

    def set_strips(self, strips: Sequence[Strip]) -> None:
        self.prepareGeometryChange()
        self.strips = tuple(strips)
        self.update()

    def set_selected(self, notes: tuple[int, int] | None) -> None:
        if notes != self.selected:
            self.selected = notes
            self.update()

    def set_changed_bars(self, bars: frozenset[int]) -> None:
        if bars != self.changed_bars:
            self.changed_bars = bars
            self.update()

    def holds(self, note: int) -> bool:
        return any(s.note == note for s in self.timeline.segments)

    def note_rect(self, note: int) -> QRectF:
        """The place of a note on this system, signs to strip, in item coordinates."""
        for segment in self.timeline.segments:
            if segment.note == note:
                left = segment.left + MARGIN
                return QRectF(left - 8, 0, segment.right - segment.left, self._strip.bottom())
        return QRectF()

    def paint(
        self, painter: QPainter, option: QStyleOptionGraphicsItem, widget: QWidget | None = None
    ) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_ground(
            painter,
            self.geometry,
            self.plan.choices.bow,
            school_range(self.plan.choices),
        )
        self._paint_bar_lines(painter)
        self._paint_changed(painter)
        self._paint_selection(painter)
        self._paint_staff(painter)
        self._paint_labels(painter)
        painter.save()
        painter.translate(MARGIN, 0)
        shifted = PathGeometry(self._strip.translated(-MARGIN, 0))
        self._paint_strips(painter, shifted.rect)
        PathPainter(self.plan, self.timeline, shifted).paint(painter)
        self._paint_signs(painter)
        painter.restore()

    def _paint_strips(self, painter: QPainter, path: QRectF) -> None:
        top = path.bottom()
        for strip in self.strips:
            top += strips_module.GAP
            rect = QRectF(path.left(), top, path.width(), strip.height)
            strips_module.paint_strip(painter, strip, rect, self.plan, self.timeline.segments)
            top += strip.height

    def _paint_staff(self, painter: QPainter) -> None:
        device = painter.device()
        ratio = device.devicePixelRatioF() if device is not None else 1.0
        width, height = int(self.system.width * ratio), int(self.system.height * ratio)
        if self._picture is None or self._picture.width() != width:
            self._picture = QPixmap(width, height)
            self._picture.fill(Qt.GlobalColor.transparent)
            own = QPainter(self._picture)
            self._renderer.render(own, QRectF(0, 0, width, height))
            own.end()
            self._picture.setDevicePixelRatio(ratio)
        painter.drawPixmap(QPointF(MARGIN, SIGNS), self._picture)

    def _paint_labels(self, painter: QPainter) -> None:
        painter.setPen(theme.MUTED)
        painter.setFont(label_font(12))
        for name, at in (("tip", 1.0), ("middle", 0.5), ("frog", 0.0)):
            y = self.geometry.y(at)
            rect = QRectF(0, y - 9, self._strip.left() - 6, 18)
            painter.drawText(
                rect, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, name
            )

    def _paint_signs(self, painter: QPainter) -> None:
        pins = self.plan.choices.pins
        for segment in self.timeline.segments:
            planned = self.plan.notes[segment.note]
            if planned is None or segment.share_from > 0 or planned.join is Join.SLUR:
                continue
            box = self.system.notes.get(planned.note.id)
            x = box[0] + box[2] / 2 if box is not None else segment.left
            paint_sign(painter, planned, QPointF(x, SIGNS - 8), planned.note.id in pins)

    def _paint_bar_lines(self, painter: QPainter) -> None:
        """Faint barlines through the strip, so the eye finds the bar a stroke belongs to."""
        painter.setPen(QPen(theme.EDGE, 1))
        for left, _ in list(self.system.bars.values())[1:]:
            x = left + MARGIN
            painter.drawLine(QPointF(x, self._strip.top()), QPointF(x, self._strip.bottom()))

    def _paint_changed(self, painter: QPainter) -> None:
        for bar_index, (left, right) in self.system.bars.items():
            if self.plan.part.bars[bar_index].number in self.changed_bars:
                rect = QRectF(left + MARGIN, 2, right - left, self._strip.bottom() - 2)
                painter.fillRect(rect, theme.CHANGED_WASH)

    def _paint_selection(self, painter: QPainter) -> None:
        if self.selected is None:
            return
        first, last = self.selected
        rects = [self.note_rect(s.note) for s in self.timeline.segments if first <= s.note <= last]
        if not rects:
            return
        whole = rects[0]
        for rect in rects[1:]:
            whole = whole.united(rect)
        painter.setPen(QPen(theme.ACCENT, 1.6))
        painter.setBrush(QColor(theme.ACCENT_WASH))
        painter.drawRoundedRect(whole.adjusted(0, 4, 0, 4), 6, 6)
