"""What a plan itself says should be looked at, each with a remedy."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from weakref import WeakKeyDictionary

from plectrum.core.advice.bow_warnings import bow_warnings
from plectrum.core.advice.note_warnings import note_warnings
from plectrum.core.advice.plan_warning import PlanWarning, Severity, and_others
from plectrum.core.advice.upside_down import upside_down
from plectrum.core.planning.plan import Plan
from plectrum.core.score.left_out import in_one_line
from plectrum.core.wording import tr

# What is said once, of all the notes it is true of, because the player is what it is about.
_ONCE = ("not_on_instrument", "finger_not_learnt", "slur_not_learnt")


# As long as the plan: a plan kept for its warnings would keep megabytes of tables.
_KNOWN: WeakKeyDictionary[Plan, tuple[PlanWarning, ...]] = WeakKeyDictionary()


def warnings_of(plan: Plan) -> tuple[PlanWarning, ...]:
    """All warnings of a plan, in the order of the music; those of the whole piece first."""
    found = _KNOWN.get(plan)
    if found is None:
        found = _KNOWN[plan] = _warnings_of(plan)
    return found


def _warnings_of(plan: Plan) -> tuple[PlanWarning, ...]:
    found = [
        PlanWarning(
            "reading", Severity.NOTE, None, None, text, tr("Check these places in the score")
        )
        for text in (in_one_line(plan.part.left_out),)
        if text
    ]
    if plan.tempo_window is None and plan.units:
        found.append(
            PlanWarning(
                "no_tempo",
                Severity.CAUTION,
                None,
                None,
                tr("There is no tempo at which the whole plan stays within this player's speeds"),
                tr("Split the longest slurs, or let the player use more of the bow"),
            )
        )
    timed = [*bow_warnings(plan), *note_warnings(plan), *upside_down(plan)]
    return (*found, *_grouped(sorted(timed, key=lambda w: w.note or 0)))


def _grouped(found: Sequence[PlanWarning]) -> Iterator[PlanWarning]:
    """The same warnings, each of those that are said once at its first note."""
    notes = {code: [w.note for w in found if w.code == code and w.note is not None]
             for code in _ONCE}  # fmt: skip
    for warning in found:
        of = notes.get(warning.code)
        if of is None:
            yield warning
        elif warning.note == of[0]:
            text = warning.text + and_others(len(of), slurs=warning.code == "slur_not_learnt")
            yield replace(warning, text=text, notes=tuple(of))
