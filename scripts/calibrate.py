"""Learn what directions, hooks and slurs are worth from printed bowings, and write the table.

From the fiddle tunes of music21's corpus, the half whose file names have an even CRC-32; the other
half is only for `benchmarks/agreement.py`. Marks are learnt from tunes that print three or more,
slurs from those in which they are not rare. Some minutes.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

import numpy as np
from benchmarks.agreement import printed_tunes, slurred_tunes

from plectrum.core.document.document import Document
from plectrum.core.planning.learning.bowings import chain_of, learn
from plectrum.core.planning.learning.groups import Cuts, fit_groups
from plectrum.core.planning.learning.slurs import cuts_of
from plectrum.core.planning.rules.learnt import SLUR_WHY
from plectrum.core.player.player import stage

TABLE = Path(__file__).parent.parent / "src/plectrum/core/planning/rules/learnt.json"
DECIMALS_N = 3
NOT_DECIDED = ("slur_grace",)  # learnt with the rest, but a plan keeps graces as they are printed
SLURS_LEAST = 0.4  # log odds; a feature worth less is left out, and the others learnt again
SLURS_PULL = 0.3  # towards 0, per squared difference (own default)


def main() -> None:
    worth, figures = _marks()
    slurs, more = _slurs()
    table = {"worth": worth, "slurs": slurs, "figures": figures | more}
    TABLE.write_text(json.dumps(table, indent=1) + "\n", "utf-8")
    print(", ".join(f"{name} {value}" for name, value in table["figures"].items()))


def _marks() -> tuple[dict[str, float], dict[str, object]]:
    chains = []
    marks_n = 0
    for tune in printed_tunes(odd=False):
        choices = replace(tune.document.choices, player=stage("steady"))
        chain = chain_of(tune.document.part, choices, tune.marks)
        if len(chain.marks) > 1:
            chains.append(chain)
            marks_n += int((chain.marks >= 0).sum())
    worth = {name: round(value, DECIMALS_N) for name, value in learn(chains).items()}
    figures = {
        "learnt_from": "fiddle tunes of the music21 corpus, even half, printed bow marks",
        "marked_tunes_n": len(chains),
        "bows_n": int(np.sum([len(c.marks) for c in chains])),
        "marks_n": marks_n,
    }
    return worth, figures


def _slurs() -> tuple[dict[str, float], dict[str, object]]:
    documents = slurred_tunes(odd=False)
    names = tuple(SLUR_WHY)
    found = fit_groups(_cuts(documents, names), names, SLURS_PULL)
    names = tuple(name for name in names if abs(found[name]) >= SLURS_LEAST)
    cuts = _cuts(documents, names)
    worth = {
        name: round(value, DECIMALS_N)
        for name, value in fit_groups(cuts, names, SLURS_PULL).items()
        if name not in NOT_DECIDED
    }
    joins_n = int(np.sum([c.joined.sum() for c in cuts]))
    return worth, {"slurred_tunes_n": len(cuts), "slurred_joins_n": joins_n}


def _cuts(documents: Sequence[Document], names: Sequence[str]) -> list[Cuts]:
    found = []
    for document in documents:
        choices = replace(document.choices, player=stage("steady"))
        cuts = cuts_of(document.part, choices, names)
        if len(cuts.first):
            found.append(cuts)
    return found


if __name__ == "__main__":
    main()
