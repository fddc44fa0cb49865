"""The window's end of the engraver's process."""

from __future__ import annotations

import json
import sys
from typing import Any

from PySide6.QtCore import QObject, QProcess, Signal

from plectrum.core.score.scorefile import ScoreFile
from plectrum.ui.engraving.system import System

CLEFS = {"violin": ("G", "2"), "viola": ("C", "3"), "cello": ("F", "4"), "bass": ("F", "4")}


class EngravingClient(QObject):
    """Asks for a score to be laid out and hands on its systems as they come.

    Only the newest request counts; answers to older ones are dropped. If the process dies
    on a score it is started again, and that score is reported as failed.
    """

    laid_out = Signal(int)
    system_ready = Signal(object)
    failed = Signal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._token = 0
        self._buffer = b""
        self._waiting = False
        self._closing = False
        self._process = QProcess(self)
        self._process.readyReadStandardOutput.connect(self._read)
        self._process.finished.connect(self._finished)
        self._start()

    def _start(self) -> None:
        self._buffer = b""
        self._process.start(sys.executable, ["-m", "plectrum.ui.engraving.worker"])

    def engrave(
        self, score: ScoreFile, part_id: str, instrument: str, width_px: float, scale: float
    ) -> None:
        """Lay out one part anew."""
        self._token += 1
        self._waiting = True
        self._send(
            {
                "command": "load",
                "token": self._token,
                "xml": score.xml.decode("utf-8", "replace")
                if _is_utf8(score.xml)
                else _utf8(score),
                "part": part_id,
                "clef": CLEFS[instrument],
                "width": width_px,
                "scale": scale,
            }
        )

    def _send(self, request: dict[str, Any]) -> None:
        if self._closing:
            return
        if self._process.state() == QProcess.ProcessState.NotRunning:
            self._start()
        self._process.write(json.dumps(request).encode() + b"\n")

    def _read(self) -> None:
        self._buffer += bytes(self._process.readAllStandardOutput().data())
        *lines, self._buffer = self._buffer.split(b"\n")
        for line in lines:
            self._take(json.loads(line))

    def _take(self, answer: dict[str, Any]) -> None:
        if answer["token"] != self._token or answer.get("stale"):
            return
        if "error" in answer:
            self._waiting = False
            self.failed.emit(answer["error"])
        elif answer["command"] == "load":
            self.laid_out.emit(answer["systems"])
            for index in range(answer["systems"]):
                self._send({"command": "system", "token": self._token, "index": index})
        else:
            self._waiting = False
            self.system_ready.emit(System.from_message(answer))

    def _finished(self) -> None:
        if self._closing:
            return
        if self._waiting:
            self._waiting = False
            self.failed.emit("the engraver stopped on this score")
        self._start()

    def close(self) -> None:
        """End the process; nothing is drawn after this."""
        self._closing = True
        if self._process.state() != QProcess.ProcessState.NotRunning:
            self._process.closeWriteChannel()
            if not self._process.waitForFinished(1500):
                self._process.kill()
                self._process.waitForFinished(1500)


def _is_utf8(xml: bytes) -> bool:
    head = xml[:200].lower()
    return b"encoding" not in head or b"utf-8" in head


def _utf8(score: ScoreFile) -> str:
    from lxml import etree

    from plectrum.core.score.scorefile import parse_record

    text: str = etree.tostring(parse_record(score.xml, score.name).getroot(), encoding="unicode")
    return text
