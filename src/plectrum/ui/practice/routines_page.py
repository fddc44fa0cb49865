"""The routines: exercises in their order with minutes; done, in the week, printed for a class."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PySide6.QtCore import QEvent, QObject, QSignalBlocker, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QMenu,
    QSpinBox,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.advice.care import CAUTION, LONG_DAY_MINUTES
from plectrum.core.document.choices import Choices
from plectrum.core.errors import PlectrumError
from plectrum.core.practice.exercises.routine import (
    Item,
    Planned,
    Routine,
    item_made,
    routine_bytes,
    routine_from_bytes,
    shipped_routines,
)
from plectrum.core.practice.exercises.shelf import Shelf
from plectrum.core.wording import say, tr
from plectrum.ui.look.buttons import push_button
from plectrum.ui.look.flow_layout import FlowLayout
from plectrum.ui.look.labels import label, scrolling
from plectrum.ui.look.plain import key_free
from plectrum.ui.practice.own_shelf import OwnShelf

JSON = tr("Routine (*.json)")
NEW = tr("A new routine")
MOST_ITEMS, MOST_MINUTES = 20, 60
LONG = tr("That is a long day for a child: several short sessions with pauses are better.")


class RoutinesPage(QWidget):
    """Signals: do_wanted; page_wanted, calendar_wanted, sound_wanted; week_wanted with the routine
    or None; edited when it has changed; message for the status line."""

    do_wanted = Signal()
    page_wanted = Signal()
    calendar_wanted = Signal()
    sound_wanted = Signal()
    week_wanted = Signal(object)
    edited = Signal()
    message = Signal(str)

    def __init__(self, shelf: Shelf[Routine], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        say_it = self.message.emit
        self.own = OwnShelf(shelf, routine_from_bytes, routine_bytes, say_it, say_it)
        self.routine = next(iter(shipped_routines().values()))
        self.planned: tuple[Planned, ...] = ()
        self._choices: Choices | None = None
        self._known: list[Routine] = []
        self._own_keys: set[str] = set()
        self._faults: dict[int, str] = {}
        self._days: Mapping[str, int] = {}
        self._in_the_week = ""
        self.choice = QComboBox()
        self.title, self.about = QLineEdit(), QLineEdit()
        self.title.setMaxLength(80)
        self.about.setMaxLength(300)
        self.days, self.weeks = QSpinBox(), QSpinBox()
        self.days.setRange(1, 7)
        self.days.setAccessibleName(tr("Days a week"))
        self.weeks.setAccessibleName(tr("Weeks"))
        self.days.setSuffix(tr(" days a week"))
        self.weeks.setRange(1, 12)
        self.weeks.setSuffix(tr(" weeks"))
        self.weeks.setSpecialValueText(tr("1 week"))
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Exercises of the routine, in their order"))
        self.detail = label("sentence", wrap=True)
        self.good = label("why", wrap=True)
        self.total = label("key", wrap=True)
        self.long = label("problem", LONG, wrap=True)
        self.faults = label("muted", wrap=True)
        self.caution = label("muted", CAUTION, wrap=True)
        self._make_buttons()
        self._lay_out()
        self._connect()
        self.fill_choices()

    def _make_buttons(self) -> None:
        self.do_button = push_button(tr("&Do it now"), tr("One after the other, by the clock  (D)"))
        self.do_button.setObjectName("primary")
        self.week_button = push_button(tr("Put it in the &week"), tr("Every day begins with it"))
        self.week_button.setCheckable(True)
        self.page_button = push_button(
            tr("Pa&ges …"), tr("One for each player, with boxes for the days")
        )
        self.calendar_button = push_button(
            tr("&Calendar …"),
            tr("An event for each day of practice"),
        )
        self.sound_button = push_button(tr("So&und …"), tr("All of it once, with its counts"))
        self.keep_button = push_button(tr("Kee&p"), tr("Keep it under its title as your own"))
        self.share_button = push_button(tr("E&xport …"), tr("A file to be shared"))
        self.take_button = push_button(
            tr("Open a &file …"),
            tr("A routine that someone has given you"),
        )
        self.forget_button = push_button(tr("&Forget"), tr("Take this own routine off the list"))
        self.less = push_button(tr("− minute"), tr("A minute less  (−)"))
        self.more = push_button(tr("+ minute"), tr("A minute more  (+)"))
        self.up = push_button(tr("Earlier"), tr("Before the one above  (Ctrl+Up)"))
        self.down = push_button(tr("Later"), tr("After the one below  (Ctrl+Down)"))
        self.remove = push_button(tr("Take out"), tr("Take this exercise out  (Del)"))
        self.group = QToolButton()
        self.group.setObjectName("tool")
        self.group.setText(tr("For a class"))
        self.group.setToolTip(tr("A page for each of several players"))
        self.group.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.group_menu = QMenu(self.group)
        self.group.setMenu(self.group_menu)

    @property
    def focus_target(self) -> QWidget:
        """What answers the keys of the page. No proxy: the Tab key would pass by what is before."""
        return self.list

    def _lay_out(self) -> None:
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(16, 10, 16, 10)
        column.setSpacing(6)
        head = QHBoxLayout()
        for text, field, stretch in (
            (tr("&Routine"), self.choice, 2),
            (tr("Tit&le"), self.title, 2),
            (tr("&What for"), self.about, 3),
        ):
            name = QLabel(text)
            name.setBuddy(field)
            field.setAccessibleName(text.replace("&", ""))
            head.addWidget(name)
            head.addWidget(field, stretch)
        column.addLayout(head)
        when = QHBoxLayout()
        for widget in (self.days, self.weeks, self.group):
            when.addWidget(widget)
        when.addWidget(self.total, 1)
        column.addLayout(when)
        column.addWidget(self.long)
        middle = QHBoxLayout()
        middle.addWidget(self.list, 1)
        side = QVBoxLayout()
        for words in (self.detail, self.good):
            side.addWidget(words)
        side.addStretch(1)
        middle.addLayout(side, 1)
        column.addLayout(middle, 1)
        column.addWidget(self.faults)
        for row in (
            (self.less, self.more, self.up, self.down, self.remove),
            (self.do_button, self.week_button, self.page_button, self.calendar_button,
             self.sound_button, self.keep_button, self.share_button, self.take_button,
             self.forget_button),
        ):  # fmt: skip
            box = QWidget()
            flow = FlowLayout(box, gap=8)
            flow.setContentsMargins(0, 2, 0, 2)
            for button in row:
                flow.addWidget(button)
            column.addWidget(box)
        column.addWidget(self.caution)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(scrolling(inner, "plain"))
        self.list.installEventFilter(self)

    def _connect(self) -> None:
        self.choice.activated.connect(self._choose)
        self.title.textEdited.connect(lambda _: self._retitled())
        self.about.textEdited.connect(lambda _: self._retitled())
        for box in (self.days, self.weeks):
            box.valueChanged.connect(lambda _: self._retitled())
        self.list.currentRowChanged.connect(lambda _: self._show_item())
        self.less.clicked.connect(lambda: self.change_minutes(-1))
        self.more.clicked.connect(lambda: self.change_minutes(1))
        self.up.clicked.connect(lambda: self.move_item(-1))
        self.down.clicked.connect(lambda: self.move_item(1))
        self.remove.clicked.connect(self.take_out)
        self.do_button.clicked.connect(self.do_wanted)
        self.page_button.clicked.connect(self.page_wanted)
        self.calendar_button.clicked.connect(self.calendar_wanted)
        self.sound_button.clicked.connect(self.sound_wanted)
        self.week_button.clicked.connect(
            lambda on: self.week_wanted.emit(self.routine if on else None)
        )
        self.keep_button.clicked.connect(self.keep)
        self.share_button.clicked.connect(self.share)
        self.take_button.clicked.connect(self.take_file)
        self.forget_button.clicked.connect(self.forget)

    # choosing

    def fill_choices(self) -> None:
        """The routines there are, own ones first."""
        own, faults = self.own.shelf.all()
        self._own_keys = {routine.key for routine in own}
        self._known = [*own, *shipped_routines().values()]
        with QSignalBlocker(self.choice):
            self.choice.clear()
            self.choice.addItems([*(key_free(r.title) for r in self._known), NEW])
            keys = [r.key for r in self._known]
            k = keys.index(self.routine.key) if self.routine.key in keys else len(keys)
            self.choice.setCurrentIndex(k)
        self.faults.setText("\n".join(say("Not read: {fault}", fault=fault) for fault in faults))
        self.faults.setVisible(bool(faults))
        self._show()

    def _choose(self, index: int) -> None:
        if index < len(self._known):
            self._take(self._known[index])
            return
        first = self.routine.items[:1]
        self._take(Routine(key="new-routine", title=NEW, what="", items=first))
        self.title.setFocus()
        self.title.selectAll()

    def choose(self, key: str) -> None:
        """A routine by its key."""
        for k, routine in enumerate(self._known):
            if routine.key == key:
                self.choice.setCurrentIndex(k)
                self._take(routine)

    def _take(self, routine: Routine) -> None:
        self.routine = routine
        self.title.setText(routine.title)
        self.about.setText(routine.what)
        self._make()

    def show_for(
        self, choices: Choices, names: Sequence[str], chosen: Sequence[str], in_the_week: str,
        days: Mapping[str, int],
    ) -> None:  # fmt: skip
        """The routine as whoever practises can do it.

        Args:
            names: the players there are for a class; chosen: who is in it.
            in_the_week: the routine of the week, as its file.
            days: which day of practice today is for an exercise, by its name.
        """
        self._choices, self._days = choices, days
        self.group_menu.clear()
        for name in names:
            action = self.group_menu.addAction(key_free(name))
            action.setCheckable(True)
            action.setChecked(name in chosen)
        self.group.setVisible(len(names) > 1)
        self._in_the_week = in_the_week
        self._make()

    def class_members(self) -> list[str]:
        """Names of the players of the class; empty for whoever practises."""
        return [a.text().replace("&&", "&") for a in self.group_menu.actions() if a.isChecked()]

    # changing

    def _changed(self, **fields: object) -> None:
        self.routine = self.routine.model_copy(update=fields)
        self._make()
        self.edited.emit()

    def _retitled(self) -> None:
        title = self.title.text().strip() or NEW
        self._changed(
            title=title, what=self.about.text().strip(), days_a_week=self.days.value(),
            weeks=self.weeks.value(),
        )  # fmt: skip

    @property
    def row(self) -> int:
        return max(0, self.list.currentRow())

    def add(self, item: Item) -> bool:
        """An exercise at the end; False where there are too many."""
        if len(self.routine.items) >= MOST_ITEMS:
            self.message.emit(
                say("A routine has {most_items} exercises at most.", most_items=MOST_ITEMS)
            )
            return False
        self._changed(items=(*self.routine.items, item))
        self.list.setCurrentRow(len(self.routine.items) - 1)
        return True

    def change_minutes(self, by: int) -> None:
        """The chosen exercise longer or shorter."""
        items = list(self.routine.items)
        item = items[self.row]
        minutes = min(MOST_MINUTES, max(1, item.minutes + by))
        items[self.row] = item.model_copy(update={"minutes": minutes})
        self._changed(items=tuple(items))

    def move_item(self, by: int) -> None:
        """The chosen exercise earlier or later."""
        items, row = list(self.routine.items), self.row
        if 0 <= row + by < len(items):
            items[row], items[row + by] = items[row + by], items[row]
            self._changed(items=tuple(items))
            self.list.setCurrentRow(row + by)

    def take_out(self) -> None:
        """The chosen exercise is no more in it; the last one stays."""
        items = list(self.routine.items)
        if len(items) > 1:
            items.pop(self.row)
            self._changed(items=tuple(items))

    # showing

    def _make(self) -> None:
        """Each exercise as this player can do it; what cannot be is said in its line."""
        planned: list[Planned] = []
        self._faults = {}
        if self._choices is not None:
            for k, item in enumerate(self.routine.items):
                try:
                    day = self._days.get(item.exercise, 1)
                    planned.append(Planned(item, item_made(item, self._choices, day)))
                except PlectrumError as error:
                    self._faults[k] = str(error)
        self.planned = tuple(planned)
        self._show()

    def _show(self) -> None:
        row, routine = self.row, self.routine
        titles = {id(p.item): p.made.title for p in self.planned}
        with QSignalBlocker(self.list):
            self.list.clear()
            for k, item in enumerate(routine.items):
                title = titles.get(id(item), item.exercise)
                fault = tr("  – cannot be done by this player") if k in self._faults else ""
                self.list.addItem(
                    say(
                        "{rank}.  {title}, {minutes} min{fault}",
                        rank=k + 1,
                        title=title,
                        minutes=item.minutes,
                        fault=fault,
                    )
                )
            self.list.setCurrentRow(min(row, len(routine.items) - 1))
        for field, text in ((self.title, routine.title), (self.about, routine.what)):
            if field.text().strip() != text and not field.hasFocus():
                field.setText(text)
        for box, value in ((self.days, routine.days_a_week), (self.weeks, routine.weeks)):
            with QSignalBlocker(box):
                box.setValue(value)
        n = routine.days_a_week * routine.weeks
        self.total.setText(
            say("{minutes} min a day, {number} days in all", minutes=routine.minutes, number=n)
        )
        self.long.setVisible(routine.minutes > LONG_DAY_MINUTES)
        ready = bool(self.planned)
        for button in (self.do_button, self.page_button, self.calendar_button, self.sound_button,
                       self.week_button):  # fmt: skip
            button.setEnabled(ready)
        self.week_button.setChecked(self._is_in_the_week)
        self.forget_button.setVisible(routine.key in self._own_keys)
        self._show_item()

    @property
    def _is_in_the_week(self) -> bool:
        return self._in_the_week == routine_bytes(self.routine).decode()

    def _show_item(self) -> None:
        item = self.routine.items[min(self.row, len(self.routine.items) - 1)]
        made = next((p.made for p in self.planned if p.item is item), None)
        if made is None:
            self.detail.setText(self._faults.get(self.row, ""))
            self.good.setText("")
            return
        self.detail.setText(made.today)
        self.good.setText(say("Good when: {good}.", good=made.good))

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
            key = event.key()
            if key in (Qt.Key.Key_Plus, Qt.Key.Key_Minus) and not control:
                self.change_minutes(1 if key == Qt.Key.Key_Plus else -1)
                return True
            if control and key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
                self.move_item(-1 if key == Qt.Key.Key_Up else 1)
                return True
            if key == Qt.Key.Key_Delete:
                self.take_out()
                return True
        return super().eventFilter(watched, event)

    # keeping and sharing

    def keep(self) -> None:
        """Keep the routine as it is now under its title."""
        kept = self.own.keep(self.routine)
        if kept is not None:
            self.routine = kept
            self.fill_choices()

    def share(self) -> None:
        """The routine as a file."""
        self.own.give_file(self.routine, self, tr("Export the routine"), JSON)

    def take_file(self) -> None:
        """Keep a routine that was shared as a file."""
        found = self.own.from_file(self, tr("Open a routine"), JSON)
        if found is not None:
            self.routine = found
            self.keep()
            self._make()

    def forget(self) -> None:
        """Take the own routine off the shelf; where it is in a week it stays."""
        if self.own.forget(self.routine):
            self._take(next(iter(shipped_routines().values())))
            self.fill_choices()
