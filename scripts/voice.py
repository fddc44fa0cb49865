"""Records the spoken words that are shipped, by the free speech synthesiser Flite.

Run it where Flite is installed (apt: flite); nothing of this runs in the application:
    python scripts/voice.py
Each word is cut where it begins and ends, so that its first sample lies on the beat.
"""

from __future__ import annotations

import subprocess
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
import soundfile

FOLDER = Path(__file__).parents[1] / "src/plectrum/core/sound/words"
VOICE = "rms"  # of Flite's own; a speech recogniser understood it best, 51 of 53 single words
STRETCH = 0.88  # brisker than it reads, so that a count fits its beat
FRAME_S = 0.004
BEGINS = 0.05  # of its peak: the first sample that loud is where a word begins
BEFORE_S = 0.001  # kept of what comes before
ENDS = 0.02  # of the loudest frame
LOUD, PEAK = 0.16, 0.85  # every word equally loud, none cut off
FADE_S = 0.008

NUMBERS = """
one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen
seventeen eighteen nineteen twenty
"""
SINGLE = """
down up stop lift look roll same frog middle tip ready again switch rest listen tune settle play
soft lean low high back long short tiny more much wait stay drop catch throw tap push crawl glide
thumb loosen tighten pause clap sing and whole half lower upper hold pluck together bounce rosin
"""
STRINGS = {"g": "jee", "d": "dee", "a": "ay", "e": "ee", "c": "see"}
PHRASES = {
    "now-you": "now you", "same-way": "same way", "second-time": "second time",
    "third-time": "third time", "little-finger": "little finger",
    "ring-finger": "ring finger", "middle-finger": "middle finger",
    "index-finger": "index finger", "balance-point": "balance point",
    "let-go": "let go", "eyes-closed": "eyes closed", "well-done": "well done",
    **{f"{name}-string": f"{spoken} string" for name, spoken in STRINGS.items()},
    **{f"section-{name}": f"section {text}" for name, text in zip(
        "abcdefgh", ("ay", "bee", "see", "dee", "ee", "eff", "jee", "aitch"), strict=True)},
}  # fmt: skip


def texts() -> dict[str, str]:
    """What is said for every word, by the name of its file."""
    numbers = {str(k): word for k, word in enumerate(NUMBERS.split(), start=1)}
    return {**numbers, **{word: word for word in SINGLE.split()}, **PHRASES}


def recorded(text: str, folder: Path) -> tuple[np.ndarray, int]:
    path = folder / "said.wav"
    subprocess.run(
        ["flite", "-voice", VOICE, "--setf", f"duration_stretch={STRETCH}", "-t", text,
         "-o", str(path)], check=True,
    )  # fmt: skip
    wave, rate = soundfile.read(path)
    return wave, rate


def cut(wave: np.ndarray, rate: int) -> np.ndarray:
    """From where it begins to where it ends, at the common loudness."""
    n = int(FRAME_S * rate)
    frames = wave[: len(wave) // n * n].reshape(-1, n)
    loud = np.sqrt((frames**2).mean(axis=1))
    begins = int(np.argmax(np.abs(wave) > BEGINS * np.abs(wave).max())) - int(BEFORE_S * rate)
    ends = (len(loud) - int(np.argmax(loud[::-1] > ENDS * loud.max()))) * n
    word = wave[max(begins, 0) : ends]
    fade = int(FADE_S * rate)
    word[-fade:] *= np.linspace(1.0, 0.0, fade)
    voiced = loud[loud > 0.2 * loud.max()]
    word = word * LOUD / np.sqrt((voiced**2).mean())
    return word * min(1.0, PEAK / np.abs(word).max())


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    for old in FOLDER.glob("*.flac"):
        old.unlink()
    with TemporaryDirectory() as folder:
        for name, text in texts().items():
            wave, rate = recorded(text, Path(folder))
            soundfile.write(FOLDER / f"{name}.flac", cut(wave, rate), rate, subtype="PCM_16")


if __name__ == "__main__":
    main()
