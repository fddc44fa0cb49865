"""An exercise in time: every movement as it is, and the voice on the beat."""

from __future__ import annotations

import json
import math
import random
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.core.document.choices import Choices
from plectrum.core.errors import ChoiceError, PlectrumError
from plectrum.core.instrument.specification import instrument_names
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.playing.cues import tune_cues
from plectrum.core.playing.performance import Performance, Rehearsal
from plectrum.core.practice.exercises.catalogue import exercise_named, listed, made_of
from plectrum.core.practice.exercises.drills import Moves
from plectrum.core.practice.exercises.model import (
    SOUNDING,
    Changes,
    Exercise,
    Stroke,
    exercise_from_bytes,
    shipped,
)
from plectrum.core.practice.exercises.patterns import PATTERNS, Asked
from plectrum.core.practice.exercises.play import ON_THE_STICK, ExercisePlay
from plectrum.core.practice.exercises.sound import ExerciseSound, blocks_of
from plectrum.core.score.model import Direction
from plectrum.core.sound.gestures import gestures_of
from plectrum.core.sound.render import RATE_HZ
from plectrum.core.sound.voice import said, spoken, words

ROWS = [row.name for row in listed() if row.name not in PATTERNS]


def play_of(
    name: str, instrument: str = "violin", *, loop: bool = False, **changes
) -> ExercisePlay:
    choices = Choices.default(instrument)
    return ExercisePlay(exercise_named(name, choices, Changes(**changes), Asked()), loop=loop)


@pytest.mark.parametrize("name", ROWS)
def test_the_bow_is_where_the_exercise_says_at_any_time(name):
    """Sounding: as its own plan plays it, at random times. Silent: still, or between two places.
    What does not sound has no bow sign on its card."""
    play = play_of(name)
    random.seed(name)
    for _ in range(60):
        at_s = random.uniform(0, play.length_s)
        moment = play.at(at_s)
        step = moment.step
        assert 0 <= moment.bow.position <= 1
        assert 0 <= moment.bow.lifted <= 1
        if moment.index < 0:
            continue
        assert play.start_of(moment.index) <= at_s + 1e-6
        card = play.cards[moment.index]
        assert card.direction is step.direction
        if step.direction is not None:
            low, high = sorted((step.start, step.end))
            assert low - 1 / 40 <= moment.bow.position <= high + 1 / 40
        elif play.moves is Moves.ROLL:
            assert moment.bow.position == 0.5
            assert moment.bow.lifted == 0
        if play.moves in ON_THE_STICK:
            assert moment.hand is not None
            assert 0 <= moment.hand <= 1
    for k, row in enumerate(play.rows):
        end = play.at(play.start_of(k) + play.seconds_of(k) - 1e-3)
        if row.step.level is not None and row.step.direction is None and not row.step.looks:
            assert end.bow.level == pytest.approx(row.step.level, abs=0.02)
            if row.step.end is not None:
                assert end.bow.position == pytest.approx(row.step.end, abs=1e-3)


def test_a_carried_bow_flies_and_lies_where_it_was_set_down():
    play = play_of("landings", times=1, strings="D")
    begun = play.start_of(1)
    states = [play.at(begun + t).bow for t in (0.01, 0.6, 1.25, 1.9)]
    assert states[0].lifted < 0.1
    assert states[1].lifted > 0.8
    assert states[2].lifted == 0
    assert states[0].position < states[1].position < states[2].position == states[3].position


def test_a_thrown_bow_touches_as_its_note_begins_and_rises_between():
    play = play_of("ricochet-two-one", times=2, strings="D")
    for k, row in enumerate(play.rows):
        begun = play.at(play.start_of(k) + 1e-4).bow.lifted
        middle = play.at(play.start_of(k) + play.seconds_of(k) / 2).bow.lifted
        if row.step.direction is not None:
            assert begun < 0.01
            assert middle > 0.05
        else:
            assert middle > 0.3
    heights = [play.at(t / 200 * play.length_s).bow.lifted for t in range(200)]
    assert max(heights) == pytest.approx(40 / 60, abs=0.01)


