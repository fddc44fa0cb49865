"""How far plans agree with bowings: printed ones, and those that teachers agree on.

Printed tunes are those of music21's corpus that print three marks or more, or slurs; these are
taken away. Only the half whose file names have an odd CRC-32 is looked at; the other half is for
learning. Agreed phrases (see `benchmarks.phrases`) are judged in folds, each by what the other
phrases and the printed half teach. Some minutes: `python -m benchmarks.agreement`.
"""

from __future__ import annotations

import zlib
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import replace
from pathlib import Path

from lxml import etree

from benchmarks.phrases import FOLDS_N, Marked, agreed_phrases, marked
from plectrum.core.document.choices import Join
from plectrum.core.document.document import Document
from plectrum.core.errors import PlectrumError
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.learning.bowings import chain_of, learn
from plectrum.core.planning.learning.chain import Chain
from plectrum.core.planning.learning.slurs import without_slurs
from plectrum.core.planning.plan import Plan, make_plan
from plectrum.core.player.own_bowing import OwnBowing
from plectrum.core.player.player import stage
from plectrum.core.player.school import SlurSchool
from plectrum.core.score.model import Direction, Note
from plectrum.core.score.reading.abc_child import convert
from plectrum.core.score.reading.opening import open_score

LEAST_MARKS_N = 3
LEAST_SLURRED, MOST_NOTES_N = 0.06, 260  # of notes under a slur; longer tunes take long
PLAYERS = ("steady", "growing")
BETWEEN_BEATS = -0.5  # metric weight below which a note lies between the beats


def printed_tunes(odd: bool = True) -> list[Marked]:
    """One half of the tunes; what cannot be read is left out. What is learnt from is what stands
    in print: the bars a word carries on would count one mark many times."""
    return [tune for path in _half(odd) if (tune := _tune(path, carried=odd)) is not None]


def _half(odd: bool) -> list[Path]:
    from music21 import corpus

    paths = sorted(
        p for p in corpus.getCorePaths() if "ryansMammoth" in str(p) and p.suffix == ".abc"
    )
    return [p for p in paths if zlib.crc32(p.name.encode()) % 2 == odd]


def slurred_tunes(odd: bool = True) -> list[Document]:
    """One half of the tunes in which slurs are not rare, as they are printed."""
    found = []
    for path in _half(odd):
        try:
            document = Document.from_score(open_score(convert(path.read_bytes()), path.name))
        except PlectrumError:
            continue
        notes = document.part.notes
        slurred = sum(n.slurred for n in notes)
        if len(notes) < MOST_NOTES_N and slurred >= LEAST_SLURRED * len(notes):
            found.append(document)
    return found


def _tune(path: Path, *, carried: bool) -> Marked | None:
    try:
        tune = marked(convert(path.read_bytes()), path.name, carried=carried)
    except (PlectrumError, etree.XMLSyntaxError):
        return None
    return tune if len(tune.marks) >= LEAST_MARKS_N else None


def compare(tune: Marked, plan: Plan, found: Counter[str]) -> None:
    """Count the marks at which a plan, and plain alternation, go as printed."""
    for unit in plan.units:
        head = plan.head_of(unit.index)
        mark = tune.marks.get(head.id)
        planned = plan.notes[unit.first]
        if mark is None or planned is None:
            continue
        alternating = Direction.UP if unit.index % 2 else Direction.DOWN
        found["marks"] += 1
        found["naive"] += alternating is mark
        if planned.direction is mark:
            found["planned"] += 1
            continue
        where = "first beat" if head.metric_weight == 1.0 else "other beats"
        found[f"{where} printed {mark}"] += 1


def compare_slurs(document: Document, found: Counter[str]) -> None:
    """Take the printed slurs away, let the plan propose some, and count the joins."""
    song = document.choices.with_school("slurs", SlurSchool.SONG)
    choices = replace(song, player=stage("steady"))
    plan = make_plan(without_slurs(document.part), choices)
    for planned, note in zip(plan.notes[1:], document.part.notes[1:], strict=True):
        if planned is None or note.grace or document.part.notes[note.index - 1].grace:
            continue
        proposed, printed = planned.join is Join.SLUR, note.slurred
        found["both"] += proposed and printed
        found["only proposed"] += proposed and not printed
        found["only printed"] += printed and not proposed
        if proposed != printed:
            side = "missed" if printed else "too many"
            found[f"{side}, {_place(note)}"] += 1


