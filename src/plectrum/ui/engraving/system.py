"""One engraved line of music, with the places of its notes and bars, in pixels."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True, slots=True)
class System:
    """An engraved system.

    Attributes:
        svg: the picture, in a form QtSvg draws completely.
        notes: id to (x, y, width, height) of the notehead.
        bars: bar index to (left, right) x.
        staves: of each staff y of its top and bottom line, and of the highest and lowest that
            is drawn on it.
    """

    index: int
    svg: bytes
    width: float
    height: float
    notes: dict[str, tuple[float, float, float, float]]
    bars: dict[int, tuple[float, float]]
    staves: tuple[tuple[float, float, float, float], ...]

    @property
    def staff(self) -> tuple[float, float]:
        """y of the top and bottom line of the first staff."""
        return self.staves[0][:2]

    @classmethod
    def from_message(cls, message: dict[str, Any]) -> System:
        """Build from what the engraver's process sent."""
        return cls(
            index=message["index"],
            svg=message["svg"].encode(),
            width=message["width"],
            height=message["height"],
            notes={k: (v[0], v[1], v[2], v[3]) for k, v in message["notes"].items()},
            bars={int(k): (v[0], v[1]) for k, v in message["bars"].items()},
            staves=tuple((s[0], s[1], s[2], s[3]) for s in message["staves"]),
        )
