"""The rooms of the code stay as they are drawn, and the guards of it really bite."""

from __future__ import annotations

import shutil
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]


@pytest.fixture(scope="module")
def copied(tmp_path_factory) -> Path:
    """A copy of the code that may be spoilt."""
    root = tmp_path_factory.mktemp("copy")
    shutil.copy(ROOT / "pyproject.toml", root)
    shutil.copytree(
        ROOT / "src", root / "src", ignore=shutil.ignore_patterns("*.so", "__pycache__")
    )
    return root


def lint_imports(root: Path) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [str(Path(sys.executable).parent / "lint-imports"), "--no-cache"],
        cwd=root,
        env={"PYTHONPATH": str(root / "src"), "PATH": "/usr/bin:/bin"},
        capture_output=True,
        text=True,
    )


@pytest.mark.parametrize(
    ("module", "planted", "contract"),
    [
        ("core/advice/words.py", "from PySide6.QtCore import QObject", "no interface"),
        ("core/advice/words.py", "def f():\n    import plectrum.ui.look.theme", "no interface"),
        ("core/advice/words.py", "from plectrum.core.files import planfile", "later steps"),
        ("core/document/choices.py", "from plectrum.core.planning import plan", "later steps"),
        ("core/planning/strokes/units.py", "from plectrum.core.planning import plan", "before"),
        ("core/score/scorefile.py", "from plectrum.core.score.reading import abc", "Reading"),
        ("ui/look/labels.py", "from plectrum.ui.desk import desk", "The window stands"),
        ("ui/desk/desk.py", "from plectrum.ui.shell import main_window", "The window stands"),
        ("ui/log/menu.py", "from plectrum.ui.practice import menu", "no other screen"),
        ("core/instrument/hands.py", "from plectrum.core.instrument import bow", "circle"),
    ],
)
def test_a_planted_import_breaks_its_contract(copied, module, planted, contract):
    path = copied / "src/plectrum" / module
    whole = path.read_text("utf-8")
    try:
        path.write_text(f"{whole}\n\n{planted}\n", "utf-8")
        done = lint_imports(copied)
    finally:
        path.write_text(whole, "utf-8")
    assert done.returncode != 0
    broken = [line for line in done.stdout.splitlines() if line.endswith("BROKEN")]
    assert any(contract in line for line in broken), done.stdout


def test_the_drawing_of_the_folders_is_current():
    """`docs/dependencies.svg` is drawn from the imports as they are, without circles."""
    done = subprocess.run(
        [sys.executable, str(ROOT / "scripts/dependencies.py"), "--check"],
        capture_output=True,
        text=True,
    )
    assert done.returncode == 0, done.stderr


def test_the_core_works_where_qt_cannot_be_imported():
    """Planning runs with every Qt package barred from import."""
    code = (
        "import sys\n"
        "class Bar:\n"
        "    def find_spec(self, name, *a):\n"
        "        if name.split('.')[0] in ('PySide6', 'shiboken6', 'verovio'):\n"
        "            raise ImportError(name)\n"
        "sys.meta_path.insert(0, Bar())\n"
        "from plectrum.demo import demo_paths\n"
        "from plectrum.core.files.opening import open_document_path\n"
        "from plectrum.core.planning.ensemble.documents import plan_of\n"
        "print(len(plan_of(open_document_path(demo_paths()[0])).notes))\n"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    assert int(done.stdout) > 50
