"""Texts: one catalogue, the user's own words, numbers of the language, and none that is lost."""

from __future__ import annotations

import ast
import gettext
import json
import os
import re
import subprocess
import sys
from functools import cache

import pytest
from babel.messages.pofile import read_po
from hypothesis import given
from hypothesis import strategies as st
from scripts.texts import LOCALE, SOURCE, in_code, in_data, lacking, template

from plectrum.core.wording import NOTE_VALUE, say, several, tr
from plectrum.core.wording.language import LANGUAGES, Language, _Pseudo
from plectrum.core.wording.own_words import QUESTIONS, OwnWords, in_own_words
from plectrum.demo import demo_paths

BRITISH = OwnWords.from_text("frog=heel,tip=point,notes=crotchet")
TUNE = str(next(p for p in demo_paths() if p.stem == "harbour_watch"))


@cache  # the same is asked by several
def outside(*words: str, **environment: str) -> str:
    """What a command prints in a process of its own; with preferences only they say how."""
    speaks = set() if "XDG_CONFIG_HOME" in environment else {"PLECTRUM_WORDS", "PLECTRUM_LANGUAGE"}
    inherited = {
        name: value
        for name, value in os.environ.items()
        if name in speaks or not name.startswith("PLECTRUM_")
    }
    done = subprocess.run(
        [sys.executable, "-m", "plectrum", *words],
        capture_output=True, text=True, check=True, env={**inherited, **environment},
    )  # fmt: skip
    return done.stdout


@pytest.mark.parametrize(
    ("text", "about", "said"),
    [
        ("from the frog to the tip", "", "from the heel to the point"),
        ("Near the Frog", "", "Near the Heel"),
        ("FROG", "", "HEEL"),
        ("multiple tips", "", "multiple tips"),
        ("a quarter of the bow", "", "a quarter of the bow"),
        ("dotted-quarter", NOTE_VALUE, "dotted-crotchet"),
        ("whole, half, quarter, eighth, sixteenth", NOTE_VALUE,
         "semibreve, minim, crotchet, quaver, semiquaver"),
        ("two quarter notes", "", "two crotchets"),
        ("{frog} and {tip:.1f}", "", "{frog} and {tip:.1f}"),
    ],
)  # fmt: skip
def test_own_words(text, about, said):
    assert in_own_words(text, about, BRITISH) == said
    assert in_own_words(text, about, OwnWords()) == text


@given(st.text())
def test_own_words_come_back_from_any_text(text):
    own = OwnWords.from_text(text)
    assert OwnWords.from_text(own.as_text()) == own
    assert all(answer in QUESTIONS[question] for question, answer in own.answers)


def test_own_words_are_in_all_that_is_printed_and_in_no_key():
    words = "frog=heel,tip=point,notes=crotchet"
    printed = outside("plan", TUNE, PLECTRUM_WORDS=words)
    plain = outside("plan", TUNE)
    assert "heel" in printed
    assert "crotchet = " in printed
    assert not re.search(r"\b(frog|tip)\b", printed)
    assert in_own_words(plain, "", OwnWords.from_text("frog=heel,tip=point")) == printed.replace(
        "crotchet = ", "quarter = "
    )
    seen = json.loads(outside("plan", TUNE, "--format", "json", PLECTRUM_WORDS=words))
    before = json.loads(outside("plan", TUNE, "--format", "json"))
    assert seen["tempo"] == before["tempo"]
    assert [n["from"] for n in seen["notes"]] == [n["from"] for n in before["notes"]]


def test_preferences_reach_the_command_line(tmp_path):
    (tmp_path / "plectrum").mkdir()
    (tmp_path / "plectrum" / "plectrum.ini").write_text('[General]\nwords="frog=heel"\ndark=true\n')
    printed = outside("plan", TUNE, XDG_CONFIG_HOME=str(tmp_path))
    assert "heel" in printed
    assert "frog" not in printed
    (tmp_path / "plectrum" / "plectrum.ini").write_text("[General]\nlanguage=de\n")
    printed = outside("plan", TUNE, XDG_CONFIG_HOME=str(tmp_path), LANG="en_GB.UTF-8")
    assert "Takt 1" in printed
    assert re.search(r"\d,\d+ s\b", printed)
    assert not re.search(r"\d\.\d+ s\b", printed)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("down-bow", "pull"),
        ("&Up-bow", "&Push"),
        ("{n} up-bows", "{n} pushes"),
        ("the bow turns after an up-bow", "the bow turns after a push"),
        ("⊓  lift, then down", "⊓  lift, then pull"),
        ("the first beat of a compound bar down", "the first beat of a compound bar pull"),
        ("Ricochet, two down and one up", "Ricochet, two pull and one push"),
        ("lift, carry the bow, set it down", "lift, carry the bow, set it down"),
        ("this player slurs up to {slur_notes}", "this player slurs up to {slur_notes}"),
        ("Up and Down choose, Enter does it, Esc closes.",
         "Up and Down choose, Enter does it, Esc closes."),
        ("down, up, hook, retake or turn", "down, up, hook, retake or turn"),
    ],
)  # fmt: skip
def test_pull_and_push(text, said):
    assert in_own_words(text, "", OwnWords.from_text("ways=pull")) == said


