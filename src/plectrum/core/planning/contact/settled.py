"""The way of contact point and weight through a plan: found anew, or from the plan before.

A press changes few notes. What was found for the plan before is then written over where it
differs: frames, their costs, and the table of the exact minimum.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from plectrum.core.planning.contact import kernels
from plectrum.core.planning.contact.frames import Bowed, Floats, Frames, Ints, Written, frames_of
from plectrum.core.planning.contact.touch_costs import (
    Playable,
    inputs_of,
    move_costs,
    own_costs,
    playable,
    quarters_allowed,
)
from plectrum.core.planning.strokes.planned import PlannedPart
from plectrum.core.player.school import AmountSchool


@dataclass(frozen=True)
class Settled:
    """What the way through the F frames of a plan was found with; its arrays are written over.

    Attributes:
        quarters: the contact points to choose from, shape (X,), in quarters of a lane.
        inputs: what the frames' own costs depend on, a row each; own: those costs, (F, X, U).
        moves, leans: of contact and weight into each frame, shape (F, 2).
        table: see `kernels.settle`; path: contact point and weight of each frame, shape (F, 2).
    """

    quarters: Ints
    frames: Frames
    playable: Playable
    inputs: Floats
    own: Ints
    moves: Ints
    leans: Ints
    table: Ints
    path: Ints

    @classmethod
    def anew(cls, plan: PlannedPart, rows: Written, now: Bowed) -> Settled:
        """Find the way through a plan."""
        frames = frames_of(plan, rows, now)
        quarters = np.array(quarters_allowed(plan, now.pinned_lane))
        can = playable(plan, frames, quarters)
        own = own_costs(plan, frames, can, quarters)
        every = np.ones(len(own), dtype=bool)
        table, path = np.zeros_like(own), np.zeros((len(own), 2), dtype=np.int64)
        moves, leans = move_costs(frames)
        found = cls(quarters, frames, can, inputs_of(frames), own, moves, leans, table, path)
        found._settle(every)
        return found

    def _settle(self, changed: np.ndarray) -> None:
        apart = np.diff(self.quarters)
        kernels.settle(self.own, apart, self.moves, self.leans, changed, self.table, self.path)

    def go_on(self, plan: PlannedPart, rows: Written, now: Bowed, before: Bowed) -> Ints | None:
        """Bring this up to date for a plan of the same notes.

        Args:
            now, before: what the bow does in it, and in the plan this was found for.

        Returns:
            The notes whose frames or way may be others; None, with nothing touched, where the way
            must be found anew: one note can change what all others mean by loud.
        """
        if plan.choices.school.amount is not AmountSchool.STEADY:
            return None
        differs = now.differs(before)
        if not differs.any():
            return np.zeros(0, dtype=np.int64)
        differs[1:] |= differs[:-1].copy()  # the note after follows other strokes
        part = np.flatnonzero(differs)
        frames = _frames_in(plan, rows, now, differs)
        same = np.array_equal(self.frames.counts(part), frames.last - frames.first + 1)
        if not same or tuple(self.quarters.tolist()) != quarters_allowed(plan, now.pinned_lane):
            return None
        changed = self._put(plan, frames, self.frames.at(part))
        path = self.path.copy()
        self._settle(changed)
        differs[self.frames.row[(path != self.path).any(axis=1)]] = True
        return np.flatnonzero(differs)

    def _put(self, plan: PlannedPart, frames: Frames, at: Ints) -> np.ndarray:
        """Write frames over those at a place; which of all frames have other costs."""
        can = playable(plan, frames, self.quarters)
        self.frames.put(at, frames)
        self.playable.put(at, can)
        moves, leans = move_costs(frames)
        inputs = inputs_of(frames)
        other = (inputs != self.inputs[at]).any(axis=1)
        if other.any():
            which = np.flatnonzero(other)
            costs = own_costs(plan, frames.some(which), can.some(which), self.quarters)
            self.own[at[which]] = costs
        other |= (moves != self.moves[at]).any(axis=1) | (leans != self.leans[at]).any(axis=1)
        self.inputs[at], self.moves[at], self.leans[at] = inputs, moves, leans
        changed = np.zeros(len(self.own), dtype=bool)
        changed[at] = other
        return changed


def _frames_in(plan: PlannedPart, rows: Written, now: Bowed, wanted: np.ndarray) -> Frames:
    """The frames of some notes; the note before has a say in each."""
    with_before = wanted.copy()
    with_before[:-1] |= wanted[1:]
    wider = np.flatnonzero(with_before)
    frames = frames_of(plan, rows.of_rows(wider), now.of_rows(wider))
    return frames.of_rows(np.flatnonzero(wanted[wider]))
