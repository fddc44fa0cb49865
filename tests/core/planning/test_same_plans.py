"""Plans stay as they are, to the last digit, while the code around them is moved.

The fingerprints in `same_plans.json` were taken before the move: the demo pieces under every
stage and school, and forty fiddle tunes of music21's own corpus. Where plans are meant to change,
raise `PLANNER` of `planning.kept_plan`, so that plans kept before stay as they were, and write
them anew: `python -m tests.core.planning.test_same_plans`.
"""

from __future__ import annotations

import hashlib
import json
import sys
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest

from plectrum.core.advice.warnings import warnings_of
from plectrum.core.document.document import Document
from plectrum.core.files.opening import open_document_path
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.kept_plan import PLANNER
from plectrum.core.planning.plan import Plan
from plectrum.core.player.player import STAGES, stage
from plectrum.core.player.school import AmountSchool, DirectionSchool, DottedSchool, School
from plectrum.demo import demo_paths

SINCE = "plans since 1"
KEPT = Path(__file__).with_name("same_plans.json")
TUNES_N = 40
SCHOOLS = (
    School(),
    School(DirectionSchool.FLOW, AmountSchool.VALUES, DottedSchool.SEPARATE),
    School(DirectionSchool.TRAVEL, AmountSchool.FROG, DottedSchool.LIFT),
)


def fingerprint(plan: Plan) -> str:
    """Everything a plan decides, as a short digest; real numbers to nine digits."""
    rows: list[object] = [f"{plan.total_cost:.9g}", sorted(plan.terms.items()), plan.summary]
    for planned, fingered in zip(plan.notes, plan.fingered, strict=True):
        rows.append(fingered.grip)
        if planned is not None:
            numbers = (planned.start, planned.end, planned.length_mm, planned.moving_s)
            rows.append((str(planned.direction), str(planned.join), plan.stroke_of(planned)))
            rows.append(tuple(f"{x:.9g}" for x in numbers))
    contact = plan.contact
    rows.append(contact.lane.tolist())
    for column in (contact.weight_n, contact.hand_nmm, contact.elbow_mm):
        rows.append([f"{x:.9g}" for x in column])
    rows.append([(w.code, w.note) for w in warnings_of(plan)])
    rows.append([f"{bpm:.6g}" for bpm in plan.tempo_window or ()])
    rows.append(plan.solution.extra.tolist())
    return hashlib.blake2b(repr(rows).encode(), digest_size=12).hexdigest()


def demo_cases() -> Iterator[tuple[str, Document]]:
    for path in demo_paths():
        document = open_document_path(path)
        for name in STAGES:
            for k, school in enumerate(SCHOOLS):
                choices = replace(document.choices, player=stage(name), school=school)
                yield f"{path.stem}, {name}, {k}", document.with_choices(choices)


def corpus_paths() -> list[Path]:
    from music21 import corpus

    files = sorted(
        p for p in corpus.getCorePaths() if "ryansMammoth" in str(p) and p.suffix == ".abc"
    )
    return files[3 :: len(files) // TUNES_N][:TUNES_N]


def kept() -> dict[str, str]:
    return dict(json.loads(KEPT.read_text("utf-8")))


def test_the_plan_file_knows_since_when_plans_are_these():
    assert kept()[SINCE] == str(PLANNER)


def test_plans_of_the_demo_are_as_they_were():
    known = kept()
    for name, document in demo_cases():
        assert fingerprint(plan_of(document)) == known[name], name


def test_plans_of_forty_tunes_are_as_they_were(abc_here):
    pytest.importorskip("music21")
    known = kept()
    for path in corpus_paths():
        plan = plan_of(open_document_path(path))
        assert fingerprint(plan) == known[path.name], path.name


if __name__ == "__main__":
    found = {name: fingerprint(plan_of(document)) for name, document in demo_cases()}
    found |= {p.name: fingerprint(plan_of(open_document_path(p))) for p in corpus_paths()}
    known = kept()
    if known.pop(SINCE, None) == str(PLANNER) and known != found:
        sys.exit("plans differ: raise PLANNER in plectrum.core.planning.kept_plan first")
    found[SINCE] = str(PLANNER)
    KEPT.write_text(json.dumps(found, indent=1, sort_keys=True) + "\n", "utf-8")