def test_eighths_are_quavers_and_quarters_of_the_bow_stay():
    own = OwnWords.from_text("notes=crotchet")
    assert in_own_words("Eighths in the lower half", "", own) == "Quavers in the lower half"
    assert in_own_words("three quarters of the bow", "", own) == "three quarters of the bow"


def test_tape_marks_by_their_colours():
    printed = outside("plan", TUNE, PLECTRUM_WORDS="marks=colour")
    assert "the yellow mark" in printed
    assert "the quarter mark" not in printed
    german = outside("plan", TUNE, PLECTRUM_WORDS="marks=colour", PLECTRUM_LANGUAGE="de")
    assert "gelbe Marke" in german
    kept = json.loads(outside("plan", TUNE, "--format", "json", PLECTRUM_WORDS="marks=colour"))
    assert kept == {**json.loads(outside("plan", TUNE, "--format", "json")), **{
        key: kept[key] for key in ("notes", "warnings")}}  # fmt: skip


# Calls that show a text, with the arguments that are none.
SHOWING = {
    "QLabel", "QPushButton", "QCheckBox", "QGroupBox", "addItem", "addItems", "addAction",
    "addMenu",
    "setText", "setToolTip", "setStatusTip", "setAccessibleName", "setAccessibleDescription",
    "setPlaceholderText", "setTitle", "setWindowTitle", "setSuffix", "setPrefix",
    "setSpecialValueText", "setHorizontalHeaderLabels", "setHeaderLabels", "drawText", "addTab",
    "small_button", "check_box", "question", "information", "warning", "critical", "edit", "change",
    "change_aside", "PlectrumError", "ScoreError", "ChoiceError", "PlayerError",
}  # fmt: skip
NO_TEXTS = re.compile(r"(Ctrl|Alt|Shift)\+|^Space$|^plectrum|^<|^player: |%s$")


def test_no_call_shows_a_text_that_is_not_in_the_catalogue():
    """Also where a walk through the window does not come: messages, questions, errors."""
    wrong = []
    for path in sorted((SOURCE / "ui").rglob("*.py")) + sorted((SOURCE / "core").rglob("*.py")):
        for node in ast.walk(ast.parse(path.read_text())):
            if not isinstance(node, ast.Call):
                continue
            name = getattr(node.func, "id", getattr(node.func, "attr", ""))
            if name == "say" and isinstance(node.func, ast.Attribute):  # to the line below
                name = "setText"
            taken = node.args[:1] if name == "addItem" else node.args  # then comes what is kept
            shown = [*taken, *(k.value for k in node.keywords if k.arg in ("remedy", "where"))]
            for value in shown if name in SHOWING else ():
                parts = value.values if isinstance(value, ast.JoinedStr) else [value]
                text = "".join(str(p.value) for p in parts if isinstance(p, ast.Constant)
                               and isinstance(p.value, str))  # fmt: skip
                if re.search("[A-Za-z]{2,}", text) and not NO_TEXTS.search(text):
                    wrong.append((path.name, node.lineno, text))
    assert wrong == []


def test_values_and_numbers():
    assert say("{n} bars of {title}", n=3, title="Fog {Bell}") == "3 bars of Fog {Bell}"
    assert say("{x:.1f} s", x=2.5) == "2.5 s"
    assert [several("{n} bar", "{n} bars", n) for n in (0, 1, 2)] == ["0 bars", "1 bar", "2 bars"]
    assert several("{n:g} beat", "{n:g} beats", 1.5) == "1.5 beats"
    assert several("{n:.3g} beat", "{n:.3g} beats", 0.7142857 / (60 / 84)) == "1 beat"
    assert tr("") == ""
    assert Language("en").decimal == "."


