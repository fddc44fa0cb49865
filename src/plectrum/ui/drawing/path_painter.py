"""Draws the bow path: the height is the bow, frog at the bottom, tip at the top.

A down stroke is a solid band that rises to the right, an up stroke a hatched, outlined band
that falls, so the two differ without colour. Notes of a slur divide the band, a hook leaves a
gap, a lift is a dotted arc, a rest leaves the bow parked.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Sequence

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPen, QPolygonF

from plectrum.core.advice.rests import is_after_rest
from plectrum.core.document.choices import Join
from plectrum.core.instrument.bow import Bow
from plectrum.core.planning.plan import Plan, held_at
from plectrum.core.planning.rules import CELLS_N
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.score.model import Direction
from plectrum.core.wording import tr
from plectrum.ui.drawing.timeline import Segment, SystemTimeline
from plectrum.ui.look import theme

BAND = 8.0
LIGHTEST, HEAVIEST = 5.0, 12.0  # thickness of the band, by weight
HOOK_GAP = 5.0
NARROWEST = 6.0  # stroke of a tremolo
ARC = 16.0  # how high a lift is drawn
REST_SIZE, REST_ROOM = 10, 24.0
STEEPEST = 2.4  # how much taller a steep band may be drawn
HATCH_STEP, HATCH_WIDTH = 4.0, 1.1  # between the lines of a hatching that is drawn


class PathGeometry:
    """Turns places on the bow into y inside a strip of a given rectangle."""

    def __init__(self, rect: QRectF) -> None:
        self.rect = rect

    def y(self, at: float) -> float:
        return self.rect.bottom() - at * self.rect.height()


def fill(painter: QPainter, rect: QRectF, colour: QColor) -> None:
    """Fill a rectangle up to whole pixels: a third of the time of smooth edges."""
    smooth = painter.testRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    painter.fillRect(rect, colour)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, smooth)


def paint_ground(
    painter: QPainter, geometry: PathGeometry, bow: Bow, usable: tuple[float, float]
) -> None:
    """The empty strip: paper, tape marks as guide lines, frog and tip edges."""
    rect = geometry.rect
    fill(painter, rect, theme.colours().panel)
    outside = QColor(theme.colours().edge)
    outside.setAlpha(110)
    above = QRectF(rect.topLeft(), QPointF(rect.right(), geometry.y(usable[1])))
    below = QRectF(QPointF(rect.left(), geometry.y(usable[0])), rect.bottomRight())
    for part in (above, below):
        if not part.isEmpty():
            fill(painter, part, outside)
    for mark in bow.marks:
        pen = QPen(QColor(mark.colour), 1.4, Qt.PenStyle.DashLine)
        pen.setDashPattern([6, 4])
        painter.setPen(pen)
        y = geometry.y(mark.at)
        painter.drawLine(QPointF(rect.left(), y), QPointF(rect.right(), y))
    painter.setPen(QPen(theme.colours().muted, 1.2))
    painter.drawLine(rect.topLeft(), rect.topRight())
    painter.drawLine(rect.bottomLeft(), rect.bottomRight())


Band = tuple[QPointF, QPointF, QPointF, QPointF]


def band_corners(a: QPointF, b: QPointF, half: float) -> Band:
    """A slanted band between two points; its ends stand upright so that notes meet cleanly.

    A steep band is drawn taller, so that it looks about as thick as a flat one.
    """
    left, right, y, until = a.x(), b.x(), a.y(), b.y()
    run = max(right - left, 1.0)
    half *= min(STEEPEST, math.hypot(run, until - y) / run)
    return (
        QPointF(left, y - half),
        QPointF(right, until - half),
        QPointF(right, until + half),
        QPointF(left, y + half),
    )


def hatch_lines(corners: Sequence[QPointF], step: float = HATCH_STEP) -> list[QLineF]:
    """Slanted lines that fill a convex polygon, so many pixels apart: unlike a pattern they are
    the same on every device and in every file."""
    sides = list(_sides(corners))
    sums = [a.x() + a.y() for a, _ in sides]
    lines = []
    at = math.ceil(min(sums) / step) * step
    while at < max(sums):
        cuts = []
        for a, b in sides:
            low, high = a.x() + a.y() - at, b.x() + b.y() - at
            if (low < 0) != (high < 0):
                share = low / (low - high)
                cuts.append(a + (b - a) * share)
        if len(cuts) == 2:
            lines.append(QLineF(cuts[0], cuts[1]))
        at += step
    return lines


def _paint_downs(painter: QPainter, bands: Sequence[Band]) -> None:
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colours().down)
    for band in bands:
        painter.drawPolygon(QPolygonF(band))


def _paint_ups(painter: QPainter, bands: Sequence[Band]) -> None:
    """Up strokes on screen: rough fills, whose edges the outlines cover, and the outlines as
    single lines, which takes a quarter of the time of drawn polygons."""
    up = theme.colours().up
    shapes = [QPolygonF(band) for band in bands]
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    painter.setPen(Qt.PenStyle.NoPen)
    for brush in (QBrush(theme.colours().up_wash), QBrush(up, Qt.BrushStyle.BDiagPattern)):
        painter.setBrush(brush)
        for shape in shapes:
            painter.drawPolygon(shape)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(up, 1.6))
    painter.drawLines([QLineF(*side) for band in bands for side in _sides(band)])


def _paint_ups_in_lines(painter: QPainter, bands: Sequence[Band]) -> None:
    """Up strokes on paper."""
    up = theme.colours().up
    for band in bands:
        painter.setPen(QPen(up, 1.6))
        painter.setBrush(theme.colours().up_wash)
        painter.drawPolygon(QPolygonF(band))
        painter.setPen(QPen(up, HATCH_WIDTH))
        painter.drawLines(hatch_lines(band))


def _sides(corners: Sequence[QPointF]) -> Iterator[tuple[QPointF, QPointF]]:
    """Every corner with the one after it."""
    return zip(corners, (*corners[1:], corners[0]), strict=True)


class PathPainter:
    """Paints the strokes of one system."""

    def __init__(
        self,
        plan: Plan,
        timeline: SystemTimeline,
        geometry: PathGeometry,
        *,
        in_lines: bool = False,
    ) -> None:
        """Make a painter.

        Args:
            in_lines: hatch with drawn lines, for paper; a pattern is quicker on screen.
        """
        self.in_lines = in_lines
        self.plan = plan
        self.timeline = timeline
        self.geometry = geometry

    def paint(self, painter: QPainter, segments: Sequence[Segment] | None = None) -> None:
        """Paint the strokes; of some segments alone if they are given."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        wanted = self.timeline.segments if segments is None else segments
        shown: list[tuple[Segment, PlannedNote]] = [
            (s, p) for s in wanted if (p := self.plan.notes[s.note]) is not None
        ]
        ends = [self.ends(segment, planned) for segment, planned in shown]
        self._paint_regions(painter, shown)
        self._paint_waits(painter, shown, ends)
        self._paint_bands(painter, shown, ends)
        self._paint_joins(painter, shown)
        self._paint_rests(painter, shown, ends)

    def _paint_rests(
        self,
        painter: QPainter,
        shown: Sequence[tuple[Segment, PlannedNote]],
        ends: Sequence[tuple[QPointF, QPointF]],
    ) -> None:
        """One word over the bow in every rest that has room for it."""
        painter.setPen(theme.colours().muted)
        painter.setFont(theme.label_font(REST_SIZE))
        for k in range(1, len(shown)):
            segment, planned = shown[k]
            left, right = ends[k - 1][1].x(), segment.left
            note = planned.note.index
            if right - left < REST_ROOM or segment.share_from or not is_after_rest(self.plan, note):
                continue
            lifted = planned.join is Join.RETAKE
            y = min(ends[k - 1][1].y(), ends[k][0].y()) - (ARC if lifted else 0) - 2
            top = max(self.geometry.rect.top(), y - REST_SIZE - 3)
            box = QRectF(left, top, right - left, REST_SIZE + 3)
            word = tr("lift") if lifted else tr("stay")
            painter.fillRect(
                painter.boundingRect(box, Qt.AlignmentFlag.AlignCenter, word), theme.colours().panel
            )
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, word)

    def _paint_regions(
        self, painter: QPainter, shown: Sequence[tuple[Segment, PlannedNote]]
    ) -> None:
        """The part of the bow that is named by the teacher, behind its strokes."""
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colours().accent_wash)
        for segment, planned in shown:
            held = held_at(self.plan, planned.note.index)
            if held.low is None or held.high is None:
                continue
            top, bottom = (self.geometry.y(c / CELLS_N) for c in (held.high, held.low))
            painter.drawRect(QRectF(segment.left, top, segment.right - segment.left, bottom - top))

    def ends(self, segment: Segment, planned: PlannedNote) -> tuple[QPointF, QPointF]:
        """Where the band of a note begins and ends on this system."""
        span = segment.share_to - segment.share_from
        width = segment.right - segment.left
        moving = planned.moving_s / planned.note.duration_s if planned.note.duration_s else 1.0

        def place(share: float) -> float:
            done = min(1.0, share / moving) if moving > 0 else 1.0
            return planned.start + (planned.end - planned.start) * done

        until = min(segment.share_to, max(moving, segment.share_from))
        right = segment.left + width * ((until - segment.share_from) / span if span > 0 else 1.0)
        if planned.stop_after and segment.share_to >= 1.0:
            right = min(right, segment.right - HOOK_GAP)
        return (
            QPointF(segment.left, self.geometry.y(place(segment.share_from))),
            QPointF(max(right, segment.left + 2), self.geometry.y(place(until))),
        )

    def _paint_bands(
        self,
        painter: QPainter,
        shown: Sequence[tuple[Segment, PlannedNote]],
        ends: Sequence[tuple[QPointF, QPointF]],
    ) -> None:
        downs: list[Band] = []
        ups: list[Band] = []
        for (_, planned), (a, b) in zip(shown, ends, strict=True):
            ways = (downs, ups) if planned.direction is Direction.DOWN else (ups, downs)
            places = self._to_and_fro(planned, a, b) if planned.strokes_n > 1 else [a, b]
            for k, (start, end) in enumerate(itertools.pairwise(places)):
                ways[k % 2].append(band_corners(start, end, self._thickness(planned) / 2))
        _paint_downs(painter, downs)
        (_paint_ups_in_lines if self.in_lines else _paint_ups)(painter, ups)

    def _to_and_fro(self, planned: PlannedNote, a: QPointF, b: QPointF) -> list[QPointF]:
        """Where the strokes of a tremolo turn on this system; of more than can be seen, as many as
        can, and as many in number as make it odd or even."""
        most_n, n = max(2, int((b.x() - a.x()) / NARROWEST)), planned.strokes_n
        n -= 2 * max(0, (n - most_n + 1) // 2)
        turns, step = planned._replace(strokes_n=n).turns, (b.x() - a.x()) / n
        return [QPointF(a.x() + k * step, self.geometry.y(turns[k])) for k in range(n + 1)]

    def _thickness(self, planned: PlannedNote) -> float:
        share = float(self.plan.contact.share[self.plan.contact_rows[planned.note.index]])
        return LIGHTEST + share * (HEAVIEST - LIGHTEST)

    def _paint_joins(self, painter: QPainter, shown: list[tuple[Segment, PlannedNote]]) -> None:
        for (before, old), (after, new) in itertools.pairwise(shown):
            follows = old.unit in (new.unit, self.plan.unit_before[new.unit])
            if after.share_from > 0 or not follows:
                continue
            if new.join is Join.SLUR:
                y = self.geometry.y(new.start)
                paper = (
                    theme.colours().paper if new.direction is Direction.DOWN else theme.colours().up
                )
                painter.setPen(QPen(paper, 2.0))
                painter.drawLine(
                    QPointF(after.left, y - BAND / 2), QPointF(after.left, y + BAND / 2)
                )
            elif new.join is Join.HOOK:
                y = self.geometry.y(new.start)
                x = after.left - HOOK_GAP / 2
                painter.setPen(QPen(theme.colours().ink, 2.2))
                painter.drawLine(QPointF(x, y - BAND), QPointF(x, y + BAND))
            elif new.join is Join.RETAKE:
                self._paint_lift(painter, self.ends(before, old)[1], self.ends(after, new)[0])

    def _paint_lift(self, painter: QPainter, a: QPointF, b: QPointF) -> None:
        path = QPainterPath(a)
        top = min(a.y(), b.y()) - 1.35 * ARC
        path.cubicTo(QPointF(a.x() + 4, top), QPointF(b.x() - 4, top), b)
        pen = QPen(theme.colours().ink, 1.6, Qt.PenStyle.DotLine)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path)

    def _paint_waits(
        self,
        painter: QPainter,
        pairs: Sequence[tuple[Segment, PlannedNote]],
        ends: Sequence[tuple[QPointF, QPointF]],
    ) -> None:
        """The bow parked on the string: after a stopped note, through a rest, before a hook."""
        painter.setPen(QPen(theme.colours().muted, 1.2, Qt.PenStyle.DotLine))
        for k, (segment, _) in enumerate(pairs):
            end = ends[k][1]
            following = pairs[k + 1] if k + 1 < len(pairs) else None
            if following is not None and following[1].join is Join.RETAKE:
                continue
            until = following[0].left if following is not None else segment.right
            if until - end.x() > 10:
                painter.drawLine(QPointF(end.x() + 3, end.y()), QPointF(until - 3, end.y()))
