"""The stage: the bow on its road, the tilting bow, the hand, and the stream of cards."""

from __future__ import annotations

from dataclasses import dataclass, field

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QPixmap, QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.tables import Instrument
from plectrum.core.playing.cards import StrokeCard
from plectrum.core.playing.motion import BowState
from plectrum.ui import theme
from plectrum.ui.bowing.strips import MOST_HAND_NMM
from plectrum.ui.show.card_row import paint_cards
from plectrum.ui.show.level_view import paint_balance, paint_levels
from plectrum.ui.show.road import (
    BowPainter,
    RoadGeometry,
    paint_ghost,
    paint_ground,
    paint_lane,
    paint_string,
)

MARGIN = 14.0
NORMAL = (1204.0, 440.0)  # the stage in a window of 1280 × 800
SIDE_SHARE = 0.24
CARDS_SHARE = 0.37


@dataclass(frozen=True, slots=True)
class Ghost:
    """The bow that is being followed."""

    position: float
    lane: float
    angle_deg: float


@dataclass(frozen=True)
class Scene:
    """All that is drawn at one moment.

    Attributes:
        state: the bow; shows_bow is False where it is laid aside.
        cards: the present stroke and the next, each with the seconds until it begins.
        shout: what stands large over the road: the count, or "now you".
    """

    instrument: Instrument
    bow: Bow
    state: BowState
    shows_bow: bool = True
    sounding: bool = False
    cards: list[tuple[StrokeCard, float]] = field(default_factory=list)
    beat_s: float = 0.7
    shout: str = ""
    ghost: Ghost | None = None


class Stage(QWidget):
    """Paints a scene; what does not move is kept as a picture."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.scene: Scene | None = None
        self.frog_right = True
        self._ground: QPixmap | None = None
        self._lane: float | None = None
        self.setAccessibleName("The moving bow")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)

    def sizeHint(self) -> QSize:
        return QSize(theme.px(NORMAL[0]), theme.px(NORMAL[1]))

    def minimumSizeHint(self) -> QSize:
        return QSize(theme.px(560), theme.px(200))

    def show_scene(self, scene: Scene | None) -> None:
        self.scene = scene
        self.update()

    def set_frog_right(self, right: bool) -> None:
        """Which way round: as in a mirror, or as the teacher who stands opposite sees it."""
        self.frog_right = right
        self.forget()

    def forget(self) -> None:
        """Colours, size or sides have changed."""
        self._ground = None
        self.update()

    # geometry

    @property
    def unit(self) -> float:
        """Size of everything painted: grows with the stage."""
        return max(0.6, min(self.width() / NORMAL[0], self.height() / NORMAL[1]))

    @property
    def _lower(self) -> float:
        """y where the road ends and the cards begin."""
        return self.height() * (1 - CARDS_SHARE)

    @property
    def road(self) -> RoadGeometry:
        m = MARGIN * self.unit
        rect = QRectF(m, m * 0.5, self.width() - 2 * m, self._lower - m)
        return RoadGeometry(rect, self.unit, self.frog_right)

    @property
    def _cards_rect(self) -> QRectF:
        m = MARGIN * self.unit
        width = (self.width() - 3 * m) * (1 - SIDE_SHARE)
        return QRectF(m, self._lower, width, self.height() - self._lower - m)

    @property
    def _side_rect(self) -> QRectF:
        cards, m = self._cards_rect, MARGIN * self.unit
        return QRectF(
            cards.right() + m, cards.top(), self.width() - cards.right() - 2 * m, cards.height()
        )

    # painting

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._ground = None

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        scene = self.scene
        if scene is None:
            painter.fillRect(self.rect(), theme.colours().paper)
            painter.end()
            return
        painter.drawPixmap(0, 0, self._kept_ground(scene))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        road = self.road
        painter.setClipRect(road.rect)
        string = min(3, max(0, round((scene.state.level - 1) / 2)))
        paint_string(painter, road, string, scene.sounding)
        if scene.shows_bow:
            card = scene.cards[0][0] if scene.cards else None
            bow = BowPainter(painter, road, scene.bow)
            bow.paint(scene.state, card)
            if card is not None and card.direction is not None:
                bow.paint_way(card.direction, scene.state.lane)
        if scene.ghost is not None:
            ghost = scene.ghost
            paint_ghost(painter, road, ghost.position, ghost.lane, ghost.angle_deg)
        painter.setClipping(False)
        self._paint_shout(painter, road.rect, scene.shout)
        cards = self._cards_rect
        paint_cards(
            painter, cards, self.unit, scene.cards, scene.bow, scene.beat_s, self.frog_right
        )
        self._paint_side(painter, scene)
        painter.end()

    def _kept_ground(self, scene: Scene) -> QPixmap:
        lane = round(scene.state.lane * 8) / 8  # in steps of its slide, so that it is kept
        if self._ground is None or lane != self._lane:
            self._lane = lane
            ratio = self.devicePixelRatioF()
            ground = QPixmap(self.size() * ratio)
            ground.setDevicePixelRatio(ratio)
            ground.fill(theme.colours().paper)
            painter = QPainter(ground)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            paint_ground(painter, self.road)
            if scene.shows_bow:
                paint_lane(painter, self.road, lane)
            painter.end()
            self._ground = ground
        return self._ground

    def _paint_side(self, painter: QPainter, scene: Scene) -> None:
        side, u = self._side_rect, self.unit
        balance_h = 46 * u if scene.shows_bow else 0.0
        levels = side.adjusted(0, 0, 0, -balance_h - 8 * u)
        own, level = scene.instrument, scene.state.level
        paint_levels(painter, levels, u, own, level, self.frog_right)
        if scene.shows_bow:
            balance = QRectF(side.left(), side.bottom() - balance_h, side.width(), balance_h)
            paint_balance(painter, balance, u, scene.state.hand_nmm, MOST_HAND_NMM)

    def _paint_shout(self, painter: QPainter, rect: QRectF, text: str) -> None:
        if not text:
            return
        now, u = theme.colours(), self.unit
        font = theme.label_font(64 * u)
        font.setBold(True)
        painter.setFont(font)
        width = painter.fontMetrics().horizontalAdvance(text) + 48 * u
        box = QRectF(rect.left() + 24 * u, rect.top() + 10 * u, width, 88 * u)
        painter.setPen(QPen(now.note_edge, 2 * u))
        painter.setBrush(now.note)
        painter.drawRoundedRect(box, 14 * u, 14 * u)
        painter.setPen(now.ink)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
