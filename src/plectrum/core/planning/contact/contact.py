"""Contact point, weight, hand and arm of every bowed note of a plan, as arrays.

One exact minimum over contact points and weights, frame by frame: see `touch_costs`.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from plectrum.core.instrument.specification import GRAVITY_M_S2, Instrument
from plectrum.core.planning import rules
from plectrum.core.planning.contact import kernels
from plectrum.core.planning.contact.frames import Bowed, Frames, Written, bowed, frames_of, written
from plectrum.core.planning.contact.touch_costs import (
    OwnCosts,
    Playable,
    move_costs,
    nearest_lane,
    own_costs,
    playable,
    quarters_allowed,
)
from plectrum.core.planning.strokes.amounts import amounts_of
from plectrum.core.planning.strokes.planned import PlannedPart

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Touched:
    """What the bow does to the string at one end of each note; arrays of shape (N,)."""

    contact_mm: Floats
    weight_n: Floats
    share: Floats
    speed_m_s: Floats


@dataclass(frozen=True)
class Contact:
    """One row a bowed note; all arrays have shape (N,), in the order of `notes`.

    Attributes:
        notes: indices of the notes.
        lane: 1 to 5, of the note's body; contact_mm and beta are where the hair runs in it.
        weight_n: recommended, with the limits weight_min_n and weight_max_n there.
        share: where between the limits it lies, 0 light to 1 heavy.
        start, end: the same at the note's beginning and end, where it grows, fades or bites.
        left_over_db: wanted loudness less what comes out; positive where it is too soft.
        hand_nmm: torque of the hand at the middle of the note; negative: little finger.
        arm_deg: change of the arm's level since the note before; elbow_mm its way.
        reference_per_mm: speed over contact in m/s per mm that sounds mf.
    """

    notes: Ints
    lane: Ints
    contact_mm: Floats
    beta: Floats
    speed_m_s: Floats
    impedance_kg_s: Floats
    weight_n: Floats
    weight_min_n: Floats
    weight_max_n: Floats
    share: Floats
    start: Touched
    end: Touched
    left_over_db: Floats
    hand_nmm: Floats
    arm_deg: Floats
    elbow_mm: Floats
    reference_per_mm: float


def contact_of(plan: PlannedPart) -> Contact:
    """Contact, weight, hand and arm of a whole plan."""
    rows = written(plan)
    now = bowed(plan, rows)
    f = frames_of(plan, rows, now)
    quarters = quarters_allowed(plan, now.pinned_lane)
    p = playable(plan, f, quarters)
    moves, leans = move_costs(f)
    kept = amounts_of(plan.part, plan.choices).kept(plan.fingered).setdefault("touch", {})
    before: Settled | None = kept.get("settled")
    own = own_costs(plan, f, p, quarters, before.own if before is not None else None)
    changed, table = own.changed.copy(), None
    if before is not None and before.moves.shape == moves.shape and not changed.all():
        changed |= (moves != before.moves).any(axis=1) | (leans != before.leans).any(axis=1)
        table = before.table
    path, table = kernels.settle(
        own.costs, np.diff(quarters), moves, leans, changed, own.costs if table is None else table
    )
    kept["settled"] = Settled(own, moves, leans, table)
    return _contact(plan, (rows, now), f, p, quarters, path)


@dataclass(frozen=True)
class Settled:
    """What the way through the frames was found with, to go on from where a plan like it is the
    same; nothing is written into it. Rows of `table` may lack what all their costs share."""

    own: OwnCosts
    moves: Ints
    leans: Ints
    table: Ints


def _contact(
    plan: PlannedPart,
    notes: tuple[Written, Bowed],
    f: Frames,
    p: Playable,
    quarters: Ints,
    path: Ints,
) -> Contact:
    """The path of the frames, gathered note by note; the middle third, or the rest after a
    bite, stands for a note."""
    rows, now = notes
    r = np.arange(len(f.row))
    place = path[:, 0]
    weight = p.weights_n[path[:, 1]]
    low, high = p.low_n[r, place], p.high_n[r, place]
    share = np.log(weight / low) / np.log(high / low)
    given = p.given_db[r, place] + rules.WEIGHT_DB * (share - p.neutral)
    body = np.minimum(f.first + 1, f.last)
    ends = [
        Touched(p.contact_mm[place][at], weight[at], share[at], f.speed_m_s[at])
        for at in (f.first, f.last)
    ]
    contact_mm = p.contact_mm[place][body]
    bow, own = plan.choices.bow, plan.instrument
    middle = (now.start + now.end) / 2
    own_torque = bow.mass_g / 1000 * GRAVITY_M_S2 * bow.balance * bow.hair_mm
    arm, elbow = _arm(own, rows.string_level, middle * bow.hair_mm)
    return Contact(
        notes=rows.index,
        lane=nearest_lane(quarters[place][body]),
        contact_mm=contact_mm,
        beta=contact_mm / rows.length_mm,
        speed_m_s=now.speed_m_s,
        impedance_kg_s=rows.impedance,
        weight_n=weight[body],
        weight_min_n=low[body],
        weight_max_n=high[body],
        share=share[body],
        start=ends[0],
        end=ends[1],
        left_over_db=_means(f, (f.level_db - given) * ~f.bites),
        hand_nmm=weight[body] * middle * bow.hair_mm - own_torque,
        arm_deg=arm,
        elbow_mm=elbow,
        reference_per_mm=p.reference_per_mm,
    )


def _means(f: Frames, values: Floats) -> Floats:
    """The mean of what holds in each frame, note by note."""
    if not len(f.first):
        return np.zeros(0)
    sums = np.add.reduceat(values * f.seconds, f.first)
    means: Floats = sums / np.add.reduceat(f.seconds, f.first)
    return means


def _arm(own: Instrument, string_level: Floats, place_mm: Floats) -> tuple[Floats, Floats]:
    """Change of the arm's level in degrees and the elbow's way in mm, from note to note.

    Neighbouring strings stand apart by spacing over bridge radius, two levels by half of it.
    """
    per_level = own.string_spacing_mm / own.bridge_radius_mm / 2
    change = np.zeros_like(string_level)
    known = (string_level[1:] > 0) & (string_level[:-1] > 0)
    change[1:] = np.where(known, np.diff(string_level), 0.0)
    radians = change * per_level
    return np.degrees(radians), np.abs(radians) * place_mm * rules.ELBOW_SHARE
