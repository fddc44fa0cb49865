"""Exercises without a tune and routines of them, for scripts and commands: made for a player, and
written as pages, scores, sound, calendars and files of their own."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from pathlib import Path

from pydantic import InstanceOf

from plectrum.core.atomic import write_atomically
from plectrum.core.document.choices import Choices
from plectrum.core.document.document import Document
from plectrum.core.errors import ChoiceError
from plectrum.core.incoming.files import read_file
from plectrum.core.instrument.specification import instrument_names
from plectrum.core.outputs import ending_of, refuse_outputs
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.practice.exercises.catalogue import Made, exercise_named, listed, made_of
from plectrum.core.practice.exercises.model import Changes, exercise_bytes, exercise_from_bytes
from plectrum.core.practice.exercises.patterns import Asked
from plectrum.core.practice.exercises.routine import (
    Planned,
    Routine,
    alone,
    counts_of,
    planned_items,
    routine_bytes,
    routine_from_bytes,
    routine_named,
    shipped_routines,
)
from plectrum.core.wording import say, tr
from plectrum.interface.checking import BowNotes, Day, ExerciseBpm, Octaves, Times, Who, checked
from plectrum.interface.pages import PAGES, handout, routine_page
from plectrum.interface.plans import played_by
from plectrum.interface.sounds import MIDI

SCORES = (".musicxml", ".xml")
OWN_FILE = ".json"
EXERCISE_ENDINGS = (*PAGES, *SCORES, ".wav", *MIDI, OWN_FILE)
ROUTINE_ENDINGS = (*PAGES, ".ics", ".wav", OWN_FILE)


@dataclass(frozen=True)
class PlannedRoutine:
    """A routine as a player does it.

    Attributes:
        items: its exercises, each made for him.
    """

    routine: Routine
    items: Sequence[Planned]

    def __repr__(self) -> str:
        titles = ", ".join(one.made.title for one in self.items)
        return f"<{type(self).__name__} {self.routine.title!r}: {titles}>"


def exercises() -> list[str]:
    """The names of all exercises, for `exercise`."""
    return [row.name for row in listed()]


@checked
def exercise(
    name: str | Path,
    *,
    instrument: str | None = None,
    player: Who | Path = None,
    size: str | None = None,
    strings: str | None = None,
    part: str | None = None,
    counts: str | None = None,
    times: Times | None = None,
    day: Day = 1,
    key: str = "",
    octaves: Octaves = 1,
    bow_notes: BowNotes = 1,
    rhythm: str = "long",
    fingers: str = "",
    bpm: ExerciseBpm = 72.0,
) -> Made:
    """An exercise for a player.

    Args:
        name: of the list, or a file that ends in .json.
        strings: names, neighbours, "each" or "pairs": "G,D,G-D".
        part: of the bow: whole, upper-half … or MARK..MARK.
        counts: beats to play, and to look: "2+4".
        times: on each string.
        day: of practice, for what grows.
        key, octaves, bow_notes, rhythm, fingers, bpm: of a pattern of notes: "Bb", so many notes in
            a bow, "long short short", "0 1 3 1", beats a minute.

    Raises:
        PlectrumError: there is no such exercise, or it cannot be so on this instrument.
    """
    choices = choices_of(instrument, player, size)
    play, look = counts_of(counts)
    changes = Changes(strings, part, play, look, times)
    if str(name).lower().endswith(OWN_FILE):
        path = Path(name)
        return made_of(exercise_from_bytes(read_file(path), path.name), choices, changes, day)
    asked = Asked(key, octaves, bow_notes, rhythm, fingers, bpm)
    return exercise_named(str(name), choices, changes, asked, day)


@checked
def write_exercise(made: InstanceOf[Made], path: str | Path, *, voice: bool = True) -> None:
    """Write an exercise as a page, a score, sound, MIDI, or its own file, by the name's ending.

    Args:
        voice: counts and words aloud.

    Raises:
        PlectrumError: it has no such form, or cannot be written.
    """
    output, ending = Path(path), ending_of(path, EXERCISE_ENDINGS)
    if ending == OWN_FILE:
        write_atomically(output, _own_file(made))
    elif ending in PAGES:
        _exercise_page(made, output)
    elif ending in SCORES:
        from plectrum.core.files.exports import plan_as_musicxml

        document = _music_of(made)
        write_atomically(output, plan_as_musicxml(document, plan_of(document)))
    elif ending in MIDI:
        from plectrum.core.files.midi_export import performance_as_midi
        from plectrum.core.playing.performance import Performance, Rehearsal

        played = Performance(plan_of(_music_of(made)), Rehearsal(kind=made.kind))
        write_atomically(output, performance_as_midi(played, made.title))
    else:
        from plectrum.core.practice.exercises.sound import blocks_of
        from plectrum.core.sound.wav import write_wav

        refuse_outputs(output)  # before it is rendered, which takes a while
        write_wav(output, blocks_of(made, voice=voice))


def routines() -> list[str]:
    """The names of all routines, for `routine`."""
    return list(shipped_routines())


@checked
def routine(
    name: str | Path,
    *,
    instrument: str | None = None,
    player: Who | Path = None,
    size: str | None = None,
    day: Day = 1,
) -> PlannedRoutine:
    """A routine for a player.

    Args:
        name: of the list, or a file that ends in .json.
        day: of practice, for what grows.

    Raises:
        PlectrumError: there is no such routine, or it cannot be on this instrument.
    """
    found = routine_asked_for(name)
    return PlannedRoutine(found, planned_items(found, choices_of(instrument, player, size), day))


@checked
def write_routine(
    planned: InstanceOf[PlannedRoutine],
    path: str | Path,
    *,
    start: date | None = None,
    made_for: str = "",
    voice: bool = True,
) -> None:
    """Write a routine as a page, a calendar, sound, or its own file, by the name's ending.

    Args:
        start: the first day; None for today. made_for: whom the page is for.
        voice: counts and words aloud.

    Raises:
        PlectrumError: it cannot be written.
    """
    routine, items = planned.routine, planned.items
    output, ending = Path(path), ending_of(path, ROUTINE_ENDINGS)
    if ending == OWN_FILE:
        write_atomically(output, routine_bytes(routine))
    elif ending in PAGES:
        routine_page(output, routine, items, start, made_for)
    elif ending == ".ics":
        from plectrum.core.files.ics import days_as_ics
        from plectrum.core.practice.routine_days import routine_days

        days = routine_days(items, routine.days(start or date.today()))
        who = (made_for,) if made_for else ()
        write_atomically(output, days_as_ics(days, routine.title, who))
    else:
        from plectrum.core.practice.exercises.sound import RoutineSound
        from plectrum.core.sound.wav import write_wav

        refuse_outputs(output)
        write_wav(output, RoutineSound([one.made for one in items], voice=voice).blocks())


def routine_asked_for(name: str | Path) -> Routine:
    """A shipped routine by its name, or one of the user's own in a file.

    Raises:
        PlectrumError: there is none.
    """
    if not str(name).lower().endswith(OWN_FILE):
        return routine_named(str(name))
    path = Path(name)
    return routine_from_bytes(read_file(path), path.name)


def choices_of(instrument: str | None, player: Who | Path, size: str | None) -> Choices:
    """The choices for an instrument without a tune: who plays it, and its size.

    Raises:
        PlectrumError: there is no such instrument, player or size.
    """
    names = instrument_names()
    if instrument is not None and instrument not in names:
        raise ChoiceError(
            say("there is no instrument {name!r}", name=instrument),
            remedy=say("Choose of {list}", list=", ".join(names)),
        )
    return played_by(Choices.default(instrument or names[0]), player, size)


def _own_file(made: Made) -> bytes:
    if made.exercise is None:
        raise ChoiceError(
            say("{name} has no file of its own", name=made.title),
            remedy=tr("It is asked for by --key, --octaves, --bow-notes, --rhythm, --fingers"),
        )
    return exercise_bytes(made.exercise)


def _music_of(made: Made) -> Document:
    if made.document is None:
        raise ChoiceError(
            say("{title} is done without a string", title=made.title),
            remedy=tr("Ask for .pdf, .svg, .wav or .json"),
        )
    return made.document


def _exercise_page(made: Made, path: Path) -> None:
    """Its music with the bow under it; what is done in silence has words and pictures alone."""
    from plectrum.core.playing.performance import Kind
    from plectrum.core.practice.handout import Words

    if made.document is None or made.kind is Kind.SILENT:
        routine_page(path, *alone(made))
    else:
        handout(made.document, path, words=Words.NONE, watch=False, steps=False)