def test_a_called_string_is_shown_after_the_time_to_find_it():
    play = play_of("level-calls")
    for k, row in enumerate(play.rows[:8]):
        early = play.at(play.start_of(k) + 0.3 * play.seconds_of(k))
        late = play.at(play.start_of(k) + 0.9 * play.seconds_of(k))
        assert early.hidden
        assert early.bow.lifted > 0.5
        assert not late.hidden
        assert late.bow.level == row.step.level
        assert play.cards[k].strings == "?"
        cue = next(c for c in play.cues if c.at_s == pytest.approx(play.start_of(k)))
        assert cue.word == f"{'GDAE'[row.step.level // 2].lower()}-string"


def test_the_hand_moves_along_the_stick_and_back():
    play = play_of("crawl")
    hands = [play.at(play.music_s + t).hand for t in (0.0, 7.9, 15.9, 33.9)]
    assert hands == pytest.approx([0.0, 0.5, 0.9, 0.0], abs=0.01)
    held = play_of("glide").at(6.0)
    assert held.bow.speed_mm_s == 0


def test_a_loop_goes_round_without_a_jump():
    for name in ("landings", "silent-rolls-pair", "crawl", "drop-and-catch"):
        play = play_of(name, loop=True, times=1)
        before, after = play.at(play.length_s - 1e-3), play.at(play.length_s + 1e-3)
        assert abs(before.bow.lifted - after.bow.lifted) < 0.05
        assert abs(before.bow.level - after.bow.level) < 0.1
        if after.hand is not None:
            assert abs(before.hand - after.hand) < 0.05
        assert play.round_at(play.length_s + 0.1) == 2
        assert play.fold(play.length_s + 0.5) == pytest.approx(0.5)
        counted = play.at(play.length_s + play.music_s - 1e-3)
        begins = play.at(play.length_s + play.music_s + 1e-3)
        assert abs(counted.bow.position - begins.bow.position) < 0.01


@pytest.mark.parametrize("name", [n for n in ROWS if n not in ("arcs", "slow-crossing")])
def test_what_is_said_is_recorded_counted_and_on_the_beat(name):
    """Every count and word of the shipped exercises is there; cues fall on beats or half beats."""
    for instrument in instrument_names():
        play = play_of(name, instrument)
        assert {cue.word for cue in play.cues} <= words()
        times = [cue.at_s for cue in play.cues]
        assert times == sorted(times)
        starts = [play.start_of(k) for k in range(len(play.rows))]
        for cue in play.cues:
            since = min((cue.at_s - s for s in [0.0, *starts] if s <= cue.at_s + 1e-9), default=0)
            halves = since / play.beat_s * 2
            assert halves == pytest.approx(round(halves), abs=1e-6)


def test_upper_half_three_counts_and_a_look_is_counted_aloud():
    play = play_of("straight-bow", strings="D", part="upper-half", play_beats=3, look_beats=2)
    texts = [cue.text or cue.word for cue in play.cues]
    assert texts[:4] == ["1", "2", "3", "4"]
    assert texts[4:9] == ["D string", "play", "3", "look", "2"]


@pytest.mark.parametrize("name", ["straight-bow", "hooked", "landings", "long-and-short"])
def test_every_new_string_is_said_once_where_it_begins(name):
    """Whether it is done once on a string or ten times."""
    play = play_of(name)
    said_strings = [c.text for c in play.cues if c.word.endswith("-string")]
    levels = [row.step.level for row in play.rows if row.step.level]
    begun = [a for k, a in enumerate(levels) if not k or levels[k - 1] != a]
    assert said_strings == [f"{'GDAE'[level // 2]} string" for level in begun]


