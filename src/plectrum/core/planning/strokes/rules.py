"""Every weight of the planner, in one table. All are own defaults, calibrated on worked cases.

Costs are whole numbers of millionths, so that sums are exact, ties are real ties, and the
printed terms add up to the total to the last digit.
"""

from __future__ import annotations

from plectrum.core.player.school import DirectionSchool

MILLIONTHS = 1_000_000
CELLS_N = 48  # halves, thirds, quarters, eighths and sixteenths all land on this grid

AMOUNT_LESS = 1.5  # per squared natural log of length over the length wished for, if shorter
AMOUNT_MORE = 0.8  # the same if longer: a quick light return costs little
PLACE = 1.5  # per squared distance of a stroke's middle from the place wished for
METRE = {  # how much strong beats want a down-bow
    DirectionSchool.DOWNBEAT: 1.2,
    DirectionSchool.FLOW: 0.4,
    DirectionSchool.TRAVEL: 0.3,
}
WEAK_BEAT = 0.1  # weak beats want an up-bow this much less than strong ones a down-bow
HOOK = 1.0  # the same way again after a stop
HOOK_SHORT = 0.4  # the same for a short note after a long one, the usual hooked pair
HOOK_AGAINST_SCHOOL = 2.5  # hooking a dotted pair where the school plays it separately
RETAKE_PAIR = 0.3  # lifting in a dotted pair where the school lifts
CROSSING = 1.0  # per level and squared distance from the middle, for a fast crossing
SAME = {  # a bar bowed otherwise than its equals; those who let it flow mind less
    DirectionSchool.DOWNBEAT: 0.8,
    DirectionSchool.FLOW: 0.2,
    DirectionSchool.TRAVEL: 0.2,
}
SEAM_MOVE = 0.6  # per bow length by which they miss each other
TOGETHER = 3.0  # a bow that goes another way than the other part's in the same rhythm
RETAKE = 1.2  # lifting and setting down
TRAVEL = 1.0  # per bow length carried through the air
TOO_FAST = 12.0  # per squared log above the fastest speed
TOO_SLOW = 3.0  # per squared log below the slowest speed
NOT_LEARNT = 300.0  # a hook or lift the player has not learnt: only where nothing else goes
MARK = 3_000.0  # going against a bow mark of the score
PIN = 30_000.0  # going against the teacher's own pin
IMPOSSIBLE = 10**15  # in millionths: outside the usable bow, no time, wrong way


def millionths(cost: float) -> int:
    """A cost in the planner's exact unit."""
    return round(cost * MILLIONTHS)
