"""Engraving in this very process, for the command line: there is no window to keep live."""

from __future__ import annotations

from plectrum.core.document.document import Document
from plectrum.core.errors import PlectrumError
from plectrum.core.instrument.specification import instrument
from plectrum.core.wording import say
from plectrum.ui.engraving.client import ENGRAVING_SCALE, score_text
from plectrum.ui.engraving.system import System
from plectrum.ui.engraving.worker import Engraver


def engrave(document: Document, width_px: float) -> list[System]:
    """The systems of a document's part.

    Raises:
        PlectrumError: the engraver cannot lay it out.
    """
    engraver = Engraver()
    try:
        laid = engraver.load(
            {
                "xml": score_text(document.score),
                "parts": [document.part_id],
                "clef": instrument(document.choices.instrument).clef,
                "width": width_px,
                "scale": ENGRAVING_SCALE,
                "token": 0,
            }
        )
        return [System.from_message(engraver.system(k)) for k in range(laid["systems"])]
    except ValueError as error:
        raise PlectrumError(say("the staff cannot be drawn: {error}", error=error)) from error
