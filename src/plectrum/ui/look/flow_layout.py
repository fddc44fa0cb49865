"""A layout that puts its items in lines and begins a new line where the width ends."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QRect, QSize, Qt
from PySide6.QtWidgets import QLayout, QLayoutItem, QWidget


class FlowLayout(QLayout):
    """Items from left to right, then down."""

    def __init__(self, parent: QWidget | None = None, gap: int = 4) -> None:
        super().__init__(parent)
        self._items: list[QLayoutItem] = []
        self._gap = gap

    def addItem(self, item: QLayoutItem) -> None:
        self._items.append(item)

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        return self._arrange(QRect(0, 0, width, 0), place=False)

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._arrange(rect, place=True)

    def sizeHint(self) -> QSize:
        return self.minimumSize()

    def minimumSize(self) -> QSize:
        size = QSize()
        for item in self._items:
            size = size.expandedTo(item.minimumSize())
        margins = self.contentsMargins()
        return size + QSize(margins.left() + margins.right(), margins.top() + margins.bottom())

    def _arrange(self, rect: QRect, *, place: bool) -> int:
        """Put the items into a rectangle; the height that they take."""
        margins = self.contentsMargins()
        inner = rect.adjusted(margins.left(), margins.top(), -margins.right(), -margins.bottom())
        x, y = inner.x(), inner.y()
        lines: list[list[tuple[QLayoutItem, int, QSize]]] = [[]]
        for item in self._items:
            widget = item.widget()
            if widget is not None and widget.isHidden():
                continue
            size = item.sizeHint()
            if x > inner.x() and x + size.width() > inner.right() + 1:
                x = inner.x()
                lines.append([])
            lines[-1].append((item, x, size))
            x += size.width() + self._gap
        for line in lines:
            tallest = max((size.height() for _, _, size in line), default=0)
            for item, left, size in line if place else ():
                down = (tallest - size.height()) // 2
                item.setGeometry(QRect(QPoint(left, y + down), size))
            y += tallest + self._gap
        return y - self._gap - rect.y() + margins.bottom()
