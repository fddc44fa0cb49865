"""The bow in a few words that a child can say aloud: "down · stop · down · up · up"."""

from __future__ import annotations

from collections.abc import Sequence

from plectrum.core.document.choices import Join
from plectrum.core.instrument.bow import Bow, TapeMark
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.wording import in_words, say, tr

STOP, LIFT, SAME, PLUCK = tr("stop"), tr("lift"), "–", tr("pluck")
_SHORT = {
    "quarter": "¼", "three-quarter": "¾", "three-quarters": "¾", "half": "½",
    "third": "⅓", "two-thirds": "⅔", "two-third": "⅔",
}  # fmt: skip


def said_notes(plan: Plan, first: int, last: int) -> list[str]:
    """One word for each note, as it is said while clapping; a slurred note goes on silently."""
    return [_said(plan.notes[k]) for k in range(first, last + 1)]


def _said(planned: PlannedNote | None) -> str:
    if planned is None:
        return PLUCK
    if planned.join is Join.SLUR:
        return SAME
    lead = {Join.HOOK: f"{STOP} ", Join.RETAKE: f"{LIFT} "}.get(planned.join, "")
    return f"{lead}{in_words(planned.direction)}"


def said_bar(plan: Plan, bar_index: int) -> str:
    """A bar in words; notes slurred to one bow are counted: "down for 3 · up"."""
    notes = [n for n in plan.part.notes if n.bar_index == bar_index]
    words: list[str] = []
    counts: list[int] = []
    for note in notes:
        planned = plan.notes[note.index]
        if planned is not None and planned.join is Join.SLUR and words:
            counts[-1] += 1
            continue
        if planned is not None and planned.join is Join.SLUR:
            words.append(say("still {direction}", direction=planned.direction))
            counts.append(1)
            continue
        if planned is not None and planned.join in (Join.HOOK, Join.RETAKE):
            words.append(STOP if planned.join is Join.HOOK else LIFT)
            counts.append(1)
        words.append(PLUCK if planned is None else in_words(planned.direction))
        counts.append(1)
    return " · ".join(
        word if count == 1 else say("{word} for {count}", word=word, count=count)
        for word, count in zip(words, counts, strict=True)
    )


def short_place(at: float, bow: Bow) -> str:
    """A place on the bow by the nearest mark, as short as it can be said: "¼", "middle"."""
    ends = (TapeMark("frog", 0.0, ""), TapeMark("tip", 1.0, ""))
    mark = min((*bow.marks, *ends), key=lambda mark: abs(mark.at - at))
    if mark in ends or mark.called == in_words(mark.name):
        name = mark.name.removesuffix(" mark")
        return _SHORT.get(name) or in_words(name)
    return mark.called  # by its colour


def levels_of(plan: Plan, first: int, last: int) -> tuple[int, ...]:
    """The string levels of a run of notes in order, each change once."""
    levels: list[int] = []
    for fingered in plan.fingered[first : last + 1]:
        if fingered.level is not None and levels[-1:] != [fingered.level]:
            levels.append(fingered.level)
    return tuple(levels)


def level_words(levels: Sequence[int], string_names: Sequence[str]) -> str:
    """Levels as strings: "A · D · A and E together"."""
    return " · ".join(
        string_names[(n - 1) // 2]
        if n % 2
        else say(
            "{low} and {high} together",
            low=string_names[n // 2 - 1],
            high=string_names[n // 2],
        )
        for n in levels
    )
