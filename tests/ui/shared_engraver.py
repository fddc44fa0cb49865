"""An engraver's process that goes from window to window, so that not every test starts one."""

from __future__ import annotations

from typing import ClassVar

from PySide6.QtCore import QByteArray, QObject, QProcess, Signal

DRAIN_MS = 500


class SharedProcess(QObject):
    """Stands in for the process an engraving client owns. Closed while it owes no answer, the
    real one is kept for the next client; killed or broken, it is gone."""

    ProcessState = QProcess.ProcessState
    readyReadStandardOutput = Signal()  # noqa: N815
    ProcessError = QProcess.ProcessError
    errorOccurred = Signal(object)  # noqa: N815
    finished = Signal()
    idle: ClassVar[list[QProcess]] = []

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._real: QProcess | None = None
        self._owed_n = 0

    def start(self, program: str, arguments: list[str]) -> None:
        self._owed_n = 0
        while self.idle:
            real = self.idle.pop()
            if real.state() == QProcess.ProcessState.Running:
                break
        else:
            real = QProcess()
            real.start(program, arguments)
        self._real = real
        real.readyReadStandardOutput.connect(self.readyReadStandardOutput)
        real.finished.connect(self._ended)

    def _ended(self) -> None:
        self._real = None
        self.finished.emit()

    def state(self) -> QProcess.ProcessState:
        return QProcess.ProcessState.NotRunning if self._real is None else self._real.state()

    def write(self, line: bytes) -> None:
        if self._real is not None:
            self._owed_n += line.count(b"\n")
            self._real.write(line)

    def readAllStandardOutput(self) -> QByteArray:
        data = QByteArray() if self._real is None else self._real.readAllStandardOutput()
        self._owed_n -= bytes(data.data()).count(b"\n")
        return data

    def closeWriteChannel(self) -> None:
        """The client is done: what it is still owed is read away."""
        real, self._real = self._real, None
        if real is None:
            return
        real.readyReadStandardOutput.disconnect(self.readyReadStandardOutput)
        real.finished.disconnect(self._ended)
        while self._owed_n > 0 and real.waitForReadyRead(DRAIN_MS):
            self._owed_n -= bytes(real.readAllStandardOutput().data()).count(b"\n")
        if self._owed_n == 0 and real.state() == QProcess.ProcessState.Running:
            self.idle.append(real)
        else:
            real.kill()
            real.waitForFinished(DRAIN_MS)

    def waitForFinished(self, _limit_ms: int) -> bool:
        return self._real is None

    def kill(self) -> None:
        if self._real is not None:
            self._real.kill()

    @classmethod
    def end_all(cls) -> None:
        for real in cls.idle:
            real.closeWriteChannel()
            real.waitForFinished(DRAIN_MS)
        cls.idle.clear()
