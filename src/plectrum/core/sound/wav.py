"""Sound as a WAV file: one channel, 16 bits, 44.1 kHz."""

from __future__ import annotations

import io
import wave
from collections.abc import Callable, Iterable
from pathlib import Path

import numpy as np

from plectrum.core.atomic import write_atomically
from plectrum.core.sound.render import RATE_HZ, Sound

FULL_SCALE = 32_767


def as_pcm(sound: Sound) -> bytes:
    """Samples of −1 to 1 as 16-bit little-endian integers."""
    return (np.clip(sound, -1.0, 1.0) * FULL_SCALE).astype("<i2").tobytes()


def wav_bytes(blocks: Iterable[Sound], wanted: Callable[[], bool] = lambda: True) -> bytes:
    """A whole WAV file in memory.

    Args:
        wanted: asked between blocks; rendering ends early once it says no.
    """
    file = io.BytesIO()
    with wave.open(file, "wb") as out:
        out.setnchannels(1)
        out.setsampwidth(2)
        out.setframerate(RATE_HZ)
        for block in blocks:
            if not wanted():
                break
            out.writeframes(as_pcm(block))
    return file.getvalue()


def write_wav(path: Path, blocks: Iterable[Sound]) -> None:
    """Write a WAV file.

    Raises:
        PlectrumError: the folder or disk does not allow it; an old file is untouched.
    """
    write_atomically(path, wav_bytes(blocks))
