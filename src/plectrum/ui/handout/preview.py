"""The pages as they will be printed, under one another, as wide as there is room."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRect, Qt, QTimer
from PySide6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen, QPixmap, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QScrollArea, QSizePolicy, QWidget

from plectrum.core.wording import tr
from plectrum.ui.handout.output import page_image
from plectrum.ui.handout.pages import Page
from plectrum.ui.look import theme

GAP = 20
ZOOMS = (0.5, 0.75, 1.0, 1.25, 1.5, 2.0)
STEP = 60


class _Pages(QWidget):
    """Paints the pages; pictures of them are made one at a time when they come into sight."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.pages: list[Page] = []
        self.scale = 1.0
        self._pictures: dict[int, QPixmap] = {}
        self._soon = QTimer(self, singleShot=True, interval=0)
        self._soon.timeout.connect(self._paint_one)

    def show_pages(self, pages: Sequence[Page]) -> None:
        self.pages = list(pages)
        self.forget()

    def set_scale(self, scale: float) -> None:
        if abs(scale - self.scale) > 1e-6:
            self.scale = scale
            self.forget()

    def forget(self) -> None:
        self._pictures = {}
        height = GAP + sum(self.rect_of(k).height() + GAP for k in range(len(self.pages)))
        widest = max((self.rect_of(k).width() for k in range(len(self.pages))), default=0)
        self.setMinimumSize(widest + 2 * GAP, height)
        self.update()

    def rect_of(self, number: int) -> QRect:
        """Where a page is, in this widget."""
        top = GAP
        for page in self.pages[:number]:
            top += round(page.sheet.height * self.scale) + GAP
        sheet = self.pages[number].sheet
        width, height = round(sheet.width * self.scale), round(sheet.height * self.scale)
        return QRect(max(GAP, (self.width() - width) // 2), top, width, height)

    @property
    def complete(self) -> bool:
        """Whether the pages in sight are painted."""
        seen = self.visibleRegion().boundingRect()
        inside = [k for k in range(len(self.pages)) if self.rect_of(k).intersects(seen)]
        return bool(self.pages) and all(k in self._pictures for k in inside)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(event.rect(), theme.colours().panel)
        for k in range(len(self.pages)):
            rect = self.rect_of(k)
            if not rect.intersects(event.rect()):
                continue
            painter.setPen(QPen(theme.colours().edge, 1))
            painter.setBrush(Qt.GlobalColor.white)
            painter.drawRect(rect.adjusted(-1, -1, 0, 0))
            if k in self._pictures:
                painter.drawPixmap(rect.topLeft(), self._pictures[k])
            else:
                self._soon.start()

    def _paint_one(self) -> None:
        """One page in sight that has no picture yet."""
        seen = self.visibleRegion().boundingRect()
        ratio = self.devicePixelRatioF()
        for k in range(len(self.pages)):
            if k not in self._pictures and self.rect_of(k).intersects(seen):
                picture = QPixmap.fromImage(page_image(self.pages[k], self.scale * ratio))
                picture.setDevicePixelRatio(ratio)
                self._pictures[k] = picture
                self.update(self.rect_of(k))
                return


class Preview(QScrollArea):
    """Scrolls the pages; Ctrl with the wheel magnifies them."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("plain")
        self.zoom = 1.0
        self._pages = _Pages(self)
        self.setWidget(self._pages)
        self.setWidgetResizable(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        self.setAccessibleName(tr("The pages as they will be printed"))

    @property
    def pages(self) -> list[Page]:
        return self._pages.pages

    @property
    def complete(self) -> bool:
        return self._pages.complete

    def show_pages(self, pages: Sequence[Page]) -> None:
        """Show other pages at the place where one looked."""
        self._pages.pages = list(pages)
        self._fit()
        self._pages.show_pages(pages)
        words = "; ".join(page.foot for page in pages)
        self.setAccessibleDescription(words or tr("no page yet"))

    def _fit(self) -> None:
        if self.pages:
            room = self.viewport().width() - 2 * GAP
            widest = max(page.sheet.width for page in self.pages)
            self._pages.set_scale(max(0.1, room / widest) * self.zoom)

    def zoom_step(self, steps: int) -> None:
        """Larger or smaller; 0 fits the page's width."""
        nearest = min(range(len(ZOOMS)), key=lambda k: abs(ZOOMS[k] - self.zoom))
        self.zoom = ZOOMS[min(len(ZOOMS) - 1, max(0, nearest + steps))] if steps else 1.0
        self._fit()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if event.oldSize().width() != event.size().width():
            self._fit()

    def wheelEvent(self, event: QWheelEvent) -> None:
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom_step(1 if event.angleDelta().y() > 0 else -1)
            event.accept()
            return
        super().wheelEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        bar = self.verticalScrollBar()
        whole = self.viewport().height() - STEP
        moves = {
            Qt.Key.Key_Down: STEP, Qt.Key.Key_Up: -STEP, Qt.Key.Key_PageDown: whole,
            Qt.Key.Key_PageUp: -whole, Qt.Key.Key_Space: whole,
            Qt.Key.Key_Home: -bar.maximum(), Qt.Key.Key_End: bar.maximum(),
        }  # fmt: skip
        move = moves.get(Qt.Key(event.key()))
        if move is None:
            super().keyPressEvent(event)
            return
        bar.setValue(bar.value() + move)
