"""What is played now and what comes next, as a row of cards.

A card tells the way, what to do first (stop, lift), the part of the bow, and the string. The dots
on the next card are the beats until it begins: they go out one by one.
"""

from __future__ import annotations

import math
from collections import OrderedDict
from collections.abc import Hashable
from dataclasses import dataclass
from typing import Protocol

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFont, QFontMetricsF, QPainter, QPen, QPixmap

from plectrum.core.document.choices import Join
from plectrum.core.instrument.bow import Bow
from plectrum.core.playing.cards import StrokeCard
from plectrum.core.score.model import Direction
from plectrum.ui.drawing.signs import HEIGHT, down_sign, up_sign
from plectrum.ui.look import theme

GAP = 10.0
DOTS_N = 8
SHARES = (0.31, 0.27, 0.21, 0.21)
SMALL_FROM = 2
KEPT_N = 48


class Cards(Protocol):
    """What is shown: cards, each with the seconds until it begins; the first may have begun."""

    @property
    def cards(self) -> list[tuple[StrokeCard, float]]: ...

    @property
    def bow(self) -> Bow: ...

    @property
    def beat_s(self) -> float: ...


def dots_n(in_s: float, beat_s: float) -> int:
    """Beats until a card begins, as so many dots."""
    beats = in_s / beat_s if beat_s > 0 else 0.0
    return max(0, min(DOTS_N, math.ceil(beats - 1e-6)))


class CardRow:
    """Paints the cards; what of a card does not change is kept as a picture."""

    def __init__(self) -> None:
        self._kept: OrderedDict[Hashable, QPixmap] = OrderedDict()

    def forget(self) -> None:
        """Colours have changed."""
        self._kept.clear()

    def boxes(self, rect: QRectF, unit: float) -> list[QRectF]:
        """Where the cards lie in a row."""
        x, found = rect.left(), []
        usable = rect.width() - GAP * unit * (len(SHARES) - 1)
        for share in SHARES:
            found.append(
                QRectF(round(x), round(rect.top()), round(share * usable), round(rect.height()))
            )
            x += share * usable + GAP * unit
        return found

    def changed(self, rect: QRectF, unit: float, before: Cards, after: Cards) -> list[QRectF]:
        """What is to be painted again when other cards, or the same a little later, are shown."""
        if len(before.cards) != len(after.cards) or before.beat_s != after.beat_s:
            return [rect]
        found = []
        for box, (old, old_s), (new, new_s) in zip(
            self.boxes(rect, unit), before.cards, after.cards, strict=False
        ):
            if old is not new or (old_s <= 0) != (new_s <= 0):
                found.append(box)
            elif new_s <= 0:
                found.append(QRectF(box.left(), box.bottom() - 6 * unit, box.width(), 6 * unit))
            elif dots_n(old_s, before.beat_s) != dots_n(new_s, after.beat_s):
                found.append(box)
        return found

    def paint(
        self, painter: QPainter, rect: QRectF, unit: float, scene: Cards, frog_right: bool
    ) -> None:
        """The present card and the next ones."""
        for k, (box, (card, in_s)) in enumerate(
            zip(self.boxes(rect, unit), scene.cards, strict=False)
        ):
            playing = k == 0 and in_s <= 0
            look = _Look(card, unit, scene.bow, frog_right, k >= SMALL_FROM, playing)
            painter.drawPixmap(box.topLeft(), self._picture(look, box, painter))
            moving = _CardPainter(painter, box, look)
            if playing:
                moving.paint_progress(in_s)
            else:
                moving.paint_dots(dots_n(in_s, scene.beat_s))

    def prepare_one(
        self, painter: QPainter, rect: QRectF, unit: float, scene: Cards, frog_right: bool
    ) -> None:
        """Make one of the pictures that the next stroke will need, so that they are not all made
        in the frame in which it begins."""
        coming = scene.cards[1:] if scene.cards and scene.cards[0][1] <= 0 else scene.cards
        for k, (box, (card, _)) in enumerate(zip(self.boxes(rect, unit), coming, strict=False)):
            look = _Look(card, unit, scene.bow, frog_right, k >= SMALL_FROM, k == 0)
            if (look, box.width(), box.height()) not in self._kept:
                self._picture(look, box, painter)
                return

    def _picture(self, look: _Look, box: QRectF, painter: QPainter) -> QPixmap:
        key = (look, box.width(), box.height())
        picture = self._kept.get(key)
        if picture is None:
            device = painter.device()
            ratio = device.devicePixelRatioF() if device is not None else 1.0
            picture = QPixmap((box.size() * ratio).toSize())
            picture.setDevicePixelRatio(ratio)
            picture.fill(theme.colours().paper)
            own = QPainter(picture)
            own.setRenderHint(QPainter.RenderHint.Antialiasing)
            _CardPainter(own, QRectF(0, 0, box.width(), box.height()), look).paint()
            own.end()
            self._kept[key] = picture
            if len(self._kept) > KEPT_N:
                self._kept.popitem(last=False)
        return picture


