"""A strip of controls that is always as high as its rows need at its width."""

from __future__ import annotations

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget


class Strip(QWidget):
    """Rows under each other on the colour of a toolbar; never squeezed into one another."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("toolstrip")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(16, 6, 16, 6)
        self.column.setSpacing(4)

    def hold_height(self) -> None:
        """What is in it has changed."""
        self.setMinimumHeight(self.column.totalHeightForWidth(self.width()))
        self.column.setGeometry(self.rect())  # a row may need other lines at the same height

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.hold_height()

    def event(self, event: QEvent) -> bool:
        done = super().event(event)
        if event.type() == QEvent.Type.LayoutRequest:
            self.hold_height()
        return done
