"""The voice: recorded words, said where a cue asks for them.

The recordings were made by a free speech synthesiser; nothing is synthesised here. A word that is
still being said when the next is due lets that one be left out, so that words never overlap.
"""

from __future__ import annotations

from collections.abc import Iterable
from functools import cache
from importlib import resources
from importlib.resources.abc import Traversable
from io import BytesIO
from math import gcd

import numpy as np
import soundfile

from plectrum.core.playing.cues import Cue
from plectrum.core.sound.clips import Clip
from plectrum.core.sound.render import RATE_HZ
from plectrum.core.sound.string import Samples
from plectrum.core.wording.language import chosen

FOLDER = "words"
RECORDED = ("de",)  # languages with recordings of their own, in a folder each
# The user's own words, by what is said otherwise.
OWN = {
    "frog": {"frog": "heel"},
    "tip": {"tip": "point"},
    "ways": {"down": "pull", "up": "push"},
}
OVERLAP_S = 0.04  # of the end of a word, which is soft, may lie under the next (own default)


@cache
def words() -> frozenset[str]:
    """The words that can be said."""
    names = (entry.name for entry in _folder().iterdir())
    return frozenset(name.removesuffix(".flac") for name in names if name.endswith(".flac"))


def _folder() -> Traversable:
    """The recordings of the user's language."""
    language = chosen().key
    folder = resources.files(__package__).joinpath(FOLDER)
    return folder.joinpath(language) if language in RECORDED else folder


def _in_own_words(word: str) -> str:
    """The recording of the word that the user prefers."""
    language = chosen()
    asked = language.own_words.answers if language.key == "en" else ()
    own = {theirs: ours for question, _ in asked for theirs, ours in OWN.get(question, {}).items()}
    return own.get(word, word)


@cache
def said(word: str) -> Samples:
    """A word as sound, shape (N,) at 44.1 kHz, −1 to 1; it begins at its first sample.

    Raises:
        KeyError: it is not among the words.
    """
    if word not in words():
        raise KeyError(word)
    data = _folder().joinpath(f"{_in_own_words(word)}.flac").read_bytes()
    wave, rate_hz = soundfile.read(BytesIO(data), dtype="float64")
    return _at_rate(wave, rate_hz)


def _at_rate(wave: Samples, rate_hz: int) -> Samples:
    """The same at 44.1 kHz, by its spectrum, with room around it as a spectrum goes in a circle.
    SciPy has filters for this; to load them takes a second or two, in which the window stands."""
    common = gcd(RATE_HZ, rate_hz)
    up, down = RATE_HZ // common, rate_hz // common
    blocks_n = -(-len(wave) // down) + 2
    padded = np.zeros(blocks_n * down)
    padded[down : down + len(wave)] = wave
    made = np.fft.irfft(np.fft.rfft(padded), blocks_n * up) * (up / down)
    return made[up : up + -(-len(wave) * up // down)]


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
