"""The border between core and interface holds, and the guard of it really bites."""

from __future__ import annotations

import shutil
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]


def lint_imports(root: Path) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [str(Path(sys.executable).parent / "lint-imports"), "--no-cache"],
        cwd=root,
        env={"PYTHONPATH": str(root / "src"), "PATH": "/usr/bin:/bin"},
        capture_output=True,
        text=True,
    )


@pytest.mark.parametrize(
    "planted",
    [
        "from PySide6.QtCore import QObject",
        "def f():\n    import plectrum.ui.look.theme",
        "from plectrum.core.files import planfile",
    ],
)
def test_a_planted_import_breaks_the_contract(tmp_path, planted):
    shutil.copy(ROOT / "pyproject.toml", tmp_path)
    shutil.copytree(ROOT / "src", tmp_path / "src")
    module = tmp_path / "src/plectrum/core/planning/words.py"
    module.write_text(module.read_text().replace("NEAR = 0.035", f"{planted}\n\nNEAR = 0.035"))
    done = lint_imports(tmp_path)
    assert done.returncode != 0
    assert "BROKEN" in done.stdout


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
        "from plectrum.core.files.planfile import open_document_path\n"
        "from plectrum.core.planning.plan import plan_of\n"
        "print(len(plan_of(open_document_path(demo_paths()[0])).notes))\n"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr
    assert int(done.stdout) > 50
