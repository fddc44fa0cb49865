"""A pacing bow: how slowly a whole bow is to be drawn, and each try beside the aim."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from plectrum.core.instrument.bow import Bow
from plectrum.core.planning.contact.limits import MIDDLE_LANE
from plectrum.core.playing.motion import BowState
from plectrum.core.score.model import Direction
from plectrum.core.wording import say, tr
from plectrum.ui.look import theme
from plectrum.ui.moving.drawn_bow import DrawnBow, paint_way
from plectrum.ui.moving.road import RoadGeometry, paint_ground, paint_lane, paint_string

BAR, GAP, MOST_BARS = 16.0, 7.0, 5
UNIT_WIDTH = 1100.0  # of a picture in which everything has its normal size


class PacingBow(QWidget):
    """Paints the bow at a time of a try, and the tries as bars under it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.aim_s = 0.0
        self._bow = Bow.full_size("violin")
        self._part = (0.0, 1.0)
        self._string = 0
        self._direction = Direction.DOWN
        self._passed_s: float | None = None
        self._tries: tuple[float, ...] = ()
        self._drawn = DrawnBow()
        self.setAccessibleName(tr("The pacing bow"))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:
        return QSize(theme.px(620), theme.px(300))

    def minimumSizeHint(self) -> QSize:
        return QSize(260, theme.px(180))

    def set_aim(
        self, aim_s: float, bow: Bow, part: tuple[float, float], string: int, direction: Direction
    ) -> None:
        """What is to be reached: so many seconds from one end of the part of a bow to the other."""
        self.aim_s, self._bow, self._part = aim_s, bow, part
        self._string, self._direction = string, direction
        self.update()

    def show_try(self, passed_s: float | None, tries: Sequence[float]) -> None:
        """A try at a time, None while there is none; and those that are over."""
        self._passed_s, self._tries = passed_s, tuple(tries)
        self.update()

    @property
    def position(self) -> float:
        """Where the pacing bow touches the string: at its end once the aim is reached."""
        low, high = self._part
        start, end = (low, high) if self._direction is Direction.DOWN else (high, low)
        share = min(1.0, (self._passed_s or 0.0) / self.aim_s) if self.aim_s else 0.0
        return start + (end - start) * share

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        unit = max(0.5, min(self.width() / UNIT_WIDTH, self.height() / 340))
        bars = ((min(MOST_BARS, len(self._tries)) + 2) * (BAR + GAP) + GAP) * unit
        self._paint_road(painter, QRectF(0, 0, self.width(), self.height() - bars), unit)
        self._paint_bars(painter, self.height() - bars + GAP * unit, unit)
        painter.end()

    def _paint_road(self, painter: QPainter, rect: QRectF, unit: float) -> None:
        road = RoadGeometry(rect, unit)
        running = self._passed_s is not None
        state = BowState(
            note=None, turn=0, answering=False, at_q=0.0, direction=self._direction,
            position=self.position, speed_mm_s=1.0 if running else 0.0, lifted=0.0,
            level=2.0 * self._string + 1, lane=float(MIDDLE_LANE), weight_n=0.0, share=0.5,
            hand_nmm=0.0,
        )  # fmt: skip
        painter.save()
        painter.setClipRect(rect)
        paint_ground(painter, road)
        paint_lane(painter, road, state.lane)
        paint_string(painter, road, self._string, running)
        self._drawn.paint(painter, road, self._bow, state, None)
        paint_way(painter, road, self._direction, state.lane)
        painter.restore()

    def _paint_bars(self, painter: QPainter, top: float, unit: float) -> None:
        """The aim, the try that runs, and the last ones, each as long as it lasted."""
        rows = [(tr("aim"), self.aim_s, False)]
        if self._passed_s is not None:
            rows.append(("now", self._passed_s, True))
        first = max(0, len(self._tries) - MOST_BARS)
        rows += [(f"{k + 1}", t, True) for k, t in enumerate(self._tries) if k >= first]
        longest = max((seconds for _, seconds, _ in rows), default=1.0) or 1.0
        now, left = theme.colours(), 56 * unit
        whole = self.width() - left - 90 * unit
        aim_x = left + whole * self.aim_s / longest
        painter.setFont(theme.label_font(15 * unit))
        y = top
        for words, seconds, tried in rows:
            bar = QRectF(left, y, whole * seconds / longest, BAR * unit)
            reached = seconds >= self.aim_s
            painter.setPen(QPen(now.accent, 1.5 * unit))
            painter.setBrush(now.accent if tried and reached else
                             now.accent_wash if tried else now.panel)  # fmt: skip
            painter.drawRect(bar)
            painter.setPen(now.ink)
            name = QRectF(0, y, left - 8 * unit, BAR * unit)
            painter.drawText(name, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                             words)  # fmt: skip
            value = QRectF(bar.right() + 6 * unit, y, 84 * unit, BAR * unit)
            painter.drawText(
                value, Qt.AlignmentFlag.AlignVCenter, say("{seconds:.1f} s", seconds=seconds)
            )
            y += (BAR + GAP) * unit
        painter.setPen(QPen(now.ink, 1.5 * unit, Qt.PenStyle.DashLine))
        painter.drawLine(int(aim_x), int(top), int(aim_x), int(y - GAP * unit))
