"""What is to be settled in rehearsal: a line a place, each leads there."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QWidget

from plectrum.core.advice.rehearsal import ToSettle
from plectrum.core.wording import tr

PLACE = Qt.ItemDataRole.UserRole
NOTHING = tr("Nothing: all that can go together does.")


class RehearsalList(QListWidget):
    """Emits the part and the note of the place that is chosen."""

    place_wanted = Signal(int, int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(tr("To settle in rehearsal"))
        self.setWordWrap(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollMode(QListWidget.ScrollMode.ScrollPerPixel)
        self.setVerticalScrollBarPolicy(
            Qt.ScrollBarPolicy.ScrollBarAlwaysOn
        )  # lines keep their width
        self._shown: tuple[ToSettle, ...] = ()
        self.currentItemChanged.connect(lambda *_: self._jump())
        self.itemClicked.connect(lambda _: self._jump())

    def show_places(self, places: Sequence[ToSettle]) -> None:
        """List these; the line that was chosen stays if it is still there."""
        if self.count() and tuple(places) == self._shown:
            return
        self._shown = tuple(places)
        kept = self.currentRow()
        self.blockSignals(True)
        self.clear()
        for place in places:
            item = QListWidgetItem(f"{place.where}\n{place.text}")
            item.setData(PLACE, (place.part, place.note))
            self.addItem(item)
        if not places:
            item = QListWidgetItem(NOTHING)
            item.setFlags(Qt.ItemFlag.ItemIsEnabled)
            self.addItem(item)
        elif kept >= 0:
            self.setCurrentRow(min(kept, len(places) - 1))
        self.blockSignals(False)

    def show_nothing(self) -> None:
        """Nothing is planned as one."""
        self._shown = ()
        self.clear()

    def step(self, steps: int) -> None:
        """To the next place, or an earlier one."""
        if self._shown:
            self.setCurrentRow((self.currentRow() + steps) % len(self._shown))

    def _jump(self) -> None:
        item = self.currentItem()
        place = None if item is None else item.data(PLACE)
        if place is not None:
            self.place_wanted.emit(*place)