def test_the_voice_begins_on_its_beat_within_five_milliseconds_and_is_not_cut_off():
    """Onsets: the first sample louder than a twentieth of the word's peak."""
    for name in ("straight-bow", "landings", "hand-exercise"):
        play = play_of(name)
        sound = np.concatenate(list(ExerciseSound(play, tone=False, click=False).blocks()))
        assert np.abs(sound).max() < 1.0
        clips = spoken(play.cues)
        assert len(clips) >= 0.9 * len(play.cues)
        for at_s, wave in clips:
            first = round(at_s * RATE_HZ)
            heard = np.abs(sound[max(0, first - 400) : first + len(wave)])
            onset = int(np.argmax(heard > 0.05 * heard.max())) - min(400, first)
            assert abs(onset) / RATE_HZ < 0.005
        for (a, wave), (b, _) in pairwise(clips):
            assert a + len(wave) / RATE_HZ <= b + 0.05


def test_every_recorded_word_is_short_loud_enough_and_whole():
    size = 0
    for word in sorted(words()):
        wave = said(word)
        assert 0.15 < len(wave) / RATE_HZ < 1.0
        assert 0.3 < np.abs(wave).max() < 0.95
        assert 0.07 < math.sqrt(np.mean(wave**2)) < 0.16
        assert np.abs(wave[-20:]).max() < 0.02  # it ends in silence
        size += len(wave)
    assert {str(n) for n in range(1, 21)} <= words()
    assert size / RATE_HZ < 60


