"""Reading, choosing, planning and exporting for scripts."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from pydantic import InstanceOf

from plectrum.core.document.choices import Choices
from plectrum.core.document.document import Document
from plectrum.core.errors import ChoiceError
from plectrum.core.files.marking import PENCIL, Marking
from plectrum.core.instrument.bow import Bow
from plectrum.core.instrument.specification import SIZES
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import Plan
from plectrum.core.player.named import player_named
from plectrum.core.player.own_bowing import OwnBowing
from plectrum.core.player.player import Player
from plectrum.core.player.school import QUESTIONS
from plectrum.interface.checking import TempoBpm, Tune, Who, checked

FORMATS = ("text", "json", "csv", "musicxml", "midi")


@checked
def read(
    source: str | Path | bytes,
    *,
    part: str | None = None,
    instrument: str | None = None,
    tune: str | None = None,
    source_format: str | None = None,
) -> Document:
    """Read a score or plan file.

    Args:
        source: a path, or the bytes of a file.
        part: name, id or number from 1; None for the first string part.
        instrument: violin, viola, cello or bass, where the score does not say.
        tune: which of a book in ABC, by number or place.
        source_format: musicxml, abc or mid; None to tell it by what it holds.

    Raises:
        PlectrumError: it cannot be read.
    """
    from plectrum.core.files.opening import open_document
    from plectrum.core.incoming.files import read_file
    from plectrum.core.plain_text import shown_name

    named = isinstance(source, str | Path)
    data = read_file(Path(source)) if isinstance(source, str | Path) else source
    return open_document(
        data,
        shown_name(source) if named else "these bytes",  # type: ignore[arg-type]
        source=source_format,
        part=part,
        instrument=instrument,
        tune=tune,
    )


@checked
def tunes(path: str | Path) -> list[str]:
    """The titles of the tunes of a book in ABC, or of the files of a folder, in their order; the
    third of a book is `read(path, tune="#3")`."""
    from plectrum.core.files.shelf import tunes_on

    return [tune.title or tune.words for tune in tunes_on([Path(path)])]


@checked
def part(document: Tune, wanted: str) -> Document:
    """Another part of the same score, by name, id or number from 1."""
    return document.with_part(document.score.part_named(wanted).id)


@checked
def choose(
    document: Tune,
    *,
    player: Who | Path = None,
    size: str | None = None,
    tempo_bpm: TempoBpm | None = None,
    together: bool | None = None,
    bowing: InstanceOf[OwnBowing] | None = None,
    **school: str,
) -> Document:
    """The same piece for another player, instrument's size, tempo or school.

    Args:
        player: starter, growing, steady, a player's JSON file, or a `Player`.
        size: of instrument and bow: "4/4", "3/4", …
        tempo_bpm: beats of the tempo mark a minute.
        together: whether all string parts are planned as one.
        bowing: the teacher's own, as `learn_bowing` makes it.
        school: answers to its questions, as on the command line: direction="flow", slurs="song".

    Raises:
        PlectrumError: no such player, size, tempo, question or answer.
    """
    choices = played_by(document.choices, player, size)
    if bowing is not None:
        choices = replace(choices, bowing=bowing)
    if tempo_bpm is not None:
        choices = replace(choices, tempo_bpm=tempo_bpm)
    for question, answer in school.items():
        choices = _answered(choices, question, answer)
    changed = document.with_choices(choices)
    return changed if together is None else replace(changed, together=together)


def played_by(choices: Choices, player: Who | Path, size: str | None) -> Choices:
    """Choices for another player and size, where they are said.

    Raises:
        PlectrumError: no such player or size.
    """
    if player is not None:
        own = player if isinstance(player, Player) else player_named(str(player))
        choices = replace(choices, player=own)
    if size is not None:
        if size not in SIZES:
            raise ChoiceError(f"there is no size {size!r}", remedy=f"Choose of {', '.join(SIZES)}")
        choices = replace(choices, bow=Bow.sized(choices.instrument, size))
    return choices


@checked
def learn_bowing(plans: Sequence[Tune]) -> OwnBowing:
    """A teacher's own bowing, learnt from what is pinned in some plans; for `choose`.

    Raises:
        PlectrumError: nothing in them is pinned.
    """
    from plectrum.core.advice.own_bowing import learn_from

    return learn_from(plans)


def _answered(choices: Choices, question: str, answer: str) -> Choices:
    rows = {name: [*answers] for name, _, answers in QUESTIONS}
    if question not in rows:
        raise ChoiceError(f"there is no question {question!r}", remedy=f"Of {', '.join(rows)}")
    found = next((a for a in rows[question] if str(a) == answer), None)
    if found is None:
        words = ", ".join(map(str, rows[question]))
        raise ChoiceError(f"{question} has no answer {answer!r}", remedy=f"Choose of {words}")
    return choices.with_school(question, found)


@checked
def pin(document: Tune, where: str, what: str) -> Document:
    """A note pinned: `where` is BAR.BEAT, `what` down, up, hook, retake or turn."""
    return document.pinned(where, what)


@checked
def place(document: Tune, bars: str, words: str) -> Document:
    """Where on the bow some bars are played: `bars` 3, 1-4 or 3.2-3.4; `words` upper-half, tip …"""
    return document.placed(bars, words)


@checked
def plan(document: Tune) -> Plan:
    """The plan of the document's part: its notes, strokes, contact, cost; with the other parts
    where the document is planned as one."""
    return plan_of(document)


@checked
def as_dict(document: Tune, planned: InstanceOf[Plan] | None = None) -> dict[str, Any]:
    """The plan as plain values, in the published form of `plectrum plan --format json`."""
    from plectrum.core.files.exports import plan_as_dict

    return plan_as_dict(document, planned or plan_of(document))


@checked
def export(
    document: Tune,
    form: str,
    planned: InstanceOf[Plan] | None = None,
    marking: InstanceOf[Marking] = PENCIL,
) -> bytes:
    """The plan as a file's bytes.

    Args:
        form: text, json, csv, musicxml (the score with bow marks) or midi (its timing).
        planned: the plan, if it is at hand.
        marking: what is written into MusicXML beside the bows.
    """
    from plectrum.core.files import exports

    planned = planned or plan_of(document)
    if form == "text":
        return exports.plan_as_text(document, planned).encode()
    if form == "json":
        return exports.plan_as_json(document, planned).encode()
    if form == "csv":
        return exports.plan_as_csv(planned).encode()
    if form == "musicxml":
        return exports.plan_as_musicxml(document, planned, marking)
    if form == "midi":
        from plectrum.core.files.midi_export import performance_as_midi
        from plectrum.core.playing.performance import Performance

        return performance_as_midi(Performance(planned), document.title)
    raise ChoiceError(f"there is no format {form!r}", remedy=f"Choose of {', '.join(FORMATS)}")


@checked
def save(document: Tune, path: str | Path) -> None:
    """The plan file, written whole or not at all."""
    from plectrum.core.files.planfile import save_document

    save_document(document, Path(path))
