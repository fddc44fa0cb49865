"""What the guide says of keys and options is there."""

from __future__ import annotations

import argparse
import re
import shlex
import stat
from importlib import import_module
from pathlib import Path

import pytest
from PySide6.QtGui import QAction, QKeySequence

from plectrum.cli.main import COMMANDS, EXAMPLES, Parser
from plectrum.core.player.school import DirectionSchool
from plectrum.ui.shell.key_sheet import KeySheet

GUIDE = (Path(__file__).parents[2] / "docs" / "guide.md").read_text()
COMMAND_LINE = GUIDE.split("## On the command line")[1].split("\n## ")[0]
# Keys of the guide that belong to a view, not to a command of the menus.
_OF_VIEWS = re.compile(
    r"Ctrl\+(Left|Right|Up|Down|Home|End|Enter|click)|Alt\+(Up|Down|Left|Right)|Ctrl\+wheel"
)


def keys_in_guide() -> set[str]:
    """Every key with Ctrl or Alt, and F keys, wherever the guide names one."""
    found = re.findall(r"(?:Ctrl\+|Alt\+|Shift\+)+(?:F\d+|[A-Z][a-z]+|.)|\bF\d{1,2}\b", GUIDE)
    return {key for key in found if not _OF_VIEWS.match(key)}


def options_in_guide() -> list[tuple[str, str]]:
    """Command and option, for every option in the blocks of the guide."""
    rows = []
    for block in re.split(r"\n(?=    plectrum )", "\n" + COMMAND_LINE):
        command = re.match(r"    plectrum (\w+)", block)
        if command and command[1] in COMMANDS:
            usage = "\n".join(line for line in block.splitlines() if line.startswith("    "))
            rows += [(command[1], option) for option in re.findall(r"--[a-z][a-z-]+", usage)]
    return sorted(set(rows))


def parser_of(command: str) -> argparse.ArgumentParser:
    parser = Parser(prog=command)
    import_module(f"plectrum.cli.{command}").add_options(parser)
    return parser


@pytest.mark.parametrize("command", sorted(set(COMMANDS) - {"open", "demo"}))
def test_every_option_of_the_guide_is_known_and_every_command_is_told(command):
    known = {o for action in parser_of(command)._actions for o in action.option_strings}
    told = {option for name, option in options_in_guide() if name == command}
    assert told <= known
    assert f"plectrum {command}" in COMMAND_LINE


@pytest.mark.parametrize("command", COMMANDS)
def test_every_example_of_the_help_is_understood(command):
    for example in EXAMPLES[command]:
        words = shlex.split(example)[1:]
        parser_of(command).parse_args(words[1:] if words[:1] == [command] else words)


def test_every_key_of_the_guide_is_a_command(violin):
    for key in ("piece", "bowing", "show", "handout", "practice", "log", "together", "player"):
        violin.show_screen(key)
    known = {
        sequence.toString()
        for action in violin.findChildren(QAction)
        for sequence in action.shortcuts()
    }
    violin.show_keys()
    sheet = violin.key_sheet
    assert isinstance(sheet, KeySheet)
    missing = {key for key in keys_in_guide() if QKeySequence(key).toString() not in known}
    told = {key for key in missing if key.replace("+", "") in _told_by(sheet)}
    assert missing - told == set()


def _told_by(sheet: KeySheet) -> str:
    """The keys that the sheet tells of the views, run together."""
    from PySide6.QtWidgets import QLabel

    return " ".join(w.text() for w in sheet.findChildren(QLabel)).replace("+", "")


def rows_of(heading: str) -> list[list[str]]:
    """The rows of the first table under a heading, without its head."""
    lines = GUIDE.split(f"## {heading}")[1].split("\n## ")[0].splitlines()
    rows = [line for line in lines if line.startswith("|")]
    return [[cell.strip() for cell in row.strip("|").split("|")] for row in rows[2:]]


def test_the_schools_of_the_guide_are_those_there_are():
    told = dict(rows_of("The plan"))
    assert list(told) == [school.called for school in DirectionSchool]
    for school in DirectionSchool:
        assert told[school.called].startswith(school.sentence)


def test_what_is_kept_lies_where_the_guide_says_and_is_read_by_the_user_alone(violin, tmp_path):
    told = {what: (where, who) for what, where, who in rows_of("What is kept of whom")}
    alone = [what for what, (_, who) in told.items() if who == "you alone"]
    assert {where for where, _ in told.values() if where.startswith(("data", "state"))} == {
        "data folder (`~/.local/share/plectrum`)", "state folder (`~/.local/state/plectrum`)"
    }  # fmt: skip
    assert any("log of students" in what for what in alone)
    assert any("files opened lately" in what for what in alone)
    violin.desk.log.store  # noqa: B018 - made when it is first asked for
    violin.settings.add_recent(tmp_path / "a.abc")
    for path in (tmp_path / "log.sqlite", Path(violin.settings._store.fileName())):
        assert stat.S_IMODE(path.stat().st_mode) == 0o600
