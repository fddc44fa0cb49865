"""The page of a routine: for each exercise where on the bow, which strings, what to do, how to know
that it is good, and a box for every day."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from pathlib import Path

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QGuiApplication, QPen

from plectrum.core.advice.care import AFTER, BEFORE, CARE_CAUTION, CAUTION, DEFER
from plectrum.core.atomic import write_atomically
from plectrum.core.practice.exercises.catalogue import Made
from plectrum.core.practice.exercises.drills import Moves
from plectrum.core.practice.exercises.routine import Planned, Routine
from plectrum.core.practice.handout import HandoutOptions
from plectrum.core.wording import in_words, say, several, tr
from plectrum.core.wording.dates import WEEKDAYS_SHORT
from plectrum.ui.handout.blocks import BODY, SMALL, SUBTITLE, Block, HeadBlock, Space, TextBox
from plectrum.ui.handout.ink import LINE, Ink, Role, lines_height, wrapped
from plectrum.ui.handout.mini_bow import HEIGHT, WIDTH, paint_mini_bow
from plectrum.ui.handout.output import pdf_bytes, write_svgs
from plectrum.ui.handout.pages import Page, Sheet, pages_of
from plectrum.ui.look import theme
from plectrum.ui.moving.hold_view import Hand, paint_hold

PICTURE = 86.0  # room for the bow and the strings at the left
BOX = 17.0
HOLD = 150.0  # height of the picture of the hold
MOST_ROUNDS = 8  # more times are not counted


@dataclass(frozen=True)
class _Head:
    """What stands at the top of the page."""

    title: str
    about: str
    made_for: str = ""
    made_by: str = ""


class ItemBlock(Block):
    """One exercise of a routine."""

    def __init__(self, number: int, planned: Planned, days: Sequence[date], width: float) -> None:
        self._planned, self._days = planned, days
        self._width = width
        made, item = planned.made, planned.item
        often = planned.rounds > MOST_ROUNDS
        times = several("{n} time", "{n} times", planned.rounds)
        self._title = say(
            "{number}. {title} · {minutes} min · {times}",
            number=number,
            title=made.title,
            minutes=item.minutes,
            times=tr("again and again") if often else times,
        )
        said = made.lines
        self._lines = [line for text in said for line in wrapped(text, width - PICTURE, BODY)]
        self._columns = max(1, int((width - PICTURE) // (BOX + 16)))
        rows = -(-len(days) // self._columns)
        self._hand = hand_shown(made)
        hold = HOLD if self._hand is not None else 0.0
        text = hold + lines_height(1, SUBTITLE) + lines_height(len(self._lines), BODY)
        self.height = max(HEIGHT + 22, text + rows * (BOX + SMALL * LINE + 4)) + 14

    def paint(self, ink: Ink, x: float, top: float) -> None:
        painter = ink.painter
        left = x + PICTURE
        ink.part(Role.HEADING)
        painter.setPen(QPen(theme.colours().edge, 1))
        painter.drawLine(QRectF(x, top, self._width, 0).topLeft(),
                         QRectF(x, top, self._width, 0).topRight())  # fmt: skip
        ink.line(self._title, left, top + 4, SUBTITLE, bold=True)
        made = self._planned.made
        names = strings_used(made, made.choices.own.string_names)
        ink.part(Role.FIGURE, " ".join(names))
        self._paint_bow(ink, x + 12, top + 10, names)
        ink.part(Role.TEXT)
        y = ink.lines(self._lines, left, top + 4 + SUBTITLE * LINE, BODY)
        if self._hand is not None:
            picture = QRectF(left, y + 2, min(self._width - PICTURE, 420.0), HOLD - 8)
            paint_hold(painter, picture, 0.7, self._hand, frog_right=True)
            ink.box(picture)
            y += HOLD
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for k, day in enumerate(self._days):
            row, column = divmod(k, self._columns)
            at = left + column * (BOX + 16)
            line = y + 2 + row * (BOX + SMALL * LINE + 4)
            box = QRectF(at, line + SMALL * LINE, BOX, BOX)
            ink.line(
                WEEKDAYS_SHORT[day.weekday()], box.center().x(), line, SMALL, muted=True, align=0.5
            )
            ink.box(box)
            painter.setPen(QPen(theme.colours().ink, 1.2))
            painter.drawRect(box)

    def _paint_bow(self, ink: Ink, x: float, top: float, names: list[str]) -> None:
        """The bow with the part that is used, and the strings in their order."""
        rect = QRectF(x, top, WIDTH, HEIGHT)
        ink.box(rect)
        made = self._planned.made
        paint_mini_bow(ink.painter, rect, made.choices.bow, part_used(made))
        for k, line in enumerate(wrapped(" ".join(names), PICTURE - 40, BODY, bold=True)[:4]):
            ink.line(line, x + WIDTH + 10, top + k * BODY * LINE, BODY, bold=True)


def hand_shown(made: Made) -> Hand | None:
    """The hold, where it is what is learnt: finger by finger."""
    exercise = made.exercise
    if exercise is None or exercise.moves is not Moves.HAND or not exercise.checks:
        return None
    return Hand(0.0, Moves.HAND, on_the_shoulder=made.choices.own.on_the_shoulder)


def part_used(made: Made) -> tuple[float, float] | None:
    """From where to where the bow is used; None where it is not."""
    steps = made.drill.steps if made.drill is not None else ()
    places = [p for s in steps for p in (s.start, s.end) if p is not None]
    return (min(places), max(places)) if places and max(places) > min(places) else None


def strings_used(made: Made, names: Sequence[str]) -> list[str]:
    """The strings of an exercise, each once, in the order in which they come."""
    steps = made.drill.steps if made.drill is not None else ()
    used = [string for s in steps if s.level is not None
            for string in sorted({(s.level - 1) // 2, s.level // 2})]  # fmt: skip
    return [names[k] for k in dict.fromkeys(used) if k < len(names)]


def routine_pages(
    routine: Routine,
    items: Sequence[Planned],
    days: Sequence[date],
    options: HandoutOptions,
) -> list[Page]:
    """The pages of a routine."""  # fmt: skip
    choices = items[0].made.choices
    with theme.on_paper():
        sheet = Sheet.of(options)
        width = sheet.inside.width()
        lasts = several("{n} minute a day", "{n} minutes a day", routine.minutes)
        about = f"{in_words(choices.own.title)}, {lasts}. {routine.what}"
        head = _Head(routine.title, about, options.made_for, options.made_by)
        blocks: list[Block] = [HeadBlock(head, width), Space(6)]
        blocks += [TextBox("", (BEFORE, AFTER), width, pixels=BODY, framed=False), Space(4)]
        for number, planned in enumerate(items, start=1):
            blocks += [ItemBlock(number, planned, days, width), Space(4)]
        cautions = (CAUTION, CARE_CAUTION, DEFER)
        blocks.append(TextBox("", cautions, width, pixels=SMALL, framed=False))
        return pages_of(sheet, blocks, head)


def write_routine(
    path: Path,
    routine: Routine,
    items: Sequence[Planned],
    days: Sequence[date],
    options: HandoutOptions,
) -> None:
    """Write the page as PDF or SVG.

    Raises:
        PlectrumError: it cannot be written.
    """  # fmt: skip
    app = QGuiApplication.instance() or QGuiApplication([])
    theme.load_fonts()
    pages = routine_pages(routine, items, days, options)
    if path.suffix.lower() == ".svg":
        write_svgs(pages, path, routine.title)
    else:
        write_atomically(path, pdf_bytes(pages, options.paper, routine.title))
    del app
