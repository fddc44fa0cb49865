"""The handout without a window: engraved, composed and written by one call."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date
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
    """Write the handouts of one piece for several players into one PDF, or SVG files.

    Args:
        documents: the piece with each player's choices.
        minutes_a_day: of practice; None as the document says.

    Raises:
        PlectrumError: it cannot be engraved or written.
    """
    app = QGuiApplication.instance() or QGuiApplication([])
    theme.load_fonts()
    systems = engrave(documents[0], Sheet.of(options).engraving_width)
    handouts = []
    for document in documents:
        if minutes_a_day is not None:
            homework = replace(document.homework, minutes_a_day=minutes_a_day)
            document = document.with_homework(homework)
        handouts.append(handout_of(document, plan_of(document), options, today))
    pages = compose(systems, handouts, options)
    if path.suffix.lower() == ".svg":
        write_svgs(pages, path, documents[0].title)
    else:
        write_atomically(path, pdf_bytes(pages, options.paper, documents[0].title))
    del app
