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
    """The language of this process."""
    return Language(_key(), OwnWords.from_text(os.environ.get(WORDS_VARIABLE, "")))


def _key() -> str:
    wanted = os.environ.get(LANGUAGE_VARIABLE, "")
    if wanted in LANGUAGES or wanted == PSEUDO:
        return wanted
    for name in ("LANGUAGE", "LC_ALL", "LC_MESSAGES", "LANG"):
        for word in os.environ.get(name, "").split(":"):
            if word[:2] in LANGUAGES:
                return word[:2]
            if word:
                return "en"
    return "en"


def choose(language: str, words: str) -> None:
    """Set it for this process and those it starts, before any text is asked for.

    Args:
        language: a key of `LANGUAGES`; empty for the system's.
        words: as `OwnWords.as_text` gives them.
    """
    if language:
        os.environ[LANGUAGE_VARIABLE] = language
    if words:
        os.environ[WORDS_VARIABLE] = words
    chosen.cache_clear()


def choose_as_kept() -> None:
    """What the preferences say, unless the environment says otherwise."""
    if WORDS_VARIABLE in os.environ:
        return
    try:
        kept = (user_config_path("plectrum") / "plectrum.ini").read_text(errors="replace")
    except OSError:
        return
    found = re.search(r'^words="?([a-z=,]*)"?$', kept, re.MULTILINE)
    if found:
        choose("", found[1])
