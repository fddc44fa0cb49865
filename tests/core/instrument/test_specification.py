"""One row is one instrument: sources, sizes, and instruments that are added here for the test."""

from __future__ import annotations

from dataclasses import fields, replace

import pytest

from plectrum.core.document.choices import Choices, Pin
from plectrum.core.document.document import Document
from plectrum.core.files.planfile import document_bytes, document_from_bytes
from plectrum.core.instrument import specification
from plectrum.core.instrument.bow import Bow, size_of_hair
from plectrum.core.instrument.specification import (
    SIZES,
    SOURCES,
    TABLE,
    Instrument,
    Standing,
    instrument,
)
from plectrum.core.planning.contact.limits import lane_centre_mm
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.player.player import stage
from plectrum.core.practice.exercises.drill_music import drill_document, has_music
from plectrum.core.practice.exercises.drills import Setting
from plectrum.core.practice.exercises.model import shipped
from plectrum.core.practice.exercises.steps import drill_of
from plectrum.core.score.instruments import named_instrument, open_pitch
from tests.tunes import tune_document, tune_score

SCALE = "C3 G3 D4 A4|E5 F5 A5 B5"


@pytest.fixture
def added(monkeypatch):
    """Adds rows to the table for one test."""

    def add(row: Instrument) -> Instrument:
        monkeypatch.setitem(specification.TABLE, row.name, row)
        instrument.cache_clear()
        return row

    yield add
    instrument.cache_clear()


@pytest.fixture
def five_strings(added):
    """A viola with the violin's highest string."""
    viola = TABLE["viola"]
    return added(
        replace(
            viola,
            name="five-string viola",
            title="viola of five strings",
            open_midis=(*viola.open_midis, 76),
            tensions_n=(*viola.tensions_n, 74.0),
            names="five-string violas?",
        )
    )


def test_every_number_has_unit_standing_and_source():
    """Every field that holds numbers is in the table of sources, and nothing else is."""
    row = TABLE["violin"]
    numeric = {
        f.name
        for f in fields(Instrument)
        if isinstance(getattr(row, f.name), int | float)
        and not isinstance(getattr(row, f.name), bool)
    }
    assert numeric | {"open_midis", "tensions_n"} == SOURCES.keys()
    for source in SOURCES.values():
        assert source.unit
        assert source.source
        assert source.standing in Standing


@pytest.mark.parametrize("name", TABLE)
def test_rows_are_sound(name):
    own = TABLE[name]
    assert own.strings_n == len(own.tensions_n) == len(own.string_names)
    assert list(own.open_midis) == sorted(own.open_midis)
    assert named_instrument(own.name) == own.name
    assert named_instrument(own.title) == own.name
    for string in range(own.strings_n):
        assert open_pitch(own, string).midi == own.open_midis[string]


@pytest.mark.parametrize("name", TABLE)
def test_sizes_scale_strings_room_bow_and_speeds(name):
    """The bow and the comfortable speed go with the hair, strings and body with its power 0.8;
    arm angles stay (own default)."""
    full, half = instrument(name), instrument(name, "1/2")
    ratio = 530 / 650  # hair of a half-size violin bow, quoted from memory
    for field in ("hair_mm", "bow_mass_g", "speed_ratio"):
        assert getattr(half, field) == pytest.approx(getattr(full, field) * ratio)
    for field in ("string_length_mm", "bridge_to_fingerboard_mm", "least_n", "most_n"):
        assert getattr(half, field) == pytest.approx(getattr(full, field) * ratio**0.8)
    assert half.string_spacing_mm / half.bridge_radius_mm == pytest.approx(
        full.string_spacing_mm / full.bridge_radius_mm
    )
    assert half.impedances_kg_s[0] == pytest.approx(full.impedances_kg_s[0] * ratio**0.8)
    assert stage("growing").on(half).comfortable_mm_s == pytest.approx(
        stage("growing").on(full).comfortable_mm_s * ratio
    )
    assert lane_centre_mm(half, 3.0) == pytest.approx(lane_centre_mm(full, 3.0) * ratio**0.8)


