"""The line of music that is being played, over the stage; it follows by itself."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPen, QPolygonF, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from plectrum.core.planning.plan import Plan
from plectrum.core.wording import tr
from plectrum.ui.drawing.path_painter import PathGeometry, PathPainter, paint_ground
from plectrum.ui.drawing.sign_row import ROW, SignRow
from plectrum.ui.drawing.timeline import SystemTimeline, notes_key
from plectrum.ui.engraving.engraved_item import EngravedItem, Span
from plectrum.ui.engraving.system import System
from plectrum.ui.engraving.systems_view import SystemsView
from plectrum.ui.look import theme

SIGNS = ROW
PATH = 72.0
BELOW = 8.0
SCORE = 18.0  # over the path: the score of each bar


@dataclass(frozen=True)
class Trace:
    """Where the followed bow was: (quarters, place on the bow) in the order of time, and what
    each bar is given, by bar index, 0 to 100."""

    points: tuple[tuple[float, float], ...] = ()
    scores: tuple[tuple[int, int], ...] = ()


class LineItem(EngravedItem):
    """One system with its bow signs, and under it the path with a trace where one is shown."""

    above = SIGNS

    def __init__(self, system: System, plan: Plan, path: bool) -> None:
        super().__init__(system)
        self.plan = plan
        self._timeline: SystemTimeline | None = None
        self.path = path
        self.trace = Trace()
        self._trace_line: QPolygonF | None = None
        self.playhead_x: float | None = None
        self.span: tuple[float, float] | None = None

    @property
    def height(self) -> float:
        return SIGNS + self.system.height + BELOW + (PATH + SCORE if self.path else 0.0)

    @property
    def strip(self) -> QRectF:
        """The path's rectangle, counted from the engraved picture's left edge."""
        left = min(x for x, _ in self.system.bars.values())
        right = max(x for _, x in self.system.bars.values())
        return QRectF(left, SIGNS + self.system.height + SCORE, right - left, PATH)

    def set_plan(self, plan: Plan) -> None:
        if plan is self.plan:
            return
        if notes_key(plan.part) != notes_key(self.plan.part):
            self._timeline = self._trace_line = None
        self.plan = plan
        self.repaint_layer()

    @property
    def timeline(self) -> SystemTimeline:
        """Where the notes lie; made when the line is first shown."""
        if self._timeline is None:
            self._timeline = SystemTimeline(self.system, self.plan.part)
        return self._timeline

    @property
    def ends_q(self) -> tuple[float, float]:
        """Where the line begins and ends, in quarters."""
        first, last = (
            self.plan.part.bars[k] for k in (min(self.system.bars), max(self.system.bars))
        )
        return float(first.onset_q), float(last.onset_q + last.duration_q)

    def set_path(self, path: bool) -> None:
        if path != self.path:
            self.prepareGeometryChange()
            self.path = path
            self.repaint_layer()

    def set_trace(self, trace: Trace) -> None:
        if trace is not self.trace:
            self.trace = trace
            self._trace_line = None
            self.update()

    def set_playhead(self, x: float | None) -> None:
        if x == self.playhead_x:
            return
        for at in (self.playhead_x, x):
            if at is not None:
                self.update(QRectF(at + self.margin - 6, 0, 12, self.height))
        self.playhead_x = x

    def set_span(self, span: tuple[float, float] | None) -> None:
        """The stretch that is played, in quarters; None for all."""
        if span != self.span:
            self.span = span
            self.update()

    def paint_layer(self, painter: QPainter, span: Span | None = None) -> None:
        if self.path:
            rect = self.strip.translated(self.margin, 0)
            usable = (self.plan.player.usable_from, self.plan.player.usable_to)
            paint_ground(painter, PathGeometry(rect), self.plan.choices.bow, usable)
        self.paint_staff(painter)
        painter.save()
        painter.translate(self.margin, 0)
        SignRow(self.plan, self.timeline).paint(painter, 0.0)
        if self.path:
            PathPainter(self.plan, self.timeline, PathGeometry(self.strip)).paint(painter)
        painter.restore()

    def paint_over(self, painter: QPainter) -> None:
        now = theme.colours()
        painter.save()
        painter.translate(self.margin, 0)
        if self.span is not None:
            self._paint_span(painter, self.span)
        if self.path:
            self._paint_trace(painter)
        if self.playhead_x is not None:
            painter.setPen(QPen(now.accent, 3))
            x = self.playhead_x
            painter.drawLine(QPointF(x, 4), QPointF(x, self.height - 4))
        painter.restore()

    def _paint_span(self, painter: QPainter, span: tuple[float, float]) -> None:
        """What is not played is put behind a veil."""
        veil = QColor(theme.colours().paper)
        veil.setAlpha(150)
        left, right = (min(x for x, _ in self.system.bars.values()),
                       max(x for _, x in self.system.bars.values()))  # fmt: skip
        a = self.timeline.x(span[0]) - 10 if span[0] > self.timeline.start_q else left
        b = self.timeline.x(span[1]) - 6 if span[1] < self.timeline.end_q else right
        if a > left:
            painter.fillRect(QRectF(left - 2, 0, min(a, right) - left, self.height), veil)
        if b < right:
            painter.fillRect(QRectF(max(b, left), 0, right - max(b, left) + 4, self.height), veil)

    def _paint_trace(self, painter: QPainter) -> None:
        now, geometry = theme.colours(), PathGeometry(self.strip)
        if self._trace_line is None:
            start_q, end_q = self.ends_q
            self._trace_line = QPolygonF(
                [
                    QPointF(self.timeline.x(q), geometry.y(place))
                    for q, place in self.trace.points
                    if start_q <= q <= end_q
                ]
            )
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(now.paper, 4.5))
        painter.drawPolyline(self._trace_line)
        painter.setPen(QPen(now.problem, 2.2))
        painter.drawPolyline(self._trace_line)
        painter.setFont(theme.label_font(13))
        painter.setPen(now.muted)
        if self.trace.scores:
            side = QRectF(-self.margin, self.strip.top() - SCORE, self.margin - 2, SCORE)
            painter.drawText(side, Qt.AlignmentFlag.AlignRight, tr("of 100"))
        for bar, score in self.trace.scores:
            if bar in self.system.bars:
                left, _ = self.system.bars[bar]
                painter.setPen(now.ink)
                box = QRectF(left + 6, self.strip.top() - SCORE, 90, SCORE)
                flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
                painter.drawText(box, flags, str(score))


class ScoreLine(SystemsView[LineItem]):
    """Shows the one system that is played; a click goes to a place of the music.

    Signals:
        place_clicked: a time in quarters, and whether the stretch played is to reach there.
    """

    grows = True
    place_clicked = Signal(float, bool)

    least_zoom = 0.25  # it leaves room for the stage, however large the interface is

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.plan: Plan | None = None
        self.path = False
        self._trace = Trace()
        self._at_q: float | None = None
        self._span: tuple[float, float] | None = None
        self._shown: LineItem | None = None
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setAccessibleName(tr("The line of music being played"))

    def make_item(self, system: System) -> LineItem | None:
        if self.plan is None or max(system.bars) >= len(self.plan.part.bars):
            return None
        return LineItem(system, self.plan, self.path)

    def item_added(self, item: LineItem) -> None:
        item.set_span(self._span)
        item.set_trace(self._trace)
        self._fit_height()
        if self._at_q is not None:
            self._shown = None
            self.show_place(self._at_q)

    def _fit_height(self) -> None:
        tallest = max((i.height for i in self.items_by_system), default=120.0)
        self.setFixedHeight(round(tallest * self.factor) + 4)

    def show_plan(self, plan: Plan) -> None:
        """Another plan of the same engraved score, or of a study of it."""
        self.plan = plan
        if any(max(item.system.bars) >= len(plan.part.bars) for item in self.items_by_system):
            self.clear()  # of a longer piece; the lines of this one are on their way
        for item in self.items_by_system:
            item.set_plan(plan)

    def set_path(self, path: bool) -> None:
        """Whether the bow path is shown under the staff."""
        self.path = path
        for item in self.items_by_system:
            item.set_path(path)
        self.stack_items()
        self._fit_height()
        self._shown = None
        if self._at_q is not None:
            self.show_place(self._at_q)

    def set_trace(self, trace: Trace) -> None:
        self._trace = trace
        for item in self.items_by_system:
            item.set_trace(trace)

    def set_span(self, span: tuple[float, float] | None) -> None:
        self._span = span
        for item in self.items_by_system:
            item.set_span(span)

    def show_place(self, at_q: float) -> None:
        """Mark a time of the music and bring its line into sight."""
        self._at_q = at_q
        items = self.items_by_system
        here = self._shown if self._shown in items and self._shown is not None else None
        if here is None or not here.ends_q[0] <= at_q < here.ends_q[1]:
            here = next((i for i in items if i.ends_q[0] <= at_q < i.ends_q[1]), None)
        if here is None and items and at_q >= items[-1].ends_q[1]:
            here = items[-1]
        if here is None:
            return
        if self._shown is not None and self._shown is not here and self._shown in items:
            self._shown.set_playhead(None)
        here.set_playhead(here.timeline.x(at_q))
        if here is not self._shown:
            self._shown = here
            for item in items:  # of no other line may anything peep in
                item.setVisible(item is here)
            self.verticalScrollBar().setValue(int(here.pos().y() * self.factor))

    @property
    def shown(self) -> LineItem | None:
        """The system in sight."""
        return self._shown

    def clear(self) -> None:
        super().clear()
        self._shown = None

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self._shown is not None and self._shown in self.items_by_system:
            self.verticalScrollBar().setValue(int(self._shown.pos().y() * self.factor))

    def wheelEvent(self, event: QWheelEvent) -> None:
        event.ignore()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = self.mapToScene(event.position().toPoint())
        item = self.item_at(at)
        if item is not None and event.button() == Qt.MouseButton.LeftButton:
            note = item.timeline.note_at(item.mapFromScene(at).x() - item.margin)
            if note is not None:
                extend = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
                self.place_clicked.emit(float(item.plan.part.notes[note].onset_q), extend)
        event.accept()
