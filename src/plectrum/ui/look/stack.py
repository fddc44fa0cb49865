"""A stack of pages in which only the page that is seen asks for room."""

from __future__ import annotations

from PySide6.QtWidgets import QSizePolicy, QStackedWidget, QWidget


class Stack(QStackedWidget):
    """Without this the largest of all pages would hold the window open."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.currentChanged.connect(self._fit)

    def addWidget(self, page: QWidget) -> int:
        index = super().addWidget(page)
        self._fit(self.currentIndex())
        return index

    def _fit(self, current: int) -> None:
        for k in range(self.count()):
            policy = QSizePolicy.Policy.Preferred if k == current else QSizePolicy.Policy.Ignored
            page = self.widget(k)
            if page is not None:
                page.setSizePolicy(policy, policy)
