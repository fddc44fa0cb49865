"""A scrolling view of engraved systems that arrive one by one, with zoom and re-flow."""

from __future__ import annotations

from collections.abc import Sequence
from statistics import median
from typing import TYPE_CHECKING, Generic, TypeVar

from PySide6.QtCore import QPointF, Qt, QTimer, Signal
from PySide6.QtGui import QPainter, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QGraphicsScene, QGraphicsView, QWidget

from plectrum.ui.engraving.client import Channel, Layout
from plectrum.ui.engraving.engraved_item import EngravedItem
from plectrum.ui.engraving.system import System
from plectrum.ui.engraving.worker import STAFF_GAP
from plectrum.ui.look import theme

if TYPE_CHECKING:
    from plectrum.core.score.scorefile import ScoreFile

Item = TypeVar("Item", bound=EngravedItem)

TOP = 8.0
REFLOW_MS = 120
ZOOMS = (0.6, 0.7, 0.8, 0.9, 1.0, 1.15, 1.3, 1.5, 1.75, 2.0)
# Where music grows with the window, it stands at its own size in one so large, in pixels of the
# interface at 100 %: the view's width and the window's height.
FITTING_WIDTH, FITTING_HEIGHT = 900.0, 640.0
# In a window that is larger than that by so much, few notes a bar make no crowd of small bars.
ROOMY, MOST_LARGER = 1.3, 1.5
KEPT_SCREENS = 2.5  # pictures this many screens away are given back


