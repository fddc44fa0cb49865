"""The words a teacher prefers where the trade has two: frog or heel, tip or point, down and up or
pull and push, quarter or crotchet."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cache

# For each question: its answers, the first as the texts have it.
QUESTIONS: dict[str, tuple[str, ...]] = {
    "frog": ("frog", "heel"),
    "tip": ("tip", "point"),
    "ways": ("down", "pull"),
    "notes": ("quarter", "crotchet"),
}
# Kinds of text in which a word has its special meaning.
WAY, NOTE_VALUE = "way of the bow", "note value"
_VALUES = {
    "whole": "semibreve", "half": "minim", "quarter": "crotchet", "eighth": "quaver",
    "sixteenth": "semiquaver", "16th": "semiquaver", "32nd": "demisemiquaver",
}  # fmt: skip
_WAYS = {"down-bow": "pull-bow", "up-bow": "push-bow", "down-bows": "pull-bows",
         "up-bows": "push-bows"}  # fmt: skip
_WAYS_ALONE = {"down": "pull", "up": "push"}


@dataclass(frozen=True, slots=True)
class OwnWords:
    """The answer to each question; those that are not there are as the texts have it."""

    answers: tuple[tuple[str, str], ...] = ()

    @classmethod
    def from_text(cls, text: str) -> OwnWords:
        """From "frog=heel,notes=crotchet"; what is no answer is left out."""
        pairs = (part.partition("=")[::2] for part in text.split(","))
        return cls(tuple(sorted((q, a) for q, a in pairs if a in QUESTIONS.get(q, ())[1:])))

    def as_text(self) -> str:
        return ",".join(f"{question}={answer}" for question, answer in self.answers)

    def says(self, question: str) -> bool:
        """Whether another word than the first is wanted."""
        return any(q == question for q, _ in self.answers)


def in_own_words(text: str, about: str, own: OwnWords) -> str:
    """A text in these words."""
    if not own.answers:
        return text
    words: dict[str, str] = {}
    if own.says("frog"):
        words |= {"frog": "heel"}
    if own.says("tip"):
        words |= {"tip": "point"}
    if own.says("ways"):
        words |= _WAYS | (_WAYS_ALONE if about == WAY else {})
    if own.says("notes") and about == NOTE_VALUE:
        words |= _VALUES
    if own.says("notes"):
        words |= {f"{word} note": value for word, value in _VALUES.items()}
        words |= {f"{word} notes": f"{value}s" for word, value in _VALUES.items()}
    return _pattern(tuple(words)).sub(lambda found: _like(found[0], words), text) if words else text


@cache
def _pattern(words: tuple[str, ...]) -> re.Pattern[str]:
    longest_first = sorted(words, key=len, reverse=True)
    return re.compile(rf"\b(?<!\{{)({'|'.join(map(re.escape, longest_first))})\b(?!\}})", re.I)


def _like(word: str, words: dict[str, str]) -> str:
    """The other word with the capitals of the first."""
    other = words[word.lower()]
    if word.isupper():
        return other.upper()
    return other.capitalize() if word[0].isupper() else other
