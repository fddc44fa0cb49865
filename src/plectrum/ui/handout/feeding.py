"""Pages fed to a file or printer, one at a time, with progress that can be cancelled."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, QTimer, Signal
from PySide6.QtWidgets import QProgressDialog, QWidget

from plectrum.core.errors import PlectrumError
from plectrum.core.wording import tr
from plectrum.ui.handout.output import PageFeed
from plectrum.ui.look.plain import progress_dialog


class Feeding(QObject):
    """Feeds one document at a time.

    Signals:
        begun: pages are being fed. said: what has been done. failed: it could not be written.
    """

    begun = Signal()
    said = Signal(str)
    failed = Signal(object)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._window = parent
        self._feed: PageFeed | None = None
        self._finish: Callable[[], str] = str
        self._progress: QProgressDialog | None = None
        self._timer = QTimer(self, interval=0)
        self._timer.timeout.connect(self._step)

    @property
    def busy(self) -> bool:
        return self._feed is not None

    def run(self, feed: PageFeed, finish: Callable[[], str], said: str) -> None:
        """Feed all pages, then finish; what that returns is said."""
        if self._feed is not None:
            feed.end()
            return
        self._feed, self._finish = feed, finish
        self._progress = progress_dialog(self._window, said, feed.pages_n)
        self._progress.setMinimumDuration(1000)
        self._timer.start()
        self.begun.emit()

    def _step(self) -> None:
        feed, progress = self._feed, self._progress
        if feed is None or progress is None:
            return
        if progress.wasCanceled():
            self._end()
            feed.end()
            self.said.emit(tr("Cancelled; nothing was written."))
            return
        if feed.feed():
            progress.setValue(feed.done_n)
            return
        self._end()
        feed.end()
        try:
            self.said.emit(self._finish())
        except PlectrumError as error:
            self.failed.emit(error)

    def _end(self) -> None:
        self._timer.stop()
        if self._progress is not None:
            self._progress.reset()
            self._progress.deleteLater()
        self._feed = self._progress = None
