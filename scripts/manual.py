"""The man page and the completion of shells, made from the commands themselves, so that they are
true.

    python -m scripts.manual FOLDER      writes plectrum.1, plectrum.bash, _plectrum, plectrum.fish
"""

from __future__ import annotations

import argparse
import sys
from collections.abc import Iterator
from importlib import import_module
from pathlib import Path

from plectrum import __version__
from plectrum.cli.main import COMMANDS, EXAMPLES, Parser

FILES = "*.(musicxml|xml|mxl|abc|mid|midi|plectrum)"


def parsers() -> dict[str, argparse.ArgumentParser]:
    """Every command's own parser."""
    found = {}
    for name in COMMANDS:
        parser = Parser(prog=f"plectrum {name}", add_help=True)
        import_module(f"plectrum.cli.{name}").add_options(parser)
        found[name] = parser
    return found


def _escaped(text: str) -> str:
    return text.replace("\\", "\\\\").replace("-", "\\-").replace("%%", "%")


def _shown(action: argparse.Action) -> str:
    """An option as it is written: "--tempo BPM"."""
    if not action.option_strings:
        return str(action.metavar or action.dest).upper()
    names = ", ".join(action.option_strings)
    return names if action.nargs == 0 else f"{names} {action.metavar or action.dest.upper()}"


_ABOUT = (
    "Without a command a window opens. Scores in MusicXML, compressed MusicXML, ABC and MIDI are "
    "read, and plan files of its own. A single \\- as FILE or OUT is standard input or output."
)


def man_page() -> str:
    """The manual of all commands, in roff."""
    lines = [
        f'.TH PLECTRUM 1 "" "Plectrum {__version__}" "User commands"',
        ".SH NAME",
        "plectrum \\- plans bow direction and bow distribution for string teachers",
        ".SH SYNOPSIS",
        ".B plectrum",
        "[FILE ...]",
        ".br",
        ".B plectrum",
        "COMMAND ...",
        ".SH DESCRIPTION",
        _ABOUT,
        ".SH COMMANDS",
    ]
    for name, parser in parsers().items():
        does = _escaped(COMMANDS[name])
        lines += [f".SS plectrum {name}", f"{does[0].upper()}{does[1:]}."]
        for action in parser._actions:
            lines += [".TP", f".B {_escaped(_shown(action))}", _escaped(action.help or "")]
        lines += [".PP", "Examples:", ".nf", *map(_escaped, EXAMPLES[name]), ".fi"]
    return "\n".join([*lines, *_END]) + "\n"


_EXITS = (
    "0 where all went well; 1 where some of many tunes failed; 2 for options or files that cannot "
    "be used, with one line on standard error."
)
_KEPT = (
    "Students, players and the log are kept in ~/.local/share/plectrum, settings in "
    "~/.config/plectrum, the log of troubles and unsaved copies in ~/.local/state/plectrum."
)
_END = (
    ".SH EXIT STATUS",
    _EXITS,
    ".SH FILES",
    _KEPT,
)


def _options(parser: argparse.ArgumentParser) -> Iterator[argparse.Action]:
    return (action for action in parser._actions if action.option_strings)


def bash() -> str:
    """Completion of bash: commands, options, their choices, and files."""
    cases = []
    for name, parser in parsers().items():
        words = " ".join(o for a in _options(parser) for o in a.option_strings)
        cases.append(f'    {name}) words="{words}" ;;')
    choices = {
        option: " ".join(map(str, action.choices))
        for parser in parsers().values()
        for action in _options(parser)
        if action.choices
        for option in action.option_strings
    }
    values = [f'    {option}) COMPREPLY=($(compgen -W "{words}" -- "$current")); return ;;'
              for option, words in sorted(choices.items())]  # fmt: skip
    return "\n".join(
        [
            "# Completion of plectrum for bash.",
            "_plectrum() {",
            '  local current="${COMP_WORDS[COMP_CWORD]}" words',
            '  local before="${COMP_WORDS[COMP_CWORD-1]}"',
            '  case "$before" in', *values, "  esac",
            '  case "${COMP_WORDS[1]}" in', *cases, '    *) words="--version --help" ;;', "  esac",
            '  if [[ "$current" == -* ]]; then COMPREPLY=($(compgen -W "$words" -- "$current"))',
            "  elif [[ $COMP_CWORD == 1 ]]; then",
            f'    COMPREPLY=($(compgen -f -W "{" ".join(COMMANDS)}" -- "$current"))',
            '  else COMPREPLY=($(compgen -f -- "$current")); fi',
            "}",
            "complete -o filenames -F _plectrum plectrum",
        ]
    ) + "\n"  # fmt: skip


def zsh() -> str:
    """Completion of zsh."""
    commands = " ".join(f"'{name}:{does.replace(chr(39), '')}'" for name, does in COMMANDS.items())
    cases = []
    for name, parser in parsers().items():
        rows = []
        for action in _options(parser):
            help_text = (action.help or "").translate({ord(c): None for c in "'[]:"})
            value = "" if action.nargs == 0 else f":{action.metavar or 'value'}:"
            if value and action.choices:
                value += f"({' '.join(map(str, action.choices))})"
            rows += [f"'{option}[{help_text}]{value}'" for option in action.option_strings]
        cases.append(f"    {name}) _arguments {' '.join(rows)} '*:file:_files' ;;")
    return (
        "\n".join(
            [
                "#compdef plectrum",
                f"local -a commands=({commands})",
                "if (( CURRENT == 2 )); then _describe command commands; _files; return; fi",
                "local command=$words[2]",
                "shift words; (( CURRENT-- ))",
                "case $command in",
                *cases,
                "    *) _files ;;",
                "esac",
            ]
        )
        + "\n"
    )


def fish() -> str:
    """Completion of fish."""
    lines = []
    for name, does in COMMANDS.items():
        said = does.replace("'", "")
        lines.append(f"complete -c plectrum -n __fish_use_subcommand -a {name} -d '{said}'")
    for name, parser in parsers().items():
        for action in _options(parser):
            long = next(o for o in reversed(action.option_strings)).removeprefix("--")
            said = (action.help or "").replace("'", "")
            value = "" if action.nargs == 0 else " -r"
            if value and action.choices:
                value += f" -f -a '{' '.join(map(str, action.choices))}'"
            lines.append(
                f"complete -c plectrum -n '__fish_seen_subcommand_from {name}' -l {long}{value} "
                f"-d '{said}'"
            )
    return "\n".join(lines) + "\n"


def main(folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    texts = {"plectrum.1": man_page(), "plectrum.bash": bash(), "_plectrum": zsh(),
             "plectrum.fish": fish()}  # fmt: skip
    for name, text in texts.items():
        (folder / name).write_text(text)


if __name__ == "__main__":
    main(Path(sys.argv[1]))