def test_the_sound_goes_on_from_any_time_and_over_the_seam():
    """The same samples whether it is rendered from the start or begun later; a loop keeps on."""
    play = play_of("hooked", times=1, strings="D", loop=True)
    whole = ExerciseSound(play, tone=False)
    first = whole.block(int(play.length_s * RATE_HZ) + 3 * RATE_HZ)
    later = ExerciseSound(play, tone=False, at_s=6.0).block(RATE_HZ)
    at = 6 * RATE_HZ
    assert np.allclose(first[at + 2000 : at + RATE_HZ], later[2000:], atol=1e-5)
    again = first[int(play.length_s * RATE_HZ) + 5 :]
    assert np.abs(again[: RATE_HZ // 2]).max() > 0.1  # "one" of the next count-in


def test_tone_clicks_and_voice_are_heard_each_by_itself():
    play = play_of("long-bows", times=1, strings="A")

    def loud(**heard) -> float:
        return float(np.abs(ExerciseSound(play, **heard).block(8 * RATE_HZ)).max())

    assert loud(tone=False, click=False, voice=0.0) == 0
    assert loud(tone=False, click=False, voice=0.3) < 0.5 * loud(tone=False, click=False, voice=1.0)
    tone = ExerciseSound(play, click=False, voice=0.0).block(8 * RATE_HZ)
    assert np.abs(tone[: int(3.9 * RATE_HZ)]).max() < 1e-3  # counted in
    spectrum = np.abs(np.fft.rfft(tone[5 * RATE_HZ : 7 * RATE_HZ]))
    strongest = np.argmax(spectrum) / 2
    assert any(abs(strongest - k * 440) < 6 for k in (1, 2, 3, 4))
    silent = exercise_named("hand-exercise", Choices.default("violin"), Changes(), Asked())
    assert np.abs(np.concatenate(list(blocks_of(silent)))).max() > 0.2


def test_an_echo_is_called_with_sound_and_answered_in_silence():
    made = exercise_named("echo", Choices.default("violin"), Changes(), Asked())
    assert made.document is not None
    played = Performance(plan_of(made.document), Rehearsal(echoes=made.echoes))
    assert len(made.echoes) == 4
    answers = [p for p in played.notes if played.rehearsal.is_echo(p.note.onset_q)]
    assert len(answers) == len(played.notes) / 2
    begins = [c.at_s for c in tune_cues(played) if c.word == "now-you"]
    assert begins == [answers[k].onset_s for k in range(0, len(answers), 4)]
    starts = [g.start_s for row in gestures_of(played) for g in row]
    assert not any(abs(s - a.onset_s) < 1e-6 for s in starts for a in answers)
    assert starts


@st.composite
def any_exercise(draw: st.DrawFn) -> Exercise:
    """Whatever a teacher, or a file from someone else, may ask for."""
    moves = draw(st.sampled_from(list(Moves)))
    strokes = []
    for _ in range(draw(st.integers(1, 4))):
        low, high = sorted(draw(st.lists(st.floats(0, 1), min_size=2, max_size=2, unique=True)))
        way = draw(st.sampled_from([None, *Direction])) if moves in SOUNDING else None
        start, end = (high, low) if way is Direction.UP else (low, high)
        strokes.append(
            Stroke(
                way=way,
                start=start,
                end=end,
                beats=draw(st.sampled_from([0.25, 0.3, 0.5, 1, 1.5, 2, 7])),
                word=draw(st.sampled_from(["", "up", "stop, down", "Ö!", "little finger", "12"])),
                string=draw(st.sampled_from([0, 1])),
                bounces=draw(st.integers(0, 3)),
                finger=draw(st.sampled_from(["", "thumb", "little"])),
            )
        )
    return Exercise(
        key="any",
        title="Any",
        purpose="",
        moves=moves,
        strings=draw(st.sampled_from(["each", "pairs", "levels", "none", "G, D", "G-D", "G+D"])),
        order=draw(st.sampled_from(["up", "down", "up and back", "skipping", "random"])),
        part=draw(st.sampled_from(["whole", "upper-half", "middle", "quarter mark..tip"])),
        spread=draw(st.booleans()),
        strokes=strokes,
        times=draw(st.integers(1, 3)),
        look_beats=draw(st.sampled_from([0.0, 0.5, 2.0])),
        pace=draw(st.sampled_from(["counts", "slowest bow", "carry", "roll"])),
        counts=draw(st.sampled_from([1.0, 1.3, 4.0])),
        bpm=draw(st.sampled_from([20.0, 60.0, 97.0, 240.0])),
        hand_mm=draw(st.sampled_from([0.0, 65.0, 480.0])),
        what="",
        good="",
    )


@settings(max_examples=60, deadline=None)
@given(any_exercise(), st.sampled_from(instrument_names()))
def test_any_exercise_is_played_or_refused_in_a_line(exercise, instrument):
    """Made, drawn, said and heard at any time, or one clear line."""
    choices = Choices.default(instrument)
    try:
        made = made_of(exercise, choices)
    except ChoiceError:
        return
    play = ExercisePlay(made, loop=True)
    for share in (0.0, 0.1, 0.37, 0.5, 0.99, 1.0, 1.6):
        moment = play.at(share * play.length_s)
        assert 0 <= moment.bow.position <= 1
        assert -1e-9 <= moment.bow.lifted <= 1
        assert 1 <= moment.bow.level <= play.instrument.levels_n
        assert play.upcoming(share * play.length_s, 4)
    times = [cue.at_s for cue in play.cues]
    assert times == sorted(times)
    assert all(at_s < play.length_s for at_s in times)
    assert np.isfinite(ExerciseSound(play).block(2048)).all()
    assert made.lines


def test_a_stroke_against_its_way_or_in_silence_is_no_exercise():
    row = shipped()["hooked"].model_dump(mode="json")
    row["strokes"][0]["way"] = "up"
    with pytest.raises(PlectrumError, match="stroke 1 goes up the other way"):
        exercise_from_bytes(json.dumps(row).encode(), "x.json")
    row = {**shipped()["hooked"].model_dump(mode="json"), "moves": Moves.ROLL}
    with pytest.raises(PlectrumError, match="stroke 1 would sound"):
        exercise_from_bytes(json.dumps(row).encode(), "x.json")
