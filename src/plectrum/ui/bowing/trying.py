"""What is tried before it is taken: alternatives, a remedy for a sound, the end of a stroke under
the mouse."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial

from plectrum.core.advice.sound_faults import Cause
from plectrum.core.advice.words import way_words
from plectrum.core.document.choices import Join
from plectrum.core.planning.plan import Alternative
from plectrum.core.planning.rules import CELLS_N
from plectrum.core.wording import say, tr
from plectrum.ui.bowing.commands import JOIN_TEXT, NoteCommands
from plectrum.ui.editing.session import Session


class Trying:
    """Tries things at the selected note.

    Attributes:
        dragging: whether the end of a stroke is under the mouse.
    """

    def __init__(
        self,
        session: Session,
        commands: NoteCommands,
        selected: Callable[[], int],
        say: Callable[[str], None],
    ) -> None:
        self._session, self._commands, self._selected, self._say = session, commands, selected, say
        self._tried_n = 0
        self.dragging = False

    def next(self, possible: Sequence[Alternative]) -> None:
        """Try the next of these."""
        if not possible:
            self._say(tr("There is nothing else to try on this note."))
            return
        self._tried_n = self._tried_n + 1 if self._session.trial is not None else 0
        self.one(possible[self._tried_n % len(possible)])

    def one(self, alternative: Alternative) -> None:
        """Show the plan with an alternative; nothing is taken yet."""
        plan, document, selected = (
            self._session.shown_plan,
            self._session.both[0],
            self._selected(),
        )
        if plan is None or document is None or selected >= len(plan.notes):
            return
        unit = plan.unit_of(selected)
        if unit is None:
            return
        head, join = plan.head_of(unit), alternative.join
        pin = replace(
            self._session.pin_of(head.id),
            direction=alternative.direction,
            join=None if join is Join.START else join,
        )
        self._session.try_choices(document.choices.with_pin(head.id, pin), _said(alternative))

    def apply_cause(self, cause: Cause) -> None:
        """Take a remedy of the fault finder into the plan: a lane, or so much bow."""
        plan = self._session.plan
        unit = plan.unit_of(self._selected()) if plan is not None else None
        if plan is None or unit is None:
            return
        if cause.place is not None:
            head, own = plan.head_of(unit).id, plan.part.notes[self._selected()].id
            changes = {head: partial(replace, place=cause.place)}
            if cause.lane is not None and own == head:
                changes = {head: partial(replace, place=cause.place, lane=cause.lane)}
            elif cause.lane is not None:
                changes[own] = partial(replace, lane=cause.lane)
            self._session.repin(changes, cause.remedy)
        elif cause.lane is not None:
            self._commands.lane(cause.lane)
        elif cause.speed_mm_s is not None:
            moving_s = plan.units[unit].moving_s
            cells = round(cause.speed_mm_s * moving_s / plan.choices.bow.hair_mm * CELLS_N)
            note_id = plan.head_of(unit).id
            length = min(CELLS_N, max(1, cells))
            self._session.repin(
                {note_id: partial(replace, length_cells=length)}, tr("length of bow")
            )

    def drag(self, unit: int, at_start: bool, cell: int) -> None:
        """Plan with the end of a stroke where the mouse is."""
        document, plan = self._session.both
        if plan is None or document is None:
            return
        self.dragging = True
        step, head = plan.steps[unit], plan.head_of(unit)
        pin = self._session.pin_of(head.id)
        if at_start:
            pin = replace(pin, start_cell=cell)
        else:
            way = 1 if step.direction == 0 else -1
            length = max(1, (cell - step.start) * way)
            pin = replace(pin, start_cell=step.start, length_cells=length)
        self._session.try_choices(document.choices.with_pin(head.id, pin), tr("drag the bow"))

    def drag_done(self, moved: bool) -> None:
        """The mouse has let go."""
        if self.dragging and moved:
            self.dragging = False
            self._session.trials.keep_when_ready()
        self.dragging = False

    def cancel(self) -> None:
        """Let go without taking anything."""
        self.dragging = False
        self._session.trials.drop()


def _said(alternative: Alternative) -> str:
    if alternative.join in (Join.HOOK, Join.RETAKE):
        return say(
            "{join}, then {direction}",
            join=JOIN_TEXT[alternative.join],
            direction=alternative.direction,
        )
    return way_words(alternative.direction)
