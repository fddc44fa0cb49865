"""An engraver's process that goes from window to window, so that not every test starts one, and
whose answers are remembered, so that the same music is engraved once in a run."""

from __future__ import annotations

import json
import re
from collections import deque
from typing import Any, ClassVar

from PySide6.QtCore import QByteArray, QObject, QProcess, QTimer, Signal

DRAIN_MS = 500
TOKEN = re.compile(rb'^\{"token": \d+')
Key = tuple[Any, ...]


class SharedProcess(QObject):
    """Stands in for the process an engraving client owns. Closed while it owes no answer, the
    real one is kept for the next client; killed or broken, it is gone."""

    ProcessState = QProcess.ProcessState
    readyReadStandardOutput = Signal()  # noqa: N815
    ProcessError = QProcess.ProcessError
    errorOccurred = Signal(object)  # noqa: N815
    finished = Signal()
    idle: ClassVar[list[QProcess]] = []
    known: ClassVar[dict[Key, bytes]] = {}  # what was asked, and the answer without its token

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._real: QProcess | None = None
        self._forget()

    def _forget(self) -> None:
        self._layouts: dict[str, tuple[Key, int, bytes]] = {}  # channel: what, its token, its line
        self._held: dict[str, int] = {}  # channel: the token the real process has laid out
        self._owed: deque[Key | None] = deque()  # what the next answers are to; None: to nobody
        self._known_ones = self._partial = b""

    def start(self, program: str, arguments: list[str]) -> None:
        self._forget()
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
        if self._real is None:
            return
        request = json.loads(line)
        channel, token = request["channel"], request.pop("token")
        if request["command"] == "load":
            key: Key = tuple(sorted((k, str(v)) for k, v in request.items()))
            self._layouts[channel] = key, token, line
        else:
            key = (*self._layouts[channel][0], request["index"])
        if key in self.known:
            self._known_ones += b'{"token": %d' % token + self.known[key] + b"\n"
            QTimer.singleShot(0, self, self.readyReadStandardOutput.emit)
            return
        if request["command"] != "load" and self._held.get(channel) != self._layouts[channel][1]:
            self._send(None, self._layouts[channel][2])  # it was answered from memory
        self._send(key, line)
        self._held[channel] = self._layouts[channel][1]

    def _send(self, key: Key | None, line: bytes) -> None:
        self._owed.append(key)
        if self._real is not None:
            self._real.write(line)

    def readAllStandardOutput(self) -> QByteArray:
        data, self._known_ones = self._known_ones, b""
        return QByteArray(data + b"".join(self._answers()))

    def _answers(self) -> list[bytes]:
        """The answers that have come from the real process, remembered."""
        if self._real is None:
            return []
        *lines, self._partial = (
            self._partial + bytes(self._real.readAllStandardOutput().data())
        ).split(b"\n")
        heard = []
        for line in lines:
            key = self._owed.popleft() if self._owed else None
            if key is None:
                continue
            heard.append(line + b"\n")
            if b'"error"' not in line and b'"stale"' not in line:
                self.known[key] = TOKEN.sub(b"", line, count=1)
        return heard

    def closeWriteChannel(self) -> None:
        """The client is done: what it is still owed is read away."""
        real = self._real
        if real is None:
            return
        real.readyReadStandardOutput.disconnect(self.readyReadStandardOutput)
        real.finished.disconnect(self._ended)
        while self._owed and real.waitForReadyRead(DRAIN_MS):
            self._answers()
        self._real = None
        if not self._owed and real.state() == QProcess.ProcessState.Running:
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
