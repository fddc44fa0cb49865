"""Routines: exercises in their order, on paper, in a calendar, as sound."""

from __future__ import annotations

import json
import subprocess
import sys
import wave
from datetime import date
from functools import partial
from pathlib import Path

import pypdf
import pytest
from icalendar import Calendar

from plectrum.core.document.choices import Choices
from plectrum.core.errors import ChoiceError, PlectrumError
from plectrum.core.instrument.specification import instrument_names
from plectrum.core.practice.exercises.routine import (
    counts_of,
    planned_items,
    routine_bytes,
    routine_from_bytes,
    routine_named,
    shipped_routines,
)
from plectrum.core.practice.routine_days import routine_days

MONDAY = date(2027, 1, 11)


@pytest.mark.parametrize("instrument", instrument_names())
@pytest.mark.parametrize("key", shipped_routines())
def test_every_routine_is_for_every_instrument(key, instrument):
    routine = routine_named(key)
    items = planned_items(routine, Choices.default(instrument))
    assert len(items) == len(routine.items)
    assert all(p.rounds >= 1 and p.made.what for p in items)
    assert 10 <= routine.minutes <= 15  # common practice for young beginners, no source
    days = routine_days(items, routine.days(MONDAY))
    assert len(days) == routine.weeks * routine.days_a_week
    assert all(day.minutes == routine.minutes for day in days)
    assert len({day.on for day in days}) == len(days)


def test_days_are_the_first_of_each_week():
    days = routine_named("holiday").days(MONDAY)
    assert [d.day for d in days] == [11, 12, 13, 14, 15, 18, 19, 20, 21, 22]


def test_a_routine_goes_to_a_file_and_comes_back():
    for routine in shipped_routines().values():
        assert routine_from_bytes(routine_bytes(routine), "x.json") == routine
    raw = json.loads(routine_bytes(routine_named("warm-up")))
    raw["items"][0]["minutes"] = 0
    with pytest.raises(ChoiceError, match="no routine"):
        routine_from_bytes(json.dumps(raw).encode(), "x.json")
    with pytest.raises(PlectrumError, match="damaged"):
        routine_from_bytes(b"[", "x.json")
    raw["items"][0] = {"exercise": "no-such", "minutes": 3}
    unknown = routine_from_bytes(json.dumps(raw).encode(), "x.json")
    with pytest.raises(ChoiceError, match="there is no exercise"):
        planned_items(unknown, Choices.default("violin"))
    with pytest.raises(ChoiceError, match="there is no routine"):
        routine_named("nothing")


def test_counts_are_read():
    assert counts_of(None) == (None, None)
    assert counts_of("4") == (4.0, None)
    assert counts_of("2+4") == (2.0, 4.0)
    with pytest.raises(ChoiceError):
        counts_of("2+")


def test_the_command_line_makes_page_calendar_sound_and_file(command, tmp_path: Path):
    run = partial(command, "routine")
    assert [line.split()[0] for line in run("--list").out.splitlines()] == [*shipped_routines()]
    start = ("--start", "2027-01-11", "--for", "Wren")
    page = [sys.executable, "-m", "plectrum", "routine", "holiday", *start, "-o", "page.pdf"]
    subprocess.run(page, cwd=tmp_path, timeout=120, check=True)
    pages = pypdf.PdfReader(tmp_path / "page.pdf").pages
    text = " ".join(" ".join((p.extract_text() or "").split()) for p in pages)
    for planned in planned_items(routine_named("holiday"), Choices.default("violin")):
        assert planned.made.title in text
    assert "For Wren" in text
    assert run("holiday", *start, "-o", "days.ics").code == 0
    events = Calendar.from_ical((tmp_path / "days.ics").read_bytes()).walk("VEVENT")
    assert len(events) == 10
    item = {"exercise": "rocking", "minutes": 1, "times": 1, "strings": "G-D"}
    own = {"key": "own", "title": "Own", "what": "Short.", "items": [item]}
    (tmp_path / "own.json").write_text(json.dumps(own))
    assert run("own.json", "-o", "own.wav").code == 0
    with wave.open(str(tmp_path / "own.wav")) as sound:
        assert sound.getnframes() / sound.getframerate() > 4
    for words in (("nothing",), ("holiday", "-o", "x.odd"), ("holiday", "--start", "soon")):
        done = run(*words)
        assert done.code == 2
        assert done.err.count("\n") == 1
