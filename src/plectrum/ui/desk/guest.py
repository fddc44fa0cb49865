"""A study or a drill that visits the Show screen."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from plectrum.core.document.document import Document
    from plectrum.core.planning.plan import Plan
    from plectrum.core.playing.performance import Kind


@dataclass(frozen=True)
class Guest:
    """A study or a drill that is shown in place of the piece."""

    title: str
    document: Document
    plan: Plan
    kind: Kind
