"""What is remembered between runs: recent files, window size, zoom, strips."""

from __future__ import annotations

import contextlib
import json
import os
from pathlib import Path
from typing import Any
from urllib.parse import unquote_to_bytes

from PySide6.QtCore import QByteArray, QSettings

RECENT_N = 20
# Screens as an earlier version numbered them.
_NUMBERED = ("piece", "player", "bowing", "show", "handout", "practice", "log")


def _path_of(kept: str) -> Path | None:
    """A path as it is kept: a file's address, which holds any bytes; None if it is gone."""
    path = Path(kept)
    if kept.startswith("file://"):
        path = Path(os.fsdecode(unquote_to_bytes(kept.removeprefix("file://"))))
    try:
        return path if path.exists() else None
    except (OSError, ValueError):
        return None


class Settings:
    """A thin cover over QSettings, in a file of the user's configuration folder."""

    def __init__(self, store: QSettings | None = None) -> None:
        self._store = store or QSettings(
            QSettings.Format.IniFormat, QSettings.Scope.UserScope, "plectrum", "plectrum"
        )

    @property
    def recent(self) -> list[Path]:
        """Files opened lately that still exist, newest first."""
        value = self._store.value("recent", [])
        names = value if isinstance(value, list) else [value] if value else []
        return [path for n in names if (path := _path_of(str(n))) is not None]

    def add_recent(self, path: Path) -> None:
        path = path.absolute()
        names = [path.as_uri(), *(p.as_uri() for p in self.recent if p != path)]
        self._store.setValue("recent", names[:RECENT_N])
        self._store.sync()
        self._make_private()

    def _make_private(self) -> None:
        """What was opened lately is nobody else's business."""
        with contextlib.suppress(OSError):
            os.chmod(self._store.fileName(), 0o600)

    @property
    def geometry(self) -> QByteArray | None:
        value = self._store.value("geometry")
        return value if isinstance(value, QByteArray) else None

    @geometry.setter
    def geometry(self, value: QByteArray) -> None:
        self._store.setValue("geometry", value)

    @property
    def strips(self) -> list[str]:
        """Keys of the strips shown under the bow path."""
        return [key for key in str(self._store.value("strips", "")).split(",") if key]

    @strips.setter
    def strips(self, keys: list[str]) -> None:
        self._store.setValue("strips", ",".join(keys))

    @property
    def dark(self) -> bool:
        """Whether the dark theme is chosen."""
        return str(self._store.value("dark", "false")) == "true"

    @dark.setter
    def dark(self, value: bool) -> None:
        self._store.setValue("dark", "true" if value else "false")

    @property
    def scale(self) -> float:
        """The interface scale, 0.8 to 2."""
        try:
            return min(2.0, max(0.8, float(str(self._store.value("scale", 1.0)))))
        except ValueError:
            return 1.0

    @scale.setter
    def scale(self, value: float) -> None:
        self._store.setValue("scale", value)

    @property
    def screen(self) -> str:
        """The key of the screen shown last."""
        value = str(self._store.value("screen", "bowing"))
        return _NUMBERED[int(value)] if value in "0123456" and value else value

    @screen.setter
    def screen(self, value: str) -> None:
        self._store.setValue("screen", value)

    @property
    def handout(self) -> dict[str, Any]:
        """What was on the handout last, as the screen keeps it; empty where nothing is known."""
        return self._fields("handout")

    @handout.setter
    def handout(self, options: dict[str, Any]) -> None:
        self._store.setValue("handout", json.dumps(options))

    @property
    def words(self) -> str:
        """The user's own words, as `OwnWords` has them in one line."""
        return str(self._store.value("words", ""))

    @words.setter
    def words(self, value: str) -> None:
        self._store.setValue("words", value)
        self._store.sync()

    @property
    def language(self) -> str:
        """The language of the texts by its key; empty for the system's."""
        return str(self._store.value("language", ""))

    @language.setter
    def language(self, value: str) -> None:
        self._store.setValue("language", value)
        self._store.sync()

    @property
    def tunes_folder(self) -> str:
        """Where tunes and plans are looked for; empty for where the last one was."""
        return str(self._store.value("tunes_folder", ""))

    @tunes_folder.setter
    def tunes_folder(self, value: str) -> None:
        self._store.setValue("tunes_folder", value)

    @property
    def written_folder(self) -> str:
        """Where pages and exports are written; empty for where the last one was."""
        return str(self._store.value("written_folder", ""))

    @written_folder.setter
    def written_folder(self, value: str) -> None:
        self._store.setValue("written_folder", value)

    def to_be_written(self, name: str) -> str:
        """A name that is proposed for a file, in the folder for it."""
        return str(Path(self.written_folder) / name) if self.written_folder else name

    @property
    def left_off(self) -> dict[str, Any]:
        """Where the work was left: path and note; empty where nothing was open."""
        return self._fields("left_off")

    @left_off.setter
    def left_off(self, place: dict[str, Any]) -> None:
        self._store.setValue("left_off", json.dumps(place))
        self._make_private()

    @property
    def left_open(self) -> Path | None:
        """The tune that was open when the window closed; None where none was, or it is gone."""
        kept = self.left_off.get("path")
        return _path_of(kept) if isinstance(kept, str) else None

    @property
    def reopens(self) -> bool:
        """Whether the tune that was open last is opened at the start."""
        return str(self._store.value("reopens", "true")) == "true"

    @reopens.setter
    def reopens(self, value: bool) -> None:
        self._store.setValue("reopens", "true" if value else "false")

    @property
    def marking(self) -> dict[str, Any]:
        """What was written into exported scores last; empty where nothing is known."""
        return self._fields("marking")

    @marking.setter
    def marking(self, options: dict[str, Any]) -> None:
        self._store.setValue("marking", json.dumps(options))

    def _fields(self, key: str) -> dict[str, Any]:
        try:
            kept = json.loads(str(self._store.value(key, "{}")))
        except ValueError:
            return {}
        return kept if isinstance(kept, dict) else {}

    @property
    def voice(self) -> tuple[int, bool]:
        """How loud the voice is, 5 to 100, and whether it is heard with tunes too."""
        try:
            volume = min(100, max(5, int(str(self._store.value("voice", 100)))))
        except ValueError:
            volume = 100
        return volume, str(self._store.value("voice_tunes", "false")) == "true"

    def keep_volume(self, volume: int) -> None:
        """Remember how loud the voice is."""
        self._store.setValue("voice", volume)

    def keep_voice(self, volume: int, *, tunes: bool) -> None:
        """Remember the voice as it is set for tunes."""
        self.keep_volume(volume)
        self._store.setValue("voice_tunes", "true" if tunes else "false")

    @property
    def zoom(self) -> float:
        try:
            return min(2.0, max(0.6, float(str(self._store.value("zoom", 1.0)))))
        except ValueError:
            return 1.0

    @zoom.setter
    def zoom(self, value: float) -> None:
        self._store.setValue("zoom", value)

    def keep_zoom(self, value: float) -> None:
        """Remember the zoom of the music."""
        self.zoom = value
