"""Preferences in one dialog: kept, in force, and cancelled without a trace."""

from __future__ import annotations

import shutil

from PySide6.QtCore import QSettings, Qt
from PySide6.QtGui import QAction

from plectrum.core.wording.language import choose_as_kept, chosen
from plectrum.demo import demo_paths
from plectrum.ui.desk.settings import Settings
from plectrum.ui.look import theme
from plectrum.ui.shell.recovery import find_recovered


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
    Settings(QSettings(str(path), QSettings.Format.IniFormat)).words = "frog=heel,notes=crotchet"
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    monkeypatch.setenv("PLECTRUM_WORDS", "")
    monkeypatch.delenv("PLECTRUM_WORDS")
    choose_as_kept()
    try:
        assert chosen().own_words.as_text() == "frog=heel,notes=crotchet"
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
