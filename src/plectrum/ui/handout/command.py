"""The handout without a window: engraved, composed and written by one call."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from itertools import groupby
from pathlib import Path

from PySide6.QtGui import QGuiApplication

from plectrum.core.atomic import write_atomically
from plectrum.core.document.document import Document
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.practice.handout import HandoutOptions, handout_of
from plectrum.ui.handout.engrave import engrave
from plectrum.ui.handout.output import pdf_bytes, write_svgs
from plectrum.ui.handout.pages import Sheet, compose
from plectrum.ui.look import theme


def write_handout(
    path: Path,
    documents: Sequence[Document],
    options: HandoutOptions,
    today: date,
    minutes_a_day: int | None = None,
) -> None:
    """Write the handouts of one piece, for several players or of several parts, into one PDF, or
    SVG files.

    Args:
        documents: the piece with each player's choices; those of one part follow each other.
        minutes_a_day: of practice; None as the document says.

    Raises:
        PlectrumError: it cannot be engraved or written.
    """
    app = QGuiApplication.instance() or QGuiApplication([])
    theme.load_fonts()
    if minutes_a_day is not None:
        documents = [_practised(document, minutes_a_day) for document in documents]
    pages = []
    for _, of_part in groupby(documents, lambda document: document.part_id):
        alike = list(of_part)
        systems = engrave(alike[0], Sheet.of(options).engraving_width)
        handouts = [handout_of(own, plan_of(own), options, today) for own in alike]
        pages += compose(systems, handouts, options)
    if path.suffix.lower() == ".svg":
        write_svgs(pages, path, documents[0].title)
    else:
        write_atomically(path, pdf_bytes(pages, options.paper, documents[0].title))
    del app


def _practised(document: Document, minutes_a_day: int) -> Document:
    return document.with_homework(replace(document.homework, minutes_a_day=minutes_a_day))
