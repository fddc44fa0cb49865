"""The catalogue of texts: found in the code and in the shipped data, merged into the translations.

    python -m scripts.texts [--missing]

Writes build/plectrum.pot, brings every translation up to date and says what it lacks; with
--missing it prints the texts that a translation lacks.
"""

from __future__ import annotations

import ast
import json
import sys
from collections.abc import Iterable, Iterator
from functools import cache
from pathlib import Path
from typing import get_args

from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

from plectrum.cli.main import PARSER_TEXTS
from plectrum.core.advice.sound_faults import Symptom
from plectrum.core.instrument.bow import QUARTER_MARKS
from plectrum.core.instrument.specification import instrument, instrument_names
from plectrum.core.log.records import CHECKS, UNITS, Measure
from plectrum.core.planning.rules import TABLE, TERM_WORDS
from plectrum.core.player.player import STAGE, STAGES, Technique
from plectrum.core.player.school import DirectionSchool
from plectrum.core.playing.performance import Kind
from plectrum.core.practice.handout import Paper, Picture, Words
from plectrum.core.practice.strokes_per_note import Strokes
from plectrum.core.score import note_names
from plectrum.core.score.keys import MODES
from plectrum.core.score.metre import BEAT_UNITS
from plectrum.core.score.model import Articulation, Direction
from plectrum.core.sound.live import Answer
from plectrum.core.sound.together import Parts
from plectrum.core.tracking.feedback import FAULTS
from plectrum.core.tracking.simulated import Clumsiness
from plectrum.core.wording import NOTE_VALUE
from plectrum.ui.practice.exercise_form import ORDERS, PARTS, RHYTHMS

SOURCE = Path(__file__).parents[1] / "src" / "plectrum"
LOCALE = SOURCE / "core" / "wording" / "locale"
# Files of data with the keys in them whose values people read.
DATA = {
    "demo/log.json": ("note", "next_note"),
    "core/player/stages/*.json": ("title", "sentence"),
    "core/practice/exercises/exercises.json": (
        "title",
        "what",
        "purpose",
        "good",
        "stop",
        "caution",
        "checks",
        "word",
        "look_word",
    ),
    "core/practice/exercises/routines.json": ("title", "what"),
}
Text = tuple[str, str, str]  # context, text, plural


@cache
def in_code() -> tuple[tuple[str, Text], ...]:
    """Every text in the code, with the file it is in."""
    return tuple(_in_code())


def _in_code() -> Iterator[tuple[str, Text]]:
    for path in sorted(SOURCE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name):
                found = _text(node)
                if found is not None:
                    yield path.relative_to(SOURCE).as_posix(), found


def _text(call: ast.Call) -> Text | None:
    name = call.func.id  # type: ignore[attr-defined]
    words = [a.value for a in call.args if isinstance(a, ast.Constant) and isinstance(a.value, str)]
    if name in ("tr", "say") and words and words[0]:
        named = [a.id for a in call.args[1:] if isinstance(a, ast.Name)]
        about = NOTE_VALUE if "NOTE_VALUE" in named else (*words, "")[1]
        return (about if name == "tr" else "", words[0], "")
    if name == "several" and len(words) >= 2:
        return ("", words[0], words[1])
    return None


def in_data() -> Iterator[tuple[str, Text]]:
    """Texts of the shipped data, and words that files keep in English."""
    for pattern, keys in DATA.items():
        for path in sorted(SOURCE.glob(pattern)):
            for text in _values(json.loads(path.read_text()), keys):
                yield path.relative_to(SOURCE).as_posix(), ("", text, "")
    for file, words in kept_words().items():
        for text in words:
            if text and not text.isdigit():
                yield file, ("", text, "")
    for text in STAGES:
        yield "core/player/player.py", (STAGE, text, "")
    for text in BEAT_UNITS.values():
        yield "core/score/metre.py", (NOTE_VALUE, text, "")
    for text in (*note_names.WRITTEN, *note_names.SPOKEN):
        yield "core/score/note_names.py", (note_names.ABOUT, text, "")