class SystemsView(QGraphicsView, Generic[Item]):
    """Shows items made from systems as they arrive. Asks for a new layout when its width or
    zoom changes; until that comes the old one is shown, magnified."""

    reuses_items = False  # whether an item shows nothing but its system
    grows = False  # whether the music grows with the window
    staff_gap = STAFF_GAP
    left_room = EngravedItem.margin  # what its items leave free at the left of the music
    most_bars_n: int | None = None  # a line, where there is room to show them larger
    layout_wanted = Signal()
    layout_done = Signal()
    zoom_changed = Signal(float)
    least_zoom = ZOOMS[0]

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._scene = QGraphicsScene(self)
        self._scene.setItemIndexMethod(QGraphicsScene.ItemIndexMethod.NoIndex)
        self.setScene(self._scene)
        self.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._show_paper()
        self.setAlignment(Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.items_by_system: list[Item] = []
        self._old: dict[int, Item] = {}
        self.zoom = 1.0
        self._fit = self._larger = 1.0
        self.awaited_n = 0
        self._fresh = False
        self._top_bar: int | None = None
        self._reflow = QTimer(self, singleShot=True, interval=REFLOW_MS)
        self._reflow.timeout.connect(self.layout_wanted)
        self._ahead = QTimer(self, singleShot=True, interval=0)
        self._ahead.timeout.connect(self._prepare_ahead)
        self.verticalScrollBar().valueChanged.connect(self._scrolled)

    def make_item(self, system: System) -> Item | None:
        """An item for a system; None while there is nothing to show it with."""
        raise NotImplementedError

    def item_added(self, item: Item) -> None:
        """Called when an item is in the scene, for selection and the like."""

    # laying out

    @property
    def factor(self) -> float:
        """How much larger than engraved everything is shown."""
        return self.zoom * theme.scale() * self._fit

    def refit(self) -> None:
        """The window, or whether music grows with it, has changed."""
        fit = self._fitting()
        if abs(fit - self._fit) > 0.01:
            self._fit = fit
            self.apply_factor()
            self._reflow.start()

    def _fitting(self) -> float:
        """How much larger the music is shown because the window is large."""
        if not self.grows:
            return 1.0
        wide = self.viewport().width() / (FITTING_WIDTH * theme.scale())
        high = self.window().height() / (FITTING_HEIGHT * theme.scale())
        fit = max(1.0, min(wide, high))
        return fit * self._larger if fit > ROOMY else fit

    def _spread_out(self) -> None:
        """Larger still where the lines have come out with too many bars, as long as a whole one is
        seen; as it was once they have few."""
        if self.most_bars_n is None or self._fit <= ROOMY:
            return
        lines = [len(item.system.bars) for item in self.items_by_system]
        crowd = median(lines[:-1] or lines) / self.most_bars_n  # the last may be short
        tallest = max(item.height for item in self.items_by_system) * self.factor
        room = self.viewport().height() / tallest
        if crowd > 1 or room < 1:
            larger = self._larger * min(max(crowd, 1.0), room)
            self._larger = min(MOST_LARGER, max(1.0, larger))
        elif crowd < 0.5:
            self._larger = 1.0
        self.refit()

    @property
    def engraving_width(self) -> float:
        """Width in engraved pixels a system may take."""
        return max(320.0, self.viewport().width() / self.factor - self.left_room - 16.0)

    def apply_factor(self) -> None:
        """Show everything at the present zoom and interface scale."""
        self.resetTransform()
        self.scale(self.factor, self.factor)

    def engrave(
        self, channel: Channel, score: ScoreFile, part_ids: Sequence[str], instrument: str
    ) -> None:
        """Ask for a layout at the present width; the next system to arrive belongs to it."""
        self._fresh = True
        channel.engrave(
            Layout(score, part_ids, instrument, self.engraving_width, staff_gap=self.staff_gap)
        )

    def expect(self, systems_n: int) -> None:
        """So many systems will come."""
        self.awaited_n = systems_n
        self._fresh = True

    def _show_paper(self) -> None:
        """Paper from edge to edge, so that nothing that lies behind need be painted."""
        self._scene.setBackgroundBrush(theme.colours().paper)
        self.viewport().setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)

    def clear(self) -> None:
        self._scene.clear()
        self.items_by_system = []
        self._old = {}

    def add_system(self, system: System) -> None:
        """Show one more system below those already there."""
        if self._fresh:
            self._fresh = False
            self._top_bar = self._bar_at_top()
            self._clear_but_alike()
            self.apply_factor()
        item = self._alike(system)
        if item is None:
            item = self.make_item(system)
            if item is None:
                return
            self._scene.addItem(item)
        y = TOP
        if self.items_by_system:
            last = self.items_by_system[-1]
            y = last.pos().y() + last.height
        item.setPos(0, y)
        self.items_by_system.append(item)
        self._fit_scene()
        if y < self.mapToScene(0, 0).y() + self.viewport().height() / self.factor:
            item.prepare(self.factor * self.devicePixelRatioF())  # one at a time, not all at once
        if self._top_bar is not None and self._top_bar in system.bars:
            self.verticalScrollBar().setValue(int(y * self.factor) if item.first_bar else 0)
        self.item_added(item)
        if len(self.items_by_system) == self.awaited_n:
            self._top_bar = None
            self._drop_old()
            self._spread_out()
            self.layout_done.emit()

    def _clear_but_alike(self) -> None:
        """Take the old items away, but for those that may come again just as they are."""
        if self.reuses_items:
            self._old = {item.system.index: item for item in self.items_by_system}
            self.items_by_system = []
        else:
            self.clear()

    def _alike(self, system: System) -> Item | None:
        """The old item of a system that has come again unchanged; others of its place go."""
        old = self._old.pop(system.index, None)
        if old is not None and old.system == system:
            return old
        if old is not None:
            self._scene.removeItem(old)
        return None

    def _drop_old(self) -> None:
        """All systems have come: what is left of the old layout goes."""
        for item in self._old.values():
            self._scene.removeItem(item)
        self._old = {}

    @property
    def is_laid_out(self) -> bool:
        """Whether all systems have come and no other layout is on its way."""
        arrived = not self._fresh and len(self.items_by_system) == self.awaited_n > 0
        return arrived and not self._reflow.isActive()

    def stack_items(self) -> None:
        """Put the items under one another again after their heights have changed."""
        y = TOP
        for item in self.items_by_system:
            item.setPos(0, y)
            y += item.height
        self._fit_scene()
        if self.is_laid_out:
            self._spread_out()

    def _fit_scene(self) -> None:
        if not self.items_by_system:
            return
        last = self.items_by_system[-1]
        width = max(i.boundingRect().width() for i in self.items_by_system)
        self._scene.setSceneRect(0, 0, width, last.pos().y() + last.height)

    def _bar_at_top(self) -> int | None:
        top = self.mapToScene(0, 0).y()
        for item in self.items_by_system:
            if item.pos().y() + item.height > top + 1:
                return item.first_bar
        return None

    def item_at(self, at: QPointF) -> Item | None:
        """The item at a place of the scene."""
        for item in self.items_by_system:
            if 0 <= at.y() - item.pos().y() <= item.height:
                return item
        return None

    def in_sight(self, item: Item, around: float = 0.0) -> bool:
        """Whether some of an item is seen, or would be so many screens further up or down."""
        top = self.mapToScene(0, 0).y()
        screen = self.viewport().height() / self.factor
        y = item.pos().y()
        return y + item.height > top - around * screen and y < top + (1 + around) * screen

    def repaint_all(self) -> None:
        """Colours or scale have changed."""
        self._show_paper()
        for item in self.items_by_system:
            item.forget()
            item.update()
        self.apply_factor()
        self._reflow.start()

    # keeping pictures ready

    def _scrolled(self, _value: int = 0) -> None:
        for item in self.items_by_system:
            if not self.in_sight(item, KEPT_SCREENS):
                item.forget()
        self._ahead.start()

    def _prepare_ahead(self) -> None:
        """Paint one system that will come into sight soon; more when there is time again."""
        ratio = self.factor * self.devicePixelRatioF()
        for item in self.items_by_system:
            if self.in_sight(item, 1.0) and not item.is_painted:
                item.prepare(ratio)
                self._ahead.start()
                return

    # zooming

    def set_zoom(self, zoom: float) -> None:
        """Magnify at once; the lines are broken anew a moment later."""
        zoom = min(ZOOMS[-1], max(self.least_zoom, zoom))
        if zoom == self.zoom:
            return
        self.zoom = zoom
        self.apply_factor()
        self.zoom_changed.emit(zoom)
        self._reflow.start()

    def zoom_by(self, steps: int) -> None:
        """Larger or smaller by steps, 0 for normal size."""
        if steps:
            self.zoom_step(steps)
        else:
            self.set_zoom(1.0)

    def zoom_step(self, steps: int) -> None:
        nearest = min(range(len(ZOOMS)), key=lambda k: abs(ZOOMS[k] - self.zoom))
        self.set_zoom(ZOOMS[min(len(ZOOMS) - 1, max(0, nearest + steps))])

    def wheelEvent(self, event: QWheelEvent) -> None:
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.set_zoom(self.zoom * 1.1 ** (event.angleDelta().y() / 120))
            event.accept()
            return
        super().wheelEvent(event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.refit()
        if event.oldSize().width() != event.size().width():
            self._reflow.start()
