"""A rendered plan: onsets, pitches, levels, choking and whistling, on the array itself."""

from __future__ import annotations

import io
import itertools
import wave
from dataclasses import replace

import numpy as np
import pytest

from plectrum.core.errors import PlectrumError
from plectrum.core.files.opening import open_document_path
from plectrum.core.planning.contact.contact import Contact
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.playing.performance import Kind, Performance, Rehearsal
from plectrum.core.sound.render import RATE_HZ, Renderer, render
from plectrum.core.sound.touch import model_share, pitch_hz
from plectrum.core.sound.wav import as_pcm, wav_bytes, write_wav
from plectrum.demo import demo_paths
from tests.core.sound.measures import cents, first_share, harmonic_share, rms
from tests.tunes import tune_plan

NEAR_S = 0.005
QUIET = Rehearsal(count_in=False)
# Fundamental frequencies in Hz of the notes used, equal temperament on A4 = 440 Hz (ISO 16).
STANDARD_HZ = {
    "G3": 195.998, "D4": 293.665, "A4": 440.000, "E5": 659.255, "B4": 493.883, "F#4": 369.994,
    "C#5": 554.365, "A5": 880.000,
}  # fmt: skip
DYNAMICS = ("pp", "p", "mp", "mf", "f", "ff")


def of_note(sound, played, first: float = 0.3, last: float = 0.9):
    """The middle of a note in a rendered performance."""
    a = int((played.onset_s + first * played.moving_s) * RATE_HZ)
    b = int((played.onset_s + last * played.moving_s) * RATE_HZ)
    return sound[a:b]


def with_share(plan, share: float):
    """The plan with all its weights put at one place between the limits."""
    c: Contact = plan.contact
    weight = c.weight_min_n ** (1 - share) * c.weight_max_n**share
    plan.__dict__["contact"] = replace(c, weight_n=weight, share=np.full_like(c.share, share))
    return plan


def onset_s(sound, from_s: float, until_s: float) -> float:
    """When the sound rises from silence: the first sample above a hundredth of the later peak."""
    part = np.abs(sound[int(from_s * RATE_HZ) : int(until_s * RATE_HZ)])
    return from_s + int(np.argmax(part > 0.01 * part.max())) / RATE_HZ


@pytest.mark.parametrize(
    ("music", "options"),
    [
        ("D4*1/2 r*1/2 E4*1/2 r*1/2 F#4*1/2 r*1/2 G4*1/2 r*1/2|D4 r E4*2", {}),
        ("C2*1/2 r*1/2 D2*1/2 r*1/2 E2*1/2 r*1/2 F2*1/2 r*1/2|C2 r D2*2",
         {"name": "Cello", "clef": "F4"}),
    ],
)  # fmt: skip
@pytest.mark.parametrize("kind", [Kind.WRITTEN, Kind.OPEN, Kind.PLUCKED])
@pytest.mark.parametrize("ratio", [0.5, 1.0])
def test_notes_begin_when_the_plan_says(music, options, kind, ratio):
    """After a rest the sound rises within 5 ms of the planned time, at any tempo."""
    performance = Performance(tune_plan(music, **options), Rehearsal(kind=kind, ratio=ratio))
    sound = render(performance, click=False)
    if kind is Kind.PLUCKED:  # what rings is not silence: look for the attack in the difference
        sound = np.diff(sound, 2, prepend=[0, 0])
    for played in performance.notes:
        before = played.onset_s - 0.03
        floor = np.abs(sound[int(before * RATE_HZ) : int((played.onset_s - 0.006) * RATE_HZ)])
        after = np.abs(sound[int((played.onset_s - 0.006) * RATE_HZ) :][: int(0.15 * RATE_HZ)])
        level = max(2.5 * floor.max(), 0.02 * after.max())
        first = played.onset_s - 0.006 + int(np.argmax(after > level)) / RATE_HZ
        assert abs(first - played.onset_s) < NEAR_S, played.note.place


