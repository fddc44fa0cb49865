"""A folder of tunes as a shelf: each planned aside and said in a row, one to be opened, all to be
written."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path
from typing import Any

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QProgressBar,
    QPushButton,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.errors import PlectrumError
from plectrum.core.files.exports import PLAN_FORMATS
from plectrum.core.files.shelf import Glance, tunes_on
from plectrum.core.instrument.specification import instrument_names
from plectrum.core.plain_text import one_line, shown_path
from plectrum.core.player.player import STAGES, Player, stage
from plectrum.core.wording import in_words, say, several, tr
from plectrum.ui.editing.command_process import CommandProcess
from plectrum.ui.look import theme
from plectrum.ui.look.labels import label
from plectrum.ui.look.plain import tip
from plectrum.ui.look.room import open_within
from plectrum.ui.look.where_to import may_replace

COLUMNS = (
    tr("Tune"),
    tr("Key"),
    tr("Metre"),
    tr("Bars"),
    tr("Tempo"),
    tr("Plays from"),
    tr("To look at"),
)
NUMBERS = (3,)  # columns that are sorted as numbers
FORMATS = (
    (tr("Marked scores (MusicXML)"), "musicxml"),
    (tr("Tables (CSV)"), "csv"),
    (tr("Plans as text"), "text"),
    (tr("Plans as JSON"), "json"),
)
_ROW = Qt.ItemDataRole.UserRole
NOT_PLANNED = tr("cannot be planned")


class _Item(QTreeWidgetItem):
    """A row; numbers are sorted as numbers."""

    def __lt__(self, other: QTreeWidgetItem) -> bool:
        column = self.treeWidget().sortColumn()
        if column in NUMBERS:
            return int(self.text(column) or 0) < int(other.text(column) or 0)
        return self.text(column).casefold() < other.text(column).casefold()


class ShelfDialog(QDialog):
    """The tunes of a folder or a book.

    Signals:
        wanted: a tune to be opened: its path, its place in a book (or None), the instrument (or
            None) and the player.
    """

    wanted = Signal(object, object, object, object)

    def __init__(
        self, paths: list[Path], player: Player | None = None, parent: QWidget | None = None
    ) -> None:
        """Make it and begin to plan.

        Args:
            paths: folders and books.
            player: of the tune that is open, offered beside the stages.
        """
        super().__init__(parent)
        self.setWindowTitle(tr("Shelf of tunes"))
        self._paths = paths
        self._folder = tempfile.TemporaryDirectory(prefix="plectrum-shelf-")
        self.planner = CommandProcess(self)
        self.writer = CommandProcess(self)
        self._last = ""  # what the writer said last
        self.players: list[Player] = [stage(name) for name in STAGES]
        if player is not None and player.title not in [p.title for p in self.players]:
            self.players.insert(0, player)
        self._make_controls()
        self._lay_out()
        self._connect()
        self._plan()

    def _make_controls(self) -> None:
        self.words = QLineEdit()
        self.words.setPlaceholderText(tr("Letters of the title"))
        self.words.setAccessibleName(tr("Letters of the title"))
        self.player = QComboBox()
        self.player.setAccessibleName(tr("For whom"))
        for player in self.players:
            self.player.addItem(say("for {player}", player=player.called), player)
        growing = [p.name for p in self.players].index("growing")
        self.player.setCurrentIndex(0 if len(self.players) > len(STAGES) else growing)
        self.instrument = QComboBox()
        self.instrument.setAccessibleName(tr("Instrument"))
        self.instrument.addItem(tr("as written"), None)
        for name in instrument_names():
            self.instrument.addItem(in_words(name), name)
        self.list = QTreeWidget()
        self.list.setAccessibleName(tr("Tunes"))
        self.list.setRootIsDecorated(False)
        self.list.setUniformRowHeights(True)
        self.list.setAlternatingRowColors(False)
        self.list.setHeaderLabels(COLUMNS)
        header = self.list.header()
        for column in range(len(COLUMNS) - 1):
            header.setSectionResizeMode(column, QHeaderView.ResizeMode.ResizeToContents)
        header.setStretchLastSection(True)
        self.list.setSortingEnabled(False)
        self.said = label("why", wrap=True)
        self.said.setMinimumHeight(theme.px(38))
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.progress.setFixedHeight(theme.px(8))
        self.open_button = QPushButton(tr("&Open the tune"))
        self.open_button.setObjectName("primary")
        self.open_button.setDefault(True)
        self.format = QComboBox()
        self.format.setAccessibleName(tr("What is written"))
        for title, name in FORMATS:
            self.format.addItem(title, name)
        self.write_button = QPushButton(tr("&Write all into a folder …"))
        self.stop_button = QPushButton(tr("&Stop"))
        self.close_button = QPushButton(tr("Close"))

    def _lay_out(self) -> None:
        where = ", ".join(shown_path(path) for path in self._paths)
        top = QHBoxLayout()
        for widget in (self.words, self.player, self.instrument):
            top.addWidget(widget, 1 if widget is self.words else 0)
        below = QHBoxLayout()
        for control in (self.open_button, self.format, self.write_button):
            below.addWidget(control)
        below.addStretch(1)
        below.addWidget(self.stop_button)
        below.addWidget(self.close_button)
        column = QVBoxLayout(self)
        column.addWidget(label("muted", where, wrap=True))
        column.addLayout(top)
        column.addWidget(self.list, 1)
        column.addWidget(self.progress)
        column.addWidget(self.said)
        column.addLayout(below)
        open_within(self, QSize(980, 620))

    def _connect(self) -> None:
        self.words.textChanged.connect(self._find)
        self.player.activated.connect(self._plan)
        self.instrument.activated.connect(self._plan)
        self.list.currentItemChanged.connect(self._say)
        self.list.itemActivated.connect(lambda *_: self._open())
        self.open_button.clicked.connect(self._open)
        self.write_button.clicked.connect(self._ask_folder)
        self.stop_button.clicked.connect(self._stop)
        self.close_button.clicked.connect(self.reject)
        self.planner.said.connect(self._add)
        self.planner.ended.connect(self._planned)
        self.planner.failed.connect(lambda error: self.said.setText(str(error)))
        self.writer.said.connect(self._count_written)
        self.writer.ended.connect(self._written)
        self.writer.failed.connect(lambda error: self.said.setText(str(error)))

    # planning

    def _words_for(self, command: str) -> list[str]:
        """A command on these tunes, for whom is chosen."""
        file = Path(self._folder.name) / "player.json"
        file.write_text(json.dumps(self.player.currentData().as_dict()))
        words = [command, *(str(path.absolute()) for path in self._paths), "--player", str(file)]
        instrument = self.instrument.currentData()
        return [*words, "--instrument", instrument] if instrument else words

    def _plan(self) -> None:
        """Every tune anew."""
        self.planner.end()
        self.list.clear()
        self.list.setSortingEnabled(False)
        self._working(tr("Planning the tunes …"))
        self.planner.start([*self._words_for("shelf"), "--format", "json"])

    def _working(self, text: str) -> None:
        self.said.setText(text)
        self.progress.setRange(0, 0)
        self.progress.show()
        self.stop_button.setEnabled(True)

    def _add(self, line: str) -> None:
        row: dict[str, Any] = json.loads(line)
        item = _Item([row.get("title") or row["name"]])
        item.setData(0, _ROW, row)
        item.setToolTip(0, tip(row["name"]))
        if "error" in row:
            item.setText(6, NOT_PLANNED)
        else:
            self._fill(item, row)
        self.list.addTopLevelItem(item)
        item.setHidden(not self._fits(item))
        self.progress.setRange(0, row["count"])
        self.progress.setValue(self.list.topLevelItemCount())
        if self.list.currentItem() is None:
            self.list.setCurrentItem(item)

    def _fill(self, item: QTreeWidgetItem, row: dict[str, Any]) -> None:
        glance = glance_of(row)
        more = (
            say(" (and {count} more)", count=len(glance.things) - 1)
            if len(glance.things) > 1
            else ""
        )
        texts = (
            glance.key, glance.metre, str(glance.bars_n), glance.tempo,
            glance.window or tr("nowhere"),
            glance.things[0] + more if glance.things else "",
        )  # fmt: skip
        for column, text in enumerate(texts, start=1):
            item.setText(column, text)
        item.setToolTip(len(texts), tip("\n".join(glance.things)))
        item.setTextAlignment(3, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)

    def _planned(self, code: int | None, wrong: str) -> None:
        self._at_rest()
        rows = self._rows()
        bad = sum(item.text(6) == NOT_PLANNED for item in rows)
        count = several("{n} tune planned", "{n} tunes planned", len(rows) - bad)
        count += say(", {bad} cannot be planned", bad=bad) if bad else ""
        if code is None:
            count = say("Stopped: {count}", count=count)
        elif code and not rows:
            count = wrong
        self.said.setText(f"{count}.")
        self.list.header().setSortIndicator(-1, Qt.SortOrder.AscendingOrder)  # as they come
        self.list.setSortingEnabled(True)

    def _at_rest(self) -> None:
        self.progress.hide()
        self.stop_button.setEnabled(False)

    def _stop(self) -> None:
        for process in (self.planner, self.writer):
            if process.running:
                process.stop()

    # choosing

    def _fits(self, item: QTreeWidgetItem) -> bool:
        return self.words.text().casefold() in item.text(0).casefold()

    def _rows(self) -> list[QTreeWidgetItem]:
        found = (self.list.topLevelItem(k) for k in range(self.list.topLevelItemCount()))
        return [item for item in found if item is not None]

    def _find(self) -> None:
        for item in self._rows():
            item.setHidden(not self._fits(item))
        shown = [item for item in self._rows() if not item.isHidden()]
        if shown and self.list.currentItem() not in shown:
            self.list.setCurrentItem(shown[0])

    def _say(self) -> None:
        """What there is to look at in the chosen tune."""
        item = self.list.currentItem()
        if item is None or self.planner.running or self.writer.running:
            return
        row = item.data(0, _ROW)
        self.said.setText(
            row.get("error") or "\n".join(glance_of(row).things) or tr("All is well.")
        )

    def _open(self) -> None:
        item = self.list.currentItem()
        if item is None or item.isHidden():
            return
        row = item.data(0, _ROW)
        place = f"#{row['place']}" if "place" in row else None
        player = self.player.currentData()
        self.wanted.emit(Path(row["file"]), place, self.instrument.currentData(), player)
        self.accept()

    # writing

    def _ask_folder(self) -> None:
        name = QFileDialog.getExistingDirectory(self, tr("Write all plans into"))
        if name:
            self.write_into(Path(name))

    def write_into(self, folder: Path) -> None:
        """Every tune's plan into a folder, a file each; asks what may be replaced."""
        ending = PLAN_FORMATS[self.format.currentData()]
        try:
            tunes = tunes_on(self._paths)  # not those listed: the list may have been stopped
        except PlectrumError as error:
            self.said.setText(str(error))
            return
        files = [folder / (tune.stem + ending) for tune in tunes]
        if self.writer.running or not may_replace(self, files):
            return
        self._working(tr("Writing …"))
        self.progress.setRange(0, max(1, self.list.topLevelItemCount()))
        self.progress.setValue(0)
        words = [*self._words_for("plan"), "--format", self.format.currentData()]
        self.writer.start([*words, "-o", str(folder), "--force"])

    def _count_written(self, line: str) -> None:
        self.progress.setValue(self.progress.value() + 1)
        self._last = line

    def _written(self, code: int | None, wrong: str) -> None:
        self._at_rest()
        if code is None:
            self.said.setText(tr("Stopped; what was written whole stays."))
        else:
            self.said.setText(one_line(f"{self._last if code in (0, 1) else ''} {wrong}", 400))

    def done(self, result: int) -> None:
        for process in (self.planner, self.writer):
            process.end()
        self._folder.cleanup()
        super().done(result)


def glance_of(row: dict[str, Any]) -> Glance:
    """What a row of `plectrum shelf` says of a tune."""
    fields = {k: v for k, v in row.items() if k in Glance.__dataclass_fields__}
    return Glance(**fields | {"things": tuple(fields.get("things", ()))})
