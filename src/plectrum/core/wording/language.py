"""The language of this run: chosen once, by the user's settings, by the command line's environment
or by the system."""

from __future__ import annotations

import gettext
import os
import re
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path

from platformdirs import user_config_path

from plectrum.core.wording.own_words import OwnWords

LANGUAGE_VARIABLE, WORDS_VARIABLE = "PLECTRUM_LANGUAGE", "PLECTRUM_WORDS"
FOLDER = Path(__file__).parent / "locale"
# Languages by their own names; English needs no catalogue. A language stands here when all its
# texts are translated.
LANGUAGES = {"en": "English", "de": "Deutsch"}
PSEUDO = "pseudo"  # for tests: every text of the catalogue is longer and in brackets
_DECIMALS = {"de": ","}
_PLACEHOLDER = re.compile(r"(\{[^}]*\}|&|\n)")
_ACCENTS = str.maketrans("aeiounAEIOUN", "àéîöûñÀÉÎÖÛÑ")


@dataclass(frozen=True)
class Language:
    """A language with its texts."""

    key: str
    own_words: OwnWords = field(default_factory=OwnWords)

    @property
    def decimal(self) -> str:
        return _DECIMALS.get(self.key, ".")

    @property
    def _catalogue(self) -> gettext.NullTranslations:
        return _catalogue(self.key)

    def gettext(self, text: str) -> str:
        return self._catalogue.gettext(text)

    def pgettext(self, about: str, text: str) -> str:
        return self._catalogue.pgettext(about, text)

    def ngettext(self, one: str, many: str, n: int) -> str:
        return self._catalogue.ngettext(one, many, n)


class _Pseudo(gettext.NullTranslations):
    """Every text a third longer, with accents, between brackets; what is shown without them is not
    in the catalogue."""

    def gettext(self, message: str) -> str:
        pieces = [p if k % 2 else p.translate(_ACCENTS)
                  for k, p in enumerate(_PLACEHOLDER.split(message))]  # fmt: skip
        return f"⟦{''.join(pieces)}{'~' * (len(message) // 3)}⟧"

    def pgettext(self, context: str, message: str) -> str:
        return self.gettext(message)

    def ngettext(self, msgid1: str, msgid2: str, n: int) -> str:
        return self.gettext(msgid1 if n == 1 else msgid2)


@cache
def _catalogue(key: str) -> gettext.NullTranslations:
    if key == PSEUDO:
        return _Pseudo()
    if key == "en":
        return gettext.NullTranslations()
    return gettext.translation("plectrum", FOLDER, [key], fallback=True)


@cache
def chosen() -> Language:
    """The language of this process: the environment's, else the one in the preferences, else the
    system's."""
    kept = _kept()
    words = os.environ.get(WORDS_VARIABLE, kept.get("words", ""))
    return Language(_key(kept.get("language", "")), OwnWords.from_text(words))


def _key(kept: str) -> str:
    for wanted in (os.environ.get(LANGUAGE_VARIABLE, ""), kept):
        if wanted in LANGUAGES or wanted == PSEUDO:
            return wanted
    for name in ("LANGUAGE", "LC_ALL", "LC_MESSAGES", "LANG"):
        for word in os.environ.get(name, "").split(":"):
            if word[:2] in LANGUAGES:
                return word[:2]
            if word:
                return "en"
    return "en"


def _kept() -> dict[str, str]:
    """Language and words of the preferences, as the toolkit writes its settings."""
    try:
        text = (user_config_path("plectrum") / "plectrum.ini").read_text(errors="replace")
    except OSError:
        return {}
    return dict(re.findall(r'^(words|language)="?([a-z=,]*)"?$', text, re.MULTILINE))


def hold() -> None:
    """Processes that this one starts speak the same, whatever is chosen meanwhile."""
    language = chosen()
    os.environ[LANGUAGE_VARIABLE] = language.key
    os.environ[WORDS_VARIABLE] = language.own_words.as_text()