def test_clicks_fall_on_the_beats():
    performance = Performance(tune_plan("D4 E4 F#4 G4|A4*4"))
    sound = render(performance, tone=False)
    for beat in performance.beats:
        assert abs(onset_s(sound, max(0, beat.at_s - 0.02), beat.at_s + 0.05) - beat.at_s) < 0.001
    strong, weak = (
        rms(sound[int(t * RATE_HZ) :][:400]) for t in (performance.beats[0].at_s,
                                                       performance.beats[1].at_s)
    )  # fmt: skip
    assert strong > 1.3 * weak


def test_pitches_are_the_standard_ones():
    """Within 5 cents of equal temperament on A4 = 440 Hz."""
    plan = tune_plan("|".join(f"{name}*4" for name in STANDARD_HZ), bpm=100, player="steady")
    performance = Performance(plan, QUIET)
    sound = render(performance, click=False)
    for played, (name, hz) in zip(performance.notes, STANDARD_HZ.items(), strict=True):
        assert pitch_hz(played.strings[0][1]) == pytest.approx(hz, abs=0.001)
        assert abs(cents(of_note(sound, played), RATE_HZ, hz)) < 5.0, name


@pytest.mark.parametrize("index", range(4))
def test_every_note_of_the_demo_sings(index):
    """Plans keep inside the limits, so no note of theirs rattles or jumps to its octave; in tune
    within 8 cents where it is long enough to tell (40 periods)."""
    performance = Performance(plan_of(open_document_path(demo_paths()[index])), QUIET)
    sound = render(performance, click=False)
    checked = 0
    for played in performance.notes:
        if played.planned is None or len(played.strings) > 1:
            continue
        tone, hz = of_note(sound, played, 0.25), pitch_hz(played.strings[0][1])
        if len(tone) < 15 * RATE_HZ / hz:
            continue
        checked += 1
        assert harmonic_share(tone, RATE_HZ, hz) > 0.7, played.note.place
        assert first_share(tone, RATE_HZ, hz) > 0.03, played.note.place
        if len(tone) > 40 * RATE_HZ / hz:
            assert abs(cents(tone, RATE_HZ, hz)) < 8.0, played.note.place
    assert checked > 20


@pytest.mark.parametrize("name", ["D4", "A4", "E5"])
def test_too_heavy_is_heard_and_too_light_too(name):
    """By the two measures: a rattle has little of its power at the partials, a whistle next to
    none in the first. Inside the limits neither."""
    hz = STANDARD_HZ[name]
    found = {}
    for share in (-0.3, -0.1, 0.1, 0.5, 0.9, 1.1, 1.4):
        plan = with_share(tune_plan(f"{name}*4|{name}*4", bpm=80), share)
        performance = Performance(plan, QUIET)
        tone = of_note(render(performance, click=False), performance.notes[0])
        found[share] = harmonic_share(tone, RATE_HZ, hz), first_share(tone, RATE_HZ, hz)
    for share, (harmonic, first) in found.items():
        assert (harmonic < 0.75) == (share > 1.0), (share, found)
        assert (harmonic > 0.75 and first < 0.12) == (share < 0.0), (share, found)


@pytest.mark.parametrize("school_dynamics", ["lanes", "amount"])
def test_softer_marks_sound_softer(school_dynamics):
    """pp < p < mp < mf < f < ff by the mean square of the same note, player and bow; where amount
    alone carries them, ff is beyond the bow and comes little louder than f."""
    from plectrum.core.player.school import DynamicsSchool
    from tests.tunes import tune_document

    music = "|".join(f"[{d}] A4*2u A4*2d" for d in DYNAMICS)
    document = tune_document(music, bpm=80, player="steady", school="flow")
    school = replace(document.choices.school, dynamics=DynamicsSchool(school_dynamics))
    plan = plan_of(document.with_choices(replace(document.choices, school=school)))
    performance = Performance(plan, QUIET)
    sound = render(performance, click=False)
    levels = []
    for k in range(len(DYNAMICS)):
        pair = [rms(of_note(sound, performance.notes[j])) for j in (2 * k, 2 * k + 1)]
        levels.append(20 * np.log10(np.mean(pair)))
    assert levels == sorted(levels), levels
    assert all(b - a > 2.0 for a, b in itertools.pairwise(levels[:-1])), levels
    assert levels[-1] - levels[-2] > (2.0 if school_dynamics == "lanes" else 0.3), levels
    assert levels[-1] - levels[0] > 10.0, levels


