"""Preferences in one dialog: kept, in force, and cancelled without a trace."""

from __future__ import annotations

import shutil
import threading

from PySide6.QtCore import QSettings, Qt
from PySide6.QtGui import QAction

from plectrum import running
from plectrum.core.wording.language import chosen
from plectrum.demo import demo_paths
from plectrum.running import Handed
from plectrum.ui.desk.settings import Settings
from plectrum.ui.look import theme
from plectrum.ui.shell.app import listening
from plectrum.ui.shell.recovery import find_recovered
from plectrum.ui.shell.resuming import place_now


def test_what_is_chosen_is_kept_and_in_force(qtbot, window):
    window.show_preferences()
    dialog = window.preferences
    assert dialog.said.text() == ""
    dialog.words["frog"].setCurrentIndex(1)
    assert "next start" in dialog.said.text()
    dialog.theme.setCurrentIndex(1)
    dialog.scale.setCurrentIndex(theme.SCALES.index(1.5))
    dialog.volume.setValue(40)
    dialog.reopens.setChecked(True)
    dialog.accept()
    settings = window.settings
    assert settings.words == "frog=heel"
    assert (settings.dark, settings.scale, settings.voice[0], settings.reopens) == (
        True, 1.5, 40, True
    )  # fmt: skip
    assert window.menus.dark_action.isChecked()
    window.show_preferences()
    assert window.preferences.words["frog"].currentText() == "heel"
    window.preferences.words["frog"].setCurrentIndex(0)
    window.preferences.theme.setCurrentIndex(0)
    window.preferences.scale.setCurrentIndex(theme.SCALES.index(1.0))
    window.preferences.accept()
    assert settings.words == ""


def test_language_folders_and_music_are_kept(qtbot, violin, tmp_path):
    view = violin.screen_of("bowing").view
    violin.show_preferences()
    dialog = violin.preferences
    dialog.language.setCurrentIndex(dialog.language.findData("de"))
    assert "next start" in dialog.said.text()
    dialog.tunes.line.setText(str(tmp_path))
    dialog.written.line.setText(str(tmp_path / "nowhere"))
    dialog.zoom.setCurrentIndex(dialog.zoom.findData(1.4))
    dialog.division.setCurrentIndex(dialog.division.findData("fractions"))
    dialog.accept()
    settings = violin.settings
    assert (settings.language, settings.zoom) == ("de", 1.4)
    assert (settings.tunes_folder, settings.written_folder) == (str(tmp_path), "")
    assert settings.to_be_written("a.pdf") == "a.pdf"
    settings.written_folder = str(tmp_path)
    assert settings.to_be_written("a.pdf") == str(tmp_path / "a.pdf")
    assert settings.marking["division"] == "fractions"
    assert view.zoom == 1.4


def test_the_work_goes_on_where_it_was_left(qtbot, opened, tmp_path):
    path = tmp_path / "duet.musicxml"
    shutil.copy(demo_paths()[2], path)
    window = opened(path)
    window.screen_of("bowing").select(9)
    note = window.session.document.part.notes[9].id
    window.settings.left_off = place_now(window)
    assert window.settings.left_off["note"] == note
    assert window.settings.left_open == path
    opened(demo_paths()[0])
    window.screen_of("bowing").select(0)
    window.resume(path)
    qtbot.waitUntil(lambda: window.opening.path == path, timeout=30_000)
    qtbot.waitUntil(lambda: window.screen_of("bowing").selected == 9, timeout=30_000)
    assert not window.session.unsaved


def test_a_tune_that_was_not_left_open_begins_at_its_start(qtbot, opened):
    window = opened(demo_paths()[0])
    window.settings.left_off = {"path": "file:///elsewhere.abc", "note": "n3"}
    assert window.settings.left_open is None
    window.screen_of("bowing").select(0)
    window.resume(demo_paths()[0])
    qtbot.waitUntil(lambda: not window.session.planning, timeout=30_000)
    assert window.screen_of("bowing").selected == 0


def test_a_second_start_brings_its_file_to_the_window(qtbot, window, tmp_path, monkeypatch):
    monkeypatch.setattr(running, "user_runtime_path", lambda _name: tmp_path / "runtime")
    done = []
    with listening(window):
        other = threading.Thread(target=lambda: done.append(running.hand_over(demo_paths()[:1])))
        with qtbot.waitSignal(window.session.opened, timeout=30_000):
            other.start()
        other.join()
        assert done == [True]
        assert window.opening.path == demo_paths()[0]
    assert not running.hand_over(demo_paths()[:1])


def test_a_question_is_answered_before_another_file_is_opened(qtbot, violin):
    violin.show_preferences()
    violin.come_forward(Handed((demo_paths()[1],)))
    qtbot.wait(400)
    assert violin.opening.path == demo_paths()[0]
    violin.preferences.reject()
    qtbot.waitUntil(lambda: violin.opening.path == demo_paths()[1], timeout=30_000)


def test_cancelling_changes_nothing(window):
    window.show_preferences()
    window.preferences.theme.setCurrentIndex(1)
    window.preferences.words["tip"].setCurrentIndex(1)
    window.preferences.reject()
    assert (window.settings.dark, window.settings.words) == (False, "")


def test_the_words_of_the_settings_file_are_those_of_the_next_start(tmp_path, monkeypatch):
    """As the toolkit writes the file, so the start reads it."""
    (tmp_path / "plectrum").mkdir()
    path = tmp_path / "plectrum" / "plectrum.ini"
    settings = Settings(QSettings(str(path), QSettings.Format.IniFormat))
    settings.words, settings.language = "frog=heel,notes=crotchet", "de"
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    for name in ("PLECTRUM_WORDS", "PLECTRUM_LANGUAGE"):
        monkeypatch.delenv(name)
    chosen.cache_clear()
    try:
        assert chosen().own_words.as_text() == "frog=heel,notes=crotchet"
        assert chosen().key == "de"
    finally:
        monkeypatch.undo()
        chosen.cache_clear()


def test_files_of_one_name_are_told_apart_in_the_menu(window, tmp_path):
    for name in ("a", "b"):
        (tmp_path / name).mkdir()
        shutil.copy(demo_paths()[0], tmp_path / name / "tune.musicxml")
        window.settings.add_recent(tmp_path / name / "tune.musicxml")
    menu = window.menus._recent_menu
    menu.aboutToShow.emit()
    texts = [action.text() for action in menu.actions() if isinstance(action, QAction)]
    assert len(set(texts)) == 2
    assert all(f"{tmp_path}/{name}" in " ".join(texts) for name in ("a", "b"))


def test_a_break_keeps_what_is_unsaved_and_asks_nothing(qtbot, violin, monkeypatch):
    """The copy is there for the next start, and the window is closed."""
    violin.screen_of("bowing").select(3)
    qtbot.keyClick(violin.screen_of("bowing").view, Qt.Key.Key_U)
    qtbot.waitUntil(lambda: violin.session.unsaved and not violin.session.planning)
    monkeypatch.setattr(violin.saving, "may_leave", lambda: 1 / 0)
    violin.end_at_once()
    assert not violin.isVisible()
    assert [left.title for left in find_recovered(violin.recovery)] == ["Lantern Ferry"]
