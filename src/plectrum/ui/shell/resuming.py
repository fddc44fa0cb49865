"""The work that was left: the tune that was open last, and the note that was chosen."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PySide6.QtCore import Qt

from plectrum.ui.shell.commands import WindowCommands


def place_now(window: WindowCommands) -> dict[str, Any]:
    """Where the work is, to be kept; empty where nothing that has a file is open."""
    document, path = window.session.document, window.opening.path
    if document is None or path is None:
        return {}
    notes = document.part.notes
    bowing = next(
        (s for s in window.built if hasattr(s, "select") and hasattr(s, "selected")), None
    )
    at = int(getattr(bowing, "selected", 0))
    return {
        "path": path.absolute().as_uri(),
        "note": notes[at].id if at < len(notes) else "",
    }


def resume(window: WindowCommands, path: Path) -> None:
    """Open the tune, and go to the note of the last time once it is planned."""
    kept = window.settings.left_off
    here = kept.get("path") == path.absolute().as_uri()

    def go_there() -> None:
        if here and window.opening.path == path:
            window.session.planned.connect(choose, Qt.ConnectionType.SingleShotConnection)

    def choose(_changed: object) -> None:
        document = window.session.document
        notes = document.part.notes if document is not None else ()
        at = next((k for k, note in enumerate(notes) if note.id == kept.get("note")), None)
        if at is not None:
            window.screen_of("bowing").select(at)  # type: ignore[attr-defined]

    window.session.opened.connect(go_there, Qt.ConnectionType.SingleShotConnection)
    window.opening.open_path(path)
