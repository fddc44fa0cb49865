"""The letters of sections over a line of music, and the brackets of figures.

What the teacher has set stands in a frame; what is only proposed is muted.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFont, QFontMetricsF, QPainter, QPen

from plectrum.core.document.sections import Section
from plectrum.ui.drawing.sign_row import LETTERS
from plectrum.ui.drawing.timeline import Segment
from plectrum.ui.engraving.engraved_item import Span
from plectrum.ui.look import theme

SIZE = 12
HEIGHT = 15.0
PAD = 4.0
BEFORE = 7.0  # a letter begins so far before the middle of its first note


@dataclass(frozen=True, slots=True)
class Letter:
    """A section's name on one line; x counts from the engraved picture's left edge, y from the
    row's top. `until_x` is where a figure's bracket ends."""

    section: Section
    text: str
    rect: QRectF
    until_x: float


def letters_on(
    form: Sequence[Section], segments: Sequence[Segment], right: float
) -> tuple[Letter, ...]:
    """The letters of the sections that begin on a line.

    Args:
        right: where the line ends; a name is shortened where the next one begins.
    """
    xs = {s.note: s.left for s in segments if s.share_from == 0}
    ends = {s.note: s.right for s in segments}
    here = [s for s in form if s.first_note in xs]
    here.sort(key=lambda s: (s.first_note, s.figure))
    metrics = QFontMetricsF(_font())
    found: list[Letter] = []
    for k, section in enumerate(here):
        left = xs[section.first_note] - BEFORE
        if found:
            left = max(left, found[-1].rect.right() + 3)
        follower = xs[here[k + 1].first_note] - BEFORE - 3 if k + 1 < len(here) else right
        room = max(HEIGHT, follower - left)
        text = metrics.elidedText(section.name, Qt.TextElideMode.ElideRight, room - 2 * PAD)
        width = max(HEIGHT, metrics.horizontalAdvance(text) + 2 * PAD)
        inside = [ends[n] for n in range(section.first_note, section.last_note + 1) if n in ends]
        found.append(Letter(section, text, QRectF(left, 1, width, HEIGHT), max(inside)))
    return tuple(found)


def paint_letters(
    painter: QPainter, letters: Sequence[Letter], top: float, span: Span | None = None
) -> None:
    """Paint them in a row `LETTERS` tall; with a span only those that touch it."""
    now = theme.colours()
    painter.save()
    painter.translate(0, top)
    painter.setFont(_font())
    for letter in letters:
        section, rect = letter.section, letter.rect
        right = max(rect.right(), letter.until_x)
        if span is not None and (right < span[0] or rect.left() > span[1]):
            continue
        if section.figure:
            painter.setPen(QPen(now.accent, 1.4))
            foot = LETTERS - 1.0
            painter.drawPolyline(
                [
                    QPointF(rect.left(), foot),
                    QPointF(rect.left(), foot - 2.5),
                    QPointF(max(letter.until_x - 4, rect.right()), foot - 2.5),
                    QPointF(max(letter.until_x - 4, rect.right()), foot),
                ]
            )
            painter.drawText(
                rect.adjusted(PAD, -2, 0, -2), Qt.AlignmentFlag.AlignVCenter, letter.text
            )
            continue
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if section.own:
            painter.setPen(QPen(now.ink, 1.2))
            painter.drawRect(rect)
        painter.setPen(now.ink if section.own else now.muted)
        painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, letter.text)
    painter.restore()


def _font() -> QFont:
    font = theme.label_font(SIZE)
    font.setBold(True)
    return font
