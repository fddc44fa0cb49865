"""Learn what directions, hooks and slurs are worth from bowings, and write the table.

From the fiddle tunes of music21's corpus, the half whose file names have an even CRC-32 (the other
half is only for `benchmarks/agreement.py`), and from the agreed phrases of `benchmarks/phrases`:
print shows marks where something is unusual, and only in quick tunes. Marks are learnt from tunes
that print three or more, slurs from those in which they are not rare. Some minutes; with `--marks`
the slurs are left as they are.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from pathlib import Path

import numpy as np
from benchmarks.agreement import chains_of, printed_tunes, slurred_tunes
from benchmarks.phrases import agreed_phrases

from plectrum.core.planning.learning.bowings import learn
from plectrum.core.planning.learning.figures import fit_figures
from plectrum.core.planning.learning.groups import Cuts, fit_groups
from plectrum.core.planning.learning.slurs import PrintedSlurs, cuts_of, printed_slurs
from plectrum.core.planning.rules.learnt import SLUR_WHY
from plectrum.core.planning.strokes.slur_figures import figures_of
from plectrum.core.player.player import stage

TABLE = Path(__file__).parent.parent / "src/plectrum/core/planning/rules/learnt.json"
FIGURES = TABLE.with_name("slur_figures.json")
DECIMALS_N = 3
NOT_DECIDED = ("slur_grace",)  # learnt with the rest, but a plan keeps graces as they are printed
SLURS_LEAST = 0.4  # log odds; a feature worth less is left out, and the others learnt again
FIGURES_LEAST = 0.1  # log odds; a figure worth less is left out
FIGURES_PULL = 2.0  # towards 0, per squared worth (own default)
FOLDS_N = 5  # parts of the tunes; each is learnt with the figures of the others
SLURS_SMALL = 0.15  # log odds; what is worth less beside the others has no row
# What the trade says whatever the print: a slur does not like to jump over a string.
TRADE = {"slur_skipping": (-4.0, -0.5)}
SLURS_PULL = 0.3  # towards 0, per squared difference (own default)


def main() -> None:
    table = json.loads(TABLE.read_text("utf-8"))
    worth, figures = _marks()
    table |= {"worth": worth, "figures": table["figures"] | figures}
    if "--marks" not in sys.argv:
        slurs, rhythms, more = _slurs()
        table |= {"slurs": slurs, "figures": table["figures"] | more}
        _write_figures(rhythms)
    TABLE.write_text(json.dumps(table, indent=1) + "\n", "utf-8")
    print(", ".join(f"{name} {value}" for name, value in table["figures"].items()))


def _write_figures(rhythms: Mapping[str, float]) -> None:
    FIGURES.write_text(json.dumps(rhythms, indent=0, sort_keys=True) + "\n", "utf-8")


def _marks() -> tuple[dict[str, float], dict[str, object]]:
    chains = chains_of(printed_tunes(odd=False))
    phrases = chains_of(agreed_phrases())
    worth = {n: round(value, DECIMALS_N) for n, value in learn([*chains, *phrases]).items()}
    marks_n, signs_n = (sum(int((c.marks >= 0).sum()) for c in some) for some in (chains, phrases))
    figures = {
        "learnt_from": "fiddle tunes of the music21 corpus, even half, printed bow marks; and "
        "phrases of plain music whose bowing teachers agree on",
        "phrases_n": len(phrases),
        "signs_n": signs_n,
        "marked_tunes_n": len(chains),
        "bows_n": int(np.sum([len(c.marks) for c in chains])),
        "marks_n": marks_n,
    }
    return worth, figures


def _slurs() -> tuple[dict[str, float], dict[str, float], dict[str, object]]:
    """What slurs are worth, and their figures.

    The rest is learnt beside figures from other tunes, as it will be used.
    """
    choices = [
        (d.part, replace(d.choices, player=stage("steady"))) for d in slurred_tunes(odd=False)
    ]
    printed = [printed_slurs(part, own) for part, own in choices]
    printed = [p for p in printed if p.columns.joinable.any()]
    others = [
        _figures(p for k, p in enumerate(printed) if k % FOLDS_N != f) for f in range(FOLDS_N)
    ]
    names = tuple(SLUR_WHY)
    found = fit_groups(_cuts(printed, names, others), names, SLURS_PULL, TRADE)
    kept = [name for name in names if abs(found[name]) >= SLURS_LEAST]
    cuts = _cuts(printed, kept, others)
    worth = {
        name: round(value, DECIMALS_N)
        for name, value in fit_groups(cuts, kept, SLURS_PULL, TRADE).items()
        if name not in NOT_DECIDED and abs(value) >= SLURS_SMALL
    }
    figures = {
        key: round(value, 2)
        for key, value in _figures(printed).items()
        if abs(value) >= FIGURES_LEAST
    }
    joins_n = int(np.sum([p.joined.sum() for p in printed]))
    counts: dict[str, object] = {
        "slurred_tunes_n": len(printed), "slurred_joins_n": joins_n, "figures_n": len(figures)
    }  # fmt: skip
    return worth, figures, counts


def _cuts(
    printed: Sequence[PrintedSlurs], names: Sequence[str], figures: Sequence[Mapping[str, float]]
) -> list[Cuts]:
    return [cuts_of(p, names, figures[k % len(figures)]) for k, p in enumerate(printed)]


def _figures(printed: Iterable[PrintedSlurs]) -> dict[str, float]:
    keys: list[tuple[str, ...]] = []
    joined: list[bool] = []
    for p in printed:
        can = np.flatnonzero(p.columns.joinable)
        of_note = figures_of(p.columns)
        keys += [of_note[k] for k in can]
        joined += p.joined[can].tolist()
    return fit_figures(keys, joined, FIGURES_PULL)


if __name__ == "__main__":
    main()
