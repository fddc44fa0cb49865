"""Records the spoken words that are shipped, by free speech synthesisers: Flite for English,
eSpeak NG for German.

Run it where both are installed (apt: flite espeak-ng); nothing of this runs in the application:
    python scripts/voice.py
Each word is cut where it begins and ends, so that its first sample lies on the beat.
"""

from __future__ import annotations

import subprocess
from collections.abc import Iterable
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
heel point pull
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
GERMAN_NUMBERS = """
eins zwei drei vier fünf sechs sieben acht neun zehn elf zwölf dreizehn vierzehn fünfzehn sechzehn
siebzehn achtzehn neunzehn zwanzig
"""
GERMAN = {
    "down": "ab", "up": "auf", "stop": "Stopp", "lift": "abheben", "look": "hinsehen",
    "roll": "rollen", "same": "gleich", "frog": "Frosch", "middle": "Mitte", "tip": "Spitze",
    "ready": "bereit", "again": "noch einmal", "switch": "wechseln", "rest": "Pause",
    "listen": "hören", "tune": "stimmen", "settle": "ruhig", "play": "spielen", "soft": "weich",
    "lean": "neigen", "low": "tief", "high": "hoch", "back": "zurück", "long": "lang",
    "short": "kurz", "tiny": "winzig", "more": "mehr", "much": "viel", "wait": "warten",
    "stay": "bleiben", "drop": "fallen", "catch": "fangen", "throw": "werfen", "tap": "tippen",
    "push": "drücken", "crawl": "krabbeln", "glide": "gleiten", "thumb": "Daumen",
    "loosen": "entspannen", "tighten": "spannen", "pause": "Pause", "clap": "klatschen",
    "sing": "singen", "and": "und", "whole": "ganz", "half": "halb", "lower": "untere",
    "upper": "obere", "hold": "halten", "pluck": "zupfen", "together": "zusammen",
    "bounce": "springen", "rosin": "Kolophonium", "now-you": "jetzt du",
    "same-way": "gleiche Richtung", "second-time": "zweites Mal", "third-time": "drittes Mal",
    "little-finger": "kleiner Finger", "ring-finger": "Ringfinger",
    "middle-finger": "Mittelfinger", "index-finger": "Zeigefinger",
    "balance-point": "Balancepunkt", "let-go": "loslassen", "eyes-closed": "Augen zu",
    "well-done": "gut gemacht",
    **{f"{name}-string": f"{name.upper()}-Saite" for name in STRINGS},
    **{f"section-{name}": f"Abschnitt {name.upper()}" for name in "abcdefgh"},
}  # fmt: skip


def english() -> dict[str, str]:
    """What is said for every word, by the name of its file."""
    numbers = {str(k): word for k, word in enumerate(NUMBERS.split(), start=1)}
    return {**numbers, **{word: word for word in SINGLE.split()}, **PHRASES}


def german() -> dict[str, str]:
    """The same in German."""
    numbers = {str(k): word for k, word in enumerate(GERMAN_NUMBERS.split(), start=1)}
    return {**numbers, **GERMAN}


def flite(text: str, path: Path) -> list[str]:
    return ["flite", "-voice", VOICE, "--setf", f"duration_stretch={STRETCH}", "-t", text,
            "-o", str(path)]  # fmt: skip


def espeak(text: str, path: Path) -> list[str]:
    return ["espeak-ng", "-v", "de", "-s", "150", "-w", str(path), text]


def recorded(command: Iterable[str], path: Path) -> tuple[np.ndarray, int]:
    subprocess.run(command, check=True)
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
    with TemporaryDirectory() as folder:
        path = Path(folder) / "said.wav"
        for texts, say, target in ((english(), flite, FOLDER), (german(), espeak, FOLDER / "de")):
            target.mkdir(exist_ok=True)
            for old in target.glob("*.flac"):
                old.unlink()
            for name, text in texts.items():
                wave, rate = recorded(say(text, path), path)
                soundfile.write(target / f"{name}.flac", cut(wave, rate), rate, subtype="PCM_16")


if __name__ == "__main__":
    main()
