"""The warnings of a plan, those of one kind as one thing to look at."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from plectrum.core.advice.plan_warning import PlanWarning, Severity
from plectrum.core.advice.reasons import bars_words
from plectrum.core.wording import tr

# What several warnings of a kind are, together.
_TOGETHER = {
    "slur_too_long": tr("slurs are longer than this player's slowest bow"),
    "slur_not_learnt": tr("slurs have more notes than this player has learnt"),
    "too_slow": tr("bows are too slow to sound clean"),
    "too_fast": tr("bows are too fast for this player"),
    "upside_down": tr("bars begin upside down, as hooks are not learnt"),
    "too_quick": tr("passages have more strokes a second than this player speaks"),
    "runs_out": tr("bows run out"),
    "reach": tr("dynamics do not quite come"),
    "not_on_instrument": tr("notes cannot be played in these positions"),
    "pin_not_kept": tr("pins cannot be kept"),
    "place_not_kept": tr("places cannot be kept"),
    "mark_not_kept": tr("marks of the score are not kept"),
    "not_learnt": tr("hooks or lifts are not learnt yet"),
    "finger_not_learnt": tr("notes need a finger that is not learnt yet"),
    "slur_skips_string": tr("slurs skip a string"),
    "reading": tr("places of the score could not be read as they stand"),
}


@dataclass(frozen=True, slots=True)
class Thing:
    """One kind of warning with all its places, in the order of the music."""

    code: str
    severity: Severity
    text: str
    warnings: tuple[PlanWarning, ...]


def things_of(warnings: Sequence[PlanWarning]) -> tuple[Thing, ...]:
    """Warnings of the same kind together, the gravest first."""
    kinds: dict[tuple[str, str], list[PlanWarning]] = {}
    for warning in warnings:
        kinds.setdefault((warning.code, _kind(warning)), []).append(warning)
    gravest = list(Severity)[::-1]
    found = [_thing(code, rows) for (code, _), rows in kinds.items()]
    return tuple(sorted(found, key=lambda thing: gravest.index(thing.severity)))


def _kind(warning: PlanWarning) -> str:
    """What tells warnings of one code apart: a technique that is not learnt is its own kind."""
    return warning.text if warning.code not in _TOGETHER else ""


def _thing(code: str, rows: Sequence[PlanWarning]) -> Thing:
    severity = max((w.severity for w in rows), key=list(Severity).index)
    if len(rows) == 1:
        return Thing(code, severity, rows[0].text, tuple(rows))
    bars = tuple(sorted({w.bar for w in rows if w.bar is not None}))
    where = f": {bars_words(bars)}" if bars else ""
    return Thing(code, severity, f"{len(rows)} {_TOGETHER[code]}{where}", tuple(rows))
