"""The drills: which are practised, what is set in each, and their music."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtWidgets import (
    QComboBox,
    QDoubleSpinBox,
    QFormLayout,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.document.homework import Homework
from plectrum.core.practice.catalogue import DRILLS, DrillKind, Parameter, Setting
from plectrum.core.practice.drills import Drill
from plectrum.ui.drawing.study_view import StudyView
from plectrum.ui.look import theme
from plectrum.ui.look.flow_layout import FlowLayout
from plectrum.ui.look.labels import label, scrolling

WIDTH = 300
SOON_MS = 250
KEY = Qt.ItemDataRole.UserRole


class DrillsPage(QWidget):
    """Signals: drill_shown with the drill as it is set; set_wanted with a key and its values,
    or None to take it out of the week; and what is to be done with it."""

    drill_shown = Signal(object)
    set_wanted = Signal(str, object)
    show_wanted = Signal()
    export_wanted = Signal()
    start_wanted = Signal()

    def __init__(self, study: StudyView, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.study = study
        self.homework = Homework()
        self._setting: Setting | None = None
        self._quiet = False
        self.fields: dict[str, QDoubleSpinBox | QComboBox] = {}
        self.list = QListWidget()
        self.list.setAccessibleName("Drills; ticked ones are in the week")
        for kind in DRILLS.values():
            item = QListWidgetItem(kind.title)
            item.setData(KEY, kind.key)
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            self.list.addItem(item)
        self.setFocusProxy(self.list)
        self.title = label("notetitle", wrap=True)
        self.what = label("sentence", wrap=True)
        self.good = label("why", wrap=True)
        self.caution = label("muted", wrap=True)
        self.form_box = QWidget()
        self.form = QFormLayout(self.form_box)
        self.form.setContentsMargins(0, 0, 0, 0)
        self.show_button = QPushButton("&Show it")
        self.show_button.setObjectName("primary")
        self.start_button = QPushButton("&Time it")
        self.start_button.setToolTip("Call its steps in time, on the Today page")
        self.export_button = QPushButton("E&xport …")
        self._soon = QTimer(self, singleShot=True, interval=SOON_MS)
        self._soon.timeout.connect(self._set)
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        inner = QWidget()
        detail = QVBoxLayout(inner)
        detail.setContentsMargins(16, 10, 16, 10)
        detail.setSpacing(4)
        for widget in (self.title, self.what, self.good, self.form_box):
            detail.addWidget(widget)
        detail.addWidget(self.study, 1)
        buttons = QWidget()
        row = FlowLayout(buttons, gap=8)
        row.setContentsMargins(0, 4, 0, 0)
        for button in (self.show_button, self.start_button, self.export_button):
            row.addWidget(button)
        detail.addWidget(buttons)
        detail.addWidget(self.caution)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.list)
        whole.addWidget(scrolling(inner, "plain"), 1)
        self.fit()

    def fit(self) -> None:
        """As wide as the interface scale wants it."""
        self.list.setFixedWidth(theme.px(WIDTH))

    def _connect(self) -> None:
        self.list.currentItemChanged.connect(lambda *_: self._show_kind())
        self.list.itemChanged.connect(self._ticked)
        self.show_button.clicked.connect(self.show_wanted)
        self.start_button.clicked.connect(self.start_wanted)
        self.export_button.clicked.connect(self.export_wanted)

    # showing

    def show_homework(self, homework: Homework, setting: Setting) -> None:
        """Show which drills are set, for a player."""
        self.homework, self._setting = homework, setting
        self._quiet = True
        for k in range(self.list.count()):
            item = self.list.item(k)
            ticked = item.data(KEY) in homework.drills
            item.setCheckState(Qt.CheckState.Checked if ticked else Qt.CheckState.Unchecked)
        self._quiet = False
        if self.list.currentRow() < 0:
            self.list.setCurrentRow(0)
        else:
            self._show_drill()

    @property
    def kind(self) -> DrillKind | None:
        item = self.list.currentItem()
        return DRILLS[item.data(KEY)] if item is not None else None

    def values(self) -> dict[str, float]:
        """What the fields say."""
        return {
            name: float(f.currentIndex()) if isinstance(f, QComboBox) else f.value()
            for name, f in self.fields.items()
        }

    @property
    def drill(self) -> Drill | None:
        """The chosen drill as it is set."""
        if self.kind is None or self._setting is None:
            return None
        return self.kind.make(self._setting, self.values())

    def _show_kind(self) -> None:
        kind = self.kind
        if kind is None:
            return
        self._build_form(kind, self.homework.drills.get(kind.key, {}))
        self._show_drill()

    def _build_form(self, kind: DrillKind, values: Mapping[str, float]) -> None:
        self._soon.stop()
        while self.form.rowCount():
            self.form.removeRow(0)
        self.fields = {}
        for parameter in kind.parameters:
            field = self._field(parameter, parameter.of(values))
            name = QLabel(parameter.title)
            name.setBuddy(field)
            field.setAccessibleName(parameter.title)
            field.setMaximumWidth(theme.px(240))
            self.form.addRow(name, field)
            self.fields[parameter.name] = field

    def _field(self, parameter: Parameter, value: float) -> QDoubleSpinBox | QComboBox:
        if parameter.words:
            combo = QComboBox()
            combo.addItems(list(parameter.words))
            combo.setCurrentIndex(int(value))
            combo.currentIndexChanged.connect(lambda _: self._edited())
            return combo
        box = QDoubleSpinBox()
        box.setDecimals(0 if parameter.step == int(parameter.step) else 1)
        box.setRange(parameter.low, parameter.high)
        box.setSingleStep(parameter.step)
        box.setSuffix(f" {parameter.unit}" if parameter.unit else "")
        box.setValue(value)
        box.valueChanged.connect(lambda _: self._edited())
        return box

    def _show_drill(self) -> None:
        drill = self.drill
        if drill is None or self.kind is None:
            return
        self.title.setText(f"{self.kind.title}, {_duration(drill.seconds)}")
        self.what.setText(drill.what)
        self.good.setText(f"Good when: {drill.good}.")
        self.caution.setText(drill.caution)
        self.drill_shown.emit(drill)

    # setting

    def _edited(self) -> None:
        self._show_drill()
        self._soon.start()

    def _set(self) -> None:
        """What the fields say is kept, if the drill is in the week."""
        if self.kind is not None and self.kind.key in self.homework.drills:
            values = self.values()
            if values != dict(self.homework.drills[self.kind.key]):
                self.set_wanted.emit(self.kind.key, values)

    def _ticked(self, item: QListWidgetItem) -> None:
        if self._quiet:
            return
        key = str(item.data(KEY))
        wanted = item.checkState() is Qt.CheckState.Checked
        chosen = self.kind is not None and self.kind.key == key
        values = self.values() if chosen else {}
        self.set_wanted.emit(key, values if wanted else None)


def _duration(seconds: float) -> str:
    whole = round(seconds)
    return f"{whole} s" if whole < 90 else f"{whole // 60} min {whole % 60:02d} s"
