"""The agreed phrases are what they say: many, for all instruments, each of its own rhythm."""

from __future__ import annotations

from collections import Counter
from pathlib import Path

import benchmarks.phrases as agreed
from benchmarks.phrases import FOLDS_N, agreed_phrases

OWN_LEAST_N = 150  # beside the first 45


def test_there_are_enough_for_all_instruments_and_no_two_have_one_rhythm():
    phrases = agreed_phrases()
    assert len(phrases) >= 45 + OWN_LEAST_N
    assert all(phrase.marks for phrase in phrases)
    instruments = Counter(phrase.document.choices.instrument for phrase in phrases)
    assert all(instruments[name] >= 10 for name in ("violin", "viola", "cello", "bass"))
    assert set(Counter(phrase.fold for phrase in phrases)) == set(range(FOLDS_N))
    first = (Path(agreed.__file__).parent / "plain.abc").read_text("utf-8")
    rhythms = Counter(
        (
            phrase.document.part.bars[0].metre,
            *((n.onset_q, n.duration_q, n.slurred) for n in phrase.document.part.notes),
        )
        for phrase in phrases
        if f"T:{phrase.name}\n" not in first
    )
    assert max(rhythms.values()) == 1


def test_no_mark_is_left_for_the_planner_to_see():
    phrases = agreed_phrases()
    assert all(note.mark is None for p in phrases for note in p.document.part.notes)
    assert sum(len(phrase.marks) for phrase in phrases) > 2000