def kept_words() -> dict[str, Iterable[str]]:
    """What is kept in English and read by people through `in_words`, by where it is listed."""
    whys = [rule.why for rule in TABLE.values()]
    ways = (" down", " up")
    places = [w.removesuffix(way) for w in whys for way in ways if w.endswith(way)]
    fingers = [f"{name} finger" for name in ("index", "middle", "ring", "little")]
    titles = [own.title for own in map(instrument, instrument_names())]
    marks = [mark.name for mark in QUARTER_MARKS]
    words = [
        word for own in map(instrument, instrument_names()) for word in own.hand.words.values()
    ]
    return {
        "cli/main.py": PARSER_TEXTS,
        "core/planning/rules": [*whys, *places, *TERM_WORDS.values()],
        "core/log/records.py": [*Measure, *UNITS.values(), *CHECKS],
        "core/advice/sound_faults.py": Symptom,
        "core/tracking": [*Clumsiness, *FAULTS],
        "core/player": [*get_args(Technique), *DirectionSchool],
        "core/instrument": [*instrument_names(), *titles, *marks, *words],
        "core/score": [*Direction, *Articulation, *MODES],
        "core/playing": [*Kind, *Parts, *Strokes, *Answer],
        "core/practice/handout.py": [*Picture, *Words, *Paper],
        "core/practice/exercises": [*fingers, *PARTS, *ORDERS, *RHYTHMS],
    }


def _values(value: object, keys: tuple[str, ...], key: str = "") -> Iterator[str]:
    if isinstance(value, dict):
        for name, inner in value.items():
            yield from _values(inner, keys, name)
    elif isinstance(value, list):
        for inner in value:
            yield from _values(inner, keys, key)
    elif isinstance(value, str) and key in keys and value:
        yield value


def template() -> Catalog:
    """Every text once."""
    made = Catalog(project="Plectrum", version="", fuzzy=False)
    for file, (context, text, plural) in [*in_code(), *in_data()]:
        made.add((text, plural) if plural else text, context=context or None,
                 locations=[(file, None)])  # fmt: skip
    return made


def updated(language: str) -> Catalog:
    """A translation brought up to date; texts that are no more are gone."""
    path = LOCALE / language / "LC_MESSAGES" / "plectrum.po"
    catalogue = read_po(path.open("rb"), locale=language) if path.exists() else Catalog(language)
    catalogue.update(template(), no_fuzzy_matching=True)
    catalogue.obsolete.clear()
    return catalogue


def lacking(catalogue: Catalog) -> list[str]:
    """Texts without a translation."""
    found = []
    for message in catalogue:
        told = message.string or ""
        text = told if isinstance(told, str) else "".join(told)
        if message.id and not text:
            found.append(message.id if isinstance(message.id, str) else message.id[0])
    return found


def compile_all() -> None:
    """Every translation in the form that is read at run time."""
    for path in LOCALE.glob("*/LC_MESSAGES/plectrum.po"):
        with path.open("rb") as source, path.with_suffix(".mo").open("wb") as target:
            write_mo(target, read_po(source, locale=path.parts[-3]))


def main() -> None:
    pot = Path("build/plectrum.pot")
    pot.parent.mkdir(exist_ok=True)
    with pot.open("wb") as target:
        write_po(target, template(), sort_output=True, width=100)
    for folder in sorted(LOCALE.iterdir()) if LOCALE.exists() else []:
        catalogue = updated(folder.name)
        missing = lacking(catalogue)
        if "--missing" in sys.argv:
            print("\n".join(missing))
            continue
        with (folder / "LC_MESSAGES" / "plectrum.po").open("wb") as target:
            write_po(target, catalogue, sort_output=True, width=100, include_lineno=False,
                     omit_header=False)  # fmt: skip
        print(f"{folder.name}: {len(catalogue)} texts, {len(missing)} without translation")
    compile_all()


if __name__ == "__main__":
    main()
