"""Bow signs above the staff, drawn as outlines: ⊓ for down, V for up."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPen

from plectrum.core.document.choices import Join
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.score.model import Direction
from plectrum.ui.look import theme

WIDTH = 11.0
HEIGHT = 11.0


def down_sign(centre: QPointF) -> QPainterPath:
    """The down-bow sign: a heavy top, two legs."""
    left, top = centre.x() - WIDTH / 2, centre.y() - HEIGHT / 2
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.WindingFill)
    path.addRect(QRectF(left, top, WIDTH, 4))
    path.addRect(QRectF(left, top, 2, HEIGHT))
    path.addRect(QRectF(left + WIDTH - 2, top, 2, HEIGHT))
    return path


def up_sign(centre: QPointF) -> QPainterPath:
    """The up-bow sign: a V."""
    left, top = centre.x() - WIDTH / 2, centre.y() - HEIGHT / 2
    path = QPainterPath(QPointF(left, top))
    path.lineTo(QPointF(centre.x(), top + HEIGHT + 1))
    path.lineTo(QPointF(left + WIDTH, top))
    return path


def paint_sign(painter: QPainter, planned: PlannedNote, centre: QPointF, pinned: bool) -> None:
    """The sign of one note, with a dot below it if it is pinned and an arc if it is lifted."""
    if planned.direction is Direction.DOWN:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colours().down)
        painter.drawPath(down_sign(centre))
    else:
        pen = QPen(theme.colours().up, 2.2)
        pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(up_sign(centre))
    if planned.join is Join.RETAKE:
        painter.setPen(QPen(theme.colours().ink, 1.6))
        painter.drawArc(QRectF(centre.x() - 18, centre.y() - 6, 12, 12), 30 * 16, 250 * 16)
    elif planned.join is Join.HOOK:
        painter.setPen(QPen(theme.colours().ink, 1.6))
        x = centre.x() - WIDTH / 2 - 5
        painter.drawLine(QPointF(x, centre.y() - 5), QPointF(x, centre.y() + 5))
    if pinned:
        paint_pin(painter, QPointF(centre.x(), centre.y() - HEIGHT - 1))


def paint_pin(painter: QPainter, at: QPointF) -> None:
    """A small pin: a filled head on a short needle."""
    painter.setPen(QPen(theme.colours().accent, 1.4))
    painter.drawLine(at, QPointF(at.x(), at.y() + 5))
    painter.setBrush(theme.colours().accent)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawEllipse(at, 3.2, 3.2)
