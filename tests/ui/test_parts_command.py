"""`plectrum parts`: pages, score and plan of all parts, a class, an easier part."""

from __future__ import annotations

import re

import pytest

from tests.command import plectrum
from tests.tunes import score_xml, tune_xml


@pytest.fixture(autouse=True)
def application(themed):
    """Pages are painted by the one application there is."""


def written_parts(tmp_path, *more: str, data: bytes) -> tuple[list[str], str]:
    score = tmp_path / "duet.musicxml"
    score.write_bytes(data)
    folder = tmp_path / "out"
    done = plectrum("parts", str(score), "-o", str(folder), *more)
    assert done.returncode == 0, done.stderr
    return sorted(p.name for p in folder.iterdir()), done.stdout.decode()


DUET = {"Violin": "A4 B4 C5 D5|E5u D5d C5u B4d|", "Viola": "D4 E4 F4 G4|A4d G4u F4d E4u|"}


def test_parts_writes_a_page_a_player_the_score_and_the_plan(tmp_path):
    names, said = written_parts(tmp_path, "--seat", "Viola=starter", data=score_xml(DUET))
    assert names == [
        "duet bowed.musicxml", "duet, Viola.pdf", "duet, Violin.pdf", "duet.plectrum"
    ]  # fmt: skip
    assert "places match" in said
    assert "duet, Viola.pdf: 1 page, Starter" in said
    assert "! Bar 2" in said
    again = plectrum("plan", str(tmp_path / "out" / "duet.plectrum"), "--part", "Viola")
    assert again.returncode == 0
    assert b"for Starter" in again.stdout


def test_a_class_is_written_into_one_file(tmp_path):
    names, said = written_parts(
        tmp_path, "--student", "violin=growing", "--student", "cello=starter", "--one-file",
        data=tune_xml("A4 B4 C#5 D5|E5*4|"),
    )  # fmt: skip
    assert "duet, all parts.pdf" in names
    assert "all go the same way" in said


def test_parts_of_the_same_name_have_files_of_their_own(tmp_path):
    data = score_xml(DUET).replace(b">Viola<", b">Violin<")
    names, _ = written_parts(tmp_path, data=data)
    assert [name for name in names if name.endswith(".pdf")] == [
        "duet, Violin 2.pdf", "duet, Violin.pdf"
    ]  # fmt: skip


def test_one_routine_for_a_class_is_on_the_pages_of_all(tmp_path):
    plain = tmp_path / "plain"
    plain.mkdir()
    more = ("--student", "violin=growing", "--student", "cello=starter")
    _, without = written_parts(plain, *more, data=tune_xml("A4 B4 C#5 D5|E5*4|"))
    names, said = written_parts(
        tmp_path, *more, "--routine", "warm-up", data=tune_xml("A4 B4 C#5 D5|E5*4|")
    )
    assert pages_n(said) > pages_n(without)
    assert len([name for name in names if name.endswith(".pdf")]) == 2


def pages_n(said: str) -> int:
    return sum(int(n) for n in re.findall(r": (\d+) page", said))


def test_an_easier_part_is_added_and_said(tmp_path):
    _, said = written_parts(
        tmp_path, "--easier", "open", "--player", "starter", data=tune_xml("A4 B4 C7*2|")
    )
    assert "easier (proposed): 1 out of reach before, none now" in said


@pytest.mark.parametrize(
    ("more", "expected"),
    [
        (("--student", "harp=growing"), "is no student"),
        (("--seat", "Viola"), "is no seat"),
        (("--seat", "Tuba=growing"), "there is no part"),
    ],
)
def test_what_parts_does_not_understand_is_said_in_a_line(tmp_path, more, expected):
    score = tmp_path / "duet.musicxml"
    score.write_bytes(score_xml(DUET))
    done = plectrum("parts", str(score), "-o", str(tmp_path / "out"), *more)
    assert done.returncode == 2
    assert expected in done.stderr.decode()
    assert done.stderr.decode().count("\n") == 1
