"""A ring around what has the focus: where keys go is seen on every screen, in both themes."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QRegion
from PySide6.QtWidgets import QApplication, QMenu, QMenuBar, QWidget

from plectrum.ui.look import theme

OUTER, INNER = 2, 1  # pixels: the ring, and a line inside it that is seen on the ring's own colour
LARGE = 300  # pixels: around what is larger both ways, the music or the stage, one line will do


class FocusRing(QObject):
    """Keeps the ring around the widget that has the focus."""

    def __init__(self, app: QApplication) -> None:
        super().__init__(app)
        self._ring: _Ring | None = None
        app.focusChanged.connect(self._go)

    def _go(self, old: QWidget | None, now: QWidget | None) -> None:
        if old is not None:
            old.removeEventFilter(self)
        if self._ring is None:
            self._ring = _Ring()
            self._ring.destroyed.connect(self._lose)
        alone = now is not None and now.window().isFullScreen()  # the stage, for a student
        if now is None or alone or isinstance(now, QMenu | QMenuBar):
            self._ring.hide()
            self._ring.setParent(None)
            return
        self._ring.setParent(now)
        now.installEventFilter(self)
        self._ring.fit(now)
        self._ring.show()
        self._ring.raise_()

    def _lose(self) -> None:
        """It went with a widget that was deleted while it had the focus."""
        self._ring = None

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Resize and self._ring is not None:
            self._ring.fit(watched)  # type: ignore[arg-type]
        return False


class _Ring(QWidget):
    """A frame that lets everything through."""

    def __init__(self) -> None:
        super().__init__()
        self.hide()
        self._large = False
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setAttribute(Qt.WidgetAttribute.WA_NoSystemBackground)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)

    def fit(self, around: QWidget) -> None:
        """As large as what it lies around."""
        whole = around.rect()
        self._large = min(whole.width(), whole.height()) > LARGE
        edge = 1 if self._large else OUTER + INNER
        self.setGeometry(whole)
        self.setMask(QRegion(whole) - QRegion(whole.adjusted(edge, edge, -edge, -edge)))

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        now, inside = theme.colours(), self.rect()
        if self._large:
            painter.fillRect(inside, now.accent)
            painter.end()
            return
        painter.fillRect(inside, now.paper)
        pen = QPen(now.accent, OUTER)
        pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
        painter.setPen(pen)
        painter.drawRect(inside.adjusted(1, 1, -1, -1))
        painter.end()
