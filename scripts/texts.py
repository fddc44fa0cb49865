"""The catalogue of texts: found in the code and in the shipped data, merged into the translations.

    python -m scripts.texts [--missing]

Writes build/plectrum.pot, brings every translation up to date and says what it lacks; with
--missing it prints the texts that a translation lacks.
"""

from __future__ import annotations

import ast
import json
import sys
from collections.abc import Iterator
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

SOURCE = Path(__file__).parents[1] / "src" / "plectrum"
LOCALE = SOURCE / "core" / "wording" / "locale"
# Files of data with the keys in them whose values people read.
DATA = {
    "core/player/stages/*.json": ("title", "sentence"),
    "core/practice/exercises/exercises.json": (
        "title",
        "what",
        "purpose",
        "good",
        "stop",
        "caution",
        "checks",
    ),
    "core/practice/exercises/routines.json": ("title", "what"),
}
Text = tuple[str, str, str]  # context, text, plural


def in_code() -> Iterator[tuple[str, Text]]:
    """Every text in the code, with the file it is in."""
    for path in sorted(SOURCE.rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name):
                found = _text(node)
                if found is not None:
                    yield path.relative_to(SOURCE).as_posix(), found


def _text(call: ast.Call) -> Text | None:
    name = call.func.id  # type: ignore[attr-defined]
    words = [a.value for a in call.args if isinstance(a, ast.Constant) and isinstance(a.value, str)]
    if name in ("tr", "say", "marked") and words and words[0]:
        return (words[1] if name != "say" and len(words) > 1 else "", words[0], "")
    if name == "several" and len(words) >= 2:
        return ("", words[0], words[1])
    return None


def in_data() -> Iterator[tuple[str, Text]]:
    """Texts of the shipped data, and the words of the rule table."""
    for pattern, keys in DATA.items():
        for path in sorted(SOURCE.glob(pattern)):
            for text in _values(json.loads(path.read_text()), keys):
                yield path.relative_to(SOURCE).as_posix(), ("", text, "")
    from plectrum.core.planning.rules import TABLE, TERM_WORDS

    for text in [rule.why for rule in TABLE.values()] + list(TERM_WORDS.values()):
        yield "core/planning/rules", ("", text, "")


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
        text = message.string if isinstance(message.string, str) else "".join(message.string)
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
