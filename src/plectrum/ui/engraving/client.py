"""The window's end of the engraver's process."""

from __future__ import annotations

import json
import time
from collections import deque
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import count
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, QProcess, QTimer, Signal

from plectrum.core.instrument.specification import instrument
from plectrum.core.own_process import own_command
from plectrum.core.trouble_log import note_event
from plectrum.core.wording import tr
from plectrum.ui.engraving.system import System
from plectrum.ui.engraving.worker import STAFF_GAP

if TYPE_CHECKING:
    from plectrum.core.score.scorefile import ScoreFile


ENGRAVING_SCALE = 46.0  # the engraver's own scale; zooming magnifies what it draws
ANSWER_S = 8.0  # the process may take so long for one answer, and longer for long scores
CHARACTERS_A_SECOND = 50_000.0  # own default: laying out takes a tenth of that time
TRIES_N = 3  # times a layout is asked for before it counts as failed
PAUSES_MS = (200, 1000, 4000, 15_000, 60_000)  # before it is started again, longer each time
LOOK_MS = 500
_tokens = count(1)  # of requests; no two are the same, whichever window they come from


@dataclass(frozen=True, slots=True)
class Layout:
    """What is to be engraved: parts of a score, how wide and how large, and how far apart their
    staves stand, in half spaces."""

    score: ScoreFile
    part_ids: Sequence[str]
    instrument: str
    width_px: float
    scale: float = ENGRAVING_SCALE
    staff_gap: int = STAFF_GAP


class Channel(QObject):
    """One place that shows engraved music. Only its newest request counts; answers to older
    ones are dropped. A request stands until all of it has come or it has failed, so that it can be
    asked again of a process that was started anew."""

    laid_out = Signal(int)
    system_ready = Signal(object)
    failed = Signal(str)

    def __init__(self, client: EngravingClient, name: str) -> None:
        super().__init__(client)
        self._client = client
        self.name = name
        self.token = 0
        self.waiting = False
        self._request: dict[str, Any] = {}
        self._systems_n = 0
        self._missing: set[int] = set()
        self._tries_n = 0
        self._lost = False

    def engrave(self, layout: Layout) -> None:
        """Lay out anew."""
        self.token = next(_tokens)
        self.waiting = True
        self._systems_n, self._missing, self._tries_n = 0, set(), 1
        self._lost = False
        self._request = {
            "command": "load",
            "channel": self.name,
            "token": self.token,
            "xml": score_text(layout.score),
            "parts": list(layout.part_ids),
            "clef": instrument(layout.instrument).clef,
            "width": layout.width_px,
            "scale": layout.scale,
            "staff_gap": layout.staff_gap,
        }
        self._client.send(self._request)

    @property
    def patience_s(self) -> float:
        """How long the process may take for one answer to this channel's request."""
        return ANSWER_S + len(self._request.get("xml", "")) / CHARACTERS_A_SECOND

    def take(self, answer: dict[str, Any]) -> None:
        """One answer of the process that is meant for this channel."""
        if answer["token"] != self.token or answer.get("stale"):
            return
        if "error" in answer:
            self.fail(answer["error"])
        elif answer["command"] == "load":
            self._laid_out(answer["systems"])
        else:
            system = System.from_message(answer)
            self._missing.discard(system.index)
            self.waiting = bool(self._missing)
            self.system_ready.emit(system)

    def _laid_out(self, systems_n: int) -> None:
        if systems_n != self._systems_n:  # the first time, or laid out otherwise than before
            self._systems_n, self._missing = systems_n, set(range(systems_n))
            self.laid_out.emit(systems_n)
        self.waiting = bool(self._missing)
        for index in sorted(self._missing):
            self._client.send(
                {"command": "system", "channel": self.name, "token": self.token, "index": index}
            )

    def fail(self, reason: str) -> None:
        """What was asked for will not come."""
        self.waiting, self._lost = False, True
        self.failed.emit(reason)

    def retry(self) -> None:
        """Ask once more for what had failed."""
        if self._lost:
            self.waiting, self._lost, self._tries_n = True, False, 1
            self._client.send(self._request)

    def ask_again(self, reason: str) -> None:
        """The process was started anew: what is still missing is asked of it, a few times."""
        if not self.waiting:
            return
        if self._tries_n >= TRIES_N:
            self.fail(reason)
            return
        self._tries_n += 1
        self._client.send(self._request)


