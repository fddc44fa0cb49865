"""Whether a log can be opened, told by the standard library alone, so that it is quick."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path

REVISIONS = ("1", "2")  # of the tables, oldest first


def looks_sound(path: Path) -> bool:
    """True for a log this version knows, or none yet; False where opening it has to be tried to
    say what is wrong."""
    if not path.exists():
        return not path.parent.exists() or path.parent.is_dir()
    try:
        with closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)) as log:
            names = {name for (name,) in log.execute("SELECT name FROM sqlite_master")}
            if "alembic_version" not in names:
                return not names
            versions = {v for (v,) in log.execute("SELECT version_num FROM alembic_version")}
    except (sqlite3.Error, OSError):
        return False
    return versions <= set(REVISIONS)
