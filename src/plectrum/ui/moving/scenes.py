"""What the stage shows at a moment: of a tune that is played, of an exercise that is done."""

from __future__ import annotations

from plectrum.core.playing.cards import CardStream
from plectrum.core.playing.motion import BowState, Motion
from plectrum.core.playing.performance import Kind, Performance, time_words
from plectrum.core.practice.exercises.play import ON_THE_STICK, ExercisePlay
from plectrum.core.wording import tr
from plectrum.ui.moving.hold_view import Hand
from plectrum.ui.moving.stage import Ghost, Scene

CARDS_N = 5  # one more than are seen: its picture is made ahead
YOUR_TURN = tr("now you")
TIME_BEATS = 3  # so long it is said that it is the second time


def tune_scene(
    performance: Performance,
    motion: Motion,
    cards: CardStream,
    at_s: float,
    *,
    playing: bool,
    ghost: Ghost | None = None,
) -> Scene:
    """A performance at a moment."""
    state = motion.at(at_s)
    coming = cards.upcoming(at_s, CARDS_N)
    return Scene(
        performance.plan.instrument,
        performance.plan.choices.bow,
        state,
        shows_bow=performance.rehearsal.kind is not Kind.PLUCKED,
        sounding=state.moving and playing,
        resting=playing and not state.moving and coming[0][1] <= 0,
        cards=coming,
        beat_s=performance.beat_s(performance.notes[0].note),
        shout=_said(performance, at_s, state, playing=playing),
        ghost=ghost,
    )


def _said(performance: Performance, at_s: float, state: BowState, *, playing: bool) -> str:
    """The count before the music, whose turn it is, or which time."""
    if at_s < performance.music_s and playing:
        beats = [b for b in performance.beats if b.count_in and b.at_s <= at_s + 1e-9]
        strong = max((k for k, b in enumerate(beats) if b.strong), default=0)
        return str(len(beats) - strong)
    if state.answering or (state.note is not None and performance.rehearsal.is_echo(state.at_q)):
        return YOUR_TURN
    turn = performance.turns[state.turn]
    begun = turn.time > 1 and at_s - turn.start_s < TIME_BEATS * performance.beat_s(
        performance.plan.part.notes[turn.first]
    )
    return time_words(turn.time) if begun else ""


def exercise_scene(play: ExercisePlay, at_s: float, *, playing: bool) -> Scene:
    """An exercise at a moment."""
    moment = play.at(at_s)
    hand = None
    if play.moves in ON_THE_STICK:
        hand = Hand(moment.hand or 0.0, play.moves, moment.finger, moment.step.word,
                    play.instrument.on_the_shoulder)  # fmt: skip
    return Scene(
        play.instrument,
        play.bow,
        moment.bow,
        sounding=moment.bow.moving and playing,
        resting=moment.step.direction is None,
        cards=play.upcoming(at_s, CARDS_N),
        beat_s=play.beat_s,
        shout=moment.says if playing or at_s > 0 else "",
        counts=True,
        looks=play.looks(moment.step) and moment.index >= 0,
        hand=hand,
    )
