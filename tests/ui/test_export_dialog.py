"""Exporting a marked score from the window: what goes into it is asked, and remembered."""

from __future__ import annotations

from PySide6.QtWidgets import QFileDialog, QMessageBox

from plectrum.core.files.exports import plan_as_musicxml
from plectrum.core.files.marking import Division, Marking, Under
from plectrum.demo import demo_paths
from plectrum.ui.look import where_to


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


def test_what_is_open_is_never_written_over(opened, tmp_path, monkeypatch):
    """Not the tune's own file, by another name either, whatever the dialog was answered."""
    path = tmp_path / "tune.musicxml"
    path.write_bytes(demo_paths()[0].read_bytes())
    (tmp_path / "link.musicxml").symlink_to(path)
    window = opened(path)
    before = path.read_bytes()
    shown = []
    monkeypatch.setattr(QMessageBox, "exec", lambda box: shown.append(box.text()))
    for name in ("tune.musicxml", "link.musicxml"):
        monkeypatch.setattr(
            QFileDialog, "getSaveFileName", lambda *_, name=name: (str(tmp_path / name), "")
        )
        window.exporter.musicxml()
        window.exporter.marking_dialog.accept()
    assert path.read_bytes() == before
    assert ["open" in text for text in shown] == [True, True]


def test_an_ending_that_is_added_asks_before_it_replaces(violin, tmp_path, monkeypatch):
    out = tmp_path / "table.csv"
    out.write_bytes(b"precious")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(out.with_suffix("")), ""))
    asked = []
    for answer in (QMessageBox.StandardButton.Cancel, QMessageBox.StandardButton.Yes):
        monkeypatch.setattr(where_to, "ask", lambda *a, answer=answer: asked.append(a[1]) or answer)
        before = out.read_bytes()
        violin.exporter.csv()
        assert (out.read_bytes() == before) == (answer is QMessageBox.StandardButton.Cancel)
    assert len(asked) == 2
