"""A folder as a shelf, in a real window: planned aside, opened, written."""

from __future__ import annotations

import shutil

import pytest
from PySide6.QtCore import Qt

from plectrum.core.files.shelf import tunes_on
from plectrum.core.player.player import stage
from plectrum.demo import demo_paths
from plectrum.ui.look import where_to
from tests.core.score.test_abc import BOOK
from tests.ui.conftest import wait_planned


@pytest.fixture
def folder(tmp_path):
    made = tmp_path / "tunes"
    made.mkdir()
    shutil.copy(demo_paths()[0], made)
    (made / "book.abc").write_text(BOOK)
    (made / "torn.mxl").write_bytes(b"PK\x03\x04 torn")
    return made


@pytest.fixture
def shelf(qtbot, window, folder):
    window.opening.show_shelf([folder])
    dialog = window.opening.shelf
    qtbot.waitUntil(lambda: not dialog.planner.running, timeout=60_000)
    return dialog


def rows(dialog) -> list[list[str]]:
    items = [dialog.list.topLevelItem(k) for k in range(dialog.list.topLevelItemCount())]
    return [[item.text(c) for c in range(7)] for item in items if not item.isHidden()]


def choose(dialog, title: str) -> None:
    [item] = dialog.list.findItems(title, Qt.MatchFlag.MatchExactly, 0)
    dialog.list.setCurrentItem(item)


def test_every_tune_has_a_row(shelf):
    titles = [row[0] for row in rows(shelf)]
    assert titles[:2] + titles[3:] == ["Fog Bell", "Net Mender", "Lantern Ferry", "torn.mxl"]
    assert len(rows(shelf)) == 5
    assert shelf.said.text().startswith("4 tunes planned, 1 cannot be planned")
    [mender] = [row for row in rows(shelf) if row[0] == "Net Mender"]
    assert mender[1:4] == ["G major", "4/4", "2"]
    choose(shelf, "torn.mxl")
    assert "torn.mxl" in shelf.said.text()


def test_a_tune_is_found_and_opened_for_whom_it_was_planned(qtbot, window, shelf, folder):
    shelf.player.setCurrentIndex(0)
    shelf.player.activated.emit(0)
    qtbot.waitUntil(lambda: not shelf.planner.running, timeout=60_000)
    qtbot.keyClicks(shelf.words, "mender")
    assert [row[0] for row in rows(shelf)] == ["Net Mender"]
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        qtbot.keyClick(shelf.words, Qt.Key.Key_Return)
    assert not shelf.isVisible()
    assert window.session.document.title == "Net Mender"
    assert window.session.document.choices.player == stage("starter")
    assert window.opening.path == folder / "book.abc"


def test_all_are_written(qtbot, shelf, tmp_path):
    out = tmp_path / "out"
    out.mkdir()
    shelf.format.setCurrentIndex(shelf.format.findData("csv"))
    shelf.write_into(out)
    qtbot.waitUntil(lambda: not shelf.writer.running, timeout=60_000)
    assert len(list(out.glob("*.csv"))) == 4
    assert "4 tunes planned, 1 failed." in shelf.said.text()
    assert "torn.mxl" in shelf.said.text()


def test_what_is_there_is_replaced_when_that_is_answered(shelf, folder, tmp_path, monkeypatch):
    shelf.format.setCurrentIndex(shelf.format.findData("text"))
    there = tmp_path / f"{tunes_on([folder])[0].stem}.txt"
    there.write_bytes(b"precious")
    asked = []
    monkeypatch.setattr(where_to, "ask", lambda *a: asked.append(a[1]))
    shelf.write_into(tmp_path)
    assert not shelf.writer.running
    assert there.name in asked[0]


def test_planning_is_stopped_and_the_dialog_left(qtbot, window, folder):
    for k in range(30):
        shutil.copy(demo_paths()[0], folder / f"copy{k}.musicxml")
    window.opening.show_shelf([folder])
    dialog = window.opening.shelf
    qtbot.waitUntil(lambda: dialog.list.topLevelItemCount() > 0, timeout=60_000)
    dialog.stop_button.click()
    qtbot.waitUntil(lambda: not dialog.planner.running, timeout=30_000)
    assert dialog.said.text().startswith("Stopped: ")
    dialog.player.activated.emit(0)
    dialog.reject()
    assert not dialog.planner.running


def test_several_files_and_a_folder_show_the_shelf(qtbot, window, folder):
    window.open_paths([folder])
    assert window.opening.shelf.isVisible()
    window.opening.shelf.reject()
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        window.open_paths(demo_paths()[:1])
    wait_planned(qtbot, window)
    window.opening.show_shelf([folder])
    assert window.opening.shelf.player.currentData() == stage("growing")