def _place(note: Note) -> str:
    return "onto a beat" if note.metric_weight > BETWEEN_BEATS else "between beats"


def run_slurs() -> None:
    documents = slurred_tunes()
    found: Counter[str] = Counter()
    for document in documents:
        compare_slurs(document, found)
    both, wrong = found["both"], found["only proposed"] + found["only printed"]
    kinds = ", ".join(f"{k} {n}" for k, n in found.most_common() if "," in k)
    print(
        f"printed slurs: {len(documents)} tunes, {both + found['only printed']} joins, "
        f"{found['only proposed'] + both} proposed, F1 {2 * both / (2 * both + wrong):.3f} "
        f"(goal 0.65), precision {100 * both / (both + found['only proposed']):.1f} %, recall "
        f"{100 * both / (both + found['only printed']):.1f} %; wrong: {kinds}"
    )


def learnt_without(fold: int | None, chains: Sequence[Chain]) -> dict[str, float]:
    """What directions and joins are worth, learnt from printed tunes and the phrases of all other
    folds; of all phrases for None."""
    phrases = [p for p in agreed_phrases() if p.fold != fold]
    return learn([*chains, *chains_of(phrases)])


def chains_of(tunes: Iterable[Marked]) -> list[Chain]:
    """Marked tunes to learn from."""
    steady = stage("steady")
    made = (
        chain_of(t.document.part, replace(t.document.choices, player=steady), t.marks)
        for t in tunes
    )
    return [chain for chain in made if len(chain.marks) > 1]


def wrong_signs(phrase: Marked, player: str, bowing: OwnBowing | None) -> list[str]:
    """Where a plan goes another way than agreed, such as "2.1 up"."""
    choices = replace(phrase.document.choices, player=stage(player), bowing=bowing)
    plan = plan_of(phrase.document.with_choices(choices))
    found = []
    for unit in plan.units:
        head, planned = plan.head_of(unit.index), plan.notes[unit.first]
        mark = phrase.marks.get(head.id)
        if planned is not None and mark not in (None, planned.direction):
            found.append(f"{head.bar}.{float(head.beat):g} {planned.direction}")
    return found


def run_phrases() -> None:
    """Each fold's phrases, unseen, for three players; then what is wrong, sorted."""
    chains = chains_of(printed_tunes(odd=False))
    phrases = agreed_phrases()
    wrong: dict[str, list[str]] = {}
    for fold in range(FOLDS_N):
        worths = tuple(sorted(learnt_without(fold, chains).items()))
        unseen = [p for p in phrases if p.fold == fold]
        signs_n = sum(len(p.marks) for p in unseen)
        for player in ("starter", *PLAYERS[::-1]):
            off = {p.name: wrong_signs(p, player, OwnBowing(worths, 0, 0)) for p in unseen}
            whole_n = sum(not where for where in off.values())
            right_n = signs_n - sum(map(len, off.values()))
            print(
                f"agreed phrases, fold {fold + 1} of {FOLDS_N}, {player}: {len(unseen)} phrases, "
                f"{100 * right_n / signs_n:.1f} % of {signs_n} signs (goal 98), "
                f"{100 * whole_n / len(unseen):.1f} % whole (goal 95)"
            )
            for name, where in off.items():
                if where:
                    wrong.setdefault(name, []).append(f"{player} {', '.join(where[:4])}")
    for name, where in sorted(wrong.items(), key=lambda item: -len(item[1])):
        print(f"  {name}: {'; '.join(where)}")


def run() -> None:
    tunes = printed_tunes()
    for player in PLAYERS:
        found: Counter[str] = Counter()
        for tune in tunes:
            choices = replace(tune.document.choices, player=stage(player))
            compare(tune, plan_of(tune.document.with_choices(choices)), found)
        marks_n = found["marks"]
        wrong = ", ".join(f"{kind} {n}" for kind, n in found.most_common() if "printed" in kind)
        print(
            f"printed marks, {player}: {len(tunes)} tunes, {marks_n} marks, "
            f"{100 * found['planned'] / marks_n:.1f} % as printed (goal 91), plain alternation "
            f"{100 * found['naive'] / marks_n:.1f} %; otherwise: {wrong}"
        )


if __name__ == "__main__":
    run_phrases()
    run()
    run_slurs()
