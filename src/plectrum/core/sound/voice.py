"""The voice: recorded words, said where a cue asks for them.

The recordings were made by a free speech synthesiser; nothing is synthesised here. A word that is
still being said when the next is due lets that one be left out, so that words never overlap.
"""

from __future__ import annotations

from collections.abc import Iterable
from functools import cache
from importlib import resources
from io import BytesIO
from math import gcd

import numpy as np
import soundfile
from scipy.signal import resample_poly

from plectrum.core.playing.cues import Cue
from plectrum.core.sound.clips import Clip
from plectrum.core.sound.render import RATE_HZ
from plectrum.core.sound.string import Samples

FOLDER = "words"
OVERLAP_S = 0.04  # of the end of a word, which is soft, may lie under the next (own default)


@cache
def words() -> frozenset[str]:
    """The words that can be said."""
    folder = resources.files(__package__).joinpath(FOLDER)
    names = (entry.name for entry in folder.iterdir())
    return frozenset(name.removesuffix(".flac") for name in names if name.endswith(".flac"))


@cache
def said(word: str) -> Samples:
    """A word as sound, shape (N,) at 44.1 kHz, −1 to 1; it begins at its first sample.

    Raises:
        KeyError: it is not among the words.
    """
    if word not in words():
        raise KeyError(word)
    data = resources.files(__package__).joinpath(FOLDER, f"{word}.flac").read_bytes()
    wave, rate_hz = soundfile.read(BytesIO(data), dtype="float64")
    common = gcd(RATE_HZ, rate_hz)
    return np.asarray(resample_poly(wave, RATE_HZ // common, rate_hz // common))


def spoken(cues: Iterable[Cue], volume: float = 1.0) -> list[Clip]:
    """The cues as clips, in the order of time; words that cannot be said are left out.

    Args:
        volume: 1 as recorded, 0 silent.
    """
    clips: list[Clip] = []
    free_s = -np.inf
    for cue in sorted(cues, key=lambda c: c.at_s):
        if cue.word not in words() or cue.at_s < free_s or not volume:
            continue
        wave = said(cue.word)
        clips.append((cue.at_s, volume * wave))
        free_s = cue.at_s + len(wave) / RATE_HZ - OVERLAP_S
    return clips
