"""MIDI written down: exact files exactly, played ones on their grid, broken ones refused."""

from __future__ import annotations

import io
import random
import sys
from fractions import Fraction

import mido
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plectrum.cli.main import main
from plectrum.core.errors import ScoreError
from plectrum.core.score.reading.midi import Grid, likely_grid, quantise, read_midi
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import read_part

TICKS = 480
TUNE = [(1, 62), (1, 64), (Fraction(1, 2), 66), (Fraction(1, 2), 67), (1, 69), (2, 71), (2, 69)]


def midi_bytes(
    notes, *, name="Violin", bpm=90, gate=1.0, jitter=0.0, program=None, metre=(4, 4)
) -> bytes:
    """A MIDI file of (length in quarters, MIDI number or None for a rest)."""
    rng = random.Random(4)
    events = []
    at_q = Fraction(0)
    for length_q, midi in notes:
        if midi is not None:
            onset = float(at_q) + rng.uniform(-jitter, jitter) * (at_q > 0)
            events.append((round(onset * TICKS), "note_on", midi))
            end = round((float(at_q) + float(length_q) * gate) * TICKS)
            events.append((end, "note_off", midi))
        at_q += length_q
    track = mido.MidiTrack([mido.MetaMessage("track_name", name=name)])
    track.append(mido.MetaMessage("set_tempo", tempo=mido.bpm2tempo(bpm)))
    track.append(mido.MetaMessage("time_signature", numerator=metre[0], denominator=metre[1]))
    if program is not None:
        track.append(mido.Message("program_change", program=program))
    last = 0
    for tick, kind, midi in sorted(events, key=lambda e: (e[0], e[1] == "note_on")):
        track.append(mido.Message(kind, note=midi, velocity=80, time=tick - last))
        last = tick
    buffer = io.BytesIO()
    mido.MidiFile(ticks_per_beat=TICKS, tracks=[track]).save(file=buffer)
    return buffer.getvalue()


def melody(score):
    part = read_part(score, score.parts[0].id)
    return [(n.duration_q, n.pitches[0].midi) for n in part.notes]


def test_an_exact_file_is_written_exactly():
    score = open_score(midi_bytes(TUNE), "ferry.mid")
    assert melody(score) == TUNE
    part = read_part(score, "P1")
    assert (part.instrument, part.tempo.bpm, score.title) == ("violin", 90, "ferry")
    assert score.source == "mid"


@pytest.mark.parametrize("gate", [0.5, 0.75, 0.9])
def test_detached_notes_stretch_to_the_next(gate):
    assert melody(open_score(midi_bytes(TUNE, gate=gate), "x.mid"))[:-1] == TUNE[:-1]


def test_unsteady_playing_goes_on_the_grid_and_says_how_far():
    song = read_midi(midi_bytes(TUNE, gate=0.9, jitter=0.04), "x.mid")
    done = quantise(song, 0, Grid("eighth"))
    assert [n for n, _ in melody(done.score)][:-1] == [n for n, _ in TUNE][:-1]
    assert 0 < done.mean_moved_s < done.most_moved_s < 0.04 * 60 / 90 + 0.002
    assert "notes; on average moved by" in done.words


def test_thirds_of_a_beat_are_found():
    third = Fraction(1, 3)
    tune = [(third, 62), (third, 64), (third, 66), (1, 67), (Fraction(1, 2), 66), (1, 64)]
    assert melody(quantise(read_midi(midi_bytes(tune), "x"), 0, Grid()).score)[:4] == tune[:4]
    straight = quantise(read_midi(midi_bytes(tune), "x"), 0, Grid(triplets=False)).score
    assert all(d.denominator in (1, 2) for d, _ in melody(straight))


def test_real_rests_stay():
    tune = [(1, 62), (2, None), (1, 64)]
    part = read_part(open_score(midi_bytes(tune), "x.mid"), "P1")
    assert [n.onset_q for n in part.notes] == [0, 3]


def test_the_instrument_comes_from_name_program_or_range():
    assert (
        open_score(midi_bytes([(1, 50)], name="", program=42), "x").parts[0].instrument == "cello"
    )
    assert open_score(midi_bytes([(1, 50)], name="lead"), "x").parts[0].instrument == "viola"
    bass = open_score(midi_bytes([(1, 40)], name="Bass"), "x")
    assert melody(bass)[0][1] == 40  # written an octave higher, sounding as played


@settings(max_examples=30, deadline=None)
@given(
    st.lists(
        st.tuples(
            st.sampled_from(
                [Fraction(1, 4), Fraction(1, 2), Fraction(1), Fraction(2), Fraction(3)]
            ),
            st.integers(55, 88),
        ),
        min_size=1,
        max_size=12,
    )
)
def test_any_exact_tune_on_the_finest_grid_comes_back(notes):
    song = read_midi(midi_bytes(notes), "x")
    done = quantise(song, 0, Grid("sixteenth"), "violin")
    assert melody(done.score) == notes
    assert done.merged_n == 0


def test_the_grid_is_no_finer_than_the_tune():
    assert likely_grid(read_midi(midi_bytes([(1, 62), (1, 64)]), "x")).finest == "quarter"
    assert likely_grid(read_midi(midi_bytes(TUNE), "x")).finest == "eighth"


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"MThd\0\0\0\6\0\1\0\1\1\xe0MTrk\0\0", "damaged|no notes"),
        (midi_bytes([]), "no notes"),
        (b"MThd" + b"\xff" * 40, "damaged|film frames"),
        (midi_bytes([(9000, 62)]), "longer than any piece"),
    ],
)
def test_broken_files_say_so(data, said):
    with pytest.raises(ScoreError, match=said):
        open_score(data, "x.mid")


def test_midi_is_opened_on_the_command_line(tmp_path, capfdbinary, monkeypatch):
    path = tmp_path / "ferry.mid"
    path.write_bytes(midi_bytes(TUNE))
    monkeypatch.setattr(sys, "argv", ["plectrum", "plan", str(path)])
    with pytest.raises(SystemExit) as done:
        main()
    assert done.value.code == 0
    assert capfdbinary.readouterr().out.count(b"\n") >= len(TUNE)


def test_keys_below_every_instrument_switch_sounds_and_are_no_music():
    """As sample libraries use them; MusicXML writes nothing below C0."""
    score = open_score(midi_bytes([(1, 4), (1, 62), (1, 11), (1, 64)]), "ferry.mid")
    assert [midi for _, midi in melody(score)] == [62, 64]


def test_a_value_beyond_its_range_does_not_make_the_file_unreadable():
    data = bytearray(midi_bytes(TUNE, program=40))
    data[data.index(bytes([0xC0, 40])) + 1] = 168
    assert melody(open_score(bytes(data), "ferry.mid")) == TUNE
