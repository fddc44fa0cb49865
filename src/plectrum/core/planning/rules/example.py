"""What an example of a rule is: a small tune whose plan the rule changes. Most were found by trying
(`scripts/find_examples.py` writes `examples.json`)."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from importlib.resources import files


@dataclass(frozen=True, slots=True)
class Example:
    """A small tune that a rule decides.

    Attributes:
        music: bars split by "|", a note as PITCH*QUARTERS and signs: ( ) slur, . staccato,
            > accent, u d bow marks; [p] dynamics and [<] [x] hairpins before it.
        see: what of the plan the rule changes: "strings", "lengths", "places", "stops",
            "crossings", "lifts" or "pairs" of the units; "bows"; "touch", the contact points and
            weights; "together", the bows of both parts; "warned", what is out of reach; "slurs",
            what each costs; "causes" of faults of sound; "window", the tempo window.
        metre, bpm, instrument, player, school: as they are set.
        positions: of the left hand, in place of the player's own.
        kind: an articulation all notes have, "breath" for the ends of phrases, "repeat" for a
            first bar that is repeated, "pinned" or "together" for a first note that the teacher,
            or the other part, has up, "pickup" for a first bar that is one, "many slurs" for
            a slider to the right.
        pin_string, written_finger: of the first note.
        other: the music of a second part, for the player called `other_player`.
    """

    music: str = ""
    see: str = ""
    metre: str = "4/4"
    bpm: float = 80.0
    instrument: str = "violin"
    player: str = "steady"
    school: Mapping[str, str] = field(default_factory=dict)
    positions: tuple[int, ...] = ()
    kind: str = ""
    pin_string: int | None = None
    written_finger: str = ""
    other: str = ""
    other_player: str = "steady"


def _found() -> dict[str, Example]:
    """Examples by the name of the rule."""
    written = json.loads((files(__package__) / "examples.json").read_text("utf-8"))
    return {
        name: Example(**row | {"positions": tuple(row.get("positions", ()))})
        for name, row in written.items()
    }


FOUND = _found()
