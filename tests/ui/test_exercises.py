"""Exercises without a tune in the window: found, shaped, kept, opened, with nothing else open."""

from __future__ import annotations

import pytest
from pypdf import PdfReader
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QMenu

from plectrum.core.errors import PlectrumError
from plectrum.core.practice.exercises.catalogue import listed
from plectrum.core.practice.exercises.model import shipped
from plectrum.core.practice.exercises.shelf import ExerciseShelf, key_of_title
from plectrum.core.score.model import Direction
from tests.ui.conftest import wait_planned


@pytest.fixture
def dialog(qtbot, window):
    """The dialog of a window in which nothing is open."""
    assert window.session.document is None
    window.opening.new_exercise()
    made = window.opening.exercise_dialog
    qtbot.waitUntil(lambda: made.made is not None, timeout=20_000)
    yield made
    made.close()


def settle(qtbot, dialog, done) -> None:
    qtbot.waitUntil(lambda: not dialog._soon.isActive() and not dialog._runner.busy, timeout=20_000)
    qtbot.waitUntil(done, timeout=20_000)


def test_all_are_listed_and_found_by_purpose(qtbot, dialog):
    assert dialog.list.count() == len(list(listed()))
    QTest.keyClicks(dialog.search, "upper half")
    titles = [dialog.list.item(k).text() for k in range(dialog.list.count())]
    assert titles == ["Eighths in the upper half"]
    dialog.search.setText("no such thing")
    assert dialog.list.count() == 0
    assert dialog.chosen == ""


def test_upper_half_two_strings_by_keys_is_made_kept_and_opened(qtbot, window, dialog):
    QTest.keyClicks(dialog.search, "straight")
    QTest.keyClicks(dialog.strings, "G, D")
    QTest.keyClicks(dialog.part.lineEdit(), "")
    dialog.part.setCurrentText("upper-half")
    dialog.play.setValue(3)
    dialog.look.setValue(2)
    dialog.times.setValue(5)
    settle(qtbot, dialog, lambda: dialog.made is not None and dialog.made.exercise.times == 5)
    played = [s for s in dialog.made.drill.steps if s.direction is Direction.DOWN]
    assert {s.seconds for s in played} == {3.0}
    assert all(s.start >= 0.5 for s in played)
    assert not dialog.keep_button.isEnabled()
    QTest.keyClicks(dialog.name, "Upper half, five times")
    assert dialog.keep_button.isEnabled()
    QTest.mouseClick(dialog.keep_button, Qt.MouseButton.LeftButton)
    settle(qtbot, dialog, lambda: dialog.list.item(0).text() == "Upper half, five times")
    kept, faults = ExerciseShelf(window.desk.exercises_path).all()
    assert [e.title for e in kept] == ["Upper half, five times"]
    assert faults == []
    dialog.list.setCurrentRow(0)
    settle(qtbot, dialog, lambda: dialog.made.exercise.title == "Upper half, five times")
    with qtbot.waitSignal(window.session.opened, timeout=20_000):
        QTest.mouseClick(dialog.open_button, Qt.MouseButton.LeftButton)
    wait_planned(qtbot, window)
    assert window.session.document.title == "Upper half, five times"
    assert window.session.unsaved


def test_a_pattern_has_its_own_fields(qtbot, dialog):
    QTest.keyClicks(dialog.search, "scale")
    settle(qtbot, dialog, lambda: dialog.made is not None and "Scale" in dialog.made.title)
    assert not dialog.key.isHidden()
    assert dialog.strings.isHidden()
    dialog.key.setCurrentText("A minor")
    dialog.bow_notes.setValue(4)
    settle(qtbot, dialog, lambda: dialog.made.title == "Scale in A minor")
    bows = [n for n in dialog.made.document.part.notes if not n.slurred]
    assert len(bows) == 4
    assert "s" in dialog.facts.text()


