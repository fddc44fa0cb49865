"""Opening anything that can be opened: a plan file, or a score of any kind."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from plectrum.core.document.document import Document
from plectrum.core.files.kinds import is_plan_file
from plectrum.core.incoming.border import border
from plectrum.core.incoming.files import read_file
from plectrum.core.plain_text import one_line, shown_name
from plectrum.core.score import guards
from plectrum.core.score.reading.opening import open_score

TOGETHER_N = 8000  # notes in all parts: larger scores are planned as one when it is asked for


def open_document(
    data: bytes,
    name: str,
    *,
    source: str | None = None,
    part: str | None = None,
    instrument: str | None = None,
    tune: str | None = None,
) -> Document:
    """Open anything that can be opened: a plan file or a score.

    Args:
        source: format of a score, None to tell by content.
        part: name, id or number of the part; None for the first string part, or the one of the
            plan file.
        instrument: None to guess it.
        tune: which of a book in ABC.

    Raises:
        ScoreError, PlanFileError: what is wrong, in one line.
    """
    name = one_line(name)
    guards.check_size(data, name)
    if is_plan_file(data):
        from plectrum.core.files.planfile import document_from_bytes

        kept = document_from_bytes(data, name)
        wanted = kept.part_id if part is None else kept.score.part_named(part).id
        return kept if wanted == kept.part_id else kept.with_part(wanted)
    with border(name):
        document = Document.from_score(open_score(data, name, source, tune), part, instrument)
    together = len(document.string_parts) > 1 and document.notes_n <= TOGETHER_N
    return replace(document.all_seated(), together=together)


def open_document_path(path: Path, **options: str | None) -> Document:
    """`open_document` for a file on disk."""
    return open_document(read_file(path), shown_name(path), **options)
