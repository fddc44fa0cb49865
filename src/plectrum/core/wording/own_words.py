"""The words a teacher prefers where the trade has two: frog or heel, tip or point, down and up or
pull and push, quarter or crotchet; and tape marks by name or by colour."""

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
    "marks": ("name", "colour"),  # of tapes: answered where a mark is called, in every language
}
_WAYS = {"down": "pull", "up": "push", "downs": "pulls", "ups": "pushes"}
# Where "down" and "up" are ways of the bow, not what is done to a hand or a note.
_WAY = re.compile(
    r"(?<!set )(?<!setting )(?<!it )(?<!bow )(?<!file )(?<!stand )(?<!log )(?<!highest )(?<!or )"
    r"(?<!-)\b(downs?|ups?)(-bows?\b|\b(?=$|:|\.$|,? again\b|, | and (?:up|push|one)\b|"
    r" alternate\b| with | on the | the same| that | long | goe?s? | together| take|"
    r" are | is | in a bar))",
    re.IGNORECASE,
)  # fmt: skip
_KEYS = re.compile(r"Ctrl|Alt|Up, Down|retake|BAR\.BEAT")  # here they are keys, or options
# What a text is about in which these words are lengths of notes, not parts of the bow.
NOTE_VALUE = "note value"
_VALUES = {
    "whole": "semibreve", "half": "minim", "quarter": "crotchet", "eighth": "quaver",
    "sixteenth": "semiquaver", "16th": "semiquaver", "32nd": "demisemiquaver",
}  # fmt: skip


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
    if own.says("ways") and not _KEYS.search(text):
        text = _WAY.sub(_other_way, text).replace("an push", "a push")
    words: dict[str, str] = {}
    if own.says("frog"):
        words |= {"frog": "heel"}
    if own.says("tip"):
        words |= {"tip": "point"}
    if own.says("notes") and about == NOTE_VALUE:
        words |= _VALUES
    if own.says("notes"):
        words |= {"eighths": "quavers", "sixteenths": "semiquavers"}  # never parts of the bow
        words |= {f"{word} note": value for word, value in _VALUES.items()}
        words |= {f"{word} notes": f"{value}s" for word, value in _VALUES.items()}
    return _pattern(tuple(words)).sub(lambda found: _like(found[0], words), text) if words else text


def _other_way(found: re.Match[str]) -> str:
    """The word, and "bow" left out after it: a pull, two pushes."""
    word, tail = found[1], found[2]
    many = word.lower() + ("s" if tail.endswith("s") and not word.endswith("s") else "")
    return _like(many, _WAYS | {many: _WAYS[many]}) if word.islower() else _WAYS[many].capitalize()


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
