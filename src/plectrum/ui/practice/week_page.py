"""The week as a calendar: what is practised when, how it went, and when there is none."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta

from PySide6.QtCore import (
    QDate,
    QEvent,
    QModelIndex,
    QObject,
    QPersistentModelIndex,
    QRect,
    QSize,
    Qt,
    Signal,
)
from PySide6.QtGui import QKeyEvent, QPainter, QPen
from PySide6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QDateEdit,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QMenu,
    QPushButton,
    QSizePolicy,
    QSpinBox,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableWidget,
    QTableWidgetItem,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.advice.care import LONG_DAY_MINUTES
from plectrum.core.document.homework import LEAST_MINUTES, MOST_MINUTES, Homework, Outcome
from plectrum.core.practice.programme import Programme
from plectrum.core.practice.week import Day, Entry, TaskKind, week_of
from plectrum.core.wording import say, tr
from plectrum.core.wording.dates import (
    WEEKDAYS,
    WEEKDAYS_SHORT,
    day_month,
    day_month_year,
    weekday_short_and_day,
)
from plectrum.ui.look import theme
from plectrum.ui.look.flow_layout import FlowLayout
from plectrum.ui.look.labels import label
from plectrum.ui.look.outcomes import with_outcome
from plectrum.ui.look.plain import key_free, tip

KEY, TINT = Qt.ItemDataRole.UserRole, Qt.ItemDataRole.UserRole + 1
GAP, PAD = 2, 6
WRAPPED = Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft
ONE_DAY = timedelta(days=1)
LONG = tr("That is long for a child: several short sessions with pauses are better.")


class Cards(QStyledItemDelegate):
    """Paints the tasks of the week as cards, tall enough for their words."""

    def __init__(self, table: QTableWidget) -> None:
        super().__init__(table)
        self._table = table

    def sizeHint(
        self, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> QSize:
        width = self._table.columnWidth(index.column())
        inside = QRect(0, 0, max(20, width - 2 * (GAP + PAD)), 10_000)
        text = str(index.data() or "")
        rect = self._table.fontMetrics().boundingRect(inside, WRAPPED, text)
        return QSize(width, rect.height() + 2 * (GAP + PAD))

    def paint(
        self,
        painter: QPainter,
        option: QStyleOptionViewItem,
        index: QModelIndex | QPersistentModelIndex,
    ) -> None:
        now = theme.colours()
        tint = index.data(TINT)
        card = option.rect.adjusted(GAP, GAP, -GAP, -GAP)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        state = option.state
        chosen = bool(state & QStyle.StateFlag.State_Selected)
        painter.setPen(QPen(now.accent, 2) if chosen else Qt.PenStyle.NoPen)
        painter.setBrush(now.tints[tint] if tint is not None else Qt.BrushStyle.NoBrush)
        if tint is not None or chosen:
            painter.drawRoundedRect(card, 6, 6)
        painter.setPen(now.ink if tint is not None else now.muted)
        painter.setFont(self._table.font())
        painter.drawText(card.adjusted(PAD, PAD, -PAD, -PAD), WRAPPED, str(index.data() or ""))
        painter.restore()


class WeekPage(QWidget):
    """Signals: homework_wanted with a change of the homework and words for it; marked_as with a
    key and how it went; task_opened with a key; class_changed; ics_wanted; start_wanted."""

    homework_wanted = Signal(object, str)
    marked_as = Signal(str, object)
    task_opened = Signal(str)
    class_changed = Signal()
    ics_wanted = Signal()
    start_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.programme: Programme | None = None
        self.monday = date.today() - timedelta(days=date.today().weekday())
        self._quiet = False
        self.minutes = QSpinBox()
        self.minutes.setRange(LEAST_MINUTES, MOST_MINUTES)
        self.minutes.setSuffix(tr(" min a day"))
        self.minutes.setAccessibleName(tr("Minutes a day"))
        self.start = QDateEdit()
        self.start.setCalendarPopup(True)
        self.start.setDisplayFormat(tr("d MMM yyyy"))
        self.start.setAccessibleName(tr("First day"))
        self.days = [QCheckBox(day) for day in WEEKDAYS_SHORT]
        for name, box in zip(WEEKDAYS, self.days, strict=True):
            box.setAccessibleName(say("Practice on {name}", name=name))
            box.setToolTip(tip(name))
        self.group = QToolButton()
        self.group.setObjectName("tool")
        self.group.setText(tr("For a class"))
        self.group.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.group.setToolTip(tr("One plan for several players of this part"))
        self.group_menu = QMenu(self.group)
        self.group.setMenu(self.group_menu)
        self.back, self.on = QPushButton(tr("‹ Week")), QPushButton(tr("Week ›"))
        self.ics = QPushButton(tr("Save &calendar …"))
        self.today = QPushButton(tr("&Practise today"))
        self.today.setObjectName("primary")
        self.headline = label("notetitle")
        self.who = label("muted", wrap=True)
        self.long = label("problem", LONG, wrap=True)
        self.table = QTableWidget(0, 7)
        self._set_up_table()
        self._lay_out()
        self._connect()

    def _set_up_table(self) -> None:
        table = self.table
        table.setAccessibleName(tr("The week, a column a day"))
        table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        table.setWordWrap(True)
        table.verticalHeader().hide()
        table.setShowGrid(False)
        table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        table.verticalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        table.setTabKeyNavigation(False)
        table.setMinimumHeight(0)
        table.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)
        table.setItemDelegate(Cards(table))
        table.installEventFilter(self)

    @property
    def focus_target(self) -> QWidget:
        """What answers the keys of the page. No proxy: the Tab key would pass by what is before."""
        return self.table

    def _lay_out(self) -> None:
        settings = QWidget()
        settings.setObjectName("toolstrip")
        settings.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        flow = FlowLayout(settings, gap=10)
        flow.setContentsMargins(16, 6, 16, 6)
        weekdays = QWidget()
        row = QHBoxLayout(weekdays)
        row.setContentsMargins(0, 0, 0, 0)
        for box in self.days:
            row.addWidget(box)
        from_label = QLabel(tr("&from"))
        from_label.setBuddy(self.start)
        for widget in (self.minutes, weekdays, from_label, self.start, self.group):
            flow.addWidget(widget)
        self._settings = settings
        head = QHBoxLayout()
        head.setContentsMargins(16, 8, 16, 2)
        head.addWidget(self.headline)
        head.addStretch(1)
        for button in (self.back, self.on, self.ics, self.today):
            if button is not self.today:
                button.setObjectName("small")
            head.addWidget(button)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addWidget(settings)
        column.addLayout(head)
        for told in (self.who, self.long):
            told.setContentsMargins(16, 0, 16, 2)
            column.addWidget(told)
            told.hide()
        column.addWidget(self.table, 1)
        hint = label(
            "muted",
            tr(
                "Enter opens a task, G went well, A again, U not done "
                "yet, H makes the day a holiday "
                "or takes that back."
            ),
            wrap=True,
        )
        hint.setContentsMargins(16, 2, 16, 6)
        column.addWidget(hint)

    def _connect(self) -> None:
        self.minutes.valueChanged.connect(lambda _: self._edited())
        self.start.dateChanged.connect(lambda _: self._edited())
        for box in self.days:
            box.toggled.connect(lambda _: self._edited())
        self.back.clicked.connect(lambda: self.turn(-1))
        self.on.clicked.connect(lambda: self.turn(1))
        self.ics.clicked.connect(self.ics_wanted)
        self.today.clicked.connect(self.start_wanted)
        self.table.itemActivated.connect(lambda _: self._open())

    # showing

    def show_programme(self, programme: Programme) -> None:
        """Show the week that is looked at, of another programme."""
        before = self.programme
        self.programme = programme
        home = programme.homework
        self._quiet = True
        self.minutes.setValue(home.minutes_a_day)
        first = home.settings(programme.today).start
        self.start.setDate(QDate(first.year, first.month, first.day))
        for k, box in enumerate(self.days):
            box.setChecked(k in home.weekdays)
        self._quiet = False
        names = programme.players
        self.who.setText(say("For {list} together.", list=", ".join(names)))
        self.who.setVisible(len(names) > 1)
        self.long.setVisible(home.minutes_a_day > LONG_DAY_MINUTES)
        if before is None or not self._week():
            days = programme.days
            self._look_at(days[0].on if days else programme.today)
        self.fill()

    def _look_at(self, on: date) -> None:
        self.monday = on - timedelta(days=on.weekday())

    def _week(self) -> tuple[Day, ...]:
        return week_of(self.programme.days, self.monday) if self.programme is not None else ()

    def turn(self, weeks: int) -> None:
        """To another week, as far as there is one."""
        days = self.programme.days if self.programme is not None else ()
        wanted = self.monday + timedelta(weeks=weeks)
        if days and days[0].on - timedelta(days=6) <= wanted <= days[-1].on:
            self.monday = wanted
            self.fill()

    def fill(self) -> None:
        """Write the week into the table."""
        place = self.table.currentRow(), self.table.currentColumn()
        days = {day.on: day for day in self._week()}
        dates = [self.monday + k * ONE_DAY for k in range(7)]
        last = dates[-1]
        self.headline.setText(
            say("{first} to {last}", first=day_month(self.monday), last=day_month_year(last))
        )
        self.table.clearContents()
        self.table.setRowCount(max((len(d.entries) for d in days.values()), default=0) or 1)
        self.table.setHorizontalHeaderLabels([self._day_head(on, days.get(on)) for on in dates])
        for column, on in enumerate(dates):
            self._fill_day(column, on, days.get(on))
        if place[0] < 0:
            first = next((k for k, on in enumerate(dates) if on in days), 0)
            place = 0, first
        self.table.setCurrentCell(*place)
        self.table.resizeRowsToContents()
        self._show_turning()

    def _show_turning(self) -> None:
        days = self.programme.days if self.programme is not None else ()
        self.back.setEnabled(bool(days) and days[0].on < self.monday)
        self.on.setEnabled(bool(days) and days[-1].on >= self.monday + timedelta(days=7))

    def _day_head(self, on: date, day: Day | None) -> str:
        minutes = (
            say("\n{minutes} min", minutes=day.minutes)
            if day is not None and day.entries
            else "\n–"
        )
        return f"{weekday_short_and_day(on)}{minutes}"

    def _fill_day(self, column: int, on: date, day: Day | None) -> None:
        home = self.programme.homework if self.programme is not None else Homework()
        if day is None or not day.entries:
            text = tr("holiday") if on in home.holidays else ""
            self.table.setItem(0, column, QTableWidgetItem(text))
            return
        for row, entry in enumerate(day.entries):
            self.table.setItem(row, column, self._cell(entry, home))

    def _cell(self, entry: Entry, home: Homework) -> QTableWidgetItem:
        result = home.results.get(entry.task.key)
        mark = result.mark if result is not None else None
        lead = tr("again: ") if entry.again else ""
        text = with_outcome(
            say(
                "{lead}{short}, {minutes}\xa0min",
                lead=lead,
                short=entry.short,
                minutes=entry.minutes,
            ),
            mark,
        ).strip()
        item = QTableWidgetItem(text)
        item.setData(KEY, entry.task.key)
        item.setToolTip(
            tip(
                say(
                    "{lead}{title}, {minutes} min",
                    lead=lead,
                    title=entry.title,
                    minutes=entry.minutes,
                )
            )
        )
        item.setData(TINT, {TaskKind.DRILL: 3, TaskKind.STEP: 0, TaskKind.REVIEW: 5}[entry.kind])
        return item

    def show_class(self, names: Sequence[str], chosen: Sequence[str]) -> None:
        """The named players there are, and who is in the class."""
        self.group_menu.clear()
        for name in names:
            action = self.group_menu.addAction(key_free(name))
            action.setCheckable(True)
            action.setChecked(name in chosen)
            action.toggled.connect(lambda _: self.class_changed.emit())
        self.group.setVisible(bool(names))

    def class_members(self) -> list[str]:
        """Names of the players of the class; empty for the plan's own player."""
        return [a.text() for a in self.group_menu.actions() if a.isChecked()]

    # setting

    def _edited(self) -> None:
        if self._quiet or self.programme is None:
            return
        chosen = frozenset(k for k, box in enumerate(self.days) if box.isChecked())
        home = self.programme.homework
        if not chosen:
            self._quiet = True
            for k, box in enumerate(self.days):
                box.setChecked(k in home.weekdays)
            self._quiet = False
            return
        picked, minutes = self.start.date(), self.minutes.value()
        start: date | None = date(picked.year(), picked.month(), picked.day())
        if home.start is None and start == self.programme.today:
            start = None
        self.homework_wanted.emit(
            lambda h: replace(h, minutes_a_day=minutes, weekdays=chosen, start=start),
            tr("practice times"),
        )

    def toggle_holiday(self) -> None:
        """The chosen day is free, or is practised on again."""
        if self.programme is None:
            return
        on = self.monday + max(0, self.table.currentColumn()) * ONE_DAY
        self.homework_wanted.emit(lambda h: replace(h, holidays=h.holidays ^ {on}), tr("holiday"))

    @property
    def chosen_key(self) -> str | None:
        item = self.table.currentItem()
        key = item.data(KEY) if item is not None else None
        return str(key) if key else None

    def _open(self) -> None:
        if self.chosen_key is not None:
            self.task_opened.emit(self.chosen_key)

    def mark(self, mark: Outcome | None) -> None:
        """How the chosen task went."""
        if self.chosen_key is not None:
            self.marked_as.emit(self.chosen_key, mark)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._open()
                return True
            if event.key() == Qt.Key.Key_H and not event.modifiers():
                self.toggle_holiday()
                return True
        return super().eventFilter(watched, event)
