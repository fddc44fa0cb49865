"""Edits of one part of a score, as a teacher types and corrects it.

An `Editor` holds a tree of its own; its methods change that tree, and `result` reads it as a
new score. Nothing else of the file changes, except that every note gets an id to be known by.
"""

from __future__ import annotations

from plectrum.core.score.writing.note_edits import NoteEdits
from plectrum.core.score.writing.open_part import Written
from plectrum.core.score.writing.sign_edits import DYNAMICS, SignEdits
from plectrum.core.score.writing.whole_edits import WholeEdits

__all__ = ["DYNAMICS", "Editor", "Written"]


class Editor(NoteEdits, SignEdits, WholeEdits):
    """Changes one part of a score."""
