"""One line of music on screen: letters, bow signs, staff, and under it one path for each plan."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from plectrum.core.document.sections import Section
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.amounts import school_range
from plectrum.core.wording import tr
from plectrum.ui.drawing import sign_row
from plectrum.ui.drawing import strips as strips_module
from plectrum.ui.drawing.path_painter import PathGeometry, PathPainter, fill, paint_ground
from plectrum.ui.drawing.path_row import PathRow, same_rows
from plectrum.ui.drawing.section_letters import Letter, letters_on, paint_letters
from plectrum.ui.drawing.sign_row import SignRow, bound_reach, bounds_over
from plectrum.ui.drawing.strips import Strip
from plectrum.ui.drawing.timeline import Segment, SystemTimeline, notes_key
from plectrum.ui.engraving.engraved_item import EngravedItem, Patch, Span
from plectrum.ui.engraving.system import System
from plectrum.ui.look import theme

SIGNS = sign_row.LETTERS + sign_row.ROW
PATH = 112.0
SEVERAL_PATH = 84.0  # a path's height where two are shown
ROW_HEAD = 50.0  # over a path where several are shown: its name and its signs
GAP = 4.0
BELOW = 24.0
ROUND = (6.0, 6.0)  # the corners of frames round notes
AROUND = sign_row.OVER_THE_LINE + 2  # arcs and joins reach so far beyond their note
FORESEEN_N = 6  # plans whose parts are kept painted: what may be asked at one note
Otherwise = Callable[[PathRow, PathRow], frozenset[int] | None]


@dataclass(frozen=True, slots=True)
class Foreseen:
    """How the line looks with other rows: where it looks otherwise, and these parts painted, or
    None where they are not in sight."""

    rows: tuple[PathRow, ...]
    spans: list[Span]
    patches: list[Patch] | None


class SystemItem(EngravedItem):
    """Paints one system from the plans it is given; holds nothing else."""

    above = SIGNS

    def __init__(
        self,
        system: System,
        rows: Sequence[PathRow],
        strips: Sequence[Strip],
        form: tuple[Section, ...] = (),
    ) -> None:
        super().__init__(system)
        self.rows = tuple(rows)
        self.strips = tuple(strips)
        self._form = form
        self._letters: tuple[Letter, ...] | None = None
        self.selected: tuple[int, int] | None = None
        self.alike: tuple[tuple[int, int], ...] = ()
        self.changed_bars: frozenset[int] = frozenset()
        self.playhead_x: float | None = None
        self._timelines: dict[str, SystemTimeline] = {}
        self._edges = self._bar_edges()
        self._numbers = frozenset(self.plan.part.bars[k].number for k in self.system.bars)
        self._keys = {notes_key(row.plan.part) for row in rows}
        self._foreseen: list[Foreseen] = []

    def _bar_edges(self) -> tuple[float, float]:
        lefts = [x for x, _ in self.system.bars.values()]
        rights = [x for _, x in self.system.bars.values()]
        return min(lefts) + self.margin, max(rights) + self.margin

    # geometry

    @property
    def plan(self) -> Plan:
        return self.rows[0].plan

    def timeline_of(self, row: PathRow) -> SystemTimeline:
        """Where the notes of a row's part lie; kept, as all plans of a part share it."""
        part = row.plan.part
        if part.id not in self._timelines:
            self._timelines[part.id] = SystemTimeline(self.system, part)
        return self._timelines[part.id]

    @property
    def timeline(self) -> SystemTimeline:
        return self.timeline_of(self.rows[0])

    @property
    def letters(self) -> tuple[Letter, ...]:
        """The letters of the sections that begin on this line; kept."""
        if self._letters is None:
            right = self._edges[1] - self.margin
            self._letters = letters_on(self._form, self.timeline.segments, right)
        return self._letters

    @property
    def _several(self) -> bool:
        return len(self.rows) > 1

    def strip_of(self, row: int) -> QRectF:
        """A bow path's rectangle in item coordinates."""
        left, right = self._edges
        top = SIGNS + self.system.height + GAP
        path = PATH
        if self._several:
            path = SEVERAL_PATH
            top += ROW_HEAD + row * (path + ROW_HEAD)
        return QRectF(left, top, right - left, path)

    @property
    def strip(self) -> QRectF:
        return self.strip_of(0)

    @property
    def geometry(self) -> PathGeometry:
        return PathGeometry(self.strip)

    @property
    def height(self) -> float:
        bottom = self.strip_of(len(self.rows) - 1).bottom()
        strips = 0.0
        if not self._several:
            strips = sum(strip.height + strips_module.GAP for strip in self.strips)
        return bottom + strips + BELOW

    def holds(self, note: int) -> bool:
        return note in self.timeline.notes

    def note_rect(self, note: int) -> QRectF:
        """The place of a note on this system, signs to strip, in item coordinates."""
        for segment in self.timeline.segments:
            if segment.note == note:
                left = segment.left + self.margin
                bottom = self.strip_of(len(self.rows) - 1).bottom()
                return QRectF(left - 8, 0, segment.right - segment.left, bottom)
        return QRectF()

    # changing

    def set_rows(self, rows: Sequence[PathRow], drawn_otherwise: Otherwise) -> None:
        """Show other plans; what looks just as before on this line is not painted again. Plans
        of other notes are left for the layout that is on its way for them.

        Args:
            drawn_otherwise: see `path_row`.
        """
        if not {notes_key(row.plan.part) for row in rows} <= self._keys:
            return
        foreseen = next((f for f in self._foreseen if same_rows(f.rows, rows)), None)
        self._foreseen = []  # seen from here all look otherwise in other places
        before, self.rows = self.rows, tuple(rows)
        if len(before) != len(rows):
            self.prepareGeometryChange()
            self.repaint_layer()
        elif foreseen is not None:
            self._take(foreseen.spans, foreseen.patches)
        elif self.is_painted:
            self._take(self._spans(before, self.rows, drawn_otherwise))

    def _take(self, spans: list[Span] | None, patches: list[Patch] | None = None) -> None:
        if spans is None:
            self.repaint_layer()
        elif spans and patches is not None:
            self.put(patches, spans)
        elif spans:
            self.repaint_spans(spans)

    def foresee(
        self, rows: Sequence[PathRow], drawn_otherwise: Otherwise, *, in_sight: bool
    ) -> None:
        """Paint what these rows would change, to be taken once they are shown."""
        ahead = tuple(rows)
        known = next((f for f in self._foreseen if same_rows(f.rows, ahead)), None)
        if known is None and self.is_painted:
            known = self._painted_ahead(ahead, drawn_otherwise, in_sight)
        if known is not None:
            others = [f for f in self._foreseen if f is not known]
            self._foreseen = [*others, known][-FORESEEN_N:]

    def _painted_ahead(
        self, ahead: tuple[PathRow, ...], drawn_otherwise: Otherwise, in_sight: bool
    ) -> Foreseen | None:
        spans = self._spans(self.rows, ahead, drawn_otherwise)
        if spans is None:
            return None
        shown, self.rows = self.rows, ahead
        try:
            patches = self.patches(spans) if in_sight and spans else None
        finally:
            self.rows = shown
        return Foreseen(ahead, spans, patches)

    def forget_layer(self) -> None:
        super().forget_layer()
        self._foreseen = []

    def _spans(
        self, before: Sequence[PathRow], after: Sequence[PathRow], drawn_otherwise: Otherwise
    ) -> list[Span] | None:
        """From where to where rows look otherwise than others; None if they may everywhere."""
        spans: list[Span] = []
        for was, now in zip(before, after, strict=True):
            others = drawn_otherwise(was, now)
            if others is None:
                return None
            spans += self._changed(was, now, others)
        return spans

    def _changed(self, a: PathRow, b: PathRow, others: frozenset[int]) -> list[Span]:
        """From where to where notes look otherwise; their neighbours too, as joins reach there."""
        segments = self.timeline_of(b).segments
        if not segments:
            return []
        seen = others | self._bound_otherwise(a, b, others)
        spans: list[Span] = []
        last = len(segments) - 1
        for k in (k for k, segment in enumerate(segments) if segment.note in seen):
            left = segments[max(0, k - 1)].left + self.margin - AROUND
            right = segments[min(last, k + 1)].right + self.margin + AROUND
            if spans and left <= spans[-1][1]:
                spans[-1] = spans[-1][0], max(right, spans[-1][1])
            else:
                spans.append((left, right))
        return spans

    def _bound_otherwise(self, a: PathRow, b: PathRow, others: frozenset[int]) -> set[int]:
        """Notes of this line under slurs and hooks that only one of two rows has."""
        segments = self.timeline_of(b).segments
        ends = segments[0].note, segments[-1].note
        reach = [bound_reach(row.plan, *ends) for row in (a, b)]
        first, last = min(r[0] for r in reach), max(r[1] for r in reach)
        if not any(first <= n <= last for n in others):
            return set()
        before, after = (set(bounds_over(row.plan, *ends)) for row in (a, b))
        return {n for bound in before ^ after for n in range(bound.first, bound.last + 1)}

    def set_form(self, form: tuple[Section, ...]) -> None:
        """Show other sections; their letters are painted again where they change."""
        before, self._form, self._letters = self.letters, form, None
        if before != self.letters:
            self.repaint_layer()

    def set_strips(self, strips: Sequence[Strip]) -> None:
        self.prepareGeometryChange()
        self.strips = tuple(strips)
        self.repaint_layer()

    def set_selected(self, notes: tuple[int, int] | None) -> None:
        if notes != self.selected:
            before, self.selected = self.selected, notes
            self._update_frames(run for run in (before, notes) if run is not None)

    def set_alike(self, places: Sequence[tuple[int, int]]) -> None:
        """Runs of notes that are like the selected ones."""
        segments = self.timeline.segments
        first, last = (segments[0].note, segments[-1].note) if segments else (0, -1)
        here = tuple(p for p in places if p[0] <= last and first <= p[1])
        if here != self.alike:
            before, self.alike = self.alike, here
            self._update_frames({*before} ^ {*here})

    def _update_frames(self, runs: Iterable[tuple[int, int]]) -> None:
        """The frames round these runs of notes come or go."""
        frames = (frame for run in runs if (frame := self._frame(run)) is not None)
        self.update_spans((frame.left() - 2, frame.right() + 2) for frame in frames)

    def set_changed_bars(self, bars: frozenset[int]) -> None:
        """Wash those of these printed numbers that are on this line."""
        bars &= self._numbers
        if bars != self.changed_bars:
            other = bars ^ self.changed_bars
            self.changed_bars = bars
            self.update_spans((x - 1, right + 1) for x, right in self._bars_numbered(other))

    def set_playhead(self, x: float | None) -> None:
        """Where the player is on this line, None if elsewhere."""
        if x != self.playhead_x:
            self.playhead_x = x
            self.update()

    # painting

    def paint_layer(self, painter: QPainter, span: Span | None = None) -> None:
        for number, row in enumerate(self.rows):
            rect = self.strip_of(number)
            usable = school_range(row.plan.choices)
            paint_ground(painter, PathGeometry(rect), row.plan.choices.bow, usable)
            self._paint_bar_lines(painter, rect)
            if span is None or span[0] < self.margin:
                self._paint_places(painter, rect)
            painter.save()
            painter.translate(self.margin, 0)
            self._paint_marked(painter, row, rect.translated(-self.margin, 0))
            painter.restore()
        self.paint_staff(painter)
        painter.save()
        painter.translate(self.margin, 0)
        paint_letters(painter, self.letters, 0.0, self._local(span))
        for number, row in enumerate(self.rows):
            rect = self.strip_of(number).translated(-self.margin, 0)
            timeline = self.timeline_of(row)
            segments = self._within(timeline.segments, span)
            PathPainter(row.plan, timeline, PathGeometry(rect)).paint(painter, segments)
            top = (rect.top() if self._several else SIGNS) - sign_row.ROW
            signs = SignRow(row.plan, timeline, pins_shown=row.pins_shown, proposals_shown=True)
            signs.paint(painter, top, self._local(span))
            if self._several:
                self._paint_row_head(painter, row, rect)
        if not self._several:
            self._paint_strips(painter, self.strip.translated(-self.margin, 0))
        painter.restore()

    def _within(self, segments: Sequence[Segment], span: Span | None) -> Sequence[Segment]:
        """The segments that a span shows something of, with a neighbour on each side."""
        if span is None:
            return segments
        left, right = self._local(span) or (0.0, 0.0)
        seen = [k for k, s in enumerate(segments) if s.right >= left and s.left <= right]
        return segments[max(0, seen[0] - 1) : seen[-1] + 2] if seen else ()

    def _local(self, span: Span | None) -> Span | None:
        """A span as x of the engraved picture, with what reaches into it."""
        if span is None:
            return None
        return span[0] - self.margin - AROUND, span[1] - self.margin + AROUND

    def paint_over(self, painter: QPainter) -> None:
        self._paint_changed(painter)
        self._paint_selection(painter)
        if self.playhead_x is not None:
            painter.setPen(QPen(theme.colours().accent, 2))
            x = self.playhead_x + self.margin
            painter.drawLine(QPointF(x, 4), QPointF(x, self.height - BELOW))

    def _paint_strips(self, painter: QPainter, path: QRectF) -> None:
        top = path.bottom()
        for strip in self.strips:
            top += strips_module.GAP
            rect = QRectF(path.left(), top, path.width(), strip.height)
            strips_module.paint_strip(painter, strip, rect, self.plan, self.timeline.segments)
            top += strip.height

    def _paint_places(self, painter: QPainter, strip: QRectF) -> None:
        painter.setPen(theme.colours().muted)
        painter.setFont(theme.label_font(12))
        geometry = PathGeometry(strip)
        flags = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        for name, at in ((tr("tip"), 1.0), (tr("middle"), 0.5), (tr("frog"), 0.0)):
            rect = QRectF(0, geometry.y(at) - 9, strip.left() - 6, 18)
            painter.drawText(rect, flags, name)

    def _paint_row_head(self, painter: QPainter, row: PathRow, strip: QRectF) -> None:
        if self.system.index and self.first_bar:
            return  # named once, over the first line
        painter.setPen(theme.colours().ink)
        painter.setFont(theme.label_font(12))
        rect = QRectF(-self.margin + 4, strip.top() - ROW_HEAD + 3, 300, 16)
        painter.drawText(
            rect, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, row.label
        )

    def _paint_marked(self, painter: QPainter, row: PathRow, strip: QRectF) -> None:
        """Runs of differing notes under the path: a wash, a dashed edge and a corner flag, so
        that they are seen without colour."""
        now = theme.colours()
        for left, right, begins in self._marked_runs(row):
            rect = QRectF(left - 2, strip.top(), right - left, strip.height())
            painter.setPen(QPen(now.problem, 1.2, Qt.PenStyle.DashLine))
            painter.setBrush(now.changed_wash)
            painter.drawRect(rect)
            if begins:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(now.problem)
                corner = rect.topLeft()
                painter.drawPolygon([corner, corner + QPointF(10, 0), corner + QPointF(0, 10)])

    def _marked_runs(self, row: PathRow) -> list[tuple[float, float, bool]]:
        """Left, right, and whether it begins here, of every run of marked notes on this line."""
        runs: list[tuple[float, float, bool]] = []
        last = -2
        for segment in self.timeline_of(row).segments:
            if segment.note not in row.marked:
                continue
            if segment.note == last + 1:
                runs[-1] = (runs[-1][0], segment.right, runs[-1][2])
            else:
                runs.append((segment.left, segment.right, segment.share_from == 0))
            last = segment.note
        return runs

    def _paint_bar_lines(self, painter: QPainter, strip: QRectF) -> None:
        """Faint barlines through the strip, so the eye finds the bar a stroke belongs to."""
        painter.setPen(QPen(theme.colours().edge, 1))
        for left, _ in list(self.system.bars.values())[1:]:
            x = left + self.margin
            painter.drawLine(QPointF(x, strip.top()), QPointF(x, strip.bottom()))

    def _bars_numbered(self, numbers: frozenset[int]) -> Iterator[Span]:
        """Left and right of those bars of this line that have one of these printed numbers."""
        for bar_index, (left, right) in self.system.bars.items():
            if self.plan.part.bars[bar_index].number in numbers:
                yield left + self.margin, right + self.margin

    def _paint_changed(self, painter: QPainter) -> None:
        bottom = self.strip_of(len(self.rows) - 1).bottom()
        for left, right in self._bars_numbered(self.changed_bars):
            fill(painter, QRectF(left, 2, right - left, bottom - 2), theme.colours().changed_wash)

    def _paint_selection(self, painter: QPainter) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.colours().accent, 1.0, Qt.PenStyle.DotLine))
        for place in self.alike:
            frame = self._frame(place)
            if frame is not None:
                painter.drawRoundedRect(frame, *ROUND)
        frame = self._frame(self.selected) if self.selected is not None else None
        if frame is not None:
            fill(painter, frame.adjusted(2, 2, -2, -2), theme.colours().accent_wash)
            painter.setPen(QPen(theme.colours().accent, 1.6))
            painter.drawRoundedRect(frame, *ROUND)

    def _frame(self, notes: tuple[int, int]) -> QRectF | None:
        """The frame round the notes of a run that are on this line; None if none is."""
        first, last = notes
        rects = [self.note_rect(s.note) for s in self.timeline.segments if first <= s.note <= last]
        if not rects:
            return None
        whole = rects[0]
        for rect in rects[1:]:
            whole = whole.united(rect)
        return whole.adjusted(0, 4, 0, 4)
