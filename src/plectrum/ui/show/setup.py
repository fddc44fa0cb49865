"""What is to be shown: the plan as a study at a tempo, and how it is played."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from plectrum.core.document.sections import Section, notes_name
from plectrum.core.planning.plan import Plan
from plectrum.core.playing.cards import CardStream
from plectrum.core.playing.performance import Kind, Performance, Rehearsal
from plectrum.core.playing.practice_tempo import PracticeTempo, at_tempo
from plectrum.core.practice.strokes_per_note import Strokes, study_plan
from plectrum.core.score.playing_order import playing_order
from plectrum.core.sound.together import Beside, Parts, beside
from plectrum.core.wording import say, tr

ONCE = tr("Without repeats")


@dataclass(frozen=True, slots=True)
class Stretch:
    """A run of the music by name, in quarters; without ends, all of it.

    Attributes:
        selected: chosen by hand, no section of the piece.
        repeats: whether the whole piece is played with its repeats.
    """

    name: str
    from_q: Fraction | None = None
    until_q: Fraction | None = None
    selected: bool = False
    repeats: bool = True


@dataclass(frozen=True, slots=True)
class ShowSetup:
    """All that the controls say."""

    strokes: Strokes = Strokes.WRITTEN
    kind: Kind = Kind.WRITTEN
    ratio: float = 1.0
    stretch: Stretch = Stretch(tr("Whole piece"))
    count_in: bool = True
    loop: bool = False
    answer: bool = False
    echoes: tuple[tuple[Fraction, Fraction], ...] = ()
    parts: Parts = Parts.ALL
    parts_volume: float = 1.0


@dataclass(frozen=True)
class Prepared:
    """A performance ready to be played, and what is told of its tempo.

    Attributes:
        performance: None where the stretch has no notes.
        setup: what was asked, for the whole piece where the section asked for is gone.
        stretches: the piece and its sections, to choose from.
        others: the other parts that are heard with it; None without.
        base_bpm: the plan's own tempo; window: where it stays as it is, in beats a minute.
    """

    setup: ShowSetup
    tempo: PracticeTempo
    performance: Performance | None
    base_bpm: float
    window: tuple[float, float] | None
    stretches: tuple[Stretch, ...]
    cards: CardStream | None
    others: Beside | None = None


def prepare(
    plan: Plan, setup: ShowSetup, form: Sequence[Section] = (), others: Sequence[Plan] = ()
) -> Prepared:
    """Plan and lay out what a setup asks of a plan of a piece with these sections.

    Args:
        others: plans of the other parts of its score.
    """
    found = stretches(plan, form)
    if setup.stretch not in found and not setup.stretch.selected:
        setup = replace(setup, stretch=found[0])
    base = study_plan(plan, setup.strokes)
    tempo = at_tempo(base, setup.ratio)
    rehearsal = Rehearsal(
        setup.stretch.from_q,
        setup.stretch.until_q,
        tempo.ratio,
        setup.kind,
        setup.count_in,
        setup.loop,
        setup.answer,
        tuple(s.from_q for s in found[1:] if s.from_q is not None),
        tuple(s.name.split(":")[0] for s in found[1:] if s.from_q is not None),
        setup.stretch.repeats,
        setup.echoes,
    )
    _ = tempo.plan.contact
    try:
        performance = Performance(tempo.plan, rehearsal)
    except ValueError:
        performance = None
    cards = CardStream(performance) if performance is not None else None
    under = None
    if performance is not None and others and setup.parts is not Parts.ALONE:
        only = setup.parts is Parts.OTHERS
        under = beside(performance, others, volume=setup.parts_volume, alone=only)
    return Prepared(
        setup,
        tempo,
        performance,
        base.part.tempo.bpm,
        base.tempo_window,
        tuple(found),
        cards,
        under,
    )


def stretches(plan: Plan, form: Sequence[Section]) -> list[Stretch]:
    """The whole piece, its sections and its figures."""
    once = [Stretch(ONCE, repeats=False)] if len(playing_order(plan.part.bars)) > 1 else []
    return [
        Stretch(tr("Whole piece")),
        *once,
        *(Stretch(f"{s.name}: {s.bars}", *_ends(plan, s.first_note, s.last_note)) for s in form),
    ]


def _ends(plan: Plan, first: int, last: int) -> tuple[Fraction, Fraction]:
    """Where a run of notes begins, and where the next note does, or its last bar ends."""
    notes = plan.part.notes
    bar = plan.part.bars[notes[last].bar_index]
    bar_end_q = max(bar.onset_q + bar.duration_q, notes[last].end_q)
    following = notes[last + 1].onset_q if last + 1 < len(notes) else bar_end_q
    return notes[first].onset_q, min(following, bar_end_q)


def stretch_of(plan: Plan, first: int, last: int) -> Stretch:
    """A run of notes as a stretch."""
    name = say("Selection: {notes}", notes=notes_name(plan.part, first, last))
    return Stretch(name, *_ends(plan, first, last), selected=True)
