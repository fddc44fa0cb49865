"""Commands that play a plan in time: as sound, and as the stand-in for a tracked bow."""

from __future__ import annotations

import sys
import time
from pathlib import Path
from typing import Annotated

import typer

from plectrum.core.files.planfile import open_document
from plectrum.core.planning.plan import plan_of
from plectrum.core.playing.performance import Kind, Performance, Rehearsal
from plectrum.core.playing.practice_tempo import FASTEST_RATIO, SLOWEST_RATIO, Verdict, at_tempo
from plectrum.core.score.scorefile import read_file
from plectrum.core.tracking.simulated import Clumsiness

File = Annotated[str, typer.Argument(metavar="FILE", help="A score or plan file")]
Part = Annotated[str | None, typer.Option(help="Name or number of the part")]
Percent = Annotated[
    float,
    typer.Option(
        "--percent", min=100 * SLOWEST_RATIO, max=100 * FASTEST_RATIO, help="Of the plan's tempo"
    ),
]


def _performance(file: str, part: str | None, percent: float, kind: Kind) -> Performance:
    document = open_document(read_file(Path(file)), Path(file).name, part=part)
    practised = at_tempo(plan_of(document), percent / 100)
    if practised.verdict is Verdict.BEYOND:
        print(f"plectrum: at this tempo {practised.text}", file=sys.stderr)
    return Performance(practised.plan, Rehearsal(ratio=practised.ratio, kind=kind))


def sound(
    file: File,
    output: Annotated[Path, typer.Option("-o", "--output", metavar="OUT.wav")],
    part: Part = None,
    percent: Percent = 100.0,
    strings: Annotated[Kind, typer.Option(help="What is played of the notes")] = Kind.WRITTEN,
    click: Annotated[bool, typer.Option(help="A metronome with it")] = True,
) -> None:
    """Write a WAV file of a plan as it sounds."""
    from plectrum.core.sound.render import Renderer
    from plectrum.core.sound.wav import write_wav

    performance = _performance(file, part, percent, strings)
    write_wav(output, Renderer(performance, click=click).blocks())


def sensor(
    file: File,
    part: Part = None,
    percent: Percent = 100.0,
    clumsy: Annotated[Clumsiness, typer.Option(help="What goes wrong")] = Clumsiness.CAREFUL,
    seed: Annotated[int, typer.Option(help="The same seed trembles in the same way")] = 1,
    at_once: Annotated[bool, typer.Option("--at-once", help="Do not wait for the time")] = False,
) -> None:
    """Play a plan as a tracked bow would, line by line: a stand-in for a device."""
    from plectrum.core.tracking.sensor import head_lines, sample_line
    from plectrum.core.tracking.simulated import SimulatedBow

    performance = _performance(file, part, percent, Kind.WRITTEN)
    bow = SimulatedBow(performance, clumsy, seed)
    sys.stdout.write(head_lines())
    begun = time.monotonic()
    for sample in bow.samples(0.0, performance.length_s):
        if not at_once:
            sys.stdout.flush()
            time.sleep(max(0.0, begun + sample.at_s - time.monotonic()))
        sys.stdout.write(sample_line(sample))
    sys.stdout.flush()