def test_bows_are_in_proportion_and_measures_override():
    full, half = Bow.sized("cello"), Bow.sized("cello", "1/2")
    assert half.hair_mm / full.hair_mm == pytest.approx(530 / 650)
    assert half.size == "1/2"
    assert list(SIZES.values()) == sorted(SIZES.values(), reverse=True)
    assert replace(full, hair_mm=597.0).size == "4/4"
    assert size_of_hair("cello", half.hair_mm) == "1/2"
    assert size_of_hair("cello", 511.0) == "4/4"


def test_a_small_instrument_is_bowed_slower_nearer_and_lighter():
    """On a half-size violin everything is smaller, and shares of the bow stay as they are."""
    document = tune_document("A4 B4 C#5 D5|E5*2 A4*2")
    small = document.with_choices(replace(document.choices, bow=Bow.sized("violin", "1/2")))
    full, half = plan_of(document), plan_of(small)
    assert half.notes[0].speed_mm_s == pytest.approx(full.notes[0].speed_mm_s * 530 / 650, rel=0.1)
    assert half.contact.contact_mm[0] < full.contact.contact_mm[0]
    assert half.contact.weight_n[0] < full.contact.weight_n[0]
    assert [n.direction for n in half.notes] == [n.direction for n in full.notes]


def test_five_strings_are_planned_fingered_and_kept(five_strings):
    """One row makes an instrument: its fifth string is played, said, pinned, drilled and saved."""
    document = Document.from_score(tune_score(SCALE, name="Five-string viola"))
    assert document.choices.instrument == five_strings.name
    plan = plan_of(document)
    top = [f for f in plan.fingered if f.strings == (4,)]
    assert top
    assert {f.string_words for f in top} == {"E"}
    assert max(f.level for f in plan.fingered) == 9
    note = plan.part.notes[6]
    pinned = document.with_choices(document.choices.with_pin(note.id, Pin(string=4)))
    again = document_from_bytes(document_bytes(pinned), "five.plectrum")
    assert again.choices == pinned.choices
    setting = Setting.of(document.choices)
    levels = {step.level for step in drill_of(shipped()["silent-rolls"], setting).steps}
    assert levels == set(range(1, 10))
    for row in shipped().values():
        drill = drill_of(row, setting)
        if has_music(drill):
            assert plan_of(drill_document(drill, document.choices)).notes


def test_a_string_the_instrument_does_not_have_is_refused_in_a_file():
    document = tune_document("A4 B4")
    note = document.part.notes[0]
    wrong = document.with_choices(document.choices.with_pin(note.id, Pin(string=4)))
    with pytest.raises(Exception, match="a violin has strings 0 to 3"):
        document_from_bytes(document_bytes(wrong), "wrong.plectrum")


def test_a_new_size_is_one_row(monkeypatch):
    """A seven-eighths cello has its own row; so could any other size."""
    assert instrument("cello", "7/8").string_length_mm == pytest.approx(695 * (620 / 650) ** 0.8)
    monkeypatch.setitem(SIZES, "5/8", 0.86)
    assert Bow.sized("cello", "5/8").hair_mm == pytest.approx(600 * 0.86)
    choices = replace(Choices.default("cello"), bow=Bow.sized("cello", "5/8"))
    assert choices.own.size == "5/8"


@pytest.mark.parametrize(
    ("name", "lowest", "highest"),
    [("violin", 0.350, 0.180), ("viola", 0.540, 0.218), ("cello", 1.474, 0.562)],
)
def test_impedances_follow_from_tensions(name, lowest, highest):
    """Z = T / (2 L f), worked out by hand: violin G, 45 / (2 · 0.328 · 196.0) = 0.350 kg/s."""
    found = instrument(name).impedances_kg_s
    assert found[0] == pytest.approx(lowest, abs=0.001)
    assert found[-1] == pytest.approx(highest, abs=0.001)
    assert list(found) == sorted(found, reverse=True)
