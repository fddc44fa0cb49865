"""What the bow does in a rest: it waits on the string, or is lifted and set down elsewhere."""

from __future__ import annotations

from plectrum.core.advice.words import at_place_words
from plectrum.core.document.choices import Join
from plectrum.core.planning.plan import Plan
from plectrum.core.wording import say, several, tr

SHORTEST_S = 0.15  # a shorter gap is no rest to a player (own default)


def is_after_rest(plan: Plan, note: int) -> bool:
    """Whether the bow has a rest before a note, having played before it."""
    planned = plan.notes[note]
    if planned is None or plan.part.notes[note].gap_before_s < SHORTEST_S:
        return False
    return any(p is not None for p in plan.notes[:note])


def lifts(plan: Plan, note: int) -> bool:
    """Whether the bow leaves the string before a note."""
    planned = plan.notes[note]
    return planned is not None and planned.join is Join.RETAKE


def rest_short(plan: Plan, note: int) -> str:
    """The rest before a note in two or three words: "rest: stay, same way"; empty without one."""
    planned = plan.notes[note]
    if planned is None or not is_after_rest(plan, note):
        return ""
    if lifts(plan, note):
        return say(
            "rest: lift, {place}",
            place=at_place_words(planned.start, plan.choices.bow),
        )
    return tr("rest: stay, same way") if planned.join is Join.HOOK else tr("rest: stay, then turn")


def rest_sentence(plan: Plan, note: int) -> str:
    """The rest before a note as an instruction; empty without one."""
    planned = plan.notes[note]
    if planned is None or not is_after_rest(plan, note):
        return ""
    written = plan.part.notes[note]
    beats = written.gap_before_s / written.beat_s
    if lifts(plan, note):
        place = at_place_words(planned.start, plan.choices.bow)
        string = plan.fingered[note].string_words
        does = (
            say(
                "lift, hover over the {string} string, set it down {place}",
                string=string,
                place=place,
            )
            if string
            else say("lift, hover, set it down {place}", place=place)
        )
    else:
        way = tr("the same way again") if planned.join is Join.HOOK else tr("the other way")
        does = say("the bow stays on the string; next: {way}", way=way)
    return say("In the rest of {beats} before it: {does}.", beats=beats_words(beats), does=does)


def beats_words(beats: float) -> str:
    """A length in beats as it is said: "half a beat", "2 beats"."""
    halves = round(2 * beats)
    if halves == 1:
        return tr("half a beat")
    if abs(halves - 2 * beats) > 0.1 or not halves:
        return several("{n:.2g} beat", "{n:.2g} beats", beats)
    return several("{n:g} beat", "{n:g} beats", halves / 2)
