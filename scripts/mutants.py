"""Changes the core in small ways and tells which changes no test notices.

`make mutants` plants a hundred mutants of cosmic-ray, spread over the rooms below, in a copy of the
tree, runs each room's tests on each, and prints the share that was noticed and those that were not.
`python scripts/mutants.py ROOM COUNT [SEED]` does one room. Which survivors are equivalent (change
nothing that can be seen) has to be judged by reading them.
"""

from __future__ import annotations

import json
import random
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).parents[1]
SEED = 12
AS_IT_WAS = "tests/core/test_as_it_was.py"
# Room: modules below plectrum.core, the tests that guard them, how many mutants are planted.
ROOMS: dict[str, tuple[tuple[str, ...], str, int]] = {
    "fingering": (
        ("planning/fingering/grips.py", "planning/fingering/search.py"),
        (
            "tests/core/planning/test_strings.py tests/core/planning/test_rules.py "
            "tests/core/planning/test_same_plans.py::test_plans_of_the_demo_are_as_they_were"
        ),
        20,
    ),
    "amounts": (
        (
            "planning/strokes/amounts.py",
            "planning/strokes/bow_columns.py",
            "planning/strokes/units.py",
        ),
        (
            "tests/core/planning/test_rules.py tests/core/planning/test_guards.py "
            "tests/core/planning/test_worked_cases.py tests/core/planning/test_trade_facts.py "
            "tests/core/planning/test_same_plans.py::test_plans_of_the_demo_are_as_they_were"
        ),
        20,
    ),
    "strokes": (
        (
            "planning/strokes/preferences.py",
            "planning/strokes/context.py",
            "planning/strokes/costs.py",
            "planning/strokes/terms.py",
            "planning/strokes/stroke_tables.py",
            "planning/strokes/equal_bars.py",
            "planning/strokes/solving.py",
            "planning/strokes/planned.py",
            "planning/strokes/sharing.py",
        ),
        (
            "tests/core/planning/test_same_plans.py::test_plans_of_the_demo_are_as_they_were "
            "tests/core/planning/test_rules.py tests/core/planning/test_guards.py "
            "tests/core/planning/test_worked_cases.py tests/core/planning/test_trade_facts.py"
        ),
        40,
    ),
    "slurs": (
        (
            "planning/strokes/slurs.py",
            "planning/strokes/slur_features.py",
            "planning/strokes/segments.py",
        ),
        "tests/core/planning/test_slurs.py tests/core/planning/test_rules.py",
        25,
    ),
    "contact": (
        (
            "planning/contact/frames.py",
            "planning/contact/touch_costs.py",
            "planning/contact/contact.py",
            "planning/contact/limits.py",
            "planning/feedback.py",
        ),
        (
            "tests/core/planning/test_same_plans.py::test_plans_of_the_demo_are_as_they_were "
            "tests/core/planning/test_rules.py tests/core/planning/test_settling.py "
            "tests/core/planning/test_feedback.py tests/core/planning/test_contact.py"
        ),
        35,
    ),
    "advice": (
        (
            "advice/bow_warnings.py",
            "advice/note_warnings.py",
            "advice/reasons.py",
            "advice/out_of_reach.py",
            "advice/comparison.py",
        ),
        (
            "tests/core/planning/test_words_and_warnings.py tests/core/planning/test_remedies.py "
            "tests/core/planning/test_comparison.py tests/core/planning/test_contact.py"
        ),
        20,
    ),
    "practice": (
        (
            "practice/week.py",
            "practice/programme.py",
            "practice/ladder.py",
            "practice/exercises/steps.py",
        ),
        (
            "tests/core/practice/test_week.py tests/core/practice/test_programme.py "
            "tests/core/practice/test_rows.py tests/core/practice/test_exercises.py"
        ),
        15,
    ),
    "log": (
        ("log/limits.py", "log/measuring.py", "log/summaries.py"),
        "tests/core/log/test_limits.py tests/core/log/test_log.py",
        10,
    ),
    "readers": (
        ("score/parts.py", "score/raw.py", "score/timeline.py", "score/instruments.py"),
        (
            "tests/core/score/test_reading.py tests/core/score/test_marks.py "
            "tests/core/score/test_midi.py tests/core/score/test_abc.py "
            "tests/core/score/test_curves.py tests/core/score/test_guards.py "
            "tests/core/instrument"
        ),
        15,
    ),
}
CONFIG = """[cosmic-ray]
module-path = {modules}
timeout = 120.0
excluded-modules = []
test-command = "{python} -m pytest -x -q -p no:cacheprovider --no-header {tests}"

[cosmic-ray.distributor]
name = "local"
"""