class EngravingClient(QObject):
    """Owns the process and hands its answers to the channels.

    The process is supervised: one that does not answer in time is ended, one that ended is started
    again, each time after a longer pause, and asked again for what is missing. What stays away is
    said.

    Signals:
        trouble: what is the matter; empty when the process answers again.
    """

    trouble = Signal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._buffer = b""
        self._closing = False
        self._ended_n = 0  # times in a row that it ended without an answer
        self._silent = False  # it was ended here, because it did not answer
        self._troubled = False
        self._heard_at = time.monotonic()
        self._channels: dict[str, Channel] = {}
        self._answers: deque[bytes] = deque()
        self._hand_on = QTimer(self, singleShot=True, interval=0)
        self._hand_on.timeout.connect(self._next_answer)
        self._watch = QTimer(self, interval=LOOK_MS)
        self._watch.timeout.connect(self._look)
        self._again = QTimer(self, singleShot=True)
        self._again.timeout.connect(self._start_again)
        self._process = QProcess(self)
        self._process.readyReadStandardOutput.connect(self._read)
        self._process.finished.connect(self._finished)
        self._process.errorOccurred.connect(self._not_started)
        self._start()

    def channel(self, name: str) -> Channel:
        """The channel of a name, made when first asked for."""
        if name not in self._channels:
            self._channels[name] = Channel(self, name)
        return self._channels[name]

    def retry(self) -> None:
        """Ask once more for all that had failed, on whatever screen it is shown."""
        for channel in self._channels.values():
            channel.retry()

    def _start(self) -> None:
        self._buffer = b""
        self._answers.clear()
        self._process.start(*own_command("plectrum.ui.engraving.worker"))

    def send(self, request: dict[str, Any]) -> None:
        """Pass a request on to the process; while there is none it is asked again later."""
        if self._closing:
            return
        if not self._watch.isActive():
            self._heard_at = time.monotonic()
            self._watch.start()
        if self._process.state() == QProcess.ProcessState.NotRunning:
            if not self._again.isActive():
                self._again.start(0)
            return
        self._process.write(json.dumps(request).encode() + b"\n")

    def _read(self) -> None:
        self._buffer += bytes(self._process.readAllStandardOutput().data())
        *lines, self._buffer = self._buffer.split(b"\n")
        if lines:
            self._heard_at = time.monotonic()
        self._answers.extend(lines)
        self._hand_on.start()

    def _next_answer(self) -> None:
        """One answer at a time, so that the window stays live while many come."""
        if not self._answers:
            return
        try:
            answer = json.loads(self._answers.popleft())
            channel = self.channel(answer["channel"])
        except (ValueError, TypeError, KeyError):
            self._end_process()  # it speaks no sense: it is started anew
            return
        self._hand_on.start()
        self._heard_at = time.monotonic()
        self._ended_n = 0
        if self._troubled:
            self._troubled = False
            self.trouble.emit("")
        channel.take(answer)

    @property
    def _waiting(self) -> list[Channel]:
        return [channel for channel in self._channels.values() if channel.waiting]

    def _look(self) -> None:
        """Whether something that is waited for stays away too long."""
        waiting = self._waiting
        if not waiting:
            self._watch.stop()
            return
        silent_s = time.monotonic() - self._heard_at
        running = self._process.state() == QProcess.ProcessState.Running
        if running and not self._answers and silent_s > max(c.patience_s for c in waiting):
            self._say(tr("The music is not being drawn: the engraver does not answer. It is ended "
                      "and started anew. Your work is kept."))  # fmt: skip
            self._silent = True
            self._end_process()

    def _say(self, text: str) -> None:
        self._troubled = True
        self.trouble.emit(text)

    def _end_process(self) -> None:
        self._process.kill()

    def _not_started(self, error: QProcess.ProcessError) -> None:
        if error == QProcess.ProcessError.FailedToStart:
            self._finished()

    def _finished(self) -> None:
        if self._closing:
            return
        silent, self._silent = self._silent, False
        note_event(
            "the engraver was ended: no answer" if silent else "the engraver ended by itself"
        )
        self._ended_n += 1
        pause_ms = PAUSES_MS[min(self._ended_n, len(PAUSES_MS)) - 1]
        if self._ended_n > 1 and not silent and self._waiting:
            self._say(tr("The engraver stops again and again. It is started "
                         "anew after a pause; your "
                      "work is kept."))  # fmt: skip
        self._again.start(pause_ms)

    def _start_again(self) -> None:
        if self._closing:
            return
        self._heard_at = time.monotonic()
        self._start()
        for channel in self._waiting:
            channel.ask_again(tr("the engraver stopped on it again and again, or gave no answer"))
        if self._troubled and self._channels and not self._waiting:
            self._say(tr("The music cannot be drawn: the engraver stays away. Your work is kept; "
                      "View, Draw the music again, tries once more."))  # fmt: skip

    def close(self) -> None:
        """End the process; nothing is drawn after this."""
        self._closing = True
        self._watch.stop()
        self._again.stop()
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
