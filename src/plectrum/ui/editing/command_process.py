"""A command of Plectrum in a process of its own, for work in which a window would stand still."""

from __future__ import annotations

import os
import signal
from collections.abc import Sequence

from PySide6.QtCore import QObject, QProcess, QProcessEnvironment, QTimer, Signal

from plectrum.core.errors import PlectrumError
from plectrum.core.own_process import own_command
from plectrum.core.plain_text import one_line
from plectrum.core.wording import tr

LONGEST_LINE = 300
PATIENCE_MS = 3000


class CommandProcess(QObject):
    """Runs one command at a time.

    Signals:
        said: a line of what it prints.
        ended: it is over; the exit code (None where it was stopped) and what went wrong, if it did.
        failed: it could not be started.
    """

    said = Signal(str)
    ended = Signal(object, str)
    failed = Signal(object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._rest = b""
        self._wanted = True
        self.process = QProcess(self)
        environment = QProcessEnvironment.systemEnvironment()
        environment.insert("QT_QPA_PLATFORM", "offscreen")
        self.process.setProcessEnvironment(environment)
        self.process.readyReadStandardOutput.connect(self._read)
        self.process.finished.connect(self._finished)
        self.process.errorOccurred.connect(self._did_not_start)

    @property
    def running(self) -> bool:
        return self.process.state() is not QProcess.ProcessState.NotRunning

    def start(self, words: Sequence[str]) -> None:
        """Run `plectrum` with these words."""
        self._wanted, self._rest = True, b""
        self.process.start(*own_command("plectrum", *words))

    def stop(self) -> None:
        """Ask it to end, and end it if it does not; what is written whole stays."""
        self._wanted = False
        if self.running:
            os.kill(self.process.processId(), signal.SIGINT)
            QTimer.singleShot(PATIENCE_MS, self.process, self.process.kill)

    def end(self) -> None:
        """End it now, and wait until it is over."""
        self._wanted = False
        self.process.kill()
        self.process.waitForFinished(PATIENCE_MS)

    def _read(self) -> None:
        *lines, self._rest = (self._rest + self.process.readAllStandardOutput().data()).split(b"\n")
        for line in lines:
            if line:
                self.said.emit(line.decode("utf-8", "replace"))

    def _did_not_start(self, error: QProcess.ProcessError) -> None:
        if error is QProcess.ProcessError.FailedToStart:
            self.failed.emit(
                PlectrumError(tr("it cannot be started"), remedy=tr("Start Plectrum anew and try"))
            )

    def _finished(self, code: int, _status: QProcess.ExitStatus) -> None:
        self._read()
        wrong = bytes(self.process.readAllStandardError().data()).decode("utf-8", "replace")
        wrong = one_line(wrong.replace("plectrum: ", ""), LONGEST_LINE)
        self.ended.emit(code if self._wanted else None, wrong)
