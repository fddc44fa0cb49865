"""Learn what directions and hooks are worth from printed bow marks, and write the table.

From the fiddle tunes of music21's corpus that print three marks or more, the half whose file names
have an even CRC-32; the other half is only for `benchmarks/agreement.py`. About two minutes.
"""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
from benchmarks.agreement import printed_tunes

from plectrum.core.planning.learning.bowings import chain_of, learn
from plectrum.core.player.player import stage

TABLE = Path(__file__).parent.parent / "src/plectrum/core/planning/rules/learnt.json"
DECIMALS_N = 3


def main() -> None:
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
        "tunes_n": len(chains),
        "bows_n": int(np.sum([len(c.marks) for c in chains])),
        "marks_n": marks_n,
    }
    TABLE.write_text(json.dumps({"worth": worth, "figures": figures}, indent=1) + "\n", "utf-8")
    print(f"{marks_n} marks in {len(chains)} tunes; written to {TABLE.name}")


if __name__ == "__main__":
    main()
