"""What a page is painted with: text in lines that break the same on every device, and a record
of where everything was put."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from functools import lru_cache

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFont, QFontMetricsF, QPainter

from plectrum.ui.look import theme

LINE = 1.32  # a line's height, in sizes of its type


@lru_cache(maxsize=64)
def font(pixels: float, bold: bool = False) -> QFont:
    """The page's typeface. Unhinted, so that it is as wide on paper as on screen."""
    made = QFont(theme.UI_FONT)
    made.setPixelSize(max(1, round(pixels)))
    made.setBold(bold)
    made.setHintingPreference(QFont.HintingPreference.PreferNoHinting)
    made.setFeature(QFont.Tag("liga"), 0)  # else "finger" cannot be found in a PDF file
    return made


@lru_cache(maxsize=64)
def _metrics(pixels: float, bold: bool) -> QFontMetricsF:
    return QFontMetricsF(font(pixels, bold))


def text_width(text: str, pixels: float, bold: bool = False) -> float:
    return _metrics(pixels, bold).horizontalAdvance(text)


def wrapped(text: str, width: float, pixels: float, bold: bool = False) -> list[str]:
    """A text in lines no wider than a width; a word that is wider by itself is cut, and a dot
    between words stays with the one before it."""
    lines: list[str] = []
    for paragraph in text.split("\n"):
        line = ""
        for word in paragraph.replace(" · ", "\xa0· ").split(" "):
            for piece in _cut(word, width, pixels, bold):
                longer = f"{line} {piece}" if line else piece
                if line and text_width(longer, pixels, bold) > width:
                    lines.append(line)
                    line = piece
                else:
                    line = longer
        lines.append(line)
    return lines


def _cut(word: str, width: float, pixels: float, bold: bool) -> list[str]:
    pieces = []
    while len(word) > 1 and text_width(word, pixels, bold) > width:
        fits = 1
        while fits < len(word) and text_width(word[: fits + 1], pixels, bold) <= width:
            fits += 1
        pieces.append(word[:fits])
        word = word[fits:]
    return [*pieces, word]


def shortened(text: str, width: float, pixels: float) -> str:
    """A text that is no wider than a width; what is left out is dots."""
    if text_width(text, pixels) <= width:
        return text
    while text and text_width(f"{text}…", pixels) > width:
        text = text[:-1]
    return f"{text.rstrip()}…"


def lines_height(count: int, pixels: float) -> float:
    """How tall so many lines are."""
    return count * pixels * LINE


class Role(StrEnum):
    """What a part of a page is to a voice, as PDF names it."""

    TITLE = "H1"
    HEADING = "H2"
    TEXT = "P"
    ITEM = "LI"
    FIGURE = "Figure"
    ORNAMENT = "Artifact"  # nothing to be read


# Painted far off the page where a part begins, to be found again in the file that is written.
MARK = QRectF(-9000, -9000, 1, 1)


@dataclass
class Ink:
    """A painter that remembers where text and pictures were put.

    Attributes:
        texts: rectangle and text of every line; boxes: rectangles of all else.
        parts: what a voice reads, in its order: what each is, and a figure's words.
        marks: whether the beginning of each part is marked.
    """

    painter: QPainter
    texts: list[tuple[QRectF, str]] = field(default_factory=list)
    boxes: list[QRectF] = field(default_factory=list)
    parts: list[tuple[Role, str]] = field(default_factory=list)
    marks: bool = False

    def part(self, role: Role, words: str = "") -> None:
        """What is painted from here on is such a part.

        Args:
            words: what a figure says.
        """
        self.parts.append((role, words))
        if self.marks:
            self.painter.fillRect(MARK, Qt.GlobalColor.black)

    def line(
        self,
        text: str,
        x: float,
        top: float,
        pixels: float,
        *,
        bold: bool = False,
        muted: bool = False,
        align: float = 0.0,
        goes_on: bool = False,
    ) -> float:
        """One line of text, its top left at a place; its width.

        Args:
            align: how much of its width lies left of x: 0 begins there, 0.5 is centred.
            goes_on: whether another line follows, from which a voice tells its last word.
        """  # fmt: skip
        metrics = _metrics(pixels, bold)
        width = metrics.horizontalAdvance(text)
        left = x - align * width
        colours = theme.colours()
        self.painter.setFont(font(pixels, bold))
        self.painter.setPen(colours.muted if muted else colours.ink)
        baseline = top + (pixels * LINE + metrics.capHeight()) / 2
        self.painter.drawText(QPointF(left, baseline), f"{text} " if goes_on else text)
        if text:
            self.texts.append((QRectF(left, top, width, pixels * LINE), text))
        return width

    def lines(
        self,
        lines: list[str],
        x: float,
        top: float,
        pixels: float,
        *,
        bold: bool = False,
        muted: bool = False,
        align: float = 0.0,
    ) -> float:
        """Lines under one another; the y below them."""  # fmt: skip
        for k, line in enumerate(lines, start=1):
            goes_on = k < len(lines)
            self.line(line, x, top, pixels, bold=bold, muted=muted, align=align, goes_on=goes_on)
            top += pixels * LINE
        return top

    def box(self, rect: QRectF) -> None:
        """Remember that something was painted here."""
        self.boxes.append(rect)
