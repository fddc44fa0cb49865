"""One line of music on a page: bow signs, staff, and under it bows, path, words and numbers."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from itertools import pairwise

from PySide6.QtCore import QByteArray, QLineF, QRectF
from PySide6.QtGui import QPen
from PySide6.QtSvg import QSvgRenderer

from plectrum.core.document.choices import Join
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.amounts import school_range
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.practice.handout import Handout, HandoutOptions, Picture
from plectrum.core.practice.said import said_bar
from plectrum.core.wording import say, tr
from plectrum.ui.drawing.path_painter import PathGeometry, PathPainter, paint_ground
from plectrum.ui.drawing.sign_row import LETTERS, ROW, SignRow
from plectrum.ui.drawing.timeline import SystemTimeline
from plectrum.ui.engraving.system import System
from plectrum.ui.handout.blocks import Block
from plectrum.ui.handout.ink import LINE, Ink, Role, lines_height, text_width, wrapped
from plectrum.ui.handout.mini_bow import HEIGHT, WIDTH, paint_mini_bow, place_y
from plectrum.ui.look import theme

LABELS = 36.0  # room at the left for the names of places
PATH = 92.0
GAP = 5.0
BETWEEN = 10.0  # more room between bows and path, so that their names stay apart
WORDS = 12.0
PLACES = 10.0
LETTER = 12.0
NUMBERS, LEAST_NUMBERS = 10.5, 6.5
BELOW = 14.0


def _cm(plan: Plan, planned: PlannedNote) -> str:
    stroke = plan.strokes[plan.stroke_of(planned)]
    return f"{stroke.length_mm / 10:.0f}"


def _contact(name: str, digits: int) -> Callable[[Plan, PlannedNote], str]:
    def said(plan: Plan, planned: PlannedNote) -> str:
        row = plan.contact_rows[planned.note.index]
        return f"{float(getattr(plan.contact, name)[row]):.{digits}f}"

    return said


def _string(plan: Plan, planned: PlannedNote) -> str:
    fingered = plan.fingered[planned.note.index]
    return f"{fingered.string_words}{fingered.finger_words}"


# What the teacher's copy tells of a note, line by line; "cm" only where a bow begins.
NUMBER_ROWS: tuple[tuple[str, Callable[[Plan, PlannedNote], str]], ...] = (
    ("cm", _cm),
    ("cm/s", lambda _plan, p: f"{p.speed_mm_s / 10:.0f}"),
    ("lane", _contact("lane", 0)),
    ("N", _contact("weight_n", 1)),
    ("string", _string),
)


class SystemBlock(Block):
    """An engraved system with what the plan says of it."""

    def __init__(self, system: System, handout: Handout, options: HandoutOptions) -> None:
        self._system, self._handout, self._options = system, handout, options
        self._plan = handout.plan
        self._timeline = SystemTimeline(system, handout.plan.part)
        self._renderer: QSvgRenderer | None = None
        self._words = {
            bar: wrapped(text, right - left - 8, WORDS)
            for bar, text in handout.said.items()
            if bar in system.bars
            for left, right in (system.bars[bar],)
        }
        self._bows = options.picture in (Picture.BOWS, Picture.BOTH)
        self._path = options.picture in (Picture.PATH, Picture.BOTH)
        self._above = ROW + (LETTERS if handout.sections else 0.0)
        self.height = self._above + system.height + self._pictures_height() + BELOW

    def _pictures_height(self) -> float:
        height = HEIGHT + GAP if self._bows else 0.0
        height += PATH + GAP + BETWEEN * self._bows if self._path else 0.0
        if self._words:
            height += GAP + lines_height(max(len(w) for w in self._words.values()), WORDS)
        if self._options.teacher:
            height += GAP + lines_height(len(NUMBER_ROWS), NUMBERS)
        return height

    @property
    def bars(self) -> frozenset[int]:
        return frozenset(self._system.bars)

    def paint(self, ink: Ink, x: float, top: float) -> None:
        ink.part(Role.FIGURE, " ".join(self._spoken()))  # bars in words, no labels of the picture
        self._paint(ink, x, top)

    def _spoken(self) -> Iterator[str]:
        bars = self._plan.part.bars
        for bar in sorted(self._system.bars):
            if said := said_bar(self._plan, bar):
                yield say("Bar {number}: {said}.", number=bars[bar].number, said=said)

    def _paint(self, ink: Ink, x: float, top: float) -> None:
        left = x + LABELS
        staff = QRectF(left, top + self._above, self._system.width, self._system.height)
        if self._renderer is None:
            self._renderer = QSvgRenderer(QByteArray(self._system.svg))
        self._renderer.render(ink.painter, staff)
        ink.box(staff)
        self._paint_letters(ink, left, top + 2)
        self._paint_signs(ink, left, top + self._above - ROW)
        y = staff.bottom()
        if self._bows:
            self._paint_bows(ink, x, y)
            y += HEIGHT + GAP
        if self._path:
            y += BETWEEN * self._bows
            self._paint_path(ink, x, y)
            y += PATH + GAP
        if self._words:
            self._paint_words(ink, left, y + GAP)
            y += GAP + lines_height(max(len(w) for w in self._words.values()), WORDS)
        if self._options.teacher:
            self._paint_numbers(ink, x, y + GAP)

    def _heads(self) -> Iterator[tuple[PlannedNote, float]]:
        """Bowed notes that begin on this line, and the middle of their heads."""
        for segment in self._timeline.segments:
            planned = self._plan.notes[segment.note]
            if planned is None or segment.share_from > 0:
                continue
            box = self._system.notes.get(planned.note.id)
            yield planned, box[0] + box[2] / 2 if box is not None else segment.left

    def _paint_letters(self, ink: Ink, left: float, top: float) -> None:
        """The letter of a section over the note it begins with."""
        heads = {s.note: s.left for s in self._timeline.segments if s.share_from == 0}
        for note, name in self._handout.sections.items():
            if note not in heads:
                continue
            width = text_width(name, LETTER, bold=True) + 8
            rect = QRectF(left + heads[note] - 7, top, width, LETTER * LINE)
            ink.box(rect)
            ink.painter.setPen(QPen(theme.colours().ink, 1.2))
            ink.painter.setBrush(theme.colours().paper)
            ink.painter.drawRect(rect)
            ink.line(name, rect.center().x(), rect.top(), LETTER, bold=True, align=0.5)

    def _paint_signs(self, ink: Ink, left: float, top: float) -> None:
        row = SignRow(self._plan, self._timeline)
        ink.painter.save()
        ink.painter.translate(left, 0)
        row.paint(ink.painter, top)
        ink.painter.restore()
        for sign in row.signs():
            ink.box(sign.rect.translated(left, top))

    def _paint_bows(self, ink: Ink, x: float, top: float) -> None:
        frame = QRectF(x, top, WIDTH, HEIGHT)
        self._paint_places(ink, x, lambda at: place_y(frame, at))
        for planned, middle in self._heads():
            if planned.note.grace:
                continue
            rect = QRectF(x + LABELS + middle - WIDTH / 2, top, WIDTH, HEIGHT)
            ink.box(rect)
            ends = (planned.start, planned.end)
            bow = self._plan.choices.bow
            paint_mini_bow(ink.painter, rect, bow, ends, planned.direction)

    def _paint_places(self, ink: Ink, x: float, y_of: Callable[[float], float]) -> None:
        for name, at in ((tr("tip"), 1.0), (tr("frog"), 0.0)):
            y = y_of(at) - PLACES * LINE / 2
            ink.line(name, x + LABELS - 8, y, PLACES, muted=True, align=1.0)

    def _paint_path(self, ink: Ink, x: float, top: float) -> None:
        bars = self._system.bars.values()
        left, right = min(a for a, _ in bars), max(b for _, b in bars)
        rect = QRectF(left, top, right - left, PATH)
        painter = ink.painter
        geometry = PathGeometry(rect)
        self._paint_places(ink, x, geometry.y)
        painter.save()
        painter.translate(x + LABELS, 0)
        paint_ground(painter, geometry, self._plan.choices.bow, school_range(self._plan.choices))
        painter.setPen(QPen(theme.colours().edge, 1))
        for bar_left, _ in list(bars)[1:]:
            painter.drawLine(QLineF(bar_left, rect.top(), bar_left, rect.bottom()))
        PathPainter(self._plan, self._timeline, geometry, in_lines=True).paint(painter)
        painter.restore()
        ink.box(rect.translated(x + LABELS, 0))

    def _paint_words(self, ink: Ink, left: float, top: float) -> None:
        for bar, lines in self._words.items():
            begin, end = self._system.bars[bar]
            ink.painter.setPen(QPen(theme.colours().accent, 2))
            ink.painter.drawLine(QLineF(left + begin + 3, top - 2, left + end - 3, top - 2))
            ink.lines(lines, left + (begin + end) / 2, top, WORDS, align=0.5)

    def _paint_numbers(self, ink: Ink, x: float, top: float) -> None:
        heads = list(self._heads())
        size = self._number_size(heads)
        for name, said in NUMBER_ROWS:
            ink.line(name, x + LABELS - 8, top, PLACES, muted=True, align=1.0)
            for planned, middle in heads:
                if name != "cm" or planned.join is not Join.SLUR:
                    text = said(self._plan, planned)
                    ink.line(text, x + LABELS + middle, top, size, align=0.5)
            top += NUMBERS * LINE

    def _number_size(self, heads: list[tuple[PlannedNote, float]]) -> float:
        """As large as the closest two notes allow."""
        gaps = [b - a for (_, a), (_, b) in pairwise(heads)]
        room = min(gaps, default=100.0) - 3
        widest = text_width("E10", NUMBERS)
        return max(LEAST_NUMBERS, min(NUMBERS, NUMBERS * room / widest))
