"""The window's end of the engraver's process."""

from __future__ import annotations

import json
import sys
from collections import deque
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import count
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, QProcess, QTimer, Signal

from plectrum.core.instrument.specification import instrument
from plectrum.ui.engraving.system import System

if TYPE_CHECKING:
    from plectrum.core.score.scorefile import ScoreFile


ENGRAVING_SCALE = 46.0  # the engraver's own scale; zooming magnifies what it draws
_tokens = count(1)  # of requests; no two are the same, whichever window they come from


@dataclass(frozen=True, slots=True)
class Layout:
    """What is to be engraved: parts of a score, how wide and how large."""

    score: ScoreFile
    part_ids: Sequence[str]
    instrument: str
    width_px: float
    scale: float = ENGRAVING_SCALE


class Channel(QObject):
    """One place that shows engraved music. Only its newest request counts; answers to older
    ones are dropped."""

    laid_out = Signal(int)
    system_ready = Signal(object)
    failed = Signal(str)

    def __init__(self, client: EngravingClient, name: str) -> None:
        super().__init__(client)
        self._client = client
        self.name = name
        self.token = 0
        self.waiting = False

    def engrave(self, layout: Layout) -> None:
        """Lay out anew."""
        self.token = next(_tokens)
        self.waiting = True
        self._client.send(
            {
                "command": "load",
                "channel": self.name,
                "token": self.token,
                "xml": score_text(layout.score),
                "parts": list(layout.part_ids),
                "clef": instrument(layout.instrument).clef,
                "width": layout.width_px,
                "scale": layout.scale,
            }
        )

    def take(self, answer: dict[str, Any]) -> None:
        """One answer of the process that is meant for this channel."""
        if answer["token"] != self.token or answer.get("stale"):
            return
        if "error" in answer:
            self.waiting = False
            self.failed.emit(answer["error"])
        elif answer["command"] == "load":
            self.laid_out.emit(answer["systems"])
            for index in range(answer["systems"]):
                self._client.send(
                    {
                        "command": "system",
                        "channel": self.name,
                        "token": self.token,
                        "index": index,
                    }
                )
        else:
            self.waiting = False
            self.system_ready.emit(System.from_message(answer))

    def stopped(self) -> None:
        """The process died."""
        if self.waiting:
            self.waiting = False
            self.failed.emit("the engraver stopped on this score")


class EngravingClient(QObject):
    """Owns the process and hands its answers to the channels.

    If the process dies on a score it is started again, and that score is reported as failed.
    """

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._buffer = b""
        self._closing = False
        self._channels: dict[str, Channel] = {}
        self._answers: deque[bytes] = deque()
        self._hand_on = QTimer(self, singleShot=True, interval=0)
        self._hand_on.timeout.connect(self._next_answer)
        self._process = QProcess(self)
        self._process.readyReadStandardOutput.connect(self._read)
        self._process.finished.connect(self._finished)
        self._start()

    def channel(self, name: str) -> Channel:
        """The channel of a name, made when first asked for."""
        if name not in self._channels:
            self._channels[name] = Channel(self, name)
        return self._channels[name]

    def _start(self) -> None:
        self._buffer = b""
        self._process.start(sys.executable, ["-m", "plectrum.ui.engraving.worker"])

    def send(self, request: dict[str, Any]) -> None:
        """Pass a request on to the process."""
        if self._closing:
            return
        if self._process.state() == QProcess.ProcessState.NotRunning:
            self._start()
        self._process.write(json.dumps(request).encode() + b"\n")

    def _read(self) -> None:
        self._buffer += bytes(self._process.readAllStandardOutput().data())
        *lines, self._buffer = self._buffer.split(b"\n")
        self._answers.extend(lines)
        self._hand_on.start()

    def _next_answer(self) -> None:
        """One answer at a time, so that the window stays live while many come."""
        if self._answers:
            answer = json.loads(self._answers.popleft())
            self._hand_on.start()
            self.channel(answer["channel"]).take(answer)

    def _finished(self) -> None:
        if self._closing:
            return
        for channel in self._channels.values():
            channel.stopped()
        self._start()

    def close(self) -> None:
        """End the process; nothing is drawn after this."""
        self._closing = True
        if self._process.state() != QProcess.ProcessState.NotRunning:
            self._process.closeWriteChannel()
            if not self._process.waitForFinished(1500):
                self._process.kill()
                self._process.waitForFinished(1500)


def score_text(score: ScoreFile) -> str:
    """A score's MusicXML as text for the engraver."""
    head = score.xml[:200].lower()
    if b"encoding" not in head or b"utf-8" in head:
        return score.xml.decode("utf-8", "replace")
    from lxml import etree

    from plectrum.core.score.scorefile import parse_record

    text: str = etree.tostring(parse_record(score.xml, score.name).getroot(), encoding="unicode")
    return text
