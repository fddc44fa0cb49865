"""Players kept by name: what is put on the shelf comes back, damage is told and harms nobody."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from plectrum.core.errors import PlectrumError
from plectrum.core.instrument.bow import Bow, TapeMark
from plectrum.core.player.player import STAGES, stage
from plectrum.core.player.records import BowRecord, NamedPlayer, bow_as_dict
from plectrum.core.player.school import AmountSchool, School
from plectrum.core.player.shelf import PlayerShelf


def named(name: str, base: str = "growing") -> NamedPlayer:
    player = replace(stage(base), name=name, title=name)
    bow = replace(Bow.sized("cello", "1/2"), marks=(TapeMark("tape 1", 0.4, "#3b7d4f"),))
    return NamedPlayer(player, bow, School(amount=AmountSchool.FROG))


def test_a_player_comes_back_with_bow_and_school(tmp_path: Path):
    shelf = PlayerShelf(tmp_path / "players")
    assert shelf.all() == ([], [])
    shelf.save(named("Mika"))
    shelf.save(named("Anno", "starter"))
    assert shelf.all() == ([named("Anno", "starter"), named("Mika")], [])
    shelf.save(replace(named("Mika"), school=School()))
    assert [p.school.amount for p in shelf.all()[0]] == [AmountSchool.FROG, AmountSchool.STEADY]
    shelf.forget("Mika")
    shelf.forget("nobody")
    assert [p.name for p in shelf.all()[0]] == ["Anno"]


def test_a_damaged_file_is_told_and_the_others_are_there(tmp_path: Path):
    shelf = PlayerShelf(tmp_path)
    shelf.save(named("Mika"))
    (tmp_path / "broken.json").write_text("{")
    (tmp_path / "other.json").write_text('{"format": "something else"}')
    found, faults = shelf.all()
    assert [p.name for p in found] == ["Mika"]
    assert len(faults) == 2
    assert any("broken.json" in fault for fault in faults)


def test_a_name_makes_a_safe_file(tmp_path: Path):
    shelf = PlayerShelf(tmp_path)
    shelf.save(named("../Ünal & Söhne/2"))
    assert [p.parent for p in tmp_path.rglob("*.json")] == [tmp_path]
    assert shelf.all()[0][0].name == "../Ünal & Söhne/2"


def test_names_that_look_alike_do_not_replace_one_another(tmp_path: Path):
    shelf = PlayerShelf(tmp_path)
    names = ["Ann B", "Ann-B", "ann b", "!!!", "???"]
    for name in names:
        shelf.save(named(name))
    assert sorted(p.name for p in shelf.all()[0]) == sorted(names)
    shelf.forget("Ann-B")
    assert len(shelf.all()[0]) == 4


def test_a_shelf_that_cannot_be_written_says_so(tmp_path: Path):
    (tmp_path / "players").write_text("a file, not a folder")
    with pytest.raises(PlectrumError, match="cannot be kept"):
        PlayerShelf(tmp_path / "players").save(named("Mika"))


@given(
    st.sampled_from(["violin", "viola", "cello", "bass"]),
    st.floats(100, 1000),
    st.floats(10, 400),
    st.floats(0.05, 0.9),
    st.lists(st.floats(0, 1), max_size=5),
)
def test_any_bow_survives_its_file(instrument, hair_mm, mass_g, balance, places):
    marks = tuple(TapeMark(f"tape {k}", at, "#123abc") for k, at in enumerate(places))
    bow = Bow(instrument, hair_mm, mass_g, balance, marks)
    assert BowRecord.model_validate(bow_as_dict(bow)).bow(instrument) == bow


@pytest.mark.parametrize("name", STAGES)
def test_every_stage_can_be_kept(tmp_path: Path, name: str):
    shelf = PlayerShelf(tmp_path)
    shelf.save(NamedPlayer(stage(name), Bow.full_size("violin")))
    assert shelf.all()[0][0].player == stage(name)
