"""What can be done to the selected notes of the Bowing screen: every command ends in pins."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from copy import copy
from dataclasses import replace
from functools import partial

from plectrum.core.advice.reasons import bars_words
from plectrum.core.advice.words import way_words
from plectrum.core.document.choices import Join, Pin
from plectrum.core.document.places import (
    OF_BOWS,
    for_notes,
    for_strokes,
    inside_of,
    said,
    words_of,
)
from plectrum.core.planning.ensemble.carrying import carried
from plectrum.core.planning.fingering.grips import grips_for
from plectrum.core.planning.parallels import notes_like
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.rules import CELLS_N
from plectrum.core.planning.strokes.problem import Step
from plectrum.core.score.model import Direction, Note, note_numbers, note_table
from plectrum.core.wording import say, tr
from plectrum.ui.editing.session import Session

JOIN_TEXT = {
    Join.TURN: tr("turn the bow"),
    Join.HOOK: tr("hook"),
    Join.RETAKE: tr("lift"),
    Join.SLUR: tr("slur"),
}
EVERYWHERE = tr("Corrections are meant wherever it is like this.")
HERE_ONLY = tr("Corrections are meant for this place alone.")
ALL_PARTS = tr("Corrections are meant for all parts that move together.")
ONE_PART = tr("Corrections are meant for this part alone.")
Change = Callable[[Pin], Pin]
OFTEN: tuple[Callable[[NoteCommands], None], ...] = (
    lambda c: c.bow_as_planned(other=True),
    lambda c: c.bow_as_planned(other=False),
    lambda c: c.join(Join.SLUR),
    lambda c: c.join(Join.HOOK),
    lambda c: c.join(Join.RETAKE),
    lambda c: c.join(Join.TURN),
)  # what is asked most at a note, the likeliest first
PLUCKED = tr("This note is plucked; it takes no bow.")


class NoteCommands:
    """Commands on a run of notes; `selection` gives its first and last index.

    Attributes:
        everywhere: whether a correction is meant for all places that are alike.
        all_parts: whether it is meant for the parts that move with this one too.
        also: what is to be said of the others once the correction is planned.
    """

    def __init__(
        self,
        session: Session,
        selection: Callable[[], tuple[int, int]],
        say: Callable[[str], None],
        plan: Callable[[], Plan | None] | None = None,
    ) -> None:
        """Make the commands.

        Args:
            plan: the plan of the part that the selection is of; None for the session's own.
        """
        self._session = session
        self._ask: Callable[[Mapping[str, Change], str], None] = session.repin
        self._selection = selection
        self._say = say
        self._plan_now = plan or (lambda: session.plan)
        self.everywhere = True
        self.all_parts = True
        self.also = ""

    @property
    def _plan(self) -> Plan | None:
        return self._plan_now()

    def _selected(self) -> list[Note]:
        """The selected notes that are bowed."""
        plan = self._plan
        if plan is None or not plan.notes:
            return []
        first, last = self._selection()
        bowed = [n for n in plan.part.notes[first : last + 1] if plan.notes[n.index] is not None]
        if not bowed:
            self._say(PLUCKED)
        return bowed

    def _heads(self) -> list[tuple[int, Note]]:
        """Unit and first note of every unit that is selected, in order."""
        plan = self._plan
        units: dict[int, Note] = {}
        for note in self._selected():
            unit = plan.unit_of(note.index) if plan is not None else None
            if unit is not None and plan is not None:
                units[unit] = plan.head_of(unit)
        return list(units.items())

    def direction(self, direction: Direction) -> None:
        """Bow the first selected stroke this way."""
        heads = self._heads()
        if heads:
            note = heads[0][1]
            change = partial(replace, direction=direction)
            self._repin({note.id: change}, way_words(direction))

    def bow_as_planned(self, *, other: bool) -> None:
        """Bow the first selected stroke the way it is planned, or the other way."""
        plan, heads = self._plan, self._heads()
        planned = plan.notes[heads[0][1].index] if plan is not None and heads else None
        if planned is not None:
            self.direction(planned.direction.other if other else planned.direction)

    def join(self, join: Join) -> None:
        """Join the selected note to the one before, or the selected notes to one another."""
        notes = self._selected()
        plan = self._plan
        if not notes or plan is None:
            return
        inner = notes[1:] if len(notes) > 1 else notes
        if inner[0].index == plan.units[0].first:
            self._say(tr("The first note has no note before it to join."))
            return
        change = partial(replace, join=join)
        if join in (Join.TURN, Join.HOOK):  # a way fixed before would stand against it
            change = partial(replace, join=join, direction=None)
        self._repin({note.id: change for note in inner}, JOIN_TEXT[join])

    def split(self) -> None:
        """Let the selected notes begin bows of their own where they are inside a slur."""
        plan = self._plan
        if plan is None:
            return
        inside = [
            n
            for n in self._selected()
            if (planned := plan.notes[n.index]) is not None and planned.join is Join.SLUR
        ]
        if not inside:
            self._say(tr("There is no slur to split here: choose a note inside one."))
            return
        change = partial(replace, join=Join.TURN)
        self._repin({n.id: change for n in inside}, tr("split the slur"))

    def nudge(self, *, start: int = 0, length: int = 0) -> None:
        """Start later or earlier on the bow, or use more or less of it, in cells."""
        plan = self._plan
        heads = self._heads()
        if plan is not None and heads:
            changes = {n.id: partial(nudged, plan.steps[u], start, length) for u, n in heads}
            text = tr("place on the bow") if start else tr("length of bow")
            self._repin(changes, text, carry=False)  # another part has steps of its own

    def places_like(self) -> list[tuple[int, ...]]:
        """The notes of the places that are like the selected one."""
        plan = self._plan
        if plan is None or not plan.notes:
            return []
        first, last = self._selection()
        inside = (plan.unit_of(n.index) for n in plan.part.notes[first : last + 1])
        units = dict.fromkeys(u for u in inside if u is not None)
        return notes_like(plan, [plan.head_of(u).index for u in units])

    def bars_like(self) -> str:
        """The bars of the places that are like the selected one, in words; empty without any."""
        plan = self._plan
        return "" if plan is None else _bars_of(plan, self.places_like())

    def say_place(self, word: str, everywhere: bool) -> None:
        """Say where the selected bows lie or how much bow they take, here or wherever it is like
        this."""
        heads = [note for _, note in self._heads()]
        if not heads:
            return
        inside = [] if word in OF_BOWS else self.inside_a_bow()
        words: Sequence[tuple[str | None, str | None]]
        if inside:
            begins = inside[0] is heads[0]
            heads, words = inside, for_notes(word, len(inside), from_first=begins)
        else:
            word = inside_of(word, len(heads), len(self._selected()))
            words = for_strokes(word, len(heads), in_one=self._same_way(heads))
        changes = {
            note.id: partial(said, place=place, amount=amount)
            for note, (place, amount) in zip(heads, words, strict=True)
            if place is not None or amount is not None
        }
        self._repin(changes, words_of(word), everywhere)

    def inside_a_bow(self) -> list[Note]:
        """The selected notes if they are some of one bow's, not all of them."""
        plan, notes, heads = self._plan, self._selected(), self._heads()
        if plan is None or len(heads) != 1:
            return []
        unit = plan.units[heads[0][0]]
        return notes if len(notes) <= unit.last - unit.first else []

    def _same_way(self, heads: Sequence[Note]) -> bool:
        """Whether some bows go the same way in the plan, one after the other."""
        plan = self._plan
        if plan is None or len(heads) < 2:
            return False
        planned = [plan.notes[n.index] for n in heads[1:]]
        return all(p is not None and p.join is Join.HOOK for p in planned)

    def switch_everywhere(self) -> None:
        """Whether corrections are meant for all places that are alike, or for one alone."""
        self.everywhere = not self.everywhere
        self._say(EVERYWHERE if self.everywhere else HERE_ONLY)

    def switch_all_parts(self) -> None:
        """Whether corrections are meant for the parts that move with this one, or for it alone."""
        self.all_parts = not self.all_parts
        self._say(ALL_PARTS if self.all_parts else ONE_PART)

    def _repin(
        self,
        changes: Mapping[str, Change],
        text: str,
        everywhere: bool | None = None,
        *,
        carry: bool = True,
    ) -> None:
        """Change pins, in all places that are like these if corrections are meant so, and in the
        parts that move with this one; one step."""
        plan = self._plan
        if plan is None or not changes:
            return
        wide = self.everywhere if everywhere is None else everywhere
        ids, number = note_table(plan.part)["id"], note_numbers(plan.part)
        notes = sorted(number[i] for i in changes if i in number)
        others = notes_like(plan, notes) if wide else []
        own = [changes[ids[i]] for i in notes]
        more = {ids[i]: c for place in others for i, c in zip(place, own, strict=True)}
        if others:
            self.also = say(
                "Meant in {bars} too, where it is like this (O: here only)",
                bars=_bars_of(plan, others),
            )
        here = {**changes, **more}
        self._ask({**(self._carried(plan, here) if carry else {}), **here}, text)

    def would_ask(
        self, commands: Iterable[Callable[[NoteCommands], None]]
    ) -> list[Mapping[str, Change]]:
        """What some commands would change; nothing is done, and nothing said."""
        asked: list[Mapping[str, Change]] = []
        other = copy(self)
        other._say = lambda _: None
        other._ask = lambda changes, _: asked.append(changes)
        for command in commands:
            command(other)
        return asked

    def _carried(self, plan: Plan, changes: Mapping[str, Change]) -> dict[str, Change]:
        """The same changes for the notes of other parts that move with these."""
        ensemble = self._session.ensemble
        if not self.all_parts or ensemble is None or plan not in ensemble.plans:
            return {}
        number = note_numbers(plan.part)
        places = {number[i]: change for i, change in changes.items() if i in number}
        found = carried(ensemble, ensemble.plans.index(plan), places)
        if found:
            names = [p.part.name for p in ensemble.plans if _has_any(p, found)]
            said = say("Meant in {list} too, where they move together", list=" and ".join(names))
            self.also = f"{self.also}. {said}" if self.also else said
        return {note_id: places[note] for note_id, note in found.items()}

    def lane(self, lane: int) -> None:
        """Run the hair in this lane, 1 at the bridge."""
        changes = {n.id: partial(replace, lane=lane) for n in self._selected()}
        self._repin(changes, say("lane {lane}", lane=lane))

    def next_grip(self) -> None:
        """The next string and finger that can play the selected note."""
        plan = self._plan
        first, last = self._selection()
        if plan is None or not plan.notes:
            return
        if first != last:
            self._say(tr("Choose one note to change its string or finger."))
            return
        note, choices = plan.part.notes[last], plan.choices
        grips = grips_for(
            choices.instrument, tuple(p.midi for p in note.pitches), plan.player.positions
        )
        now = plan.fingered[note.index].grip
        if len(grips) < 2 or now is None:
            self._say(tr("There is no other string or finger for this note in these positions."))
            return
        main = grips[(grips.index(now) + 1) % len(grips)].main
        change = partial(replace, string=main.string, finger=main.finger)
        name = plan.instrument.string_names[main.string]
        self._ask(
            {note.id: change}, say("{name} string, finger {finger}", name=name, finger=main.finger)
        )

    def toggle_pin(self) -> None:
        """Fix the selected strokes as they are, or let go of all that is pinned in them."""
        plan = self._plan
        notes = self._selected()
        if plan is None or not notes:
            return
        heads = self._heads()
        pinned = {n.id for n in notes} | {note.id for _, note in heads}
        pinned = {i for i in pinned if not self._session.pin_of(i).is_empty}
        if pinned:
            self._session.pin_several(dict.fromkeys(pinned, Pin()), tr("let go"))
            return
        pins = {}
        for unit, note in heads:
            planned = plan.notes[plan.units[unit].first]
            if planned is not None:
                join = None if planned.join is Join.START else planned.join
                pins[note.id] = Pin(planned.direction, join)
        self._session.pin_several(pins, "pin")


def _has_any(plan: Plan, ids: Mapping[str, int]) -> bool:
    return any(note.id in ids for note in plan.part.notes)


def _bars_of(plan: Plan, places: Sequence[tuple[int, ...]]) -> str:
    """The bars that some places begin in, in words; empty without any."""
    bars = {plan.part.notes[place[0]].bar for place in places}
    return bars_words(tuple(sorted(bars))) if bars else ""


def nudged(step: Step, start: int, length: int, pin: Pin) -> Pin:
    """A pin that starts later or is longer by so many cells than it says, or than the plan has it
    where it says nothing."""
    if start:
        here = step.start if pin.start_cell is None else pin.start_cell
        pin = replace(pin, start_cell=min(CELLS_N, max(0, here + start)))
    if length:
        now = abs(step.end - step.start) if pin.length_cells is None else pin.length_cells
        pin = replace(pin, length_cells=min(CELLS_N, max(1, now + length)))
    return pin
