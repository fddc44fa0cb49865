"""Contact point, weight, hand and arm of every bowed note of a plan, as arrays.

One exact minimum over contact points and weights, frame by frame: see `touch_costs`.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

from plectrum.core.instrument.specification import GRAVITY_M_S2, Instrument
from plectrum.core.planning import rules
from plectrum.core.planning.contact.frames import Bowed, Frames, Written, bowed, written
from plectrum.core.planning.contact.settled import Settled
from plectrum.core.planning.contact.touch_costs import nearest_lane
from plectrum.core.planning.strokes.kept import kept_of
from plectrum.core.planning.strokes.planned import PlannedNote, PlannedPart

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


_Rows = TypeVar("_Rows", Touched, Contact)


def _spliced(whole: _Rows, at: Ints, part: _Rows) -> _Rows:
    """The same with other values for some notes."""
    columns: dict[str, Any] = {}
    for field in fields(whole):
        old, new = getattr(whole, field.name), getattr(part, field.name)
        if isinstance(old, Touched):
            columns[field.name] = _spliced(old, at, new)
        elif isinstance(old, np.ndarray):
            columns[field.name] = column = old.copy()
            column[at] = new
    return replace(whole, **columns)


@dataclass(frozen=True)
class _Found:
    """The contact of the plan before, and what it was found with."""

    notes: Sequence[PlannedNote | None]
    now: Bowed
    settled: Settled
    contact: Contact


def contact_of(plan: PlannedPart) -> Contact:
    """Contact, weight, hand and arm of a whole plan."""
    rows = written(plan)
    kept = kept_of(plan.part, plan.choices, plan.fingered)
    # taken out while it is written over, so that two threads never share it
    before: _Found | None = kept.pop("touch", None)
    now = bowed(plan, rows, None if before is None else (before.notes, before.now))
    contact = None if before is None else _gone_on(plan, rows, now, before)
    if before is None or contact is None:
        settled = Settled.anew(plan, rows, now)
        contact = _gathered(plan, rows, now, settled, None)
    else:
        settled = before.settled
    kept["touch"] = _Found(plan.notes, now, settled, contact)
    return contact


def _gone_on(plan: PlannedPart, rows: Written, now: Bowed, before: _Found) -> Contact | None:
    """The contact of a plan from that of the one before; None if it must be found anew."""
    at = before.settled.go_on(plan, rows, now, before.now)
    if at is None or not len(at):
        return None if at is None else before.contact
    return _spliced(before.contact, at, _gathered(plan, rows, now, before.settled, at))


def _gathered(
    plan: PlannedPart, rows: Written, now: Bowed, settled: Settled, some: Ints | None
) -> Contact:
    """The way through the frames of some notes, or of all, gathered note by note; the middle third,
    or the rest after a bite, stands for a note."""
    f, p, path = settled.frames, settled.playable, settled.path
    at: Ints | slice = slice(None)
    if some is not None:
        frames, at = f.at(some), some
        f, p, path = f.of_rows(some), p.some(frames), path[frames]
    quarters = settled.quarters
    r = np.arange(len(f.row))
    place = path[:, 0]
    weight = p.weights_n[path[:, 1]]
    low, high = p.low_n[r, place], p.high_n[r, place]
    share = np.log(weight / low) / np.log(high / low)
    given = p.given_db[r, place] + rules.WEIGHT_DB * (share - p.neutral)
    body = np.minimum(f.first + 1, f.last)
    ends = [
        Touched(p.contact_mm[place][end], weight[end], share[end], f.speed_m_s[end])
        for end in (f.first, f.last)
    ]
    contact_mm = p.contact_mm[place][body]
    bow = plan.choices.bow
    middle_mm = (now.start + now.end)[at] / 2 * bow.hair_mm
    own_torque = bow.mass_g / 1000 * GRAVITY_M_S2 * bow.balance * bow.hair_mm
    arm, elbow = _arm(plan.instrument, rows.string_level, middle_mm, at)
    return Contact(
        notes=rows.index[at],
        lane=nearest_lane(quarters[place][body]),
        contact_mm=contact_mm,
        beta=contact_mm / rows.length_mm[at],
        speed_m_s=now.speed_m_s[at],
        impedance_kg_s=rows.impedance[at],
        weight_n=weight[body],
        weight_min_n=low[body],
        weight_max_n=high[body],
        share=share[body],
        start=ends[0],
        end=ends[1],
        left_over_db=_means(f, (f.level_db - given) * ~f.bites),
        hand_nmm=weight[body] * middle_mm - own_torque,
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


def _arm(
    own: Instrument, string_level: Floats, place_mm: Floats, at: Ints | slice
) -> tuple[Floats, Floats]:
    """Change of the arm's level in degrees and the elbow's way in mm, from note to note.

    Neighbouring strings stand apart by spacing over bridge radius, two levels by half of it.

    Args:
        string_level: of all notes; place_mm: of those at a place.
    """
    per_level = own.string_spacing_mm / own.bridge_radius_mm / 2
    level = string_level[at]
    before = np.append(string_level[:1], string_level[:-1])[at]  # the first is its own
    known = (level > 0) & (before > 0)
    radians = np.where(known, level - before, 0.0) * per_level
    return np.degrees(radians), np.abs(radians) * place_mm * rules.ELBOW_SHARE
