"""The window when things go wrong: foreign texts, changed files, nothing foreseen."""

from __future__ import annotations

import os
import sys
import time
from dataclasses import fields, replace
from datetime import date
from pathlib import Path

import pytest
from pydantic import BaseModel
from PySide6.QtCore import (
    QAbstractItemModel,
    QAbstractListModel,
    QEvent,
    QModelIndex,
    QSettings,
    Qt,
    QUrl,
)
from PySide6.QtGui import QHelpEvent
from PySide6.QtWidgets import (
    QAbstractItemView,
    QApplication,
    QComboBox,
    QFileDialog,
    QHeaderView,
    QLabel,
    QMenu,
    QMessageBox,
    QTabBar,
    QToolTip,
    QWidget,
)

from plectrum.core.document.document import Document
from plectrum.core.document.homework import Homework
from plectrum.core.document.seats import Seat
from plectrum.core.document.sections import OwnSection
from plectrum.core.errors import PlectrumError
from plectrum.core.files.planfile import document_bytes
from plectrum.core.instrument.bow import Bow
from plectrum.core.log.records import (
    OF_A_STUDENT,
    BowOwned,
    FaultSeen,
    Lesson,
    Measured,
    Piece,
    PlanGiven,
    Practised,
    Record,
    StepDone,
    Student,
)
from plectrum.core.player.player import stage
from plectrum.core.player.records import NamedPlayer
from plectrum.core.practice.exercises.model import Exercise, shipped
from plectrum.core.practice.exercises.routine import Routine, shipped_routines
from plectrum.core.practice.exercises.shelf import Shelf
from plectrum.core.trouble_log import trouble_log_path
from plectrum.demo import demo_paths
from plectrum.ui.desk.settings import Settings
from plectrum.ui.editing.runner import Runner, computing, finish_work
from plectrum.ui.look import plain, where_to
from plectrum.ui.shell.main_window import local_path
from plectrum.ui.shell.saving import file_stem
from plectrum.ui.shell.screens import SCREENS
from plectrum.ui.shell.trouble import ReportDialog, catch_unforeseen
from tests.tunes import tune_document, tune_xml
from tests.ui.conftest import wait_planned

EVIL = "<img src=/etc/passwd><b>x</b>"


def shown_as_markup(widget: QWidget) -> list[str]:
    """Texts in a window that the toolkit would read as markup although they come from a file."""
    found = []
    for inner in [widget, *widget.findChildren(QWidget)]:
        if "<img" in inner.toolTip():
            found.append(f"tip of {type(inner).__name__}")
        if isinstance(inner, QLabel) and "<img" in inner.text():
            rich = inner.textFormat() != Qt.TextFormat.PlainText
            found += [f"label {inner.text()[:60]}"] if rich else []
        model = inner.model() if isinstance(inner, (QAbstractItemView, QComboBox)) else None
        for index in every_index(model) if model is not None else ():
            said = model.data(index, Qt.ItemDataRole.ToolTipRole)
            found += [f"tip in {type(inner).__name__}"] if "<img" in str(said) else []
        seen = isinstance(inner, QAbstractItemView) and inner.isVisible()
        if seen and not isinstance(inner, QHeaderView):
            found += hovered_as_markup(inner)
    menus = [menu for menu in widget.findChildren(QMenu) if menu.toolTipsVisible()]
    tips = [action.toolTip() for menu in menus for action in menu.actions()]
    return found + [f"tip in a menu: {tip}" for tip in tips if "<img" in tip]


def hovered_as_markup(view: QAbstractItemView) -> list[str]:
    """What comes up as markup while the pointer rests on each row of a list that is seen."""
    found = []
    for index in every_index(view.model()):
        view.scrollTo(index)
        at = view.visualRect(index).center()
        if not view.viewport().rect().contains(at):
            continue
        hover = QHelpEvent(QEvent.Type.ToolTip, at, view.viewport().mapToGlobal(at))
        QApplication.sendEvent(view.viewport(), hover)
        found += [f"hover in {type(view).__name__}"] if "<img" in QToolTip.text() else []
        QToolTip.hideText()
    return found


def every_index(model: QAbstractItemModel, parent: QModelIndex | None = None):
    """Every place of a list, table or tree."""
    parent = parent or QModelIndex()
    for row in range(model.rowCount(parent)):
        columns_n = 1 if isinstance(model, QAbstractListModel) else model.columnCount(parent)
        for column in range(columns_n):
            index = model.index(row, column, parent)
            yield index
            if column == 0 and model.rowCount(index):
                yield from every_index(model, index)


