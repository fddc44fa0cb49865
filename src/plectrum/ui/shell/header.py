"""The line above the score: what is open, for whom, by which school, how fast."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QDoubleSpinBox, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from plectrum.core.document.choices import Choices
from plectrum.core.player.player import STAGES, Player, stage
from plectrum.core.player.school import DirectionSchool
from plectrum.core.score.metre import beat_sign
from plectrum.core.wording import in_words, say, several, tr
from plectrum.ui.look import theme
from plectrum.ui.look.labels import label
from plectrum.ui.look.plain import tip

if TYPE_CHECKING:
    from plectrum.core.document.document import Document
    from plectrum.core.planning.plan import Plan


def _part_words(plan: Plan) -> str:
    name, instrument = plan.part.name, plan.choices.instrument
    return name if instrument in name.lower() else f"{name}, {in_words(instrument)}"


LEAST_PX = 64  # what a list or a name keeps where the window is narrow


class Header(QWidget):
    """Emits changes of the choices with the words for the undo list."""

    choices_wanted = Signal(object, str)
    part_wanted = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("header")
        self._document: Document | None = None
        self.title = label("title")
        self.subtitle = label("muted")
        self.part = self._combo(tr("Part"))
        self.part.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.part.setMaximumWidth(theme.px(200))
        self.player = self._combo(tr("Player"))
        self.set_named_players([])
        self.school = self._combo(tr("Direction school"))
        for school in DirectionSchool:
            self.school.addItem(school.called, school)
            self.school.setItemData(
                self.school.count() - 1, tip(school.sentence), Qt.ItemDataRole.ToolTipRole
            )
        self.tempo = QDoubleSpinBox()
        self.tempo.setRange(10, 480)
        self.tempo.setDecimals(0)
        self.tempo.setKeyboardTracking(False)
        self.tempo.setAccessibleName(tr("Tempo, beats a minute"))
        self.tempo.setToolTip(tr("Tempo in beats a minute; the plan follows it"))
        self._shown: tuple[object, ...] = ()
        for words in (self.title, self.subtitle):
            words.setMinimumWidth(LEAST_PX)
        self._lay_out()
        self.player.activated.connect(self._player_chosen)
        self.school.activated.connect(self._school_chosen)
        self.part.activated.connect(lambda _: self.part_wanted.emit(self.part.currentData()))
        self.tempo.valueChanged.connect(self._tempo_chosen)

    def _combo(self, name: str) -> QComboBox:
        combo = QComboBox()
        combo.setAccessibleName(name)
        combo.setMinimumWidth(LEAST_PX)
        return combo

    def _lay_out(self) -> None:
        names = QVBoxLayout()
        names.setSpacing(0)
        names.addWidget(self.title)
        names.addWidget(self.subtitle)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 6, 16, 8)
        row.setSpacing(8)
        row.addLayout(names, 1)
        self._labels = []
        for text, widget in (
            (tr("&Part"), self.part),
            (tr("P&layer"), self.player),
            (tr("&School"), self.school),
            (tr("&Tempo"), self.tempo),
        ):
            name = QLabel(text)
            name.setObjectName("muted")
            name.setBuddy(widget)
            row.addSpacing(8)
            row.addWidget(name)
            row.addWidget(widget)
            self._labels.append(name)

    def set_named_players(self, named: Sequence[Player]) -> None:
        """Offer the stages and these players."""
        self._shown = ()
        self.player.clear()
        for player in [*map(stage, STAGES), *named]:
            self._add_player(player)

    def _add_player(self, player: Player) -> int:
        self.player.addItem(player.called, player)
        at = self.player.count() - 1
        self.player.setItemData(at, tip(player.described), Qt.ItemDataRole.ToolTipRole)
        return at

    def show_document(self, document: Document, plan: Plan) -> None:
        """Set every control from the document, without emitting anything."""
        self._document = document
        choices = document.choices
        shown = (document.title, document.score, document.part_id, choices.player,
                 choices.school.direction, choices.instrument, plan.part.tempo, plan.part.bars_n,
                 self.player.count())  # fmt: skip
        if shown == self._shown:
            return  # filling the lists anew would be seen in every press of a key
        self._shown = shown
        self.title.setText(document.title)
        bars_n = plan.part.bars_n
        self.subtitle.setText(
            several("{part} · {n} bar", "{part} · {n} bars", bars_n, part=_part_words(plan))
        )
        self.player.setToolTip(tip(choices.player.described))
        self.school.setToolTip(tip(choices.school.direction.sentence))
        self.part.clear()
        with_notes = [p for p in document.score.parts if p.notes_n]
        for info in with_notes:
            self.part.addItem(info.name, info.id)
        self.part.setCurrentIndex(self.part.findData(document.part_id))
        for widget in (self._labels[0], self.part):
            widget.setVisible(len(with_notes) > 1)
        players = [self.player.itemData(k) for k in range(self.player.count())]
        known = players.index(choices.player) if choices.player in players else -1
        self.player.setCurrentIndex(known if known >= 0 else self._add_player(choices.player))
        self.school.setCurrentIndex(self.school.findData(choices.school.direction))
        self.tempo.blockSignals(True)
        sign = beat_sign(plan.part.tempo.beat_q)
        self.tempo.setPrefix(f"{sign} = ")
        self.tempo.setValue(plan.part.tempo.bpm)
        self.tempo.blockSignals(False)

    def _player_chosen(self, index: int) -> None:
        player = self.player.itemData(index)
        if self._document is not None and player != self._document.choices.player:
            self._emit(
                lambda c: replace(c, player=player), say("player {name}", name=player.called)
            )

    def _school_chosen(self, index: int) -> None:
        direction = DirectionSchool(self.school.itemData(index))
        self._emit(
            lambda c: c.with_school("direction", direction),
            say("school, {answer}", answer=direction.called),
        )

    def _tempo_chosen(self, bpm: float) -> None:
        self._emit(lambda c: replace(c, tempo_bpm=bpm), say("tempo {bpm:.0f}", bpm=bpm))

    def _emit(self, change: Callable[[Choices], Choices], text: str) -> None:
        if self._document is not None:
            self.choices_wanted.emit(change, text)
