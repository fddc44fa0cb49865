"""The plans of a document: of its part, and of all its string parts as one."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, replace
from threading import Lock

from plectrum.core.document.choices import Choices
from plectrum.core.document.document import Document
from plectrum.core.errors import PlectrumError
from plectrum.core.planning.ensemble.ensemble import Ensemble, plan_together
from plectrum.core.planning.plan import Plan, make_plan
from plectrum.core.score.model import Part
from plectrum.core.score.scorefile import PartInfo, ScoreFile, read_part

KEPT_FEW = 2  # scores planned as one that are kept: the present, and one before it


@dataclass(frozen=True, eq=False)
class Seated:
    """Parts that are planned as one, with who plays them."""

    infos: tuple[PartInfo, ...]
    parts: tuple[Part, ...]
    choices: tuple[Choices, ...]

    def is_like(self, other: Seated) -> bool:
        """Whether plans of one are plans of the other."""
        same = len(self.parts) == len(other.parts) and self.choices == other.choices
        return same and all(a is b for a, b in zip(self.parts, other.parts, strict=True))


class _Kept:
    """What was made last. Planning in two threads at once makes it twice at worst."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._ensembles: deque[tuple[Seated, Ensemble]] = deque(maxlen=KEPT_FEW)
        self._parts: tuple[ScoreFile | None, dict[tuple[str, str], Part]] = (None, {})

    def part(self, score: ScoreFile, part_id: str, instrument: str) -> Part:
        """A part of a score as it is read; the same object as long as the score is the same."""
        with self._lock:
            if self._parts[0] is not score:
                self._parts = score, {}
            parts = self._parts[1]
        key = part_id, instrument
        known = parts.get(key)
        return known or parts.setdefault(key, read_part(score, part_id, instrument))

    def ensemble(self, seated: Seated) -> Ensemble:
        with self._lock:
            found = next((e for s, e in self._ensembles if s.is_like(seated)), None)
        if found is None:
            found = plan_together(list(zip(seated.parts, seated.choices, strict=True)))
            with self._lock:
                self._ensembles.append((seated, found))
        return found


_kept = _Kept()


def seated_parts(document: Document) -> Seated:
    """The string parts that can be planned, each under the choices of who plays it."""
    infos, parts, choices = [], [], []
    for info in document.string_parts:
        if info.id == document.part_id:
            part, own = document.part, document.choices
        else:
            seat = document.seat_of(info.id)
            try:
                part = _kept.part(document.score, info.id, seat.bow.instrument)
            except PlectrumError:
                continue
            own = replace(
                document.choices,
                instrument=seat.bow.instrument, bow=seat.bow, player=seat.player,
            )  # fmt: skip
            ids = {note.id for note in part.notes}
            own = replace(own, pins={k: pin for k, pin in own.pins.items() if k in ids})
        infos.append(info)
        parts.append(part)
        choices.append(own)
    return Seated(tuple(infos), tuple(parts), tuple(choices))


def ensemble_of(document: Document) -> Ensemble:
    """All string parts of a document planned as one; kept as long as nothing changes."""
    return _kept.ensemble(seated_parts(document))


def plan_of(document: Document) -> Plan:
    """The plan of a document's part: with the other parts, where they are planned together."""
    if document.together and len(document.string_parts) > 1:
        seated = seated_parts(document)
        at = [info.id for info in seated.infos].index(document.part_id)
        return _kept.ensemble(seated).plans[at]
    return make_plan(document.part, document.choices)


def parts_in_order(document: Document) -> tuple[Plan, ...]:
    """The plans of all string parts in the order of the score: as one, or each by itself."""
    if document.together:
        return ensemble_of(document).plans
    seated = seated_parts(document)
    return tuple(make_plan(p, c) for p, c in zip(seated.parts, seated.choices, strict=True))


def plans_beside(document: Document) -> tuple[Plan, ...]:
    """The plans of the other string parts; one that cannot be planned is left out."""
    if len(document.string_parts) < 2:
        return ()
    seated = seated_parts(document)
    others = [k for k, info in enumerate(seated.infos) if info.id != document.part_id]
    if document.together:
        plans = _kept.ensemble(seated).plans
        return tuple(plans[k] for k in others)
    return tuple(make_plan(seated.parts[k], seated.choices[k]) for k in others)