def evil(whole: BaseModel) -> dict[str, str]:
    """Every field of a kind of file in which anybody can write a sentence."""
    asked = type(whole).model_json_schema()["properties"]
    free = [
        name for name, field in asked.items()
        if field.get("type") == "string" and not {"pattern", "enum", "const"} & field.keys()
        and name not in ("strings", "part")
    ]  # fmt: skip
    return {name: EVIL[: asked[name].get("maxLength", 80)] for name in free}


def keep_evil_things(window) -> None:
    """A player, an exercise and a routine that somebody gave, on the shelves."""
    player = replace(stage("growing"), title=EVIL[:40], sentence=EVIL)
    window.desk.shelf.save(NamedPlayer(player, Bow.sized("violin")))
    window.desk.players_changed.emit()
    exercise, routine = shipped()["longest-bow"], shipped_routines()["warm-up"]
    given = exercise.model_copy(update={**evil(exercise), "checks": (EVIL[:40],)})
    Shelf(window.desk.exercises_path, Exercise).keep(given)
    items = (routine.items[0].model_copy(update={"own": given}), *routine.items[1:])
    shaped = routine.model_copy(update={**evil(routine), "items": items})
    Shelf(window.desk.routines_path, Routine).keep(shaped)


FIXED = {
    "id",
    "student_id",
    "piece_id",
    "instrument",
    "measure",
    "kind",
    "mark",
    "key",
    "direction",
}


def evil_record(record):
    """A record of the log in which every sentence that anybody can write is evil."""
    words = [
        field.name for field in fields(record)
        if isinstance(getattr(record, field.name), str) and field.name not in FIXED
    ]  # fmt: skip
    return replace(record, **dict.fromkeys(words, EVIL[:60]))


def evil_log() -> list[Record]:
    """One record of every kind, of a student and a piece of evil names."""
    on, piece = date(2026, 11, 2), evil_record(Piece("", "violin", 90.0, 4))
    who = evil_record(Student("", "violin", pain_since=on))
    document = document_bytes(tune_document("A4 B4 C5 D5"))
    of_student = (
        BowOwned(who.id, "", 650.0),
        PlanGiven(who.id, piece.id, on, document),
        Practised(who.id, on, 5, pain=True),
        StepDone(who.id, on, "step", "", "good", piece.id, 60.0),
        Measured(who.id, on, "level change", 3.0, piece_id=piece.id),
        FaultSeen(who.id, on, "drift", piece.id, 1),
        Lesson(who.id, on, checks={EVIL[:40]: True}, pain=True),
    )
    assert {type(record) for record in of_student} == set(OF_A_STUDENT)
    return [who, piece, *map(evil_record, of_student)]


def evil_document(document: Document) -> Document:
    """Every sentence of a plan file is evil: sections, homework, players of all seats, variants."""
    player = replace(document.choices.player, title=EVIL[:40], sentence=EVIL)
    seat = Seat(player, document.choices.bow)
    homework = Homework(letter=EVIL, drills={EVIL[:30]: {EVIL[:20]: EVIL[:20]}}, routine=EVIL[:60])
    return replace(
        document,
        choices=replace(document.choices, player=player),
        seats={part.id: seat for part in document.score.parts},
        sections=(_evil_section(document),),
        variants={EVIL[:60]: document.choices},
        homework=homework,
    )


def _evil_section(document: Document) -> OwnSection:
    notes = document.part.notes
    return OwnSection("evil", notes[0].id, notes[3].id, EVIL[:20])


