"""Sound for scripts and commands: a plan as it is played, and MIDI of its timing."""

from __future__ import annotations

from enum import StrEnum
from pathlib import Path
from typing import TypeVar

from plectrum.core.atomic import write_atomically
from plectrum.core.document.document import Document
from plectrum.core.errors import ChoiceError
from plectrum.core.outputs import ending_of, refuse_outputs
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.playing.performance import Kind, Performance, Rehearsal
from plectrum.core.playing.practice_tempo import (
    FASTEST_RATIO,
    SLOWEST_RATIO,
    PracticeTempo,
    at_tempo,
)
from plectrum.core.wording import say
from plectrum.interface.checking import Tune, checked

Word = TypeVar("Word", bound=StrEnum)
MIDI = (".mid", ".midi")
SOUNDS = (".wav", *MIDI)


@checked
def sound(
    document: Tune,
    path: str | Path,
    *,
    percent: float = 100.0,
    strings: str = "as written",
    repeats: bool = True,
    click: bool = True,
    voice: bool = False,
    parts: str = "me alone",
) -> PracticeTempo:
    """Write a plan as it sounds, or by a name that ends in .mid as MIDI of its timing.

    Args:
        percent: of the plan's tempo.
        strings: what is played of the notes: as written, open strings, bow only, plucked or
            silent crossings.
        click: a metronome with it. voice: count-in, lifts and second times said aloud.
        parts: which of the score are heard: me alone, all parts or all but me.

    Returns:
        What the tempo does to the plan.

    Raises:
        PlectrumError: it cannot be planned or written, or not be played so.
    """
    from plectrum.core.files.midi_export import performance_as_midi
    from plectrum.core.planning.ensemble.documents import plans_beside
    from plectrum.core.playing.cues import tune_cues
    from plectrum.core.sound.render import Renderer
    from plectrum.core.sound.together import Parts, Together, beside
    from plectrum.core.sound.voice import spoken
    from plectrum.core.sound.wav import write_wav

    output, ending = Path(path), ending_of(path, SOUNDS)
    refuse_outputs(output)  # before it is rendered, which takes a while
    heard = _one_of(Parts, parts)
    tempo, mine = played(document, percent, _one_of(Kind, strings), repeats=repeats)
    if ending in MIDI:
        write_atomically(output, performance_as_midi(mine, output.stem))
        return tempo
    said = spoken(tune_cues(mine)) if voice else []
    if heard is Parts.ALONE:
        renderer: Renderer | Together = Renderer(mine, click=click, voice=said)
    else:
        others = beside(mine, plans_beside(document), alone=heard is Parts.OTHERS)
        renderer = Together(mine, others, click=click, voice=said)
    write_wav(output, renderer.blocks())
    return tempo


def played(
    document: Document, percent: float, kind: Kind, *, repeats: bool
) -> tuple[PracticeTempo, Performance]:
    """A plan in time, and what the tempo does to it.

    Raises:
        PlectrumError: no such tempo, or it cannot be planned.
    """
    ratio = percent / 100
    if not SLOWEST_RATIO <= ratio <= FASTEST_RATIO:
        raise ChoiceError(
            say("there is no tempo of {percent} %", percent=percent),
            remedy=say(
                "Give percent between {least:g} and {most:g}",
                least=100 * SLOWEST_RATIO,
                most=100 * FASTEST_RATIO,
            ),
        )
    tempo = at_tempo(plan_of(document), ratio)
    rehearsal = Rehearsal(ratio=tempo.ratio, kind=kind, repeats=repeats)
    return tempo, Performance(tempo.plan, rehearsal)


def _one_of(kind: type[Word], word: str) -> Word:
    try:
        return kind(word)
    except ValueError as error:
        remedy = say("Choose of {list}", list=", ".join(kind))
        raise ChoiceError(say("there is no {word!r} here", word=word), remedy=remedy) from error
