"""The exercises: found, shaped and seen; done, shown, kept, printed, opened as a tune."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.atomic import write_atomically
from plectrum.core.document.choices import Choices
from plectrum.core.document.homework import Homework
from plectrum.core.errors import PlectrumError
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import Plan
from plectrum.core.playing.performance import Kind
from plectrum.core.practice.exercises.catalogue import Made, exercise_named, made_of
from plectrum.core.practice.exercises.homework import WHOLE, own_values
from plectrum.core.practice.exercises.model import (
    Changes,
    Exercise,
    exercise_bytes,
    exercise_from_bytes,
)
from plectrum.core.practice.exercises.patterns import PATTERNS, Asked
from plectrum.core.practice.exercises.play import ExercisePlay
from plectrum.core.practice.exercises.routine import Item
from plectrum.core.practice.exercises.shelf import Shelf
from plectrum.core.wording import say, tr
from plectrum.ui.drawing.study_view import StudyView
from plectrum.ui.editing.runner import Runner
from plectrum.ui.look import theme
from plectrum.ui.look.buttons import push_button
from plectrum.ui.look.flow_layout import FlowLayout
from plectrum.ui.look.labels import label, scrolling
from plectrum.ui.moving.scenes import exercise_scene
from plectrum.ui.moving.stage import Stage
from plectrum.ui.practice.exercise_form import ExerciseForm
from plectrum.ui.practice.exercise_list import OWN, ExerciseList
from plectrum.ui.practice.for_whom import ForWhom
from plectrum.ui.practice.own_shelf import OwnShelf

SOON_MS = 200
LIST_WIDTH, FORM_WIDTH = 280, 310
JSON = tr("Exercise (*.json)")


@dataclass(frozen=True)
class Preview:
    """What a request has become: an exercise, the plan of its music, and how it is set.

    Attributes:
        name: of the list. shaped: the exercise as it is asked, before it grows; None for a
            pattern. item: as it stands in a routine.
    """

    name: str
    made: Made
    plan: Plan | None
    shaped: Exercise | None
    item: Item


class ExercisesPage(QWidget):
    """Signals: made_changed with the preview or None; what is to be done with it: do_wanted,
    show_wanted, open_wanted, page_wanted, export_wanted, routine_wanted (with an item); player
    chosen (choices or a named player's name); set_wanted with a name and its values, or None to
    take it out of the week; message for the status line."""

    made_changed = Signal(object)
    do_wanted = Signal()
    show_wanted = Signal()
    open_wanted = Signal()
    page_wanted = Signal()
    export_wanted = Signal()
    routine_wanted = Signal(object)
    choices_wanted = Signal(object)
    named_wanted = Signal(str)
    set_wanted = Signal(str, object)
    message = Signal(str)

    def __init__(
        self, study: StudyView, shelf: Shelf[Exercise], parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.study = study
        self.own = OwnShelf(
            shelf, exercise_from_bytes, exercise_bytes, self.message.emit, self._not_kept
        )
        self.preview: Preview | None = None
        self.homework = Homework()
        self._choices: Choices | None = None
        self._days: Mapping[str, int] = {}
        self._quiet = False
        self._runner = Runner(self)
        self._soon = QTimer(self, singleShot=True, interval=SOON_MS)
        self._soon.timeout.connect(self.make)
        self._save_soon = QTimer(self, singleShot=True, interval=SOON_MS)
        self._save_soon.timeout.connect(self._set)
        self.picture = Stage()
        self.picture.hide()
        self.list = ExerciseList(shelf)
        self.form = ExerciseForm()
        self.whom = ForWhom()
        self.title = label("notetitle", wrap=True)
        self.what, self.good = label("sentence", wrap=True), label("why", wrap=True)
        self.facts, self.caution = label("key", wrap=True), label("muted", wrap=True)
        self.name = QLineEdit()
        self.name.setPlaceholderText(tr("a title, to keep it as your own"))
        self.name.setAccessibleName(tr("Title of your own exercise"))
        self._make_buttons()
        self._lay_out()
        self._connect()

    def _make_buttons(self) -> None:
        self.do_button = push_button(
            tr("&Do it now"),
            tr("By the clock, with its counts aloud  (D)"),
        )
        self.do_button.setObjectName("primary")
        self.show_button = push_button(tr("&Show it"), tr("The moving bow, large  (S)"))
        self.open_button = push_button(
            tr("Open as a t&une"), tr("To plan, print and change it like any tune")
        )
        self.routine_button = push_button(
            tr("To the &routine"),
            tr("Put it at the end of the routine"),
        )
        self.page_button = push_button(tr("Pa&ge …"), tr("What to do, where, and boxes to tick"))
        self.export_button = push_button(
            tr("E&xport …"), tr("Music, sound, or the exercise itself  (X)")
        )
        self.keep_button = push_button(tr("Kee&p"), tr("Keep it as it is now, under its own title"))
        self.take_button = push_button(
            tr("Open a &file …"), tr("An exercise that someone has given you")
        )
        self.forget_button = push_button(tr("&Forget"), tr("Take this own exercise off the list"))

    @property
    def focus_target(self) -> QWidget:
        """What answers the keys of the page. No proxy: the Tab key would pass by what is before."""
        return self.list.list

    def _lay_out(self) -> None:
        inner = QWidget()
        detail = QVBoxLayout(inner)
        detail.setContentsMargins(16, 10, 16, 10)
        detail.setSpacing(6)
        for widget in (self.title, self.what, self.good, self.facts):
            detail.addWidget(widget)
        middle = QHBoxLayout()
        self._shaping = QWidget()
        left = QVBoxLayout(self._shaping)
        left.setContentsMargins(0, 0, 0, 0)
        left.addWidget(self.whom)
        left.addWidget(self.form)
        keep = QHBoxLayout()
        keep.addWidget(self.name, 1)
        keep.addWidget(self.keep_button)
        left.addLayout(keep)
        left.addStretch(1)
        middle.addWidget(self._shaping)
        middle.addWidget(self.study, 1)
        middle.addWidget(self.picture, 1)
        detail.addLayout(middle, 1)
        buttons = QWidget()
        row = FlowLayout(buttons, gap=8)
        row.setContentsMargins(0, 4, 0, 0)
        for button in (self.do_button, self.show_button, self.open_button, self.routine_button,
                       self.page_button, self.export_button, self.take_button,
                       self.forget_button):  # fmt: skip
            row.addWidget(button)
        detail.addWidget(buttons)
        detail.addWidget(self.caution)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.list)
        whole.addWidget(scrolling(inner, "plain", tr("The exercise")), 1)
        self.fit()

    def fit(self) -> None:
        """As wide as the interface scale wants it."""
        self.list.setFixedWidth(theme.px(LIST_WIDTH))
        self._shaping.setFixedWidth(theme.px(FORM_WIDTH))
        self.picture.setMaximumHeight(theme.px(330))
        self.picture.setMinimumSize(200, 145)

    def _connect(self) -> None:
        self.list.chosen_changed.connect(self._chosen)
        self.list.ticked.connect(self._ticked)
        self.form.edited.connect(self._edited)
        self.name.textChanged.connect(lambda _: self._show_buttons())
        self.whom.choices_wanted.connect(self.choices_wanted)
        self.whom.named_wanted.connect(self.named_wanted)
        self.do_button.clicked.connect(self.do_wanted)
        self.show_button.clicked.connect(self.show_wanted)
        self.open_button.clicked.connect(self.open_wanted)
        self.page_button.clicked.connect(self.page_wanted)
        self.export_button.clicked.connect(self.export_wanted)
        self.routine_button.clicked.connect(self._to_routine)
        self.keep_button.clicked.connect(self.keep)
        self.take_button.clicked.connect(self.take_file)
        self.forget_button.clicked.connect(self.forget)

    # for whom

    def show_for(
        self, choices: Choices, homework: Homework, players: Mapping[str, str],
        days: Mapping[str, int], *, alone: bool,
    ) -> None:  # fmt: skip
        """The exercises of whoever practises.

        Args:
            players: names of the players kept, with their instruments.
            days: which day of practice today is for an exercise, by its name.
            alone: no piece is open, so that it can be for someone else.
        """
        same = self._choices == choices and dict(self._days) == dict(days)
        self._choices, self.homework, self._days = choices, homework, days
        self._quiet = True
        self.whom.show_for(choices, players, alone=alone)
        self.list.show_for(choices.own, homework.drills)
        self._quiet = False
        if not same or self.preview is None:
            self.make()

    # choosing and shaping

    def _chosen(self) -> None:
        name = self.list.chosen
        exercise = self.list.exercise(name)
        self.form.show_kind(
            row=exercise is not None,
            strings=exercise is not None and exercise.strings != "none",
            pattern=name in PATTERNS,
            fingers=name == "finger-pattern",
        )
        values = self.homework.drills.get(ExerciseList.set_name(name), {})
        self.form.show_exercise(exercise, Changes.of_values(values))
        self.make()

    def _edited(self) -> None:
        if not self._quiet:
            self._soon.start()
            self._save_soon.start()

    def make(self) -> None:
        """Make what is asked, aside; only the newest counts."""
        name, choices = self.list.chosen, self._choices
        if not name or choices is None:
            return
        own = self.list.own.get(name)
        exercise = self.list.exercise(name)
        changes, asked = self.form.changes, self.form.asked
        day = self.form.day.value() or self._days.get(ExerciseList.set_name(name), 1)

        def work() -> object:
            shaped = changes.made_in(exercise) if exercise is not None else None
            if shaped is not None:
                made = made_of(shaped, choices, None, day)
            else:
                made = exercise_named(name, choices, Changes(), asked)
            plan = None if made.document is None else plan_of(made.document)
            whole = shaped if own is not None or changes != Changes() else None
            wanted = asked if exercise is None and asked != Asked() else None
            return Preview(name, made, plan, shaped, _item(name, made, whole, wanted))

        self._runner.run(work, self._show, self._not_made)

    @property
    def busy(self) -> bool:
        return self._soon.isActive() or self._save_soon.isActive() or self._runner.busy

    # showing

    def _show(self, result: Any) -> None:
        preview: Preview = result
        if preview.name != self.list.chosen:
            return
        made = preview.made
        self.preview = preview
        self.title.setText(made.title)
        self.what.setText(made.today)
        self.good.setText(say("Good when: {good}.", good=made.good))
        self.facts.setText(_facts(made))
        self.caution.setText(made.drill.caution if made.drill is not None else "")
        if made.document is not None and preview.plan is not None:
            self.study.show_study(made.document, preview.plan, bowed=made.kind is Kind.WRITTEN)
        else:
            self.study.clear()
        self.study.setVisible(made.document is not None)
        self._show_picture(made)
        self._show_buttons()
        self.made_changed.emit(preview)

    def _show_picture(self, made: Made) -> None:
        """What has no music is seen as its second step moves."""
        self.picture.setVisible(made.document is None)
        if made.document is None:
            play = ExercisePlay(made)
            k = min(1, len(play.rows) - 1)
            at_s = play.start_of(k) + 0.6 * play.seconds_of(k)
            self.picture.show_scene(exercise_scene(play, at_s, playing=False))

    def _not_made(self, error: Exception) -> None:
        self.preview = None
        self.study.clear()
        for words in (self.good, self.what):
            words.setText("")
        text = str(error)
        self.facts.setText(f"{text[0].upper()}{text[1:]}." if text else tr("This cannot be made."))
        self._show_buttons()
        self.made_changed.emit(None)
        if not isinstance(error, PlectrumError):
            raise error

    def _show_buttons(self) -> None:
        made = self.preview.made if self.preview is not None else None
        sounds = made is not None and made.document is not None and made.kind is Kind.WRITTEN
        self.open_button.setEnabled(sounds)
        silent = made is not None and not sounds
        self.open_button.setToolTip(tr("It is done in silence: nothing to open") if silent else "")
        for button in (self.do_button, self.show_button, self.page_button, self.export_button,
                       self.routine_button):  # fmt: skip
            button.setEnabled(made is not None)
        titled = bool(self.name.text().strip())
        self.keep_button.setEnabled(made is not None and made.exercise is not None and titled)
        self.forget_button.setVisible(self.list.chosen in self.list.own)

    # in the week and in a routine

    def _ticked(self, name: str, wanted: bool) -> None:
        if not self._quiet:
            self.set_wanted.emit(
                ExerciseList.set_name(name), self._values(name) if wanted else None
            )

    def _values(self, name: str) -> dict[str, float | str]:
        """What is kept of an exercise in the week."""
        changes = self.form.changes.values if name == self.list.chosen else {}
        own = self.list.own.get(name)
        return {**changes, **(own_values(own) if own is not None else {})}

    def _set(self) -> None:
        """What the fields say is kept, if the exercise is in the week."""
        name = ExerciseList.set_name(self.list.chosen)
        kept = self.homework.drills.get(name)
        if kept is None or self.preview is None:
            return
        values = self._values(self.list.chosen)
        if values != {**kept, **({WHOLE: values[WHOLE]} if WHOLE in values else {})}:
            self.set_wanted.emit(name, values)

    def _to_routine(self) -> None:
        if self.preview is not None:
            self.routine_wanted.emit(self.preview.item)

    # keeping and sharing

    def keep(self) -> None:
        """Keep the exercise as it is now under its own title."""
        title = self.name.text().strip()[:80]
        shaped = self.preview.shaped if self.preview is not None else None
        if shaped is None or not title:
            return
        self._keep(shaped.model_copy(update={"title": title}))
        self.name.clear()

    def take_file(self) -> None:
        """Keep an exercise that was shared as a file."""
        found = self.own.from_file(self, tr("Open an exercise"), JSON)
        if found is not None:
            self._keep(found)

    def _keep(self, exercise: Exercise) -> None:
        kept = self.own.keep(exercise)
        if kept is not None:
            self.list.fill()
            self.list.choose(f"{OWN}{kept.key}")

    def _not_kept(self, why: str) -> None:
        self.facts.setText(why)

    def forget(self) -> None:
        """Take the chosen own exercise off the shelf."""
        own = self.list.own.get(self.list.chosen)
        if own is not None and self.own.forget(own):
            self.list.fill()

    def write_file(self, path: Path) -> None:
        """The exercise as a file to be shared.

        Raises:
            PlectrumError: it is a pattern of notes, or cannot be written.
        """
        shaped = self.preview.shaped if self.preview is not None else None
        if shaped is None:
            raise PlectrumError(tr("a pattern of notes has no file of its own"))
        write_atomically(path, exercise_bytes(shaped))


def _item(name: str, made: Made, whole: Exercise | None, asked: Asked | None) -> Item:
    """An exercise as it stands in a routine: an own or a shaped one goes whole."""
    minutes = min(max(1, round(made.seconds / 60)), 60)
    key = whole.key if whole is not None else name
    return Item(exercise=key[:60], minutes=minutes, own=whole, asked=asked)


def _facts(made: Made) -> str:
    """How long, how many bows, how much in silence."""
    minutes, seconds = divmod(round(made.seconds), 60)
    lasts = f"{seconds} s"
    if minutes:
        lasts = say("{minutes} min {seconds} s", minutes=minutes, seconds=seconds)
    if made.drill is None:
        return lasts
    bows = sum(step.direction is not None for step in made.drill.steps)
    silent = len(made.drill.steps) - bows
    parts = [lasts]
    if bows:
        parts.append(say("{bows} bows", bows=bows))
    if silent:
        parts.append(say("{silent} in silence", silent=silent))
    parts.append(made.drill.how_many)
    return "  ·  ".join(p for p in parts if p)