def test_markup_in_titles_names_and_notes_is_shown_as_it_stands(qtbot, window, opened, tmp_path):
    """Every screen, with a piece, a part, a player, a student and a variant of evil names."""
    path = tmp_path / "evil.musicxml"
    escaped = EVIL.replace("&", "&amp;").replace("<", "&lt;")
    xml = tune_xml("A4 B4 C5 D5|E5*4").replace(
        b"<part-name>Violin</part-name>",
        f"<part-name>Violin {escaped}</part-name>".encode(),
    )
    title = f"<movement-title>{escaped}</movement-title><part-list>"
    xml = xml.replace(b"<part-list>", title.encode())
    path.write_bytes(xml)
    keep_evil_things(window)
    window = opened(path)
    window.session.change(evil_document, "evil words")
    window.desk.log.put(*evil_log())
    for kind in SCREENS:
        window.show_screen(kind.key)
        qtbot.wait(50)
        for pages in window.screen_of(kind.key).findChildren(QTabBar):
            for page in range(pages.count()):
                pages.setCurrentIndex(page)
                qtbot.wait(20)
                assert shown_as_markup(window) == []
        assert shown_as_markup(window) == []
    wait_planned(qtbot, window)
    assert EVIL in window.header.title.text()
    window.show_error(PlectrumError(f"part {EVIL} is not there", where=EVIL, remedy=EVIL))
    assert shown_as_markup(window.error_box) == []
    assert EVIL in window.error_box.text()
    window.error_box.close()


def test_boxes_tips_and_menus_show_text_as_it_stands(qtbot, themed):
    parent = QWidget()
    qtbot.addWidget(parent)
    box = plain.message_box(parent, EVIL, EVIL)
    assert shown_as_markup(box) == []
    assert box.informativeText() == EVIL
    dialog = plain.progress_dialog(parent, EVIL, 10)
    dialog.reset()
    assert shown_as_markup(dialog) == []
    assert "<img" not in plain.tip(EVIL)
    assert plain.tip("a plain tip") == "a plain tip"
    menu = QMenu(parent)
    assert menu.addAction(plain.key_free("Fish & chips")).text() == "Fish && chips"


def test_no_window_makes_boxes_and_tips_of_its_own():
    """Static boxes show markup, so nobody calls them; tips that say what a file says go through
    `plain.tip`."""
    folder = Path(plain.__file__).parents[1]
    for path in folder.rglob("*.py"):
        text = path.read_text("utf-8")
        if path.name == "plain.py":
            continue
        for call in ("QMessageBox.question", "QMessageBox.warning", "QMessageBox.information",
                     "QMessageBox.critical", "QMessageBox(", "QProgressDialog("):  # fmt: skip
            assert call not in text, (path.name, call)


def test_the_unforeseen_is_noted_shown_once_and_work_goes_on(qtbot, violin, monkeypatch, tmp_path):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    monkeypatch.setattr(sys, "excepthook", sys.excepthook)
    catch_unforeseen(violin.show_error)

    def break_down() -> None:
        raise KeyError("Wren Halloway")

    for _ in range(3):
        try:
            break_down()
        except KeyError:
            sys.excepthook(*sys.exc_info())
    assert "Your work is kept" in violin.error_box.text()
    first = violin.error_box
    first.close()
    try:
        break_down()
    except KeyError:
        sys.excepthook(*sys.exc_info())
    assert violin.error_box is first  # once is enough
    noted = trouble_log_path().read_text()
    assert noted.count("unexpected KeyError") == 4
    assert "break_down" in noted
    assert "Halloway" not in noted
    qtbot.keyClick(violin.screen_of("bowing").view, Qt.Key.Key_D)
    wait_planned(qtbot, violin)
    assert violin.session.unsaved


def test_the_report_shows_where_the_log_is_and_what_to_copy(qtbot, violin, monkeypatch, tmp_path):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    violin.report_problem()
    dialog = violin.report_dialog
    assert isinstance(dialog, ReportDialog)
    assert "PySide6" in dialog.facts.toPlainText()
    assert any("plectrum.log" in w.text() for w in dialog.findChildren(QLabel))
    dialog.copy.click()
    dialog.close()


def test_a_file_changed_since_is_not_written_over_without_a_question(qtbot, violin, tmp_path):
    path = tmp_path / "plan.plectrum"
    assert violin.saving._save_to(path, "Saved")
    answers = [False]
    asked = []

    def ask_over(file: Path, why: str) -> bool:
        asked.append(why)
        return answers[0]

    violin.saving.ask_over = ask_over
    path.write_bytes(path.read_bytes() + b"by another")
    theirs = path.read_bytes()
    qtbot.keyClick(violin.screen_of("bowing").view, Qt.Key.Key_D)
    assert not violin.saving.save()
    assert path.read_bytes() == theirs
    assert len(asked) == 1
    answers[0] = True
    assert violin.saving.save()
    assert path.with_name("plan.plectrum~").read_bytes() == theirs
    assert violin.saving.save()  # nobody asks about one's own
    assert len(asked) == 2