def test_nothing_is_ever_cut_off_or_broken():
    for path in demo_paths():
        sound = render(Performance(plan_of(open_document_path(path)), QUIET))
        assert np.isfinite(sound).all()
        assert np.abs(sound).max() <= 1.0


def test_the_student_is_left_to_answer_and_silence_is_silent():
    plan = tune_plan("D4 E4 F#4 G4|A4*4")
    performance = Performance(plan, Rehearsal(answer=True))
    sound = render(performance, click=False)
    own, answering = performance.turns
    assert rms(sound[int(own.start_s * RATE_HZ) : int(own.end_s * RATE_HZ)]) > 0.02
    inside = sound[int((answering.start_s + 0.5) * RATE_HZ) : int(answering.end_s * RATE_HZ)]
    assert rms(inside) < 1e-4
    silent = render(Performance(plan, Rehearsal(kind=Kind.SILENT)), click=False)
    assert np.abs(silent).max() == 0.0


def test_blocks_of_any_size_make_the_same_sound():
    performance = Performance(tune_plan("D4 A4*1/2 B4*1/2 E5*2"), QUIET)
    whole = Renderer(performance).block(RATE_HZ * 2)
    parts, sizes = Renderer(performance), (1, 777, 4096, 10_000)
    pieces, done, k = [], 0, 0
    while done < len(whole):
        n = min(sizes[k % 4], len(whole) - done)
        pieces.append(parts.block(n))
        done, k = done + n, k + 1
    assert np.allclose(np.concatenate(pieces), whole, atol=0.02)


def test_a_loop_goes_on_to_the_sample():
    """After ten minutes of looping the clicks still fall where the plan has them."""
    performance = Performance(tune_plan("D4 A4 B4 E5"), Rehearsal(loop=True, count_in=False))
    period_s = performance.length_s - performance.music_s
    later_s = performance.music_s + np.ceil(600 / period_s) * period_s - 0.5
    sound = Renderer(performance, tone=False, at_s=later_s).block(RATE_HZ)
    assert abs(onset_s(sound, 0.45, 0.6) - 0.5) < 0.001


def test_from_the_middle_the_tone_is_there():
    performance = Performance(tune_plan("D4*4|A4*4"), QUIET)
    sound = Renderer(performance, at_s=1.0).block(RATE_HZ // 2)
    assert rms(sound[RATE_HZ // 4 :]) > 0.02


def test_outside_the_limits_the_model_is_sent_outside():
    assert model_share(0.0) < model_share(0.5) < model_share(1.0) < 0.9
    assert model_share(1.01) > 1.05
    assert model_share(-0.01) < 0.25


# WAV


def test_a_wav_file_is_read_by_others_as_it_was_written(tmp_path):
    from scipy.io import wavfile  # slow to load; only here

    performance = Performance(tune_plan("D4 A4 B4 E5"), QUIET)
    sound = render(performance)
    path = tmp_path / "tune.wav"
    write_wav(path, Renderer(performance).blocks())
    rate, samples = wavfile.read(path)
    assert rate == RATE_HZ
    assert samples.dtype == np.int16
    assert np.array_equal(samples.astype("<i2").tobytes(), as_pcm(sound))
    assert len(samples) >= performance.length_s * RATE_HZ
    assert not [p for p in tmp_path.iterdir() if p != path]


def test_rendering_can_be_called_off():
    performance = Performance(tune_plan("D4 A4 B4 E5"), QUIET)
    asked = iter([True, False])
    data = wav_bytes(Renderer(performance).blocks(), lambda: next(asked))
    with wave.open(io.BytesIO(data)) as file:
        assert 0 < file.getnframes() < performance.length_s * RATE_HZ


def test_a_folder_that_is_not_there_is_told(tmp_path):
    performance = Performance(tune_plan("D4*4"), QUIET)
    with pytest.raises(PlectrumError, match="cannot be written"):
        write_wav(tmp_path / "none" / "tune.wav", Renderer(performance).blocks())
