"""Who sits where: the player and the bow of each part of a score."""

from __future__ import annotations

from dataclasses import dataclass

from plectrum.core.instrument.bow import Bow
from plectrum.core.player.player import Player


@dataclass(frozen=True, slots=True)
class Seat:
    """Who plays a part, on which bow; the bow says which instrument."""

    player: Player
    bow: Bow
