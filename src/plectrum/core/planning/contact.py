"""Contact point, weight, hand and arm of every note, as arrays.

What it answers: how far from the bridge the hair runs, how heavy it should be there and
between which limits, what the hand must add to the bow's own weight, and where the arm is.

Conventions: x is the distance from the bridge in mm, L the sounding length in mm, β = x/L,
v the bow speed, Z the string's impedance in kg/s, forces in N. Lanes 1 (bridge) to 5
(fingerboard) are equal parts of the way from bridge to fingerboard (own definition).

Reference: J. C. Schelleng, "The bowed string and the player", J. Acoust. Soc. Am. 53, 1973:
F_max = 2 Z v / (Δμ β), F_min = Z² v / (2 R Δμ β²), with values quoted from memory. Departure:
the loss R is scaled with the strings' impedance beyond the violin, else the limits of the bass
would cross. The string's level follows v / x, 20 log10 of it in dB.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from plectrum.core.instrument.specification import FRICTION_DIFFERENCE, GRAVITY_M_S2, Instrument
from plectrum.core.planning import rules
from plectrum.core.planning.planned import PlannedPart
from plectrum.core.planning.strokes.amounts import ACCENTED, amounts_of, school_range, string_gain
from plectrum.core.player.school import AmountSchool, DynamicsSchool
from plectrum.core.score.model import Articulation

Floats = NDArray[np.float64]
LANES_N = 5
MIDDLE_LANE = 3


def force_max_n(z_kg_s: Floats, v_m_s: Floats, beta: Floats) -> Floats:
    """Schelleng's upper limit: heavier than this chokes."""
    limit: Floats = 2.0 * z_kg_s * v_m_s / (FRICTION_DIFFERENCE * beta)
    return limit


def force_min_n(z_kg_s: Floats, v_m_s: Floats, beta: Floats, loss_kg_s: float) -> Floats:
    """Schelleng's lower limit: lighter than this whistles."""
    limit: Floats = z_kg_s**2 * v_m_s / (2.0 * loss_kg_s * FRICTION_DIFFERENCE * beta**2)
    return limit


def lane_centre_mm(own: Instrument, lane: Floats) -> Floats:
    """Distance of a lane's middle from the bridge."""
    centre: Floats = (lane - 0.5) / LANES_N * own.bridge_to_fingerboard_mm
    return centre


@dataclass(frozen=True)
class Contact:
    """One row a bowed note; all arrays have shape (N,), in the order of `notes`.

    Attributes:
        notes: indices of the notes.
        lane: 1 to 5; contact_mm and beta follow from it.
        weight_n: recommended, between weight_min_n and weight_max_n.
        share: where between the limits it lies, 0 light to 1 heavy.
        left_over_db: what the lanes could not give of the dynamic; asked of weight.
        hand_nmm: torque of the hand at the middle of the note; negative: little finger.
        arm_deg: change of the arm's level since the note before; elbow_mm its way.
    """

    notes: NDArray[np.intp]
    lane: NDArray[np.intp]
    contact_mm: Floats
    beta: Floats
    speed_m_s: Floats
    impedance_kg_s: Floats
    weight_n: Floats
    weight_min_n: Floats
    weight_max_n: Floats
    share: Floats
    left_over_db: Floats
    hand_nmm: Floats
    arm_deg: Floats
    elbow_mm: Floats


@dataclass(frozen=True)
class _Written:
    """What of the arrays neither strokes nor pins change; kept from plan to plan."""

    index: NDArray[np.intp]
    level_db: Floats
    impedance: Floats
    length_mm: Floats
    string_gain: Floats
    string_level: Floats
    shift: Floats
    row_of_id: Mapping[str, int]


def _written(plan: PlannedPart) -> _Written:
    own = plan.instrument
    notes = [p.note for p in plan.notes if p is not None]
    fingers = [plan.fingered[n.index] for n in notes]
    heaviest = [max((own.impedances_kg_s[s] for s in f.strings), default=0.0) for f in fingers]
    stopped = [f.grip.main.semitones if f.grip is not None else 0 for f in fingers]
    return _Written(
        np.array([n.index for n in notes], dtype=np.intp),
        np.array([n.level_db for n in notes]),
        np.array([z or own.impedances_kg_s[-1] for z in heaviest]),
        own.string_length_mm * 2.0 ** (-np.array(stopped, dtype=float) / 12),
        np.array([string_gain(own, f.strings) for f in fingers]),
        np.array([f.level or 0 for f in fingers], dtype=float),
        np.array([_articulation_shift(n.articulations) for n in notes]),
        {n.id: row for row, n in enumerate(notes)},
    )


