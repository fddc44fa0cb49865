"""Who plays each part."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QGridLayout, QLabel, QWidget

from plectrum.core.document.document import Document
from plectrum.core.document.seats import Seat
from plectrum.core.player.player import STAGES, Player, stage
from plectrum.core.player.records import NamedPlayer
from plectrum.core.wording import say, tr
from plectrum.ui.look import theme
from plectrum.ui.look.labels import label
from plectrum.ui.look.plain import tip

LINE, MORE = 36, 20  # a line, and what a name on two takes more
ONE_LINE = 15  # letters


class SeatsPanel(QWidget):
    """A line a part with a choice of players: the stages, and those kept by name with an own bow
    for its instrument."""

    seat_wanted = Signal(str, object, str)
    everybody_wanted = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(4)
        self._grid.setColumnStretch(0, 1)
        self._shown: tuple[object, ...] = ()
        self.players: dict[str, QComboBox] = {}

    def show_seats(self, document: Document, named: Sequence[NamedPlayer]) -> None:
        """The parts and who plays them."""
        seats = [(info, document.seat_of(info.id)) for info in document.string_parts]
        shown = (*((info.id, info.name, seat) for info, seat in seats), tuple(named))
        if shown == self._shown:
            return
        self._shown = shown
        self._clear()
        for row, (info, seat) in enumerate(seats):
            name = label("", info.name, wrap=True)
            combo = QComboBox()
            combo.setAccessibleName(say("Player of {name}", name=info.name))
            combo.setSizeAdjustPolicy(
                QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
            )
            combo.setMinimumContentsLength(12)
            self._fill(combo, seat, named)
            name.setBuddy(combo)
            combo.activated.connect(lambda _, i=info.id, c=combo: self._chosen(i, c))
            self._grid.addWidget(name, row, 0)
            self._grid.addWidget(combo, row, 1)
            self.players[info.id] = combo
        if len(seats) > 1:
            self._add_everybody(len(seats), document.choices.player)

    def _add_everybody(self, row: int, player: Player) -> None:
        """A line for all parts at once."""
        combo = QComboBox()
        combo.setAccessibleName(tr("Player of all parts"))
        combo.addItem("…", None)
        for name in STAGES:
            combo.addItem(stage(name).called, stage(name))
        if player not in map(stage, STAGES):
            combo.addItem(player.called, player)
        combo.activated.connect(lambda _: self._everybody(combo))
        words = label("muted", tr("Everybody"))
        words.setBuddy(combo)
        self._grid.addWidget(words, row, 0)
        self._grid.addWidget(combo, row, 1)
        self.everybody = combo

    def _everybody(self, combo: QComboBox) -> None:
        player = combo.currentData()
        combo.setCurrentIndex(0)
        if isinstance(player, Player):
            self.everybody_wanted.emit(player)

    def _clear(self) -> None:
        self.players = {}
        while (item := self._grid.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()

    def _fill(self, combo: QComboBox, seat: Seat, named: Sequence[NamedPlayer]) -> None:
        own = [p for p in named if p.bow.instrument == seat.bow.instrument]
        offered = [Seat(stage(name), seat.bow) for name in STAGES]
        offered += [Seat(p.player, p.bow) for p in own]
        if seat not in offered:
            offered.append(seat)
        for choice in offered:
            combo.addItem(choice.player.called, choice)
            combo.setItemData(
                combo.count() - 1, tip(choice.player.described), Qt.ItemDataRole.ToolTipRole
            )
        combo.setCurrentIndex(offered.index(seat))

    def _chosen(self, part_id: str, combo: QComboBox) -> None:
        seat = combo.currentData()
        if isinstance(seat, Seat):
            self.seat_wanted.emit(part_id, seat, say("player {name}", name=seat.player.called))

    def wanted_height(self) -> int:
        """How tall all lines are, also before they have been laid out."""
        rows = len(self.players) + (len(self.players) > 1)
        wrapped = sum(len(name) > ONE_LINE for name in self.names)
        return theme.px(LINE) * rows + theme.px(MORE) * wrapped

    @property
    def names(self) -> list[str]:
        """The parts listed."""
        labels = (self._grid.itemAtPosition(r, 0) for r in range(self._grid.rowCount()))
        widgets = (item.widget() for item in labels if item is not None)
        return [w.text() for w in widgets if isinstance(w, QLabel)]
