"""Sound for scripts and commands: a plan as it is played, and MIDI of its timing."""

from __future__ import annotations

from pathlib import Path

from plectrum.core.atomic import write_atomically
from plectrum.core.document.document import Document
from plectrum.core.outputs import ending_of, refuse_outputs
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.playing.performance import Kind, Performance, Rehearsal
from plectrum.core.playing.practice_tempo import PracticeTempo, at_tempo
from plectrum.core.sound.together import Parts
from plectrum.interface.checking import Percent, Tune, checked

MIDI = (".mid", ".midi")
SOUNDS = (".wav", *MIDI)


@checked
def sound(
    document: Tune,
    path: str | Path,
    *,
    percent: Percent = 100.0,
    strings: Kind = Kind.WRITTEN,
    repeats: bool = True,
    click: bool = True,
    voice: bool = False,
    parts: Parts = Parts.ALONE,
) -> PracticeTempo:
    """Write a plan as it sounds, or by a name that ends in .mid as MIDI of its timing.

    Args:
        percent: of the plan's tempo.
        strings: what is played of the notes: "as written", "open strings", "bow only", "plucked"
            or "silent crossings".
        click: a metronome with it. voice: count-in, lifts and second times said aloud.
        parts: which of the score are heard: "me alone", "all parts" or "all but me".

    Returns:
        What the tempo does to the plan.

    Raises:
        PlectrumError: it cannot be planned or written, or not be played so.
    """
    from plectrum.core.files.midi_export import performance_as_midi
    from plectrum.core.planning.ensemble.documents import plans_beside
    from plectrum.core.playing.cues import tune_cues
    from plectrum.core.sound.render import Renderer
    from plectrum.core.sound.together import Together, beside
    from plectrum.core.sound.voice import spoken
    from plectrum.core.sound.wav import write_wav

    output, ending = Path(path), ending_of(path, SOUNDS)
    refuse_outputs(output)  # before it is rendered, which takes a while
    tempo, mine = played(document, percent, strings, repeats=repeats)
    if ending in MIDI:
        write_atomically(output, performance_as_midi(mine, output.stem))
        return tempo
    said = spoken(tune_cues(mine)) if voice else []
    if parts is Parts.ALONE:
        renderer: Renderer | Together = Renderer(mine, click=click, voice=said)
    else:
        others = beside(mine, plans_beside(document), alone=parts is Parts.OTHERS)
        renderer = Together(mine, others, click=click, voice=said)
    write_wav(output, renderer.blocks())
    return tempo


def played(
    document: Document, percent: float, kind: Kind, *, repeats: bool
) -> tuple[PracticeTempo, Performance]:
    """A plan in time, and what the tempo does to it.

    Raises:
        PlectrumError: it cannot be planned.
    """
    tempo = at_tempo(plan_of(document), percent / 100)
    rehearsal = Rehearsal(ratio=tempo.ratio, kind=kind, repeats=repeats)
    return tempo, Performance(tempo.plan, rehearsal)
