"""Opening a score of any kind that can be read: bytes in, a document of record out."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from plectrum.core.errors import ScoreError
from plectrum.core.incoming.border import border
from plectrum.core.incoming.files import read_file
from plectrum.core.plain_text import shown_name
from plectrum.core.score import guards
from plectrum.core.score.scorefile import ScoreFile, score_from_xml
from plectrum.core.wording import tr

READABLE = tr("Open a MusicXML, compressed MusicXML, ABC, MIDI or Plectrum file")


def open_score(
    data: bytes, name: str, source: str | None = None, tune: str | None = None
) -> ScoreFile:
    """Read MusicXML, compressed MusicXML, ABC or MIDI.

    Args:
        data: the file's bytes.
        name: what messages call it.
        source: "musicxml", "abc", "mid" or None to tell by content.
        tune: which of a book in ABC, by its number or place.

    Raises:
        ScoreError: whatever is wrong with it, in one line.
    """
    with border(name, ScoreError):
        return _opened(data, name, source, tune)


def _opened(data: bytes, name: str, source: str | None, tune: str | None) -> ScoreFile:
    guards.check_size(data, name)
    kind = guards.kind_of(data)
    if source == "abc" and kind in ("unknown", "abc"):
        kind = "abc"
    if kind == "empty":
        raise ScoreError(tr("the file is empty"), where=name, remedy=READABLE)
    if kind == "zip":
        data = guards.score_from_mxl(data, name)
        if guards.kind_of(data) != "xml":
            raise ScoreError(tr("the compressed file holds no score"), where=name, remedy=READABLE)
    elif kind == "midi":
        from plectrum.core.score.reading.midi import midi_to_score  # loaded for such files alone

        return replace(midi_to_score(data, name), source="mid")
    elif kind == "abc":
        from plectrum.core.score.reading.abc import abc_to_musicxml
        from plectrum.core.score.reading.abc_book import chosen_tune
        from plectrum.core.score.reading.abc_text import decoded

        text = chosen_tune(decoded(data), tune, name)
        return score_from_xml(abc_to_musicxml(text.encode(), name), name, "abc")
    elif kind != "xml":
        raise ScoreError(tr("this is not a score"), where=name, remedy=READABLE)
    return score_from_xml(data, name)


def open_path(path: Path) -> ScoreFile:
    """`open_score` for a file on disk."""
    return open_score(read_file(path), shown_name(path))
