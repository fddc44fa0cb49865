"""The scrolling score: engraved systems with their bow paths, and the selection in it."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, Qt, QTimer, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QGraphicsScene, QGraphicsView, QWidget

from plectrum.core.planning.plan import Plan
from plectrum.ui.bowing.strips import Strip
from plectrum.ui.bowing.system_item import MARGIN, SystemItem
from plectrum.ui.engraving.system import System

TOP = 8.0
FLASH_MS = 1600
REFLOW_MS = 120
ZOOMS = (0.6, 0.7, 0.8, 0.9, 1.0, 1.15, 1.3, 1.5, 1.75, 2.0)
BASE_SCALE = 46.0  # of the engraver, at zoom 1


class ScoreView(QGraphicsView):
    """Shows systems as they arrive. Asks for a new layout when its width or zoom changes."""

    note_clicked = Signal(int, bool)
    layout_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._scene = QGraphicsScene(self)
        self.setScene(self._scene)
        self.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.setAlignment(Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Score with bow path")
        self.items_by_system: list[SystemItem] = []
        self.zoom = 1.0
        self.strips: tuple[Strip, ...] = ()
        self._plan: Plan | None = None
        self._selection: tuple[int, int] | None = None
        self._fresh = False
        self._reflow = QTimer(self, singleShot=True, interval=REFLOW_MS)
        self._reflow.timeout.connect(self.layout_wanted)
        self._flash = QTimer(self, singleShot=True, interval=FLASH_MS)
        self._flash.timeout.connect(lambda: self._set_changed(frozenset()))

    @property
    def engraving_width(self) -> float:
        """Width in pixels a system may take."""
        return max(320.0, self.viewport().width() - MARGIN - 16.0)

    @property
    def engraving_scale(self) -> float:
        return BASE_SCALE * self.zoom

    def begin_layout(self, plan: Plan) -> None:
        """The next system to arrive belongs to a new layout of this plan's part."""
        self._plan = plan
        self._fresh = True

    def clear(self) -> None:
        self._scene.clear()
        self.items_by_system = []

    def add_system(self, system: System) -> None:
        """Show one more system below those already there."""
        if self._plan is None:
            return
        if self._fresh:
            self._fresh = False
            self.clear()
        item = SystemItem(system, self._plan, self.strips)
        y = TOP
        if self.items_by_system:
            last = self.items_by_system[-1]
            y = last.pos().y() + last.height
        item.setPos(0, y)
        self._scene.addItem(item)
        self.items_by_system.append(item)
        item.set_selected(self._selection)
        width = max(i.boundingRect().width() for i in self.items_by_system)
        self._scene.setSceneRect(0, 0, width, y + item.height)
        if self._selection is not None and item.holds(self._selection[0]):
            self.reveal(self._selection[0])

    def set_strips(self, strips: Sequence[Strip]) -> None:
        """Show these strips under every bow path; nothing is engraved again."""
        self.strips = tuple(strips)
        y = TOP
        for item in self.items_by_system:
            item.set_strips(self.strips)
            item.setPos(0, y)
            y += item.height
        self._scene.setSceneRect(0, 0, self._scene.sceneRect().width(), y)
        if self._selection is not None:
            self.reveal(self._selection[0])

    def set_plan(self, plan: Plan, changed_bars: tuple[int, ...] = ()) -> None:
        """Show another plan of the same part; nothing is engraved again."""
        self._plan = plan
        for item in self.items_by_system:
            item.set_plan(plan)
        self._set_changed(frozenset(changed_bars))
        self._flash.start()

    def hold_changed(self, bars: tuple[int, ...]) -> None:
        """Mark bars until something else is shown."""
        self._flash.stop()
        self._set_changed(frozenset(bars))

    def _set_changed(self, bars: frozenset[int]) -> None:
        for item in self.items_by_system:
            item.set_changed_bars(bars)

    def select(self, first: int, last: int) -> None:
        """Frame a run of notes and scroll the first of them into sight."""
        self._selection = (first, last)
        for item in self.items_by_system:
            item.set_selected(self._selection)
        self.reveal(first)

    def clear_selection(self) -> None:
        self._selection = None
        for item in self.items_by_system:
            item.set_selected(None)

    def reveal(self, note: int) -> None:
        item = self.item_of(note)
        if item is not None:
            rect = item.mapRectToScene(item.note_rect(note))
            self.ensureVisible(rect, 24, 24)

    def item_of(self, note: int) -> SystemItem | None:
        """The system a note begins on, if it is engraved already."""
        return next((i for i in self.items_by_system if i.holds(note)), None)

    def set_zoom(self, zoom: float) -> None:
        self.zoom = min(ZOOMS[-1], max(ZOOMS[0], zoom))
        self._reflow.start()

    def zoom_step(self, steps: int) -> None:
        nearest = min(range(len(ZOOMS)), key=lambda k: abs(ZOOMS[k] - self.zoom))
        self.set_zoom(ZOOMS[min(len(ZOOMS) - 1, max(0, nearest + steps))])

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        note = self._note_at(self.mapToScene(event.position().toPoint()))
        if note is not None and event.button() == Qt.MouseButton.LeftButton:
            extend = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.note_clicked.emit(note, extend)
        event.accept()

    def _note_at(self, at: QPointF) -> int | None:
        for item in self.items_by_system:
            local = item.mapFromScene(at)
            if 0 <= local.y() <= item.height:
                return item.timeline.note_at(local.x() - MARGIN)
        return None

    def wheelEvent(self, event: QWheelEvent) -> None:
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom_step(1 if event.angleDelta().y() > 0 else -1)
            event.accept()
            return
        super().wheelEvent(event)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if event.oldSize().width() != event.size().width():
            self._reflow.start()