class _Rows:
    """What the arrays are made of, note by note."""

    def __init__(self, plan: PlannedPart) -> None:
        kept = amounts_of(plan.part, plan.choices).kept(plan.fingered)
        if "contact" not in kept:
            kept["contact"] = _written(plan)
        written: _Written = kept["contact"]
        self.index, self.level_db = written.index, written.level_db
        self.impedance, self.length_mm = written.impedance, written.length_mm
        self.string_gain, self.string_level = written.string_gain, written.string_level
        self.shift = written.shift
        bowed = [(p.start, p.end, p.speed_mm_s) for p in plan.notes if p is not None]
        start, end, speed = np.array(bowed).reshape(-1, 3).T
        self.speed = np.maximum(speed, 1.0) / 1000
        self.place = (start + end) / 2
        self.pinned_lane = np.zeros(len(bowed), dtype=np.int64)
        for note_id, pin in plan.choices.pins.items():
            if pin.lane and note_id in written.row_of_id:
                self.pinned_lane[written.row_of_id[note_id]] = pin.lane


def _articulation_shift(articulations: frozenset[Articulation]) -> float:
    if not articulations:
        return 0.0
    shift = rules.ACCENT_SHIFT if articulations & ACCENTED else 0.0
    if Articulation.STACCATO in articulations:
        shift += rules.STOPPED_SHIFT
    return shift


def contact_of(plan: PlannedPart) -> Contact:
    """Contact, weight, hand and arm of a whole plan."""
    own, rows = plan.instrument, _Rows(plan)
    lane, left_over = _lanes(plan, rows)
    contact_mm = lane_centre_mm(own, lane.astype(float))
    beta = contact_mm / rows.length_mm
    low = force_min_n(rows.impedance, rows.speed, beta, own.loss_kg_s)
    high = force_max_n(rows.impedance, rows.speed, beta)
    share = np.clip(
        rules.NEUTRAL + rules.PER_DB * left_over + rows.shift, rules.EDGE, 1 - rules.EDGE
    )
    weight = low ** (1 - share) * high**share
    bow = plan.choices.bow
    own_torque = bow.mass_g / 1000 * GRAVITY_M_S2 * bow.balance * bow.hair_mm
    hand = weight * rows.place * bow.hair_mm - own_torque
    arm, elbow = _arm(own, rows, bow.hair_mm)
    return Contact(
        rows.index,
        lane,
        contact_mm,
        beta,
        rows.speed,
        rows.impedance,
        weight,
        low,
        high,
        share,
        left_over,
        hand,
        arm,
        elbow,
    )


def _lanes(plan: PlannedPart, rows: _Rows) -> tuple[NDArray[np.intp], Floats]:
    """The lane pinned, else the nearest the player may use, and the dB it leaves to weight."""
    own = plan.instrument
    per_mm = reference_ratio(plan)
    if plan.choices.school.dynamics is DynamicsSchool.AMOUNT:
        allowed = np.array([min(plan.player.lanes, key=lambda k: (abs(k - MIDDLE_LANE), k))])
    else:
        allowed = np.array(sorted(set(plan.player.lanes)))
    per_mm_here = per_mm * rows.string_gain  # a lower string sounds mf at a slower bow
    wanted_mm = rows.speed / (per_mm_here * 10 ** (rows.level_db / 20))
    centres = lane_centre_mm(own, allowed.astype(float))
    nearest = np.abs(np.log(wanted_mm[:, None] / centres[None, :])).argmin(axis=1)
    lane = np.where(rows.pinned_lane > 0, rows.pinned_lane, allowed[nearest]).astype(np.intp)
    given_db = 20 * np.log10(rows.speed / (lane_centre_mm(own, lane.astype(float)) * per_mm_here))
    return lane, rows.level_db - given_db


def reference_ratio(plan: PlannedPart) -> float:
    """v / x in m/s per mm that sounds mf (own default).

    It is the player's comfortable speed in the middle lane; in the school of note values, where
    a beat takes the whole bow, it is a whole bow a beat.
    """
    middle_mm = float(lane_centre_mm(plan.instrument, np.array(float(MIDDLE_LANE))))
    speed_mm_s = plan.player.comfortable_mm_s
    if plan.choices.school.amount is AmountSchool.VALUES and plan.part.notes:
        low, high = school_range(plan.choices)
        speed_mm_s = (high - low) * plan.choices.bow.hair_mm / plan.part.notes[0].beat_s
    return speed_mm_s / 1000 / middle_mm


def _arm(own: Instrument, rows: _Rows, hair_mm: float) -> tuple[Floats, Floats]:
    """Change of the arm's level in degrees and the elbow's way in mm, from note to note.

    Neighbouring strings stand apart by spacing over bridge radius, two levels by half of it.
    """
    per_level = own.string_spacing_mm / own.bridge_radius_mm / 2
    change = np.zeros_like(rows.string_level)
    known = (rows.string_level[1:] > 0) & (rows.string_level[:-1] > 0)
    change[1:] = np.where(known, np.diff(rows.string_level), 0.0)
    radians = change * per_level
    return np.degrees(radians), np.abs(radians) * rows.place * hair_mm * rules.ELBOW_SHARE
