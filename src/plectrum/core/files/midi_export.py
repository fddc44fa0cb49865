"""A performance as a MIDI file: its timing with repeats played out, levels, bows as texts."""

from __future__ import annotations

import io
from collections.abc import Iterator

import mido

from plectrum.core.errors import ScoreError
from plectrum.core.plain_text import one_line
from plectrum.core.playing.performance import Performance, PlayedNote
from plectrum.core.score.model import Direction
from plectrum.core.wording import tr

HIGHEST = 127  # MIDI 1.0, note numbers (published standard, quoted from memory)
TICKS_A_BEAT = 480
TEMPO_US = 500_000  # one tempo throughout; the times are those of the performance
TICKS_A_SECOND = TICKS_A_BEAT * 1_000_000 / TEMPO_US
# General MIDI level 1 programs, counted from 0 (published standard, quoted from memory).
PROGRAMS = {"violin": 40, "viola": 41, "cello": 42, "bass": 43}
LOUDEST, SOFTEST, MF_VELOCITY, VELOCITY_A_DB = 127, 16, 72, 3.2  # own defaults


def performance_as_midi(performance: Performance, title: str) -> bytes:
    """The file. Each bow's way is a text where it begins.

    Raises:
        ScoreError: a note is beyond what MIDI has.
    """
    for played in performance.notes:
        if any(not 0 <= midi <= HIGHEST for _, midi in played.strings):
            raise ScoreError(
                tr("this note is beyond what MIDI has, C-1 to G9"),
                where=played.note.place,
                remedy=tr("Export sound or a marked score"),
            )
    track = mido.MidiTrack()
    track.append(mido.MetaMessage("track_name", name=_ascii(title)))
    track.append(mido.MetaMessage("set_tempo", tempo=TEMPO_US))
    program = PROGRAMS.get(performance.plan.choices.instrument, PROGRAMS["violin"])
    track.append(mido.Message("program_change", program=program))
    at = 0
    for tick, _, message in sorted(_events(performance), key=lambda row: row[:2]):
        message.time, at = tick - at, tick
        track.append(message)
    file = mido.MidiFile(type=0, ticks_per_beat=TICKS_A_BEAT)
    file.tracks.append(track)
    buffer = io.BytesIO()
    file.save(file=buffer)
    return buffer.getvalue()


def _events(performance: Performance) -> Iterator[tuple[int, int, mido.Message]]:
    """Tick, order within a tick, and message; what ends comes before what begins."""
    way: Direction | None = None
    for played in performance.notes:
        start, end = (round(s * TICKS_A_SECOND) for s in (played.onset_s, played.end_s))
        if played.direction is not None and (played.direction is not way or played.seam):
            way = played.direction
            yield start, 1, mido.MetaMessage("text", text=str(way))
        for _, midi in played.strings:
            yield start, 2, mido.Message("note_on", note=midi, velocity=_velocity(played))
            yield max(start + 1, end), 0, mido.Message("note_off", note=midi)


def _velocity(played: PlayedNote) -> int:
    wanted = MF_VELOCITY + VELOCITY_A_DB * played.note.level_db
    return round(min(LOUDEST, max(SOFTEST, wanted)))


def _ascii(text: str) -> str:
    return one_line(text, 120).encode("latin-1", "replace").decode("latin-1")