@dataclass(frozen=True, slots=True)
class _Look:
    """All that a card's picture depends on besides its size."""

    card: StrokeCard
    unit: float
    bow: Bow
    frog_right: bool
    small: bool
    playing: bool


class _CardPainter:
    """Paints one card in its box."""

    def __init__(self, painter: QPainter, box: QRectF, look: _Look) -> None:
        self._p = painter
        self._box = box
        self._look = look
        self._u = look.unit
        self._bow = look.bow
        self._frog_right = look.frog_right
        u = look.unit
        self._inner = box.adjusted(14 * u, 10 * u, -14 * u, -10 * u)
        self._head_h = (38 if look.small else 43) * u
        self._bar_top = self._inner.bottom() - 25 * u

    @property
    def _words(self) -> QRectF:
        top = self._inner.top() + self._head_h + 2 * self._u
        height = self._bar_top - 6 * self._u - top
        return QRectF(self._inner.left(), top, self._inner.width(), height)

    def paint(self) -> None:
        """All but what changes while it is shown."""
        now, u, look, inner = theme.colours(), self._u, self._look, self._inner
        edge = 3.5 * u if look.playing else 1.5 * u
        self._p.setPen(QPen(now.accent if look.playing else now.edge, edge))
        self._p.setBrush(now.field)
        half = edge / 2
        self._p.drawRoundedRect(self._box.adjusted(half, half, -half, -half), 10 * u, 10 * u)
        head = QRectF(inner.left(), inner.top(), inner.width(), self._head_h)
        self._paint_head(look.card, head, look.small)
        has_room = self._bar_top > head.bottom() - 8 * u  # else the way is all that is told
        if look.card.levels and has_room:  # without: done without the bow on a string
            self._paint_part(look.card, QRectF(inner.left(), self._bar_top, inner.width(), 14 * u))
        if look.playing:
            self._paint_words(look.card, self._words, 2)
        elif not look.small:
            self._paint_words(look.card, self._words.adjusted(0, 22 * u, 0, 0), 1)

    def _paint_head(self, card: StrokeCard, head: QRectF, small: bool) -> None:
        """The sign, the word, and at the right the string."""
        now, u = theme.colours(), self._u
        size = head.height() * 0.62
        x = head.left()
        if card.join is Join.HOOK:
            self._p.setPen(QPen(now.ink, 4 * u))
            self._p.drawLine(QPointF(x + 2 * u, head.top() + 6 * u),
                             QPointF(x + 2 * u, head.bottom() - 8 * u))  # fmt: skip
            x += 12 * u
        if card.direction is not None:
            self._paint_sign(card.direction, QPointF(x + size / 2, head.center().y()), size)
            x += size + 12 * u
        string_font = theme.label_font(head.height() * 0.74)
        string_font.setBold(True)
        self._p.setFont(string_font)
        self._p.setPen(now.ink)
        flags = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        self._p.drawText(head, flags, card.strings)
        taken = QFontMetricsF(string_font).horizontalAdvance(card.strings) + 8 * u
        words = QRectF(x, head.top(), head.right() - taken - x, head.height())
        font = theme.label_font((24 if small else 30) * u)
        font.setBold(True)
        self._p.setFont(_fitting(font, card.action, words.width()))
        colour = now.ink
        if card.direction is not None:
            colour = now.down if card.direction is Direction.DOWN else now.up
        self._p.setPen(colour)
        left = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        self._p.drawText(words, left, card.action)

    def _paint_sign(self, direction: Direction, centre: QPointF, size: float) -> None:
        now, scale = theme.colours(), size / HEIGHT
        self._p.save()
        self._p.translate(centre)
        self._p.scale(scale, scale)
        if direction is Direction.DOWN:
            self._p.setPen(Qt.PenStyle.NoPen)
            self._p.setBrush(now.down)
            self._p.drawPath(down_sign(QPointF(0, 0)))
        else:
            self._p.setPen(QPen(now.up, 2.4, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap,
                                Qt.PenJoinStyle.MiterJoin))  # fmt: skip
            self._p.setBrush(Qt.BrushStyle.NoBrush)
            self._p.drawPath(up_sign(QPointF(0, 0)))
        self._p.restore()

    def _paint_words(self, card: StrokeCard, box: QRectF, lines_n: int) -> None:
        """How much bow, and where to, as far as there is room above the bar."""
        self._p.setPen(theme.colours().ink)
        step = 22 * self._u
        flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        flags = flags | Qt.TextFlag.TextDontClip
        waiting = not self._look.playing and card.rest
        room_n = max(0, int((box.height() + 4 * self._u) // step))
        said = ((card.rest if waiting else card.amount), card.goal)
        for k, text in enumerate(said[: min(lines_n, room_n)]):
            self._p.setFont(_fitting(theme.label_font(19 * self._u), text, box.width()))
            self._p.drawText(
                QRectF(box.left(), box.top() + k * step, box.width(), step), flags, text
            )

    def paint_dots(self, count: int) -> None:
        """One dot for each beat until it begins."""
        u, box = self._u, self._words
        self._p.setPen(Qt.PenStyle.NoPen)
        self._p.setBrush(theme.colours().accent)
        for k in range(count):
            self._p.drawEllipse(QPointF(box.left() + (6 + 18 * k) * u, box.top() + 12 * u),
                                5.5 * u, 5.5 * u)  # fmt: skip

    def _paint_part(self, card: StrokeCard, bar: QRectF) -> None:
        """The bow as a bar with its tapes, and the part this stroke takes."""
        now, u = theme.colours(), self._u

        def x(at: float) -> float:
            return bar.right() - at * bar.width() if self._frog_right \
                else bar.left() + at * bar.width()  # fmt: skip

        self._p.setPen(QPen(now.edge, 1))
        self._p.setBrush(now.panel)
        self._p.drawRect(bar)
        if card.direction is not None:
            down = card.direction is Direction.DOWN
            colour = now.down if down else now.up
            a, b = x(card.start), x(card.end)
            used = QRectF(min(a, b), bar.top(), abs(b - a), bar.height())
            self._p.setPen(QPen(colour, 1.2 * u))
            self._p.setBrush(colour if down else now.up_wash)
            self._p.drawRect(used)
            if not down:
                self._p.setBrush(QBrush(colour, Qt.BrushStyle.BDiagPattern))
                self._p.drawRect(used)
        for mark in self._bow.marks:
            self._p.fillRect(QRectF(x(mark.at) - 1.5 * u, bar.top() - 3 * u, 3 * u,
                                    bar.height() + 6 * u), QColor(mark.colour))  # fmt: skip
        if card.direction is not None:
            colour = now.down if card.direction is Direction.DOWN else now.up
            self._paint_from_to(x(card.start), x(card.end), bar, colour)
        elif card.lands is not None:
            self._p.setPen(QPen(now.accent, 2 * u))
            self._p.setBrush(now.field)
            self._p.drawEllipse(QPointF(x(card.lands), bar.center().y()), 7 * u, 7 * u)
        frog = x(0.0)
        side = 6 * u if self._frog_right else -6 * u
        self._p.fillRect(QRectF(min(frog, frog + side), bar.top() - 4 * u, 6 * u,
                                bar.height() + 8 * u), now.ink)  # fmt: skip

    def _paint_from_to(self, a: float, b: float, bar: QRectF, colour: QColor) -> None:
        """A dot where it begins, the stage's flag where it is to arrive."""
        u = self._u
        self._p.setPen(QPen(colour, 2 * u))
        self._p.setBrush(theme.colours().field)
        self._p.drawEllipse(QPointF(a, bar.center().y()), 5 * u, 5 * u)
        self._p.setPen(Qt.PenStyle.NoPen)
        self._p.setBrush(colour)
        y = bar.bottom() + 2 * u
        self._p.drawPolygon([QPointF(b, y), QPointF(b - 6 * u, y + 11 * u),
                             QPointF(b + 6 * u, y + 11 * u)])  # fmt: skip

    def paint_progress(self, in_s: float) -> None:
        """How much of the stroke is over, along the lower edge."""
        card = self._look.card
        whole = card.until_s - card.onset_s
        share = min(1.0, -in_s / whole) if whole > 0 else 1.0
        box, u = self._box, self._u
        edge = QRectF(box.left() + 10 * u, box.bottom() - 5 * u, box.width() - 20 * u, 4 * u)
        self._p.fillRect(edge, theme.colours().panel)
        edge.setWidth(edge.width() * share)
        self._p.fillRect(edge, theme.colours().accent)


def _fitting(font: QFont, text: str, width: float) -> QFont:
    """The font, made smaller until a text fits."""
    while font.pixelSize() > 9 and QFontMetricsF(font).horizontalAdvance(text) > width:
        font.setPixelSize(font.pixelSize() - 1)
    return font