def test_every_text_of_the_code_is_found_and_fits_its_values():
    """No text is made at run time, where no translator could find it; placeholders are names."""
    found = [text for _, text in [*in_code(), *in_data()]]
    assert len(set(found)) > 1500
    assert len(template()) == len({(context, text) for context, text, _ in found})
    for _, text, _ in found:
        names = re.findall(r"(?<!\{)\{([^{}:!]*)", text)
        assert all(name.isidentifier() for name in names), text


@pytest.mark.parametrize("language", sorted(set(LANGUAGES) - {"en"}))
def test_a_language_that_is_offered_is_complete(language):
    """Every text is translated with its own values and its spaces at the ends, none stands in the
    catalogue that is no more, and what is read at run time is what the translation says."""
    folder = LOCALE / language / "LC_MESSAGES"
    with (folder / "plectrum.po").open("rb") as source:
        kept = read_po(source, locale=language)
    wanted = {(m.context, m.id) for m in template() if m.id}
    assert {(m.context, m.id) for m in kept if m.id} == wanted
    assert lacking(kept) == []
    used = gettext.translation("plectrum", LOCALE, [language])
    for message in kept:
        if not message.id or not isinstance(message.id, str):
            continue
        text, about = message.string, message.context
        assert (used.pgettext(about, message.id) if about else used.gettext(message.id)) == text
        values = set(re.findall(r"\{[^{}]*\}|%\(\w+\)[rs]|%s", message.id))
        assert set(re.findall(r"\{[^{}]*\}|%\(\w+\)[rs]|%s", text)) - {"{small}"} <= values, text
        assert len(message.id) - len(message.id.strip()) == len(text) - len(text.strip())
    for message in kept:
        if message.id and not isinstance(message.id, str):
            assert [used.ngettext(*message.id, n) for n in (1, 2)] == list(message.string)


def test_the_language_of_tests_changes_every_text_and_no_placeholder():
    pseudo = _Pseudo()
    for _, (_, text, plural) in in_code():
        for message in (text, plural) if plural else (text,):
            changed = pseudo.gettext(message)
            assert changed.startswith("⟦")
            assert re.findall(r"\{[^}]*\}", changed) == re.findall(r"\{[^}]*\}", message)


def test_what_is_printed_of_a_plan_is_in_the_catalogue():
    """In the language of tests every word of the printed plan's frame is between brackets."""
    printed = outside("plan", TUNE, PLECTRUM_LANGUAGE="pseudo")
    assert printed.count("⟦") > 20
    assert "plàys fröm" in printed


def test_exercises_are_in_the_users_words_and_what_the_log_keeps_is_not():
    said = outside("exercise", "--list", PLECTRUM_WORDS="frog=heel,tip=point")
    plain = outside("exercise", "--list")
    assert "frog" in plain
    names, texts = zip(*(line.split(maxsplit=1) for line in said.splitlines()), strict=True)
    assert not re.search(r"\b(frog|tip)\b", "\n".join(texts))
    assert names == tuple(line.split()[0] for line in plain.splitlines())
    described = outside("exercise", "landings", PLECTRUM_WORDS="frog=heel")
    assert "heel" in described


def test_german_is_as_german_teachers_write_it():
    """Octaves by strokes, the pickup by its name, one preposition before a place."""
    ferry = str(next(p for p in demo_paths() if p.stem == "lantern_ferry"))
    said = outside("plan", ferry, PLECTRUM_LANGUAGE="de")
    assert "Takt 0" not in said
    assert "Auftakt" in said
    assert re.search(r"\b[a-h](is|es)?[′″]", said)
    assert not re.search(r"\b(von|bei|in) (zwischen|nahe|knapp|unter)\b", said)
    shaped = outside("exercise", "bow-hold", "--times", "2", PLECTRUM_LANGUAGE="de")
    assert "Bogenhaltung" in shaped


def test_the_demos_log_speaks_the_language_of_the_window():
    code = (
        "import datetime; from plectrum.core.log import demo; import plectrum.demo; "
        "records = demo.demo_records(plectrum.demo.demo_log(), datetime.date(2027, 1, 4)); "
        "print(*(getattr(r, 'title', '') or getattr(r, 'note', '') for r in records), sep='\\n')"
    )
    said = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, check=True,
        env={**os.environ, "PLECTRUM_LANGUAGE": "de"},
    ).stdout  # fmt: skip
    assert "A: zupfen" in said
    assert "A: Tempo Viertel = 42" in said
    assert "Der gerade Bogen wird besser." in said
    assert "Straight bow" not in said
