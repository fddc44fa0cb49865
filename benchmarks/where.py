"""Where on the bow, how much, in which lane and when the arm crosses: agreed ranges, and plans.

The ranges in `where.json` are common practice with no source, wide where teachers differ, and were
written before any plan was looked at: name, instrument, player, tempo of the quarter, metre, tune
(see `tests/tunes.py`), note, what is measured, least and most. "middle" is the middle of the note's
stroke and "length" its length, "bow" that of the whole bow, as fractions of the hair;
"crossing_s" how long before the note the arm begins to move, and "crossing_mm_s" how fast the bow
moves then.
"""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
from tests.tunes import tune_plan

from plectrum.core.planning.plan import Plan
from plectrum.core.playing.motion import Motion
from plectrum.core.playing.performance import Performance, Rehearsal

GOAL = 0.95
LOOKED_BACK_S, STEP_S = 1.5, 0.005


def _crossing(plan: Plan, note: int) -> tuple[float, float]:
    """Seconds before a note at which the bow's level begins to change, and its speed there."""
    performance = Performance(plan, Rehearsal(count_in=False))
    motion = Motion(performance)
    onset_s = performance.notes[note].onset_s
    times = np.arange(max(0.0, onset_s - LOOKED_BACK_S), onset_s, STEP_S)
    levels = np.array([motion.at(t).level for t in times])
    before = performance.notes[note - 1].level
    moves = np.flatnonzero(np.abs(levels - before) > 1e-6)
    last = np.flatnonzero(np.abs(levels - before) <= 1e-6).max(initial=0)
    begins = moves[moves > last]
    at_s = times[begins[0]] if len(begins) else onset_s
    return onset_s - at_s, abs(motion.at(at_s).speed_mm_s)


def measured(plan: Plan, note: int, what: str) -> float:
    """One number of a plan."""
    planned = plan.notes[note]
    if planned is None:
        raise ValueError("a plucked note has no bow")
    if what == "middle":
        return (planned.start + planned.end) / 2
    if what == "length":
        return abs(planned.end - planned.start)
    if what == "bow":
        start, end = plan.stroke_ends(planned)
        return abs(end - start)
    if what == "lane":
        return float(plan.contact.lane[plan.contact_rows[note]])
    seconds, speed = _crossing(plan, note)
    return seconds if what == "crossing_s" else speed


def run() -> None:
    rows = json.loads(Path(__file__).with_suffix(".json").read_text("utf-8"))
    outside = []
    for name, instrument, player, bpm, metre, music, note, what, low, high in rows:
        plan = tune_plan(music, metre, instrument=instrument, player=player, bpm=bpm)
        found = measured(plan, note, what)
        if not low - 1e-9 <= found <= high + 1e-9:
            outside.append(
                f"  {instrument}, {player}: {name}: {what} {found:.2f}, not {low} to {high}"
            )
    share = 1 - len(outside) / len(rows)
    print(f"where and how much: {100 * share:.1f} % of {len(rows)} inside (goal {100 * GOAL:g})")
    print("\n".join(outside))


if __name__ == "__main__":
    run()
