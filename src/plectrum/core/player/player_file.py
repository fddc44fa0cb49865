"""Players as JSON: what a file says, held against the bounds of `Player`."""

from __future__ import annotations

from pydantic import TypeAdapter, ValidationError

from plectrum.core.errors import PlayerError
from plectrum.core.incoming.border import border
from plectrum.core.incoming.json_text import json_value
from plectrum.core.plain_text import one_line
from plectrum.core.player.player import Player
from plectrum.core.wording import say, tr

_PLAYER = TypeAdapter(Player)
_TOLD = ("title", "sentence")  # may be left out of a file


def player_from_json(data: bytes | str, where: str) -> Player:
    """Read a player; without a title the name is shown.

    Raises:
        PlayerError: all faults in one line, each with its key.
    """
    with border(where, PlayerError):
        return _player(data, where)


def _player(data: bytes | str, where: str) -> Player:
    try:
        fields = json_value(data)
    except ValueError as error:
        raise PlayerError(
            say("not a JSON file ({error})", error=one_line(str(error))), where=where
        ) from error
    if isinstance(fields, dict):
        fields = dict.fromkeys(_TOLD, "") | fields
        fields["title"] = fields["title"] or fields.get("name", "")
    try:
        player = _PLAYER.validate_python(fields)
    except ValidationError as error:
        faults = "; ".join(
            f"{'.'.join(map(str, e['loc'])) or 'player'}: {e['msg']}" for e in error.errors()
        )
        raise PlayerError(
            one_line(faults, 600), where=where, remedy=tr("Correct these keys")
        ) from error
    if player.usable_to - player.usable_from < 0.1:
        _refuse(tr("usable_to must lie at least 0.1 above usable_from"), where)
    if not player.slowest_mm_s < player.comfortable_mm_s < player.fastest_mm_s:
        _refuse(tr("slowest_mm_s < comfortable_mm_s < fastest_mm_s must hold"), where)
    return player


def _refuse(fault: str, where: str) -> None:
    raise PlayerError(f"player: {fault}", where=where, remedy=tr("Correct these keys"))
