"""Plans that were given for limits that have changed since: what would be different now."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from plectrum.core.advice.comparison import changed_bars
from plectrum.core.advice.reasons import bars_words
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.errors import PlectrumError
from plectrum.core.files.planfile import document_from_bytes
from plectrum.core.log.records import PlanGiven
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.player.player import Player
from plectrum.core.wording import say, tr
from plectrum.core.wording.dates import day_month


@dataclass(frozen=True, slots=True)
class OutOfDate:
    """A plan given for other limits than the player has now."""

    given: PlanGiven
    title: str
    bars: tuple[int, ...]
    warnings_then: int
    warnings_now: int

    @property
    def text(self) -> str:
        """What would change, in one line."""
        changes = [say("other bow in {bars}", bars=bars_words(self.bars))] if self.bars else []
        if self.warnings_now != self.warnings_then:
            now = say(
                "{warnings_now} to look at instead of {warnings_then}",
                warnings_now=self.warnings_now,
                warnings_then=self.warnings_then,
            )
            changes.append(now)
        when = say(
            "{title}, given on {day}",
            title=self.title,
            day=day_month(self.given.on),
        )
        return f"{when}: {'; '.join(changes)}"


def out_of_date(plans: Sequence[PlanGiven], player: Player) -> tuple[OutOfDate, ...]:
    """Of each piece the plan given last, if other limits would change it now; one that cannot be
    read any more is left out."""
    latest = {p.piece_id: p for p in sorted(plans, key=lambda p: (p.on, p.id))}
    found = []
    for given in latest.values():
        try:
            document = document_from_bytes(given.document, tr("plan given"))
        except PlectrumError:
            continue
        then = document.choices.player
        now = replace(player, name=then.name, title=then.title, sentence=then.sentence)
        if now == then:
            continue
        before = plan_of(document)
        after = plan_of(document.with_choices(replace(document.choices, player=now)))
        bars = changed_bars(before, after)
        then_n, now_n = len(warnings_of(before)), len(warnings_of(after))
        if bars or then_n != now_n:
            found.append(OutOfDate(given, document.title, bars, then_n, now_n))
    return tuple(found)
