"""What stays visible over the screens until it is over: each matter one line, with what to do."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from plectrum.core.wording import tr
from plectrum.ui.look.labels import label


class _Notice(QWidget):
    """One line, perhaps with a button; it can be put away."""

    def __init__(self, text: str, button: str, do: Callable[[], object] | None) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 6, 12, 0)
        self.text = label("banner", text, wrap=True)
        row.addWidget(self.text, 1)
        self.button: QPushButton | None = None
        if button and do is not None:
            self.button = QPushButton(button)
            self.button.clicked.connect(lambda: do())
            row.addWidget(self.button)
        self.away = QPushButton(tr("Put away"))
        self.away.clicked.connect(self.hide)
        row.addWidget(self.away)


class Notices(QWidget):
    """The lines, one a matter."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(0)
        self.shown: dict[str, _Notice] = {}

    def tell(
        self, matter: str, text: str, button: str = "", do: Callable[[], object] | None = None
    ) -> None:
        """Say how a matter stands; nothing more is said of it where the text is empty."""
        old = self.shown.pop(matter, None)
        if old is not None:
            self._column.removeWidget(old)
            old.hide()
            old.deleteLater()
        if text:
            made = self.shown[matter] = _Notice(text, button, do)
            self._column.addWidget(made)
            made.show()

    @property
    def texts(self) -> list[str]:
        """What is said now."""
        return [n.text.text() for n in self.shown.values() if not n.isHidden()]
