"""A book of tunes in ABC asks which of them is to be opened."""

from __future__ import annotations

from PySide6.QtCore import Qt

from tests.core.score.test_abc import BOOK


def open_book(qtbot, window, path) -> object:
    window.open_path(path)
    qtbot.waitUntil(lambda: getattr(window.opening, "book_dialog", None) is not None)
    return window.opening.book_dialog


def test_a_tune_of_a_book_is_found_by_letters_and_opened(qtbot, window, tmp_path):
    path = tmp_path / "book.abc"
    path.write_text(BOOK)
    dialog = open_book(qtbot, window, path)
    assert dialog.list.count() == 3
    qtbot.keyClicks(dialog.words, "mender")
    assert dialog.list.count() == 1
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        qtbot.keyClick(dialog.words, Qt.Key.Key_Return)
    assert window.session.document.title == "Net Mender"
    assert window.opening.path == path


def test_leaving_the_book_keeps_what_is_open(qtbot, violin, tmp_path):
    path = tmp_path / "book.abc"
    path.write_text(BOOK)
    before = violin.session.document
    dialog = open_book(qtbot, violin, path)
    qtbot.keyClicks(dialog.words, "nothing like it")
    dialog.accept()
    assert dialog.isVisible()
    dialog.reject()
    assert violin.session.document is before


def test_a_pasted_book_asks_too(qtbot, window):
    window.opening.open_abc(BOOK)
    qtbot.waitUntil(lambda: getattr(window.opening, "book_dialog", None) is not None)
    dialog = window.opening.book_dialog
    dialog.list.setCurrentRow(2)
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        dialog.accept()
    assert window.session.document.part.notes[0].pitches[0].name == "C4"
