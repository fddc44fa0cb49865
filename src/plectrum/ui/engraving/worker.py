"""The engraver's own process: requests come as lines of JSON, answers go back the same way.

It lives apart because the engraver holds the interpreter lock while it works and a strange
score can crash it; here neither touches the window.
"""

from __future__ import annotations

import json
import os
import sys
from typing import Any

SCALE = 40
STAFF_GAP = 12  # between staves of one system, in half spaces: the engraver's own


class Engraver:
    """Holds the score that one channel loaded last."""

    def __init__(self) -> None:
        import verovio

        verovio.enableLog(verovio.LOG_OFF)
        self._toolkit = verovio.toolkit()
        self.token = -1

    def load(self, request: dict[str, Any]) -> dict[str, Any]:
        """Lay out one part; the answer counts its systems."""
        from plectrum.ui.engraving.prepare import engraving_copy

        scale = float(request.get("scale", SCALE))
        self._toolkit.setOptions(
            {
                "systemMaxPerPage": 1,
                "adjustPageHeight": True,
                "pageHeight": 60000,
                "pageWidth": int(float(request["width"]) * 100 / scale),
                "scale": scale,
                "breaks": "auto",
                "header": "none",
                "footer": "none",
                "smuflTextFont": "none",
                "svgBoundingBoxes": True,
                "svgFormatRaw": True,
                "xmlIdSeed": 1,
                "pageMarginLeft": 20,
                "pageMarginRight": 20,
                "spacingStaff": int(request.get("staff_gap", STAFF_GAP)),
                "pageMarginTop": 10,
                "pageMarginBottom": 10,
            }
        )
        copy = engraving_copy(
            request["xml"].encode(), request["parts"], tuple(request.get("clef", ("G", 2)))
        )
        if not self._toolkit.loadData(copy):
            raise ValueError("the engraver cannot lay out this score")
        self.token = request["token"]
        return {"systems": self._toolkit.getPageCount()}

    def system(self, index: int) -> dict[str, Any]:
        """One system, from 0."""
        from plectrum.ui.engraving.svg import read_system

        if not 0 <= index < self._toolkit.getPageCount():
            raise ValueError(f"there is no system {index}")
        return read_system(self._toolkit.renderToSVG(index + 1), index)

    def timemap(self) -> list[dict[str, Any]]:
        """Onsets as the engraver counts them, in written order; used to check our own."""
        self._toolkit.setOptions({"expandNever": True})
        done: list[dict[str, Any]] = self._toolkit.renderToTimemap(
            {"includeMeasures": True, "includeRests": True}
        )
        return done


def _answer(engravers: dict[str, Engraver], request: dict[str, Any]) -> dict[str, Any]:
    channel = request.get("channel", "")
    head = {"token": request.get("token", 0), "command": request["command"], "channel": channel}
    try:
        if channel not in engravers:
            engravers[channel] = Engraver()
        engraver = engravers[channel]
        if request["command"] == "load":
            return head | engraver.load(request)
        if request["command"] == "system":
            if request["token"] != engraver.token:
                return head | {"stale": True}
            return head | engraver.system(request["index"])
        raise ValueError(f"unknown command {request['command']!r}")
    except Exception as error:  # whatever goes wrong becomes an answer, the process goes on
        return head | {"error": str(error) or type(error).__name__}


def main() -> None:
    """Serve requests until standard input closes."""
    answers = os.fdopen(os.dup(1), "w", encoding="utf-8")
    os.dup2(2, 1)  # the engraver may print; that must not mix with answers
    engravers = {"": Engraver()}  # so that the first request finds the engraver loaded
    for line in sys.stdin:
        answers.write(json.dumps(_answer(engravers, json.loads(line))) + "\n")
        answers.flush()


if __name__ == "__main__":
    main()
