"""The stage: the bow on its road, the tilting bow, the hand, and the stream of cards."""

from __future__ import annotations

from dataclasses import dataclass, field

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QPixmap, QRegion, QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import Instrument
from plectrum.core.playing.cards import StrokeCard
from plectrum.core.playing.motion import BowState
from plectrum.core.wording import say, tr
from plectrum.ui.drawing.strips import MOST_HAND_NMM
from plectrum.ui.look import theme
from plectrum.ui.look.speaking import describe
from plectrum.ui.moving.card_row import CardRow
from plectrum.ui.moving.drawn_bow import DrawnBow, bow_band, paint_way
from plectrum.ui.moving.hold_view import Hand, paint_hand
from plectrum.ui.moving.level_view import LevelGeometry, paint_balance, paint_bridge, paint_level
from plectrum.ui.moving.road import (
    RoadGeometry,
    paint_ghost,
    paint_ground,
    paint_guide,
    paint_lane,
    paint_string,
)

MARGIN = 14.0
NORMAL = (1204.0, 440.0)  # the stage in a window of 1280 × 800
SIDE_SHARE = 0.24
LOW_LANE = 2.6  # nearer the bridge the bow is where the count would stand
SHOUT, COUNT = 64.0, 78.0  # letters over the road; a count is read from two metres
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
        sounding: the string swings; resting: the bow stands although its stroke has begun.
        cards: the present stroke and the next, each with the seconds until it begins.
        shout: what stands large over the road: the count, or "now you".
        counts: what stands large is a count: it stands lower, out of the bow's way, and larger.
        looks: the student looks whether the bow is straight. hand: the hand on the stick, shown
            in place of the road.
    """

    instrument: Instrument
    bow: Bow
    state: BowState
    shows_bow: bool = True
    sounding: bool = False
    resting: bool = False
    cards: list[tuple[StrokeCard, float]] = field(default_factory=list)
    beat_s: float = 0.7
    shout: str = ""
    ghost: Ghost | None = None
    counts: bool = False
    looks: bool = False
    hand: Hand | None = None


def _string_of(state: BowState) -> int:
    """The string under the bow, or the nearer of two."""
    return min(3, max(0, round((state.level - 1) / 2)))


def _ground_of(scene: Scene) -> tuple[Instrument, bool]:
    """What the picture behind everything depends on."""
    return scene.instrument, scene.hand is not None


def _still_of(scene: Scene) -> tuple[object, ...]:
    """What of the road changes seldom; if it does, all of it is painted."""
    return (
        scene.shows_bow, scene.sounding, scene.resting, scene.shout, scene.bow, scene.ghost,
        scene.looks, scene.hand,
    )  # fmt: skip


class Stage(QWidget):
    """Paints a scene; what does not move is kept as a picture."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.scene: Scene | None = None
        self.frog_right = True
        self._ground: QPixmap | None = None
        self._ground_of: tuple[Instrument, bool] | None = None
        self._cards = CardRow()
        self._bow = DrawnBow()
        self.setAccessibleName(tr("The moving bow"))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)

    def sizeHint(self) -> QSize:
        return QSize(theme.px(NORMAL[0]), theme.px(NORMAL[1]))

    def minimumSizeHint(self) -> QSize:
        return QSize(560, 145)

    def show_scene(self, scene: Scene | None) -> None:
        """Show another moment; only what looks otherwise is painted again."""
        before, self.scene = self.scene, scene
        self._describe(before, scene)
        if before is None or scene is None or _ground_of(before) != _ground_of(scene):
            self.update()
        else:
            self.update(self._changed(before, scene))

    def _describe(self, before: Scene | None, scene: Scene | None) -> None:
        """In words for those who do not see it, once a stroke."""
        old = before.cards[0][0] if before is not None and before.cards else None
        new = scene.cards[0][0] if scene is not None and scene.cards else None
        if new is not old:
            said = (
                say(
                    "{action}, {strings} string, {amount} {goal}",
                    action=new.action,
                    strings=new.strings,
                    amount=new.amount,
                    goal=new.goal,
                )
                if new
                else ""
            )
            describe(self, said.strip(" ,"), id(new))

    def _changed(self, before: Scene, scene: Scene) -> QRegion:
        """What of the stage two scenes differ in."""
        region, a, b = QRegion(), before.state, scene.state
        road = self.road
        calm = _still_of(before) == _still_of(scene)
        if not calm or _string_of(a) != _string_of(b):
            region += road.rect.toAlignedRect()
        elif scene.shows_bow:
            for state in (a, b):
                region += bow_band(road, state).toAlignedRect()
        for rect in self._cards.changed(self._cards_rect, self.unit, before, scene):
            region += rect.toAlignedRect()
        if a.level != b.level:
            region += self._levels(scene).rect.toAlignedRect()
        if a.hand_nmm != b.hand_nmm or before.shows_bow != scene.shows_bow:
            region += self._balance_rect.toAlignedRect()
        return region

    def set_frog_right(self, right: bool) -> None:
        """Which way round: as in a mirror, or as the teacher who stands opposite sees it."""
        self.frog_right = right
        self.forget()

    def forget(self) -> None:
        """Colours, size or sides have changed."""
        self._ground = None
        self._cards.forget()
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
        self._paint_ground(painter, event.region(), self._kept_ground(scene))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        road, dirty = self.road, event.region()
        if dirty.intersects(road.rect.toAlignedRect()):
            painter.save()
            painter.setClipRect(road.rect, Qt.ClipOperation.IntersectClip)
            if scene.hand is not None:
                paint_hand(painter, road.rect, self.unit, scene.hand, self.frog_right)
            else:
                self._paint_road(painter, road, scene)
            painter.restore()
            self._paint_shout(painter, road.rect, scene)
        cards = self._cards_rect
        if dirty.intersects(cards.toAlignedRect()):
            self._cards.paint(painter, cards, self.unit, scene, self.frog_right)
        self._cards.prepare_one(painter, cards, self.unit, scene, self.frog_right)
        levels, balance = self._levels(scene), self._balance_rect
        if scene.hand is None and dirty.intersects(levels.rect.toAlignedRect()):
            paint_level(painter, levels, scene.state.level)
        weighs = scene.shows_bow and scene.hand is None and scene.state.weight_n > 0
        if weighs and dirty.intersects(balance.toAlignedRect()):
            paint_balance(painter, balance, self.unit, scene.state.hand_nmm, MOST_HAND_NMM)
        painter.end()

    def _paint_ground(self, painter: QPainter, dirty: QRegion, ground: QPixmap) -> None:
        ratio = ground.devicePixelRatio()
        for rect in dirty:  # type: ignore[attr-defined]
            part = QRectF(rect)
            source = QRectF(part.topLeft() * ratio, part.size() * ratio)
            painter.drawPixmap(part, ground, source)

    def _paint_road(self, painter: QPainter, road: RoadGeometry, scene: Scene) -> None:
        if scene.shows_bow:
            paint_lane(painter, road, scene.state.lane)
        paint_string(painter, road, _string_of(scene.state), scene.sounding)
        if scene.looks:
            paint_guide(painter, road, scene.state.lane)
        if scene.shows_bow:
            card = scene.cards[0][0] if scene.cards else None
            self._bow.paint(painter, road, scene.bow, scene.state, card)
            if card is not None and card.direction is not None and not scene.resting:
                paint_way(painter, road, card.direction, scene.state.lane)
        if scene.ghost is not None:
            ghost = scene.ghost
            paint_ghost(painter, road, ghost.position, ghost.lane, ghost.angle_deg)

    def _kept_ground(self, scene: Scene) -> QPixmap:
        """All that does not move."""
        kept = _ground_of(scene)
        if self._ground is None or kept != self._ground_of:
            self._ground_of = kept
            ratio = self.devicePixelRatioF()
            ground = QPixmap(self.size() * ratio)
            ground.setDevicePixelRatio(ratio)
            ground.fill(theme.colours().paper)
            painter = QPainter(ground)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            if scene.hand is None:
                paint_ground(painter, self.road)
                paint_bridge(painter, self._levels(scene))
            painter.end()
            self._ground = ground
        return self._ground

    @property
    def _balance_rect(self) -> QRectF:
        side = self._side_rect
        return QRectF(side.left(), side.bottom() - 46 * self.unit, side.width(), 46 * self.unit)

    def _levels(self, scene: Scene) -> LevelGeometry:
        rect = self._side_rect.adjusted(0, 0, 0, -54 * self.unit)
        return LevelGeometry(rect, self.unit, scene.instrument, self.frog_right)

    def _paint_shout(self, painter: QPainter, rect: QRectF, scene: Scene) -> None:
        text = scene.shout
        if not text:
            return
        now, u = theme.colours(), self.unit
        font = theme.label_font((COUNT if scene.counts else SHOUT) * u)
        font.setBold(True)
        painter.setFont(font)
        width = painter.fontMetrics().horizontalAdvance(text) + 48 * u
        height = painter.fontMetrics().height() + 4 * u
        low = scene.counts and (scene.hand is not None or scene.state.lane >= LOW_LANE)
        top = rect.top() + 10 * u if not low else rect.bottom() - height - 8 * u
        box = QRectF(rect.left() + 24 * u, top, width, height)
        painter.setPen(QPen(now.note_edge, 2 * u))
        painter.setBrush(now.note)
        painter.drawRoundedRect(box, 14 * u, 14 * u)
        painter.setPen(now.ink)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