def test_keeping_mine_is_an_answer(qtbot, violin, tmp_path):
    path = tmp_path / "plan.plectrum"
    violin.saving._save_to(path, "Saved")
    violin.saving.ask_over = lambda *_: pytest.fail("asked although it was answered")
    path.write_bytes(b"theirs")
    qtbot.waitUntil(lambda: not violin.saving.banner.isHidden(), timeout=10_000)
    violin.saving.banner.leave.click()
    assert violin.saving.save()


def test_an_ending_that_is_added_overwrites_nothing_unasked(qtbot, violin, tmp_path, monkeypatch):
    there = tmp_path / "mine.plectrum"
    there.write_bytes(b"precious")
    monkeypatch.setattr(
        QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(tmp_path / "mine"), "")
    )
    monkeypatch.setattr(where_to, "ask", lambda *_: QMessageBox.StandardButton.Cancel)
    assert not violin.saving.save_as()
    assert there.read_bytes() == b"precious"


@pytest.mark.parametrize(
    "name", [b"tune\xff.musicxml", b"line\nbreak.musicxml", b"n" * 240 + b".musicxml"]
)
def test_names_of_files_as_the_system_has_them(qtbot, opened, tmp_path, name):
    """Opened, dropped, remembered, saved and recovered under names that are not UTF-8."""
    path = Path(os.fsdecode(os.fsencode(tmp_path) + b"/" + name))
    path.write_bytes(demo_paths()[0].read_bytes())
    window = opened(path)
    assert window.opening.path == path
    again = Settings(QSettings(str(tmp_path / "settings.ini"), QSettings.Format.IniFormat))
    assert window.settings.recent[0] == path
    assert again.recent[0] == path
    qtbot.keyClick(window.screen_of("bowing").view, Qt.Key.Key_D)
    wait_planned(qtbot, window)
    assert window.safety_net.write()
    saved = Path(os.fsdecode(os.fsencode(tmp_path) + b"/" + name[:60] + b".plectrum"))
    assert window.saving._save_to(saved, "Saved")
    assert saved.exists()
    with qtbot.waitSignal(window.session.opened, timeout=30_000):
        window.open_path(saved)
    window.welcome.show_recent(window.settings.recent)
    window.menus._fill_recent()


def test_what_is_dropped_has_the_bytes_of_its_name(tmp_path):
    path = Path(os.fsdecode(os.fsencode(tmp_path) + b"/a b\xff.xml"))
    url = QUrl.fromEncoded(path.as_uri().encode())
    assert local_path(url) == path
    assert local_path(QUrl.fromLocalFile("/tmp/ä b%.xml")) == Path("/tmp/ä b%.xml")


def test_a_title_makes_a_name_a_file_can_have():
    assert file_stem("A/B: c") == "A-B- c"
    assert file_stem("../../etc/passwd\n") == "-..-etc-passwd-"
    assert file_stem("") == "plan"
    assert len(file_stem("é" * 400).encode()) <= 120


def test_closing_while_work_runs_leaves_no_trace(qtbot, themed, capfd):
    owner = QWidget()
    runner = Runner(owner)
    runner.run(lambda: time.sleep(0.3), lambda _: None, lambda _: None)
    qtbot.wait(50)
    runner._signals.deleteLater()
    owner.deleteLater()
    del runner
    qtbot.wait(50)
    finish_work()
    assert computing().activeThreadCount() == 0
    assert "deleted" not in capfd.readouterr().err


def test_a_folder_that_is_gone_is_said_and_nothing_is_lost(qtbot, violin, tmp_path):
    folder = tmp_path / "gone"
    folder.mkdir()
    assert violin.saving._save_to(folder / "p.plectrum", "Saved")
    (folder / "p.plectrum").unlink()
    folder.rmdir()
    qtbot.keyClick(violin.screen_of("bowing").view, Qt.Key.Key_D)
    wait_planned(qtbot, violin)
    assert not violin.saving.save()
    assert "cannot be written" in violin.error_box.text()
    violin.error_box.close()
    assert violin.session.unsaved


def test_settings_are_the_users_alone(qtbot, violin, tmp_path):
    violin.settings.add_recent(tmp_path / "x")
    assert (tmp_path / "settings.ini").stat().st_mode & 0o077 == 0
