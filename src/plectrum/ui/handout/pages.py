"""Pages made of blocks: broken between systems, each with a line at its foot."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby, takewhile

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter, QTransform

from plectrum.core.practice.handout import Handout, HandoutOptions, Picture
from plectrum.core.wording import say, tr
from plectrum.ui.engraving.system import System
from plectrum.ui.handout.blocks import (
    BODY,
    SMALL,
    Block,
    DayRow,
    HeadBlock,
    Headed,
    Heading,
    Key,
    Space,
    TextBox,
)
from plectrum.ui.handout.ink import LINE, Ink, Role, shortened, wrapped
from plectrum.ui.handout.system_block import LABELS, SystemBlock
from plectrum.ui.look import theme

MARGIN_MM = 14.0
PX_MM, LARGE_PX_MM = 4.7, 3.4  # engraved pixels a millimetre: staves of about 7 and 10 mm
FOOT = SMALL * LINE + 8
LETTER_LINES_N = 16  # a longer letter is set in several boxes


@dataclass(frozen=True)
class Sheet:
    """The measures of a page, in engraved pixels."""

    width: float
    height: float
    margin: float
    px_mm: float

    @classmethod
    def of(cls, options: HandoutOptions) -> Sheet:
        px_mm = LARGE_PX_MM if options.large else PX_MM
        width_mm, height_mm = options.paper.size_mm
        return cls(width_mm * px_mm, height_mm * px_mm, MARGIN_MM * px_mm, px_mm)

    @property
    def inside(self) -> QRectF:
        """What may be printed on."""
        m = self.margin
        return QRectF(m, m, self.width - 2 * m, self.height - 2 * m)

    @property
    def engraving_width(self) -> float:
        """How wide systems are to be engraved; the engraver rounds up to whole pixels."""
        return math.floor(self.inside.width() - LABELS) - 1.0


@dataclass(frozen=True)
class Page:
    """One page. `placed` are its blocks and their tops."""

    sheet: Sheet
    placed: tuple[tuple[Block, float], ...]
    foot: str

    def paint(self, painter: QPainter, *, marks: bool = False) -> Ink:
        """Paint it in engraved pixels from its top left corner; where everything is."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ink = Ink(painter, marks=marks)
        inside = self.sheet.inside
        with theme.on_paper():
            for block, top in self.placed:
                self._paint_block(ink, block, inside.left(), top)
            ink.part(Role.ORNAMENT)
            ink.line(
                self.foot, inside.center().x(), inside.bottom() - SMALL * LINE, SMALL,
                muted=True, align=0.5,
            )  # fmt: skip
        return ink

    def _paint_block(self, ink: Ink, block: Block, x: float, top: float) -> None:
        """A block; one that is taller than a page is made to fit it."""
        room = self.sheet.inside.height() - FOOT
        if block.height <= room:
            block.paint(ink, x, top)
            return
        share = room / block.height
        ink.painter.save()
        ink.painter.translate(x, top)
        ink.painter.scale(share, share)
        own = Ink(ink.painter, marks=ink.marks)
        block.paint(own, 0, 0)
        ink.painter.restore()
        placed = QTransform.fromTranslate(x, top).scale(share, share)
        ink.texts += [(placed.mapRect(rect), text) for rect, text in own.texts]
        ink.boxes += [placed.mapRect(rect) for rect in own.boxes]
        ink.parts += own.parts


def compose(
    systems: Sequence[System], handouts: Sequence[Handout], options: HandoutOptions
) -> list[Page]:
    """The pages of one or several players; each player's begin on a page of their own.

    Args:
        systems: the music, engraved to `Sheet.engraving_width`.
    """
    with theme.on_paper():
        sheet = Sheet.of(options)
        pages: list[Page] = []
        for handout in handouts:
            pages += pages_of(sheet, _blocks(sheet, systems, handout, options), handout)
        return pages


def _blocks(
    sheet: Sheet, systems: Sequence[System], handout: Handout, options: HandoutOptions
) -> list[Block]:
    width = sheet.inside.width()
    picture = options.picture
    blocks: list[Block] = [HeadBlock(handout, width), Space(4)]
    if handout.letter.strip():
        blocks += [*_letter(handout.letter.strip(), width), Space(8)]
    bows = picture in (Picture.BOWS, Picture.BOTH)
    path = picture in (Picture.PATH, Picture.BOTH)
    blocks.append(Key(handout.plan, width, bows=bows, path=path))
    blocks += [SystemBlock(system, handout, options) for system in systems]
    if handout.watch:
        blocks += [TextBox(tr("Watch"), handout.watch, width, bullets=True), Space(10)]
    if handout.days:
        blocks.append(Heading(tr("This week")))
        blocks += [DayRow(day, width) for day in handout.days if day.entries]
        blocks.append(Space(8))
    if handout.reference:
        blocks += [TextBox(tr("For the teacher"), handout.reference, width, pixels=SMALL), Space(8)]
    blocks.append(TextBox("", handout.cautions, width, pixels=SMALL, framed=False))
    return blocks


def _letter(text: str, width: float) -> list[Block]:
    lines = wrapped(text, width - 40, BODY)
    parts = [lines[k : k + LETTER_LINES_N] for k in range(0, len(lines), LETTER_LINES_N)]
    return [TextBox("", part, width) for part in parts]


def _group_height(blocks: Sequence[Block], first: int) -> float:
    """How tall the blocks of one group are together."""
    group = blocks[first].group
    return sum(b.height for b in takewhile(lambda b: b.group == group, blocks[first:]))


def pages_of(sheet: Sheet, blocks: Sequence[Block], handout: Headed) -> list[Page]:
    """Blocks set under one another, as many on a page as fit."""
    inside = sheet.inside
    bottom = inside.bottom() - FOOT
    numbered: list[tuple[int, Block, float]] = []
    page, y = 0, inside.top()
    for k, block in enumerate(blocks):
        begins_group = block.group and (k == 0 or blocks[k - 1].group != block.group)
        together = _group_height(blocks, k) if begins_group else 0.0
        needed = together if together <= bottom - inside.top() else block.height
        if y + max(needed, block.height) > bottom and y > inside.top():
            page, y = page + 1, inside.top()
        if isinstance(block, Space) and y == inside.top():
            continue
        numbered.append((page, block, y))
        y += block.height
    rows = [
        tuple((block, top) for _, block, top in group)
        for _, group in groupby(numbered, key=lambda row: row[0])
    ]
    whose = say(" · for {made_for}", made_for=handout.made_for) if handout.made_for else ""
    name = shortened(f"{handout.title}{whose}", inside.width() * 0.7, SMALL)
    return [
        Page(
            sheet,
            row,
            say("{name} · page {number} of {count}", name=name, number=k, count=len(rows)),
        )
        for k, row in enumerate(rows, start=1)
    ]