def test_what_cannot_be_says_why_and_opens_nothing(qtbot, dialog):
    QTest.keyClicks(dialog.strings, "H")
    settle(qtbot, dialog, lambda: dialog.made is None)
    assert "no string 'H'" in dialog.facts.text()
    assert not dialog.open_button.isEnabled()
    dialog.strings.clear()
    settle(qtbot, dialog, lambda: dialog.made is not None)
    assert dialog.open_button.isEnabled()
    dialog.search.setText("landings")
    settle(qtbot, dialog, lambda: dialog.made is not None and "Landings" in dialog.made.title)
    assert not dialog.open_button.isEnabled()
    assert "silence" in dialog.open_button.toolTip()


def test_a_damaged_file_of_the_teachers_own_is_said_and_left(qtbot, window):
    folder = window.desk.exercises_path
    folder.mkdir(parents=True)
    (folder / "odd.json").write_bytes(b"{")
    window.opening.new_exercise()
    dialog = window.opening.exercise_dialog
    qtbot.waitUntil(lambda: dialog.made is not None, timeout=20_000)
    assert dialog.list.count() == len(list(listed()))
    assert "Not read" in dialog.faults.text()
    assert (folder / "odd.json").read_bytes() == b"{"
    dialog.close()


def test_keys_of_titles():
    assert key_of_title("Two strings, slow") == "two-strings-slow"
    assert key_of_title("12!") == "own-12"
    assert key_of_title("…") == "own-exercise"


def test_titles_of_one_key_do_not_overwrite_each_other(tmp_path):
    shelf, row = ExerciseShelf(tmp_path / "own"), shipped()["hooked"]
    titles = ["Медленно", "Быстро", "Two strings", "Two – strings"]
    for title in (*titles, "Быстро"):
        shelf.keep(row.model_copy(update={"title": title}))
    found, _ = shelf.all()
    assert sorted(e.title for e in found) == sorted(titles)
    assert len({e.key for e in found}) == len(titles)
    (tmp_path / "own" / "torn.json").write_text("{")
    shelf.keep(row.model_copy(update={"title": "Torn"}))
    assert (tmp_path / "own" / "torn.json").read_text() == "{"
    (tmp_path / "file").write_text("")
    with pytest.raises(PlectrumError, match="cannot be kept"):
        ExerciseShelf(tmp_path / "file").keep(row)


def test_a_routine_is_saved_from_the_menu_with_nothing_open(qtbot, window, tmp_path, monkeypatch):
    menu = QMenu()
    window.routines.fill(menu)
    titles = [a.text() for a in menu.actions()]
    assert any("Holiday" in t for t in titles)
    own = menu.actions()[-1].menu()
    for action, name in zip(own.actions(), ("page.pdf", "days.ics"), strict=True):
        target = tmp_path / name
        monkeypatch.setattr(
            QFileDialog, "getSaveFileName", lambda *_a, t=target, **_k: (str(t), "")
        )
        action.trigger()
        assert target.stat().st_size > 500
        assert name in window.statusBar().currentMessage()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: ("/proc/no/x.pdf", ""))
    with qtbot.waitSignal(window.session.failed):
        own.actions()[0].trigger()
    window.error_box.close()


@pytest.mark.parametrize(
    ("named", "title"),
    [("Landings", "Landings at frog and tip"), ("Tighten", "Tighten and loosen the bow"),
     ("Scale", "Scale in D major")],
)  # fmt: skip
def test_any_exercise_has_a_page(qtbot, dialog, tmp_path, monkeypatch, named, title):
    """Silent or not, on a string or not."""
    path = tmp_path / "page.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    QTest.keyClicks(dialog.search, named)
    settle(qtbot, dialog, lambda: dialog.made is not None and dialog.made.title == title)
    QTest.mouseClick(dialog.page_button, Qt.MouseButton.LeftButton)
    assert "page.pdf" in dialog.facts.text()
    words = " ".join(PdfReader(path).pages[0].extract_text().split())
    assert title in words
    assert "Good when" in words
