"""The boxes of the Player screen that hold limits and abilities; each emits what is changed."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QDoubleSpinBox,
    QGridLayout,
    QGroupBox,
    QHBoxLayout,
    QLabel,
    QWidget,
)

from plectrum.core.player.player import Player
from plectrum.core.wording import in_words, sentence_like, tr
from plectrum.ui.look.labels import label
from plectrum.ui.player.fields import ABILITIES, LIMITS, NOT_LEARNT, NUMBERED, TECHNIQUES, Limit


def spin_box(
    suffix: str, least: float, most: float, step: float, decimals: int, name: str
) -> QDoubleSpinBox:
    """A number with its unit, told when it is finished."""
    spin = QDoubleSpinBox()
    spin.setRange(least, most)
    spin.setSingleStep(step)
    spin.setDecimals(decimals)
    spin.setSuffix(suffix)
    spin.setKeyboardTracking(False)
    spin.setAccessibleName(name)
    return spin


def set_quietly(spin: QDoubleSpinBox, value: float) -> None:
    """Show a number without emitting; one that is being typed is left alone."""
    if not spin.hasFocus() or abs(spin.value() - value) > 10 ** -spin.decimals():
        spin.blockSignals(True)
        spin.setValue(value)
        spin.blockSignals(False)


def _check_quietly(box: QCheckBox, value: bool) -> None:
    box.blockSignals(True)
    box.setChecked(value)
    box.blockSignals(False)


class _Box(QGroupBox):
    """A titled grid whose last column says what each row changes."""

    wanted = Signal(dict, str)

    def __init__(self, title: str, parent: QWidget | None = None) -> None:
        super().__init__(title, parent)
        self.grid = QGridLayout(self)
        self.grid.setColumnStretch(0, 2)
        self.grid.setColumnStretch(2, 3)
        self.grid.setHorizontalSpacing(12)

    def say(self, row: int, sentence: str) -> None:
        self.grid.addWidget(label("muted", sentence, wrap=True), row, 2)


class LimitsBox(_Box):
    """The numbers of a player. Emits the changed key with its value, and words for undo."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(tr("Limits"), parent)
        self.spins: dict[str, QDoubleSpinBox] = {}
        for row, limit in enumerate(LIMITS):
            suffix = f" {limit.unit}" if limit.unit else ""
            spin = spin_box(
                suffix, limit.least, limit.most, limit.step, limit.decimals, limit.title
            )
            spin.setAccessibleDescription(limit.sentence)
            self.spins[limit.name] = spin
            self.grid.addWidget(label("", limit.title, wrap=True), row, 0)
            self.grid.addWidget(spin, row, 1)
            self.say(row, limit.sentence)
            spin.valueChanged.connect(partial(self._changed, limit))

    def _changed(self, limit: Limit, shown: float) -> None:
        value: float = shown / limit.shown
        changed = int(value) if limit.name == "slur_notes_n" else round(value, 4)
        self.wanted.emit({limit.name: changed}, limit.title)

    def show_player(self, player: Player) -> None:
        for limit in LIMITS:
            set_quietly(self.spins[limit.name], getattr(player, limit.name) * limit.shown)


class AbilitiesBox(_Box):
    """What a player can do. Emits the changed key with its value, and words for undo."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(tr("Can do"), parent)
        self.checks: dict[str, QCheckBox] = {}
        self.numbered: dict[tuple[str, int], QCheckBox] = {}
        row = 0
        for name, title, sentence in ABILITIES:
            check = QCheckBox(title)
            check.setAccessibleDescription(sentence)
            check.toggled.connect(partial(self._ability_changed, name))
            self.checks[name] = check
            self.grid.addWidget(check, row, 0, 1, 2)
            self.say(row, sentence)
            row += 1
        for name, title, numbers, sentence in NUMBERED:
            self.grid.addWidget(QLabel(title), row, 0)
            self.grid.addLayout(self._number_row(name, title, numbers), row, 1)
            self.say(row, sentence)
            row += 1
        for name, sentence in TECHNIQUES:
            check = QCheckBox(sentence_like(in_words(name)))
            check.setAccessibleDescription(sentence)
            check.toggled.connect(self._techniques_changed)
            self.checks[name] = check
            self.grid.addWidget(check, row, 0, 1, 2)
            self.say(row, sentence)
            row += 1
        self.grid.addWidget(label("muted", NOT_LEARNT, wrap=True), row, 0, 1, 3)

    def _number_row(self, name: str, title: str, numbers: range) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(6)
        for k in numbers:
            check = QCheckBox(str(k))
            check.setAccessibleName(f"{title} {k}")
            check.toggled.connect(partial(self._numbers_changed, name))
            self.numbered[name, k] = check
            row.addWidget(check)
        row.addStretch(1)
        return row

    def _ability_changed(self, name: str, value: bool) -> None:
        self.wanted.emit({name: value}, self.checks[name].text())

    def _numbers_changed(self, name: str, _checked: bool) -> None:
        chosen = [k for (n, k), check in self.numbered.items() if n == name and check.isChecked()]
        title = next(title for key, title, *_ in NUMBERED if key == name)
        self.wanted.emit({name: chosen}, title)

    def _techniques_changed(self, _checked: bool) -> None:
        chosen = [name for name, _ in TECHNIQUES if self.checks[name].isChecked()]
        self.wanted.emit({"techniques": chosen}, tr("techniques"))

    def show_player(self, player: Player) -> None:
        for name, check in self.checks.items():
            value = getattr(player, name) if hasattr(player, name) else name in player.techniques
            _check_quietly(check, bool(value))
        for (name, k), check in self.numbered.items():
            _check_quietly(check, k in getattr(player, name))
