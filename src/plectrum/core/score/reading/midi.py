"""MIDI made into a written tune: what was played is put on a grid of note values.

A MIDI file holds no notation. Onsets go to the nearest place of the grid, beat by beat in
halves or thirds, whichever lies nearer; a note ends where the next begins if only a small gap
would be left. What was moved, and how far, is told.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

import mido

from plectrum.core.errors import ScoreError
from plectrum.core.instrument.specification import TABLE
from plectrum.core.score.instruments import named_instrument
from plectrum.core.score.model import Metre, Pitch
from plectrum.core.score.scorefile import ScoreFile
from plectrum.core.score.writing.blank import TuneHead
from plectrum.core.score.writing.compose import Sound, compose
from plectrum.core.score.writing.pitches import likely_fifths, spell_in_key
from plectrum.core.wording import say, tr

MAX_BYTES = 2_000_000
MAX_NOTES_N = 20_000
MAX_QUARTERS = 8_000
FINEST = {"quarter": 1, "eighth": 2, "sixteenth": 4}
SMALL_GAP = 0.5  # of a grid step up to a beat: a shorter silence is how the note was let go
LOWEST_MIDI = 12  # the lowest that MusicXML can write, C0
TRIPLET_GAIN = 0.6  # a beat is read in thirds if that moves its notes this much less
OPEN_REMEDY = tr("Open another MIDI file, or type the tune")


@dataclass(frozen=True, slots=True)
class MidiNote:
    """One note as played, in quarters from the start."""

    onset_q: float
    end_q: float
    midi: int


@dataclass(frozen=True, slots=True)
class Track:
    """One voice of a MIDI file."""

    name: str
    instrument: str | None
    notes: tuple[MidiNote, ...]


@dataclass(frozen=True, slots=True)
class Song:
    """A MIDI file with notes: its tracks, and what it says of tempo, metre and key."""

    title: str
    tracks: tuple[Track, ...]
    bpm: float
    metre: Metre
    fifths: int | None


@dataclass(frozen=True, slots=True)
class Grid:
    """How to put a song on paper. `finest` is the shortest note value."""

    finest: str = "eighth"
    triplets: bool = True


@dataclass(frozen=True, slots=True)
class Quantised:
    """A written tune, and how far its notes were moved to get there.

    Attributes:
        notes_n: notes written; merged_n: notes that fell on the same moment as another.
        mean_moved_s, most_moved_s: how far onsets were moved.
    """

    score: ScoreFile
    notes_n: int
    merged_n: int
    mean_moved_s: float
    most_moved_s: float

    @property
    def words(self) -> str:
        return say(
            "{notes_n} notes; on average moved by {mean_moved_s:.0f} ms, "
            "at most by {most_moved_s:.0f} ms",
            notes_n=self.notes_n,
            mean_moved_s=self.mean_moved_s * 1000,
            most_moved_s=self.most_moved_s * 1000,
        )


def read_midi(data: bytes, name: str) -> Song:
    """Read the notes of a MIDI file.

    Raises:
        ScoreError: damaged, too long, or without notes.
    """
    if len(data) > MAX_BYTES:
        raise ScoreError(tr("the MIDI file is too large"), where=name, remedy=OPEN_REMEDY)
    try:
        file = mido.MidiFile(file=io.BytesIO(data), clip=True)  # values beyond 127 are met
    except Exception as error:  # foreign code: whatever it raises means a damaged file
        raise ScoreError(tr("the MIDI file is damaged"), where=name, remedy=OPEN_REMEDY) from error
    if file.ticks_per_beat <= 0:
        raise ScoreError(tr("the MIDI file counts in film frames, not beats"), where=name)
    tracks: list[Track] = []
    bpm, metre, fifths = 120.0, Metre((4,), 4), None
    for track in file.tracks:
        for message in track:
            if message.type == "set_tempo" and bpm == 120.0 and message.tempo > 0:
                bpm = min(480.0, max(10.0, mido.tempo2bpm(message.tempo)))
            elif message.type == "time_signature" and message.denominator <= 16:
                metre = Metre((max(1, message.numerator),), message.denominator)
            elif message.type == "key_signature" and fifths is None:
                fifths = _fifths_of(message.key)
        tracks += _tracks_of(track, file.ticks_per_beat)
    if not tracks:
        raise ScoreError(tr("the MIDI file has no notes"), where=name, remedy=OPEN_REMEDY)
    if sum(len(t.notes) for t in tracks) > MAX_NOTES_N:
        raise ScoreError(tr("the MIDI file has too many notes"), where=name, remedy=OPEN_REMEDY)
    if max(n.end_q for t in tracks for n in t.notes) > MAX_QUARTERS:
        raise ScoreError(
            tr("the MIDI file is longer than any piece"), where=name, remedy=OPEN_REMEDY
        )
    return Song(name.rsplit(".", 1)[0], tuple(tracks), bpm, metre, fifths)


def _fifths_of(key: str) -> int:
    """Fifths of a key named as in "F#m"."""
    names = ["Cb", "Gb", "Db", "Ab", "Eb", "Bb", "F", "C", "G", "D", "A", "E", "B", "F#", "C#"]
    minor = ["Ab", "Eb", "Bb", "F", "C", "G", "D", "A", "E", "B", "F#", "C#", "G#", "D#", "A#"]
    if key.endswith("m"):
        return minor.index(key[:-1]) - 7 if key[:-1] in minor else 0
    return names.index(key) - 7 if key in names else 0


def _tracks_of(track: mido.MidiTrack, ticks: int) -> list[Track]:
    """The notes of one track, one voice a channel; drums are left out, and keys below every
    instrument, which switch sounds."""
    at = 0
    sounding: dict[tuple[int, int], int] = {}
    notes: dict[int, list[MidiNote]] = {}
    programs: dict[int, int] = {}
    for message in track:
        at += message.time
        if message.type == "program_change":
            programs.setdefault(message.channel, message.program + 1)
        if message.type not in ("note_on", "note_off") or message.channel == 9:
            continue
        if message.note < LOWEST_MIDI:
            continue
        key = message.channel, message.note
        begun = sounding.pop(key, None)
        if begun is not None and at > begun:
            notes.setdefault(message.channel, []).append(
                MidiNote(begun / ticks, at / ticks, message.note)
            )
        if message.type == "note_on" and message.velocity > 0:
            sounding[key] = at
    return [
        Track(track.name.strip(), _instrument(track.name, programs.get(channel, 0)), tuple(found))
        for channel, found in sorted(notes.items())
    ]


def _instrument(name: str, program: int) -> str | None:
    said = named_instrument(name)
    if said in TABLE:
        return said
    return next((own.name for own in TABLE.values() if own.midi_program == program), None)


def quantise(
    song: Song, track: int = 0, grid: Grid | None = None, instrument: str | None = None
) -> Quantised:
    """Write one track of a song down.

    Raises:
        ScoreError: no such track.
    """
    if not 0 <= track < len(song.tracks):
        raise ScoreError(say("there is no track {track}", track=track + 1), where=song.title)
    grid = grid or Grid()
    chosen = song.tracks[track]
    notes = sorted(chosen.notes, key=lambda n: (n.onset_q, n.midi))
    places = _onsets([n.onset_q for n in notes], grid)
    fifths = song.fifths if song.fifths is not None else likely_fifths([n.midi for n in notes])
    name = instrument or chosen.instrument or _fitting(notes)
    written_shift = TABLE[name].written_above_semitones
    chords: dict[Fraction, list[MidiNote]] = {}
    for note, place in zip(notes, places, strict=True):
        chords.setdefault(place, []).append(note)
    sounds = _sounds(chords, grid, fifths, written_shift)
    beat_s = 60.0 / song.bpm
    moved = [abs(float(p) - n.onset_q) * beat_s for p, n in zip(places, notes, strict=True)]
    head = TuneHead(
        song.title, name, song.metre, fifths, round(song.bpm / float(song.metre.beat_q), 1)
    )
    return Quantised(
        compose(head, sounds),
        len(notes),
        len(notes) - len(chords),
        sum(moved) / len(moved),
        max(moved),
    )


def _fitting(notes: Sequence[MidiNote]) -> str:
    """The highest instrument that has the lowest note."""
    lowest = min(n.midi for n in notes)
    deepest = min(TABLE.values(), key=lambda own: own.open_midis[0])
    fits = (own.name for own in TABLE.values() if own.open_midis[0] <= lowest)
    return next(fits, deepest.name)


def _onsets(onsets_q: Sequence[float], grid: Grid) -> list[Fraction]:
    """Where each onset goes: every beat in halves of halves, or in thirds."""
    step = Fraction(1, FINEST[grid.finest])
    by_beat: dict[int, list[int]] = {}
    for k, onset_q in enumerate(onsets_q):
        by_beat.setdefault(int(onset_q + float(step) / 4), []).append(k)
    places = [Fraction(0)] * len(onsets_q)
    for members in by_beat.values():
        binary = [_nearest(onsets_q[k], step) for k in members]
        ternary = [_nearest(onsets_q[k], Fraction(1, 3)) for k in members]
        worse = sum(abs(float(p) - onsets_q[k]) for p, k in zip(binary, members, strict=True))
        better = sum(abs(float(p) - onsets_q[k]) for p, k in zip(ternary, members, strict=True))
        allowed = grid.triplets and step < 1
        thirds = allowed and len(set(ternary)) > 1 and better < TRIPLET_GAIN * worse
        for k, place in zip(members, ternary if thirds else binary, strict=True):
            places[k] = place
    return places


def _nearest(at_q: float, step: Fraction) -> Fraction:
    return round(Fraction(at_q) / step) * step


def _sounds(
    chords: dict[Fraction, list[MidiNote]], grid: Grid, fifths: int, shift: int
) -> list[Sound]:
    """Notes and rests in order, each ending on the grid, at the latest where the next begins."""
    step = Fraction(1, FINEST[grid.finest])
    onsets = sorted(chords)
    sounds: list[Sound] = []
    at_q = Fraction(0)
    for k, onset_q in enumerate(onsets):
        sounds += _split(at_q, onset_q, ())
        notes = chords[onset_q]
        played_end = max(n.end_q for n in notes)
        until = onsets[k + 1] if k + 1 < len(onsets) else None
        end_q = max(_nearest(played_end, step), onset_q + step)
        if until is not None:
            silence = float(until) - played_end
            room = float(until - onset_q)
            let_go = silence <= max(float(step), SMALL_GAP * min(room, 2.0))
            end_q = until if end_q >= until or let_go else _on_grid(end_q, onset_q, until)
        pitches = tuple(spell_in_key(m + shift, fifths) for m in sorted({n.midi for n in notes}))
        sounds += _split(onset_q, end_q, pitches)
        at_q = end_q
    return sounds


def _on_grid(end_q: Fraction, onset_q: Fraction, until: Fraction) -> Fraction:
    """An end before a rest: on the half beat after it, so that rests stay readable."""
    half = Fraction(1, 2)
    better = -(-end_q // half) * half
    return better if onset_q < better < until else until


def _split(start_q: Fraction, end_q: Fraction, pitches: tuple[Pitch, ...]) -> list[Sound]:
    """One stretch of time as sounds: thirds of a beat stay inside their beat, tied to the rest."""
    if end_q <= start_q:
        return []
    cuts = [start_q]
    for edge, away in ((start_q, 1), (end_q, -1)):
        if edge.denominator % 3 == 0:
            beat = Fraction(edge.numerator // edge.denominator + (1 if away > 0 else 0))
            if start_q < beat < end_q:
                cuts.append(beat)
    cuts = sorted({*cuts, end_q})
    pieces = []
    for k in range(len(cuts) - 1):
        length_q = cuts[k + 1] - cuts[k]
        tuplet = (3, 2) if length_q.denominator % 3 == 0 else None
        pieces.append(Sound(length_q, pitches, tuplet, bool(pitches) and k + 2 < len(cuts)))
    return pieces


def midi_to_score(data: bytes, name: str) -> ScoreFile:
    """The first string track, else the first track, of a MIDI file on the usual grid.

    Raises:
        ScoreError: what is wrong with the file.
    """
    song = read_midi(data, name)
    return quantise(song, likely_track(song), likely_grid(song)).score


def likely_track(song: Song) -> int:
    """The first track that names a string instrument, else the first."""
    return next((k for k, t in enumerate(song.tracks) if t.instrument is not None), 0)


def likely_grid(song: Song) -> Grid:
    """The coarsest grid that loses no notes of the likely track and moves none far."""
    notes = sorted(n.onset_q for n in song.tracks[likely_track(song)].notes)
    for finest in ("quarter", "eighth"):
        places = _onsets(notes, Grid(finest))
        distinct = len(set(places)) >= len({round(n, 2) for n in notes})
        if distinct and max(abs(float(p) - n) for p, n in zip(places, notes, strict=True)) < 0.12:
            return Grid(finest)
    return Grid("sixteenth")
