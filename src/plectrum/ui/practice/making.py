"""What the Practice screen makes aside: sheets for players, and what moves in a stage."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date

from plectrum.core.document.choices import Choices
from plectrum.core.document.document import Document
from plectrum.core.document.homework import Homework
from plectrum.core.errors import PlectrumError
from plectrum.core.planning.ensemble.documents import plan_of, plans_beside
from plectrum.core.planning.plan import Plan
from plectrum.core.player.player import STAGES
from plectrum.core.player.records import NamedPlayer
from plectrum.core.playing.performance import Performance, Rehearsal
from plectrum.core.practice.exercises.catalogue import Made
from plectrum.core.practice.exercises.play import ExercisePlay
from plectrum.core.practice.exercises.routine import Routine, planned_items
from plectrum.core.practice.ladder import LadderStep, step_study
from plectrum.core.practice.study_kinds import StudyKind
from plectrum.core.sound.together import Beside, beside
from plectrum.core.wording import say
from plectrum.ui.desk.guest import ExerciseGuest, Guest
from plectrum.ui.desk.sheets import PlayerSheet, Sheets

SPOKEN = (StudyKind.SAY_RHYTHM, StudyKind.SAY)


def choices_of(named: NamedPlayer) -> Choices:
    """A player kept by name, without a piece."""
    usual = Choices.default(named.bow.instrument)
    return replace(usual, bow=named.bow, player=named.player, school=named.school)


def sheets_of(
    routine: Routine,
    own: Choices,
    players: Sequence[NamedPlayer],
    homework: Homework,
    days: Mapping[str, int],
) -> Sheets:
    """A page for whoever practises, or for each player of a class.

    Args:
        days: which day of practice it is for an exercise of whoever practises, by its name.

    Raises:
        PlectrumError: one of them cannot do it.
    """
    on = tuple(_days(routine, homework))
    if not players:
        title = own.player.title
        name = "" if title.lower() in STAGES else title
        items = tuple(planned_items(routine, own, days=days))
        return Sheets(routine, (PlayerSheet(name, items, on),))
    rows = []
    for player in players:
        try:
            items = tuple(planned_items(routine, choices_of(player)))
        except PlectrumError as error:
            raise error.at(player.name) from error
        rows.append(PlayerSheet(player.name, items, on))
    return Sheets(routine, tuple(rows))


def _days(routine: Routine, homework: Homework) -> list[date]:
    """The days of practice: those that are set, as many as the routine has."""
    start = homework.start if homework.start is not None else date.today()
    wanted = routine.days_a_week * routine.weeks
    if len(homework.weekdays) != routine.days_a_week and not homework.holidays:
        return routine.days(start)
    days = homework.settings(start).practice_days(start)
    return [next(days) for _ in range(wanted)]


def guest_of(made: Made) -> Guest | ExerciseGuest:
    """An exercise for the Show screen; a pattern of notes is shown as the tune it is."""
    if made.drill is not None:
        play = ExercisePlay(made, loop=True)
        _ = play.performance, play.cards, play.cues
        return ExerciseGuest(made.title, play)
    if made.document is None:
        raise PlectrumError(say("{title} has nothing to show", title=made.title))
    plan = plan_of(made.document)
    _ = plan.contact
    return Guest(made.title, made.document, plan, made.kind, made.echoes)


def moving_exercise(made: Made) -> ExercisePlay | MovingTune:
    """What moves while an exercise is done by the clock."""
    guest = guest_of(made)
    if isinstance(guest, ExerciseGuest):
        return guest.play
    rehearsal = Rehearsal(kind=guest.kind, loop=True, echoes=guest.echoes)
    return MovingTune(Performance(guest.plan, rehearsal))


@dataclass(frozen=True)
class MovingTune:
    """A performance that is done by the clock, with the second part where there is one."""

    performance: Performance
    others: Beside | None = None


def moving_step(document: Document, plan: Plan, step: LadderStep) -> MovingTune:
    """What moves while a step of a ladder is done by the clock: its study, or what is spoken of, as
    it will be played."""
    if step.kind in SPOKEN:
        notes = plan.part.notes
        from_q, until_q = notes[step.first_note].onset_q, notes[step.last_note].end_q
        return MovingTune(Performance(plan, Rehearsal(from_q, until_q, step.ratio, loop=True)))
    study = step_study(document, plan, step)
    made = plan_of(study.document)
    _ = made.contact
    performance = Performance(made, Rehearsal(kind=step.shown_as, loop=True))
    others = plans_beside(study.document)
    return MovingTune(performance, beside(performance, others) if others else None)
