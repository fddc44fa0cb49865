"""Exporting a marked score from the window: what goes into it is asked, and remembered."""

from __future__ import annotations

from PySide6.QtWidgets import QFileDialog

from plectrum.core.files.exports import plan_as_musicxml
from plectrum.core.files.marking import Division, Marking, Under


def test_what_is_chosen_is_written_and_remembered(violin, tmp_path, monkeypatch):
    out = tmp_path / "out.musicxml"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(out), ""))
    violin.exporter.musicxml()
    dialog = violin.exporter.marking_dialog
    assert dialog.marking == Marking()
    assert not dialog.under.isEnabled()
    dialog.division.setCurrentIndex(dialog.division.findData(Division.REGIONS))
    assert dialog.under.isEnabled()
    dialog.under.setCurrentIndex(dialog.under.findData(Under.WORDS))
    dialog.fingerings.setChecked(True)
    dialog.accept()
    chosen = Marking(Division.REGIONS, Under.WORDS, fingerings=True)
    session = violin.session
    assert out.read_bytes() == plan_as_musicxml(session.document, session.plan, chosen)
    violin.exporter.musicxml()
    assert violin.exporter.marking_dialog.marking == chosen


def test_without_a_tune_it_is_said(window):
    said = []
    window.desk.message.connect(said.append)
    window.exporter.musicxml()
    assert said == ["Open a tune first; there is nothing to export."]


def test_cancelling_writes_nothing(violin, monkeypatch, tmp_path):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: ("", ""))
    violin.exporter.musicxml()
    violin.exporter.marking_dialog.joins.setChecked(True)
    violin.exporter.marking_dialog.reject()
    assert Marking.from_dict(violin.settings.marking) == Marking()
