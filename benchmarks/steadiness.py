"""How steadily a plan keeps contact point and weight, and how near it comes to the dynamics.

Forty fiddle tunes and eight movements of quartets from music21's corpus, as they are printed. A
quick join is one with less than 0.25 s between two notes' onsets on either side of it. Run it by
itself: `python -m benchmarks.steadiness`.
"""

from __future__ import annotations

from collections import Counter
from pathlib import Path

import numpy as np

from plectrum.core.document.choices import Join
from plectrum.core.document.document import Document
from plectrum.core.errors import PlectrumError
from plectrum.core.planning import rules
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import Plan
from plectrum.core.score.model import Note
from plectrum.core.score.reading.opening import open_score

TUNES_N, MOVEMENTS_N = 40, 8
QUICK_S = 0.25
HEAVIER = 1.3


def tunes() -> list[Plan]:
    from music21 import corpus

    from plectrum.core.score.reading.abc_child import convert

    files = sorted(
        p for p in corpus.getCorePaths() if "ryansMammoth" in str(p) and p.suffix == ".abc"
    )
    chosen = files[3 :: len(files) // TUNES_N][:TUNES_N]
    return [_plan(convert(p.read_bytes()), p) for p in chosen]


def _plan(data: bytes, path: Path) -> Plan:
    return plan_of(Document.from_score(open_score(data, path.name)))


def movements() -> list[Plan]:
    """The four parts of eight movements."""
    from music21 import corpus

    files = sorted(
        p
        for p in corpus.getCorePaths()
        if p.suffix in (".mxl", ".xml")
        and any(name in str(p) for name in ("haydn", "mozart", "beethoven"))
    )
    found: list[Plan] = []
    used = 0
    for path in files:
        if used == MOVEMENTS_N:
            break
        try:
            score = open_score(path.read_bytes(), path.name)
            ids = [p.id for p in score.parts]
            if len(ids) != 4:
                continue
            found += [plan_of(Document.from_score(score, part_id)) for part_id in ids]
        except PlectrumError:
            continue
        used += 1
    return found


def count(plan: Plan, found: Counter[str], errors: list[float]) -> None:
    """Add one plan's joins and loudness errors."""
    contact = plan.contact
    notes = [p for p in plan.notes if p is not None]
    errors += np.abs(contact.left_over_db).tolist()
    inside = (contact.weight_n > contact.weight_min_n) & (contact.weight_n < contact.weight_max_n)
    found["outside"] += int((~inside).sum())
    found["notes"] += len(notes)
    for k in range(1, len(notes)):
        moved = contact.lane[k] != contact.lane[k - 1]
        ratio = contact.weight_n[k] / contact.weight_n[k - 1]
        found["joins"] += 1
        heavier = bool(max(ratio, 1 / ratio) > HEAVIER)
        found["heavier"] += heavier
        if not _asked(notes[k - 1].note, notes[k].note):
            found["unasked"] += 1
            found["heavier unasked"] += heavier
        if min(notes[k].note.duration_s, notes[k - 1].note.duration_s) < QUICK_S:
            found["quick"] += 1
            found["quick moved"] += bool(moved)
        if notes[k].join is Join.SLUR:
            found["slurred"] += 1
            found["slurred moved"] += bool(moved)


def _asked(before: Note, note: Note) -> bool:
    """Whether a rest, a new dynamic or a sign at a note asks for another weight."""
    new = abs(note.level_db - before.level_db) >= rules.NEW_LEVEL_DB
    rest = note.gap_before_s >= rules.MOVING_REST_S
    return new or rest or bool(note.articulations | before.articulations)


def run() -> None:
    for name, plans in (("fiddle tunes", tunes()), ("quartet parts", movements())):
        found: Counter[str] = Counter()
        errors: list[float] = []
        for plan in plans:
            count(plan, found, errors)
        print(
            f"contact, {len(plans)} {name}, {found['notes']} notes: the lane changes at "
            f"{100 * found['quick moved'] / max(found['quick'], 1):.1f} % of quick joins and "
            f"{100 * found['slurred moved'] / max(found['slurred'], 1):.1f} % inside slurs; weight "
            f"over 1.3 times at {100 * found['heavier'] / found['joins']:.1f} % of joins, "
            f"{100 * found['heavier unasked'] / found['unasked']:.1f} % of those where nothing "
            "asks for it; "
            f"{found['outside']} outside the limits; loudness off by {np.mean(errors):.2f} dB in "
            "the mean"
        )


if __name__ == "__main__":
    run()
