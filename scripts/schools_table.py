"""Prints the table of docs/schools.md: one demo tune under every school and player."""

from __future__ import annotations

import sys
from dataclasses import replace

from plectrum.core.advice.comparison import changed_bars
from plectrum.core.advice.reasons import bars_words
from plectrum.core.advice.warnings import warnings_of
from plectrum.core.files.opening import open_document_path
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import Plan
from plectrum.core.player.player import STAGES, stage
from plectrum.core.player.school import (
    AmountSchool,
    CrossingSchool,
    DirectionSchool,
    DottedSchool,
    DynamicsSchool,
    FourthSchool,
    RestSchool,
    SlurSchool,
)
from plectrum.core.score.model import Direction
from plectrum.demo import demo_paths

SCHOOLS = {
    "direction": DirectionSchool,
    "amount": AmountSchool,
    "dotted": DottedSchool,
    "dynamics": DynamicsSchool,
    "crossing": CrossingSchool,
    "fourth": FourthSchool,
    "slurs": SlurSchool,
    "rests": RestSchool,
}


def row(name: str, plan: Plan, usual: Plan) -> str:
    """One line: what the bow does in all, and where it differs from the usual plan."""
    firsts = {}
    for p in plan.notes:
        if p is not None and p.note.bar > 0:
            firsts.setdefault(p.note.bar, p.direction)
    down = sum(d is Direction.DOWN for d in firsts.values())
    moving = [p for p in plan.notes if p is not None]
    whole = sum(p.length_mm for p in moving)
    lower = sum(p.length_mm for p in moving if (p.start + p.end) / 2 < 0.5)
    lanes = sorted(set(plan.contact.lane.tolist()))
    counts, window = plan.summary, plan.tempo_window
    tempo = "none" if window is None else f"{window[0]:.0f} to {window[1]:.0f}"
    other = changed_bars(usual, plan)
    differs = "–" if not other else "nearly all" if len(other) > 12 else bars_words(other)
    return (
        f"| {name} | {down} of {len(firsts)} | {counts['hooks']} | {counts['retakes']} | "
        f"{counts['crossings']} | {whole / len(plan.units) / 10:.0f} cm | "
        f"{100 * lower / whole:.0f} % | {'–'.join(map(str, {lanes[0], lanes[-1]}))} | {tempo} | "
        f"{len(warnings_of(plan))} | {differs} |"
    )


def main() -> int:
    document = open_document_path(demo_paths()[0])
    usual = plan_of(document)
    print(
        "| | bars that start down | hooks | lifts | crossings | bow a stroke | in the lower half "
        "| lanes | plays at | to look at | differs in |\n|" + "---|" * 11
    )
    print(row("as it opens", usual, usual))
    choices = document.choices
    for question, answers in SCHOOLS.items():
        for answer in answers:
            school = replace(choices.school, **{question: answer})
            if school != choices.school:
                plan = plan_of(document.with_choices(replace(choices, school=school)))
                print(row(f"{question}: {answer}", plan, usual))
    for name in STAGES:
        if name != choices.player.name:
            plan = plan_of(document.with_choices(replace(choices, player=stage(name))))
            print(row(f"player: {name}", plan, usual))
    return 0


if __name__ == "__main__":
    sys.exit(main())
