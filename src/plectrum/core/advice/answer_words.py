"""What another answer of the school comes to in a piece, where the bows that change do not tell: so
that nobody looks for what is not there."""

from __future__ import annotations

from itertools import pairwise

from plectrum.core.advice.comparison import compare
from plectrum.core.advice.reasons import is_proposed
from plectrum.core.document.choices import SLUR_AMOUNT_MOST
from plectrum.core.planning.plan import Plan
from plectrum.core.player.school import QUESTIONS, SlurSchool
from plectrum.core.wording import say, several, tr


def answer_words(before: Plan, after: Plan) -> str:
    """What the one answer in which the schools of two plans differ does where no bow is another;
    empty where they differ in none or in several, or are plans of different notes."""
    old, new = before.choices.school, after.choices.school
    if old == new or before.part.bars is not after.part.bars:
        return ""
    asked = [row for row in QUESTIONS if getattr(old, row[0]) != getattr(new, row[0])]
    if len(asked) > 1 or slur_words(before, after):
        return ""
    question, _, answers = asked[0]
    answer = answers[getattr(new, question)].partition(":")[0]
    bars_n = len({d.bar for d in compare(before, after).differences})
    if not bars_n:
        return say("{answer}: nothing changes in this piece", answer=answer)
    return several("{answer}: {n} bar changes", "{answer}: {n} bars change", bars_n, answer=answer)


def slur_words(before: Plan, after: Plan) -> str:
    """How many slurs are proposed, where the song or its slider has just been chosen."""
    was, now = before.choices, after.choices
    if now.school.slurs is not SlurSchool.SONG or before.part.bars is not after.part.bars:
        return ""
    if (was.school.slurs, was.slur_amount) == (now.school.slurs, now.slur_amount):
        return ""
    proposed = [p is not None and is_proposed(after, p) for p in after.notes]
    slurs_n = sum(joins and not joined for joined, joins in pairwise([False, *proposed]))
    if slurs_n:
        return several("{n} slur is proposed", "{n} slurs are proposed", slurs_n)
    if now.slur_amount < SLUR_AMOUNT_MOST:
        return tr("no slur is proposed with the slider here; further to “more” there may be some")
    return tr("no slur is proposed: nothing here can be slurred by this player")
