"""Growing bows: a crescendo or a diminuendo on open strings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from plectrum.core.document.choices import Join, Pin
from plectrum.core.errors import ScoreError
from plectrum.core.planning.plan import Plan
from plectrum.core.practice.passage import Passage, Study
from plectrum.core.practice.study_kinds import StudyKind
from plectrum.core.score.model import Direction, Note
from plectrum.core.score.writing.sheet import SheetNote
from plectrum.core.wording import tr

GROWING_NOTES_N = 6  # at most so many notes of a crescendo are taken (own default)


def hairpins_in(plan: Plan, first: int, last: int) -> list[list[Note]]:
    """The notes of every crescendo in a run of notes, then of every diminuendo; of a long one
    those that lead to its end."""
    groups: dict[int, list[Note]] = {}
    for note in plan.part.notes[first : last + 1]:
        if note.in_hairpin and not note.grace:
            groups.setdefault(note.in_hairpin, []).append(note)
    found = [g for g in groups.values() if len(g) > 1 and g[0].level_db != g[-1].level_db]
    found.sort(key=lambda g: (g[0].level_db > g[-1].level_db, g[0].index))
    longest_s = (
        (plan.player.usable_to - plan.player.usable_from)
        * plan.choices.bow.hair_mm
        / plan.player.slowest_mm_s
    )
    taken_of = []
    for notes in found:
        group = notes[-GROWING_NOTES_N:]
        while len(group) > 2 and group[-1].end_s - group[0].onset_s > longest_s:
            group = group[1:]
        taken_of.append(group)
    return taken_of


def growing(source: Passage) -> Study:
    """Louder and louder towards the frog, on one open string a note; or softer, the other way; or
    the same bows all alike."""
    found = hairpins_in(source.plan, source.notes[0].index, source.notes[-1].index)
    if not found:
        raise ScoreError(
            tr("these bars have no crescendo or diminuendo"), remedy=tr("Choose others")
        )
    group = found[0]
    louder = group[-1].level_db > group[0].level_db
    way = Direction.UP if louder else Direction.DOWN
    after = source.plan.part.notes[group[-1].index + 1 : group[-1].index + 2]
    taken = [*group, *after]
    source = Passage(source.document, source.plan, source.kind, taken, source.ratio)
    slurred, even = source.kind is StudyKind.GROWING_SLUR, source.kind is StudyKind.EVEN
    soft, loud = _ends(group, after, louder)
    wedges = {0: "crescendo" if louder else "diminuendo", len(group): "stop"}
    notes, pins = [], {}
    for k, note in enumerate(taken):
        last_of, target = k == len(group) - 1, k == len(group)
        mark = None if slurred and 0 < k < len(group) else way.other if target else way
        fingered = source.plan.fingered[note.index]
        notes.append(
            SheetNote(
                note.id,
                note.onset_q - source.from_q,
                note.duration_q,
                source.open_pitches(fingered, note),
                mark=mark,
                slur_starts=slurred and k == 0,
                slur_stops=slurred and last_of,
                dynamic="" if even else soft if k == 0 else loud if target else "",
                wedge="" if even else wedges.get(k, ""),
            )
        )
        pin = Pin(string=fingered.strings[0], finger=0) if fingered.strings else Pin()
        if mark is not None:
            join = None if k == 0 else Join.TURN if target else Join.HOOK
            pin = replace(pin, direction=mark, join=join)
        pins[note.id] = pin
    return source.study([source.part(notes)], pins)


def _ends(group: Sequence[Note], after: Sequence[Note], louder: bool) -> tuple[str, str]:
    """The dynamics at both ends of a hairpin: those of the page, or two steps apart."""
    order = ["ppp", "pp", "p", "mp", "mf", "f", "ff", "fff"]
    start = group[0].dynamic if group[0].dynamic in order else "p" if louder else "f"
    written = after[0].dynamic if after else ""
    if written in order and (order.index(written) > order.index(start)) == louder:
        return start, written
    place = order.index(start) + (2 if louder else -2)
    return start, order[min(len(order) - 1, max(0, place))]
