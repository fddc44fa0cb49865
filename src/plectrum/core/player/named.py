"""A player by what somebody has typed: a stage, or the name of a file."""

from __future__ import annotations

from pathlib import Path

from plectrum.core.incoming.files import read_file
from plectrum.core.plain_text import shown_name
from plectrum.core.player.player import STAGES, Player, stage


def player_named(name: str) -> Player:
    """A stage, or a player's own file.

    Raises:
        PlayerError, ScoreError: no such stage, or the file cannot be used.
    """
    if name in STAGES or not name.endswith(".json"):
        return stage(name)
    from plectrum.core.player.player_file import player_from_json  # only files need its checks

    return player_from_json(read_file(Path(name)), shown_name(name))
