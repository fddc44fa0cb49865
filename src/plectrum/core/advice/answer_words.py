"""What another answer of the school comes to in a piece, where the bows that change do not tell: so
that nobody looks for what is not there."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from plectrum.core.advice.comparison import compare
from plectrum.core.advice.reasons import is_proposed
from plectrum.core.document.choices import SLUR_AMOUNT_MOST
from plectrum.core.planning.plan import Plan
from plectrum.core.player.school import QUESTIONS, SlurSchool
from plectrum.core.wording import say, several, tr


def answer_words(before: Plan, after: Plan, bars: Sequence[int]) -> str:
    """What the one answer in which two plans differ has done; empty where the bars that bow
    otherwise say it, or where the plans differ in no answer, in several, or in their notes.

    Args:
        bars: those that bow otherwise.
    """
    was, now = before.choices, after.choices
    asked = [row for row in QUESTIONS if getattr(was.school, row[0]) != getattr(now.school, row[0])]
    slider = was.slur_amount != now.slur_amount
    if before.part.bars is not after.part.bars or len(asked) + slider != 1:
        return ""
    if now.school.slurs is SlurSchool.SONG and (slider or asked[0][0] == "slurs"):
        return _slur_words(after)
    if bars or slider:
        return ""
    question, _, answers = asked[0]
    answer = answers[getattr(now.school, question)].partition(":")[0]
    bars_n = len({d.bar for d in compare(before, after).differences})
    if not bars_n:
        return say("{answer}: nothing changes in this piece", answer=answer)
    return several("{answer}: {n} bar changes", "{answer}: {n} bars change", bars_n, answer=answer)


def _slur_words(plan: Plan) -> str:
    """How many slurs the song proposes."""
    proposed = [p is not None and is_proposed(plan, p) for p in plan.notes]
    slurs_n = sum(joins and not joined for joined, joins in pairwise([False, *proposed]))
    if slurs_n:
        return several("{n} slur is proposed", "{n} slurs are proposed", slurs_n)
    if plan.choices.slur_amount < SLUR_AMOUNT_MOST:
        return tr("no slur is proposed with the slider here; further to “more” there may be some")
    return tr("no slur is proposed: nothing here can be slurred by this player")
