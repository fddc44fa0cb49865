"""The published form of `plectrum plan --format json`: its schema is shipped and true."""

from __future__ import annotations

import json
from copy import deepcopy
from functools import cache
from importlib import resources

import pytest
from jsonschema import Draft202012Validator

from plectrum.demo import demo_paths
from tests.command import plectrum
from tests.tunes import tune_xml

PLUCKED = tune_xml("D4! E4! F#4 G4 | A4 r A4 A4 | D4*2 E4*2", name="Violin")


@cache
def validator() -> Draft202012Validator:
    text = (resources.files("plectrum.core.files") / "plan_output.schema.json").read_text()
    Draft202012Validator.check_schema(json.loads(text))
    return Draft202012Validator(json.loads(text))


def planned(*args: str, data: bytes = b"") -> dict:
    done = plectrum("plan", *args, "--format", "json", data=data)
    assert done.returncode == 0
    return json.loads(done.stdout)


@pytest.mark.parametrize("more", [(), ("--all",), ("--player", "starter", "--slurs", "song")])
@pytest.mark.parametrize("path", demo_paths(), ids=lambda p: p.stem)
def test_what_is_printed_fits_the_schema(path, more):
    validator().validate(planned(str(path), *more))


def test_plucked_notes_and_pins_fit_too():
    seen = planned("-", "--from", "musicxml", "--pin", "2.3=retake", data=PLUCKED)
    validator().validate(seen)
    assert [note["direction"] for note in seen["notes"]][:2] == [None, None]
    assert "join" not in seen["notes"][0]


def test_the_schema_notices_what_is_dropped_or_wrong():
    """Every key that it requires, taken away; and values of another kind."""
    good = planned(str(demo_paths()[0]))
    for key in good:
        assert not validator().is_valid({k: v for k, v in good.items() if k != key}), key
    bowed = next(k for k, note in enumerate(good["notes"]) if note["direction"])
    optional = {"pass", "rest", "places", "slur_proposed"}
    for key in set(good["notes"][bowed]) - optional:
        bad = deepcopy(good)
        del bad["notes"][bowed][key]
        assert not validator().is_valid(bad), key
    for place, value in (("from", 1.2), ("join", "jump"), ("direction", "left"), ("midi", ["A4"])):
        bad = deepcopy(good)
        bad["notes"][bowed][place] = value
        assert not validator().is_valid(bad), place


def test_every_key_that_is_printed_is_in_the_schema():
    schema = validator().schema["$defs"]
    seen = planned(str(demo_paths()[0]))
    assert set(seen) <= set(schema["plan"]["properties"])
    for note in seen["notes"]:
        assert set(note) <= set(schema["note"]["properties"])
