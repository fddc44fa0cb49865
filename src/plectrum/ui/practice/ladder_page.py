"""The ladders: sections and their steps at the left, the chosen step with its music beside."""

from __future__ import annotations

from PySide6.QtCore import QSignalBlocker, Qt, Signal
from PySide6.QtGui import QFont
from PySide6.QtWidgets import (
    QHBoxLayout,
    QHeaderView,
    QSpinBox,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.document.homework import MOST_DAYS, Outcome
from plectrum.core.practice.ladder import LadderStep
from plectrum.core.practice.programme import Programme
from plectrum.core.wording import say, sentence_like, tr
from plectrum.core.wording.dates import day_month
from plectrum.ui.drawing.study_view import StudyView
from plectrum.ui.look import theme
from plectrum.ui.look.buttons import push_button
from plectrum.ui.look.flow_layout import FlowLayout
from plectrum.ui.look.labels import label, scrolling
from plectrum.ui.look.outcomes import OUTCOME_WORDS, with_outcome
from plectrum.ui.look.plain import tip

WIDTH, MINUTES = 340, 76
KEY = Qt.ItemDataRole.UserRole


class LadderPage(QWidget):
    """Signals: step_chosen with a step; marked with its key and how it went; and what is to be
    done with the chosen step."""

    step_chosen = Signal(object)
    marked_as = Signal(str, object)
    show_wanted = Signal()
    export_wanted = Signal()
    stay_wanted = Signal(str, int)

    def __init__(self, study: StudyView, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.study = study
        self.tree = QTreeWidget()
        self.tree.setObjectName("ladder")
        self.tree.setColumnCount(2)
        self.tree.setHeaderLabels([tr("Step"), tr("Minutes")])
        self.tree.setAccessibleName(tr("Sections and their steps"))
        self.tree.setRootIsDecorated(True)
        self.tree.setUniformRowHeights(True)
        header = self.tree.header()
        header.setStretchLastSection(False)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        header.setSectionResizeMode(1, QHeaderView.ResizeMode.Fixed)  # to contents is slow
        self.title = label("notetitle", wrap=True)
        self.what = label("sentence", wrap=True)
        self.good = label("why", wrap=True)
        self.facts = label("key", wrap=True)
        self.note = label("trial", wrap=True)
        self.show_button = push_button(tr("&Show it"), tr("Play it on the Show screen  (S)"))
        self.show_button.setObjectName("primary")
        self.good_button = push_button(tr("&Went well"), tr("Mark it as done well  (G)"))
        self.again_button = push_button(tr("&Again"), tr("It comes back on the next day  (A)"))
        self.clear_button = push_button(tr("Not &done yet"), tr("Take the mark away  (U)"))
        self.export_button = push_button(tr("E&xport …"), tr("The study as MusicXML  (X)"))
        self.days = QSpinBox()
        self.days.setRange(1, MOST_DAYS)
        self.days.setPrefix(tr("Stays for "))
        self.days.setSuffix(tr(" day"))
        self.days.setToolTip(
            tr("How many practice days this step stays in the week, in every section")
        )
        self.days.setAccessibleName(tr("Practice days this step stays"))
        self._items: dict[str, QTreeWidgetItem] = {}
        self.programme: Programme | None = None
        self._lay_out()
        self._connect()

    @property
    def focus_target(self) -> QWidget:
        """What answers the keys of the page. No proxy: the Tab key would pass by what is before."""
        return self.tree

    def _lay_out(self) -> None:
        inner = QWidget()
        detail = QVBoxLayout(inner)
        detail.setContentsMargins(16, 10, 16, 10)
        detail.setSpacing(4)
        for widget in (self.title, self.what, self.good, self.facts, self.note):
            detail.addWidget(widget)
        detail.addWidget(self.study, 1)
        buttons = QWidget()
        row = FlowLayout(buttons, gap=8)
        row.setContentsMargins(0, 4, 0, 0)
        for button in (
            self.show_button, self.good_button, self.again_button, self.clear_button,
            self.export_button, self.days,
        ):  # fmt: skip
            row.addWidget(button)
        detail.addWidget(buttons)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.tree)
        whole.addWidget(scrolling(inner, "plain", tr("The step")), 1)
        self.note.hide()
        self.fit()

    def fit(self) -> None:
        """As wide as the interface scale wants it."""
        header = self.tree.header()
        header.resizeSection(1, max(theme.px(MINUTES), header.sectionSizeHint(1)))
        self._widen()
        self.study.fit()

    def _widen(self) -> None:
        """The titles have their room. By the words, as asking every item is slow."""
        metrics = self.tree.fontMetrics()
        titles = {item.text(0) for item in self._items.values()}
        widest = max((metrics.horizontalAdvance(title) for title in titles), default=0)
        beside = 3 * self.tree.indentation() + self.tree.verticalScrollBar().sizeHint().width()
        needs = widest + beside + self.tree.header().sectionSize(1)
        self.tree.setFixedWidth(max(theme.px(WIDTH), needs))

    def _connect(self) -> None:
        self.tree.currentItemChanged.connect(lambda *_: self._show_step())
        self.show_button.clicked.connect(self.show_wanted)
        self.export_button.clicked.connect(self.export_wanted)
        self.good_button.clicked.connect(lambda: self.mark(Outcome.GOOD))
        self.again_button.clicked.connect(lambda: self.mark(Outcome.AGAIN))
        self.clear_button.clicked.connect(lambda: self.mark(None))
        self.days.valueChanged.connect(self._stay)

    # showing

    def show_programme(self, programme: Programme) -> None:
        """Show the ladders; the step that was chosen stays chosen."""
        chosen = self.chosen_key
        same = self.programme is not None and self._shape(self.programme) == self._shape(programme)
        self.programme = programme
        if not same:
            self._build(programme)
        for key, item in self._items.items():
            result = programme.homework.results.get(key)
            step = programme.steps[key]
            texts = (
                with_outcome(step.title, result.mark if result is not None else None),
                say("{minutes} min", minutes=step.minutes),
            )
            for column, text in enumerate(texts):
                if item.text(column) != text:
                    item.setText(column, text)
        self._widen()
        if chosen is None or not self.choose(chosen):
            first = self._first_to_do(programme)
            if first is not None:
                self.choose(first)
        self._show_step()

    @staticmethod
    def _shape(programme: Programme) -> tuple[object, ...]:
        return tuple(
            (row.section, row.learnt_with, tuple(s.key for s in row.steps))
            for row in programme.ladders
        )

    @staticmethod
    def _first_to_do(programme: Programme) -> str | None:
        results = programme.homework.results
        left = [k for k in programme.steps if k not in results]
        return next(iter([*left, *programme.steps]), None)

    def forget(self) -> None:
        """What was shown is of another piece."""
        self.programme = None
        self._clear()

    def _clear(self) -> None:
        self._items = {}  # before they are gone
        self.tree.clear()

    def _build(self, programme: Programme) -> None:
        self._clear()
        bold = QFont(self.tree.font())
        bold.setBold(True)
        for ladder in programme.ladders:
            section = QTreeWidgetItem([f"{ladder.section.name}   {ladder.bars}", ""])
            section.setFont(0, bold)
            section.setToolTip(0, tip(ladder.learnt_with))
            self.tree.addTopLevelItem(section)
            if ladder.learnt_with:
                twin = QTreeWidgetItem([ladder.learnt_with, ""])
                twin.setFlags(Qt.ItemFlag.ItemIsEnabled)
                section.addChild(twin)
            for step in ladder.steps:
                item = QTreeWidgetItem([step.title, ""])
                item.setData(0, KEY, step.key)
                section.addChild(item)
                self._items[step.key] = item
        self.tree.expandAll()

    @property
    def chosen_key(self) -> str | None:
        item = self.tree.currentItem()
        key = item.data(0, KEY) if item is not None else None
        return str(key) if key else None

    @property
    def chosen(self) -> LadderStep | None:
        key = self.chosen_key
        return self.programme.steps.get(key) if self.programme is not None and key else None

    def choose(self, key: str) -> bool:
        """Choose a step by its key; False if there is none."""
        item = self._items.get(key)
        if item is None:
            return False
        self.tree.setCurrentItem(item)
        return True

    def _show_step(self) -> None:
        step = self.chosen
        for button in (self.show_button, self.good_button, self.again_button, self.clear_button,
                       self.export_button, self.days):  # fmt: skip
            button.setEnabled(step is not None)
        if step is None:
            item = self.tree.currentItem()
            self.title.setText(item.text(0) if item is not None else "")
            for text in (self.what, self.good, self.facts):
                text.setText("")
            self.note.hide()
            self.step_chosen.emit(None)
            return
        self.title.setText(sentence_like(step.title))
        self.what.setText(step.what)
        self.good.setText(say("Good when: {good}.", good=step.good))
        result = self.programme.homework.results.get(step.key) if self.programme else None
        state = ""
        if result is not None:
            state = say(
                " · {outcome} on {day}",
                outcome=OUTCOME_WORDS[result.mark],
                day=day_month(result.on),
            )
        self.facts.setText(
            say(
                "{repetitions} times · about {minutes} min · {tempo}{state}",
                repetitions=step.repetitions,
                minutes=step.minutes,
                tempo=step.tempo,
                state=state,
            )
        )
        with QSignalBlocker(self.days):
            stays = self.programme.homework.stays if self.programme is not None else {}
            self._show_days(stays.get(step.kind, 1))
        self.note.setText(step.note[:1].upper() + step.note[1:])
        self.note.setVisible(bool(step.note))
        self.step_chosen.emit(step)

    def _show_days(self, days: int) -> None:
        self.days.setSuffix(tr(" day") if days == 1 else tr(" days"))
        self.days.setValue(days)

    def _stay(self, days: int) -> None:
        step = self.chosen
        self.days.setSuffix(tr(" day") if days == 1 else tr(" days"))
        if step is not None:
            self.stay_wanted.emit(str(step.kind), days)

    def mark(self, mark: Outcome | None) -> None:
        """How the chosen step went; None takes that back."""
        key = self.chosen_key
        if key is not None:
            self.marked_as.emit(key, mark)
