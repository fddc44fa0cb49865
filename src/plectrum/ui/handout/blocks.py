"""The blocks of a page: head, key to the pictures, boxes of text, days with boxes to tick."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from typing import Protocol

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from plectrum.core.document.choices import Join
from plectrum.core.planning.plan import Plan
from plectrum.core.practice.week import Day
from plectrum.core.score.model import Direction
from plectrum.core.wording import say, sentence_like, tr
from plectrum.core.wording.dates import weekday_and_day
from plectrum.ui.drawing import sign_row
from plectrum.ui.drawing.signs import paint_bow, paint_lift
from plectrum.ui.handout.ink import LINE, Ink, Role, lines_height, text_width, wrapped
from plectrum.ui.handout.mini_bow import HEIGHT, WIDTH, paint_mini_bow, place_y
from plectrum.ui.look import theme

TITLE, SUBTITLE, BODY, SMALL = 30.0, 15.0, 14.0, 11.5
PAD = 9.0
TICK = 11.0


class Block(ABC):
    """Something on a page that is not broken over two.

    Attributes:
        height: how tall it is.
        group: blocks of a group stand on one page together if one page holds them.
    """

    height: float = 0.0
    group = ""

    @abstractmethod
    def paint(self, ink: Ink, x: float, top: float) -> None:
        """Paint it, its top left at a place."""


class Space(Block):
    """Nothing, so tall."""

    def __init__(self, height: float) -> None:
        self.height = height

    def paint(self, ink: Ink, x: float, top: float) -> None:
        """Nothing to paint."""


class Headed(Protocol):
    """What the top of a page says."""

    @property
    def title(self) -> str: ...
    @property
    def about(self) -> str: ...
    @property
    def made_for(self) -> str: ...
    @property
    def made_by(self) -> str: ...


class HeadBlock(Block):
    """Title, and whom the page is for."""

    def __init__(self, handout: Headed, width: float) -> None:
        self._width = width
        self._for = (
            say("For {made_for}", made_for=handout.made_for) if handout.made_for else tr("For")
        )
        self._blank = not handout.made_for
        for_width = max(150.0, text_width(self._for, SUBTITLE, bold=True) + 2)
        self._for_width = min(for_width, width * 0.45)
        self._for_lines = wrapped(self._for, self._for_width, SUBTITLE, bold=True)
        self._title = wrapped(handout.title, width - self._for_width - 20, TITLE, bold=True)
        about = f"{handout.about} · {handout.made_by}" if handout.made_by else handout.about
        self._about = wrapped(sentence_like(about), width, BODY)
        head = max(
            lines_height(len(self._title), TITLE), lines_height(len(self._for_lines), SUBTITLE) + 10
        )
        self._head = head
        self.height = head + lines_height(len(self._about), BODY) + 10

    def paint(self, ink: Ink, x: float, top: float) -> None:
        ink.part(Role.TITLE)
        ink.lines(self._title, x, top, TITLE, bold=True)
        ink.part(Role.TEXT)
        left = x + self._width - self._for_width
        ink.lines(self._for_lines, left, top + 10, SUBTITLE, bold=True)
        if self._blank:  # to be written by hand
            begin = left + text_width(self._for, SUBTITLE, bold=True) + 8
            y = top + 10 + SUBTITLE * LINE - 3
            ink.painter.setPen(QPen(theme.colours().muted, 1))
            ink.painter.drawLine(QLineF(begin, y, x + self._width, y))
        ink.part(Role.TEXT)
        below = ink.lines(self._about, x, top + self._head, BODY, muted=True)
        ink.painter.setPen(QPen(theme.colours().ink, 1.4))
        ink.painter.drawLine(QLineF(x, below + 5, x + self._width, below + 5))


class Key(Block):
    """How to read the page: the signs that are on it, and one bow with its marks named."""

    def __init__(self, plan: Plan, width: float, *, bows: bool, path: bool) -> None:
        self._bow, self._width, self._bows, self._path = plan.choices.bow, width, bows, path
        joins = {planned.join for planned in plan.notes if planned is not None}
        self._signs = [("down", tr("down-bow: to the tip")), ("up", tr("up-bow: to the frog"))]
        if Join.HOOK in joins:
            self._signs.append(("hook", tr("stop, then the same way")))
        if Join.RETAKE in joins:
            self._signs.append(("lift", tr("lift and set down")))
        picture = HEIGHT + 14 if bows or path else BODY * LINE + 8
        self.height = max(picture, self._step * len(self._signs) + 8 if bows or path else 0.0)

    @property
    def _step(self) -> float:
        """From sign to sign, where they stand under one another."""
        return 26.0 if len(self._signs) == 2 else BODY * LINE + 1

    def paint(self, ink: Ink, x: float, top: float) -> None:
        ink.part(Role.FIGURE, ", ".join(words for _, words in self._signs))
        left = self._paint_signs(ink, x, top + 4)
        if not self._bows and not self._path:
            return
        rect = QRectF(left, top + 4, WIDTH, HEIGHT)
        ink.box(rect)
        paint_mini_bow(ink.painter, rect, self._bow, None)
        places = [
            (tr("frog"), 0.0),
            *((m.called, m.at) for m in self._bow.marks),
            (tr("tip"), 1.0),
        ]
        right = self._paint_names(ink, rect, places)
        self._paint_use(ink, right + 26, top + 4)

    def _paint_signs(self, ink: Ink, x: float, top: float) -> float:
        """The signs; under one another where there is a bow beside them."""
        stacked = self._bows or self._path
        top += 10 if stacked and len(self._signs) == 2 else 0
        at, widest = x, 0.0
        for k, (sign, words) in enumerate(self._signs):
            y = top + k * self._step * stacked
            _paint_key_sign(ink.painter, sign, QPointF(at + 8, y + BODY * LINE / 2))
            width = ink.line(words, at + 22, y, BODY)
            widest = max(widest, width)
            if not stacked:
                at += width + 44
        return x + 22 + widest + 34

    def _paint_names(self, ink: Ink, rect: QRectF, places: Sequence[tuple[str, float]]) -> float:
        """Names beside the marks; where marks lie close, their names move apart."""
        step = SMALL * LINE * 0.98
        tops = [place_y(rect, at) - SMALL * LINE / 2 for _, at in sorted(places, key=_place)]
        for k in range(1, len(tops)):
            tops[k] = min(tops[k], tops[k - 1] - step)
        lift = max(0.0, rect.top() - 5 - tops[-1])
        widest = 0.0
        for (name, _), y in zip(sorted(places, key=_place), tops, strict=True):
            widest = max(widest, ink.line(name, rect.right() + 7, y + lift, SMALL))
        return rect.right() + 7 + widest

    def _paint_use(self, ink: Ink, x: float, top: float) -> None:
        """Two bows in use, with what they say."""
        samples = (((0.0, 0.5), Direction.DOWN, tr("down, from the frog to the middle")),
                   ((1.0, 0.5), Direction.UP, tr("up, from the tip to the middle")))  # fmt: skip
        for ends, direction, words in samples:
            rect = QRectF(x, top, WIDTH, HEIGHT)
            ink.box(rect)
            paint_mini_bow(ink.painter, rect, self._bow, ends, direction)
            lines = wrapped(words, 96, SMALL)
            ink.lines(lines, x + WIDTH + 8, top + 12, SMALL)
            x += WIDTH + 8 + 96 + 14


def _paint_key_sign(painter: QPainter, sign: str, centre: QPointF) -> None:
    if sign == "hook":
        sign_row.paint_hook(painter, QRectF(centre.x() - 9, centre.y() - 5, 18, 6))
    elif sign == "lift":
        paint_lift(painter, QRectF(centre.x() - 3, centre.y() - 6, 6, 11))
    else:
        paint_bow(painter, Direction(sign), centre)


def _place(row: tuple[str, float]) -> float:
    return row[1]


class TextBox(Block):
    """A framed box with a heading and lines of text."""

    def __init__(
        self,
        heading: str,
        paragraphs: Sequence[str],
        width: float,
        *,
        pixels: float = BODY,
        bullets: bool = False,
        framed: bool = True,
    ) -> None:
        self._heading, self._width, self._pixels = heading, width, pixels
        self._bullets, self._framed = bullets, framed
        indent = 16.0 if bullets else 0.0
        self._pad = PAD if framed else 0.0
        inner = width - 2 * self._pad - indent
        self._paragraphs = [wrapped(p, inner, pixels) for p in paragraphs]
        count = sum(len(lines) for lines in self._paragraphs)
        head = lines_height(1, SUBTITLE) if heading else 0.0
        self.height = head + lines_height(count, pixels) + 2 * self._pad

    def paint(self, ink: Ink, x: float, top: float) -> None:
        ink.part(Role.HEADING if self._heading else Role.ORNAMENT)
        if self._framed:
            rect = QRectF(x, top, self._width, self.height)
            ink.box(rect)
            ink.painter.setPen(QPen(theme.colours().ink, 1.2))
            ink.painter.setBrush(Qt.BrushStyle.NoBrush)
            ink.painter.drawRoundedRect(rect, 6, 6)
        y = top + self._pad
        left = x + self._pad
        if self._heading:
            ink.line(self._heading, left, y, SUBTITLE, bold=True)
            y += SUBTITLE * LINE
        for lines in self._paragraphs:
            ink.part(Role.ITEM if self._bullets else Role.TEXT)
            if self._bullets:
                ink.painter.setPen(Qt.PenStyle.NoPen)
                ink.painter.setBrush(theme.colours().ink)
                ink.painter.drawEllipse(QPointF(left + 5, y + self._pixels * LINE / 2), 2.4, 2.4)
            y = ink.lines(lines, left + (16 if self._bullets else 0), y, self._pixels)


class Heading(Block):
    """A line over a list."""

    group = "week"

    def __init__(self, text: str) -> None:
        self._text = text
        self.height = SUBTITLE * LINE + 4

    def paint(self, ink: Ink, x: float, top: float) -> None:
        ink.part(Role.HEADING)
        ink.line(self._text, x, top, SUBTITLE, bold=True)


class DayRow(Block):
    """One day: its name, and its tasks with boxes to tick."""

    group = "week"

    def __init__(self, day: Day, width: float) -> None:
        self._name = weekday_and_day(day.on)
        self._minutes = say("{minutes} min", minutes=day.minutes)
        self._name_width = (
            max(text_width("Wednesday 30", BODY, bold=True), text_width("120 min", SMALL)) + 14
        )
        inner = width - self._name_width
        columns = max(1, int(inner // 250))
        self._column = inner / columns
        texts = [
            say("{short}, {minutes}\xa0min", short=e.short, minutes=e.minutes) for e in day.entries
        ]
        self._cells = [wrapped(text, self._column - TICK - 18, SMALL) for text in texts]
        self._rows = [self._cells[k : k + columns] for k in range(0, len(self._cells), columns)]
        self._heights = [max(lines_height(len(c), SMALL) + 3 for c in row) for row in self._rows]
        own = lines_height(1, BODY) + lines_height(1, SMALL)
        self._width = width
        self.height = max(own, sum(self._heights)) + 8

    def paint(self, ink: Ink, x: float, top: float) -> None:
        ink.part(Role.TEXT)
        ink.painter.setPen(QPen(theme.colours().edge, 1))
        ink.painter.drawLine(QLineF(x, top, x + self._width, top))
        y = top + 4
        ink.line(self._name, x, y, BODY, bold=True, goes_on=True)
        ink.line(self._minutes, x, y + BODY * LINE, SMALL, muted=True)
        for row, height in zip(self._rows, self._heights, strict=True):
            left = x + self._name_width
            for lines in row:
                ink.part(Role.ITEM)
                tick = QRectF(left, y + (SMALL * LINE - TICK) / 2, TICK, TICK)
                ink.box(tick)
                ink.painter.setPen(QPen(theme.colours().ink, 1.2))
                ink.painter.setBrush(Qt.BrushStyle.NoBrush)
                ink.painter.drawRect(tick)
                ink.lines(lines, left + TICK + 7, y, SMALL)
                left += self._column
            y += height
