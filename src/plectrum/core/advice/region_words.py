"""Where on the bow a part plays, said only where it matters: as on a player's page."""

from __future__ import annotations

from plectrum.core.planning.plan import Plan
from plectrum.core.planning.rules import CELLS_N
from plectrum.core.planning.strokes.problem import RETAKE, Step
from plectrum.core.wording import tr

WHOLE = 0.7  # of the bow: what counts as a whole bow (own default)
HALF = 0.1  # of the bow: the middle of a stroke lies so far to one side, to be in a half
STAYS_N = 3  # strokes in one region before it is said


def region_of(step: Step) -> str:
    """The region of one stroke, in words."""
    if step.length >= WHOLE * CELLS_N:
        return tr("whole bow")
    middle = (step.start + step.end) / (2 * CELLS_N)
    if abs(middle - 0.5) <= HALF:
        return tr("middle")
    return tr("lower half") if middle < 0.5 else tr("upper half")


def places_that_matter(plan: Plan) -> dict[int, str]:
    """Note index to words: where the piece begins, where the bow is set down again, where the
    teacher has said a place, and where the part moves to another region and stays."""
    found: dict[int, str] = {}
    regions = [region_of(step) for step in plan.steps]
    last = ""
    for k, (unit, step) in enumerate(zip(plan.units, plan.steps, strict=True)):
        said = plan.own_pin(unit).where_words
        stays = len(set(regions[k : k + STAYS_N])) == 1 and k + STAYS_N <= len(regions)
        if said:
            found[unit.first] = ", ".join(said)
        elif k == 0 or (step.join == RETAKE and regions[k] != last) or stays:
            if regions[k] != last or step.join == RETAKE:
                found[unit.first] = regions[k]
            last = regions[k]
    pins = plan.choices.pins
    for note in plan.part.notes:
        if note.id in pins and (words := pins[note.id].where_words):
            found.setdefault(note.index, ", ".join(words))
    return found
