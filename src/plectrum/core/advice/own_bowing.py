"""My bowing: learnt from the plans a teacher has kept, and said in words.

What he pinned is what he meant: the way of every bow that has a pin, and of the one before where
the join is pinned, are marks to learn from, as printed ones are (`planning.learning`), starting
from the shipped numbers and within the same bounds of the trade.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from plectrum.core.advice.comparison import changed_bars
from plectrum.core.advice.reasons import bars_words
from plectrum.core.document.document import Document
from plectrum.core.errors import ChoiceError
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.learning.bowings import chain_of, learn
from plectrum.core.planning.plan import Plan, make_plan
from plectrum.core.planning.rules import LEARNT, LEARNT_FIGURES, TABLE
from plectrum.core.planning.strokes.planned import DIRECTIONS
from plectrum.core.player.own_bowing import OwnBowing
from plectrum.core.score.model import Direction
from plectrum.core.wording import in_words, say, tr

PULL = 1.0  # own default: towards the shipped numbers, per squared difference
DECIMALS_N = 3
CLEARLY = 0.2  # own default: a smaller change of cost is not spoken of
SAID_N = 8


def kept_marks(plan: Plan) -> dict[str, Direction]:
    """The ways of the bows that the teacher fixed in a plan: note id to direction."""
    found: dict[str, Direction] = {}
    for unit, step in zip(plan.units, plan.steps, strict=True):
        pin = plan.own_pin(unit)
        if pin.is_empty:
            continue
        found[plan.head_of(unit.index).id] = DIRECTIONS[step.direction]
        if pin.join is not None and unit.index:
            before = plan.unit_before[unit.index]
            found[plan.head_of(before).id] = DIRECTIONS[plan.steps[before].direction]
    return found


def learn_from(documents: Sequence[Document]) -> OwnBowing:
    """What some kept plans teach.

    Raises:
        ChoiceError: nothing is pinned in any of them.
    """
    chains = []
    plans_n = marks_n = 0
    for document in documents:
        marks = kept_marks(plan_of(document))
        if marks:
            chains.append(chain_of(document.part, document.choices, marks))
            plans_n += 1
            marks_n += len(marks)
    if not chains:
        raise ChoiceError(
            tr("there is nothing to learn from: no bow is pinned in these plans"),
            remedy=tr("Pin the bows you mean (D, U, H …) and save the plan first"),
        )
    found = learn(chains, LEARNT, PULL)
    worths = sorted((name, round(worth, DECIMALS_N)) for name, worth in found.items())
    return OwnBowing(tuple(worths), plans_n, marks_n)


def explained(bowing: OwnBowing) -> tuple[str, ...]:
    """What it changes, the weightiest first, each in a line; empty where it bows as print does."""
    own = bowing.over(LEARNT)
    changes = sorted(LEARNT, key=lambda name: (-abs(own[name] - LEARNT[name]), name))
    lines = [_said(name, own) for name in changes if abs(own[name] - LEARNT[name]) >= CLEARLY]
    return tuple(dict.fromkeys(lines))[:SAID_N]


def _said(name: str, own: Mapping[str, float]) -> str:
    """One change in a teacher's words."""
    more, why = own[name] > LEARNT[name], in_words(TABLE[name].why)
    if not name.startswith("down"):
        return (
            say("{why}: less often than in print", why=why)
            if more
            else say("{why}: more often than in print", why=why)
        )
    place = in_words(TABLE[name].why.removesuffix(" down").removesuffix(" up"))
    way = Direction.DOWN if more else Direction.UP
    base = name.removesuffix("_compound")
    worth = own[name] + (own[base] if base != name else 0.0)
    if (worth > 0) == more:
        return f"{place}: {in_words(way)}"
    return say("{place}: more often {way} than in print", place=place, way=way)


def print_words() -> str:
    """What the shipped numbers were learnt from."""
    f = LEARNT_FIGURES
    return say(
        "The way of the bow and hooks: learnt from {marks:,} printed signs in {tunes} fiddle tunes "
        "({bows:,} bows).\nSlurs: from {joins:,} slurred joins in {slurred_tunes} tunes.\nWhat "
        "the trade holds without exception stands above it: limits of the player, first beats "
        "down, rests, repeats, and what a school says.",
        marks=f["marks_n"],
        tunes=f["marked_tunes_n"],
        bows=f["bows_n"],
        joins=f["slurred_joins_n"],
        slurred_tunes=f["slurred_tunes_n"],
    )


def effect_on(document: Document, bowing: OwnBowing | None) -> str:
    """In which bars a piece is bowed otherwise with it than without, in words."""
    without = make_plan(document.part, replace(document.choices, bowing=None))
    own = make_plan(document.part, replace(document.choices, bowing=bowing))
    bars = changed_bars(without, own)
    return (
        say("In this piece it changes {bars}", bars=bars_words(bars))
        if bars
        else tr("It changes nothing here")
    )