def plant(room: str, count_n: int, seed: int, folder: Path) -> list[tuple[str, bool]]:
    """Plant mutants in a copy of the tree; what each was, and whether it was noticed."""
    modules, tests, _ = ROOMS[room]
    paths = json.dumps([f"src/plectrum/core/{m}" for m in modules])
    (folder / "mutants.toml").write_text(
        CONFIG.format(modules=paths, python=sys.executable, tests=f"{AS_IT_WAS} {tests}"), "utf-8"
    )
    ray = str(Path(sys.executable).with_name("cosmic-ray"))
    environment = {"PYTHONPATH": str(folder / "src"), "PATH": "/usr/bin:/bin"}
    session = folder / f"{room}.sqlite"
    session.unlink(missing_ok=True)

    def run(*words: str) -> None:
        subprocess.run([ray, *words], cwd=folder, env=environment, check=True)

    run("init", "mutants.toml", session.name)
    keep_some(session, count_n, seed)
    run("exec", "mutants.toml", session.name)
    with sqlite3.connect(session) as found:
        rows = found.execute(
            "SELECT m.module_path, m.operator_name, m.start_pos_row, r.test_outcome, r.diff "
            "FROM mutation_specs m JOIN work_results r ON m.job_id = r.job_id"
        ).fetchall()
    return [
        (f"{path}:{row} {operator}\n{diff}", "SURVIVED" not in str(outcome).upper())
        for path, operator, row, outcome, diff in rows
    ]


def keep_some(session: Path, count_n: int, seed: int) -> None:
    """Of all mutants there could be, so many taken at random, the same for a seed. Those of `|`
    are left out: nearly all stand in annotations, which nobody runs."""
    with sqlite3.connect(session) as found:
        rows = found.execute(
            "SELECT job_id, operator_name FROM mutation_specs ORDER BY module_path, "
            "start_pos_row, start_pos_col, operator_name, occurrence"
        ).fetchall()
        jobs = [(job,) for job, operator in rows if "_BitOr_" not in operator]
        kept = set(random.Random(seed).sample(jobs, min(count_n, len(jobs))))
        for job in {(job,) for job, _ in rows} - kept:
            found.execute("DELETE FROM mutation_specs WHERE job_id = ?", job)
            found.execute("DELETE FROM work_items WHERE job_id = ?", job)


def main(words: list[str]) -> int:
    """Plant in one room, or in all of them."""
    wanted = {words[0]: int(words[1])} if words else {r: n for r, (_, _, n) in ROOMS.items()}
    seed = int(words[2]) if len(words) > 2 else SEED
    noticed_n = planted_n = 0
    for room, count_n in wanted.items():
        with tempfile.TemporaryDirectory(prefix="mutants-") as name:
            folder = Path(name)
            for part in ("src", "tests", "pyproject.toml", "docs"):
                source = ROOT / part
                (shutil.copytree if source.is_dir() else shutil.copy)(source, folder / part)
            found = plant(room, count_n, seed, folder)
        noticed = [what for what, seen in found if seen]
        noticed_n, planted_n = noticed_n + len(noticed), planted_n + len(found)
        print(f"{room}: {len(noticed)} of {len(found)} noticed", flush=True)
        for what, seen in found:
            if not seen:
                print(f"  not noticed: {what}", flush=True)
    print(f"in all {noticed_n} of {planted_n} noticed")
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
