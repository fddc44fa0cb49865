"""The right-hand panel: what the bow does on the selected note, why, and what else."""

from __future__ import annotations

import html
from collections.abc import Sequence
from itertools import pairwise

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QFrame,
    QLabel,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.advice.reasons import alternative_words, reasons_for
from plectrum.core.advice.rests import rest_sentence
from plectrum.core.advice.words import FINGERS, note_sentence
from plectrum.core.document.choices import Join
from plectrum.core.planning.plan import Alternative, Plan
from plectrum.core.planning.rules import NOT_LEARNT, PIN
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.score.model import Direction, Note
from plectrum.core.wording import in_figures, in_words, say, several, tr
from plectrum.ui.bowing.fault_finder import FaultFinder
from plectrum.ui.bowing.force_window import ForceWindow
from plectrum.ui.bowing.hand_scale import HandScale
from plectrum.ui.drawing.bow_picture import BowPicture
from plectrum.ui.look import theme
from plectrum.ui.look.labels import label

WIDTH = 328
MAX_ALTERNATIVES = 4

_TITLES = {
    (Direction.DOWN, Join.TURN): tr("⊓  down-bow"),
    (Direction.UP, Join.TURN): tr("V  up-bow"),
    (Direction.DOWN, Join.START): tr("⊓  begin with a down-bow"),
    (Direction.UP, Join.START): tr("V  begin with an up-bow"),
    (Direction.DOWN, Join.HOOK): tr("⊓  hook: stop, down again"),
    (Direction.UP, Join.HOOK): tr("V  hook: stop, up again"),
    (Direction.DOWN, Join.RETAKE): tr("⊓  lift, then down"),
    (Direction.UP, Join.RETAKE): tr("V  lift, then up"),
}


class AlternativeButton(QPushButton):
    """One other way to play the note: a title, and what it costs and changes."""

    def __init__(self, alternative: Alternative, title: str, detail: str, sure: bool) -> None:
        super().__init__()
        self.alternative = alternative
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 6, 12, 8)
        layout.setSpacing(0)
        cost = cost_words(alternative, sure=sure)
        muted = theme.colours().muted.name()
        head = QLabel(
            f"<b>{html.escape(title)}</b>&nbsp;&nbsp;"
            f"<span style='color:{muted}'>{html.escape(cost)}</span>"
        )
        head.setWordWrap(True)
        small = label("muted", detail, wrap=True)
        for line in (head, small):
            line.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
            layout.addWidget(line)
        policy = QSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self.setEnabled(alternative.possible)
        self.setAccessibleName(
            say("{title}, costs {cost}. {detail}", title=title, cost=cost, detail=detail)
        )
        self._layout = layout

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        return self._layout.totalHeightForWidth(width)

    def sizeHint(self) -> QSize:
        width = theme.px(WIDTH - 48)
        return QSize(width, self._layout.totalHeightForWidth(width))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Space tries; Enter is left to the screen, where it keeps what is being tried."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            event.ignore()
            return
        super().keyPressEvent(event)


def cost_words(alternative: Alternative, *, sure: bool = True) -> str:
    """The extra cost with its sign; less than nothing where a pin is dearer than this. What stands
    against a pin elsewhere has no number a teacher could read."""
    if not alternative.possible:
        return tr("not here")
    if abs(alternative.extra_cost) > PIN / 2:
        return tr("against a pin") if alternative.extra_cost > 0 else tr("keeps a pin more")
    if alternative.extra_cost > NOT_LEARNT / 2:
        return tr("not learnt")
    figures = in_figures(alternative.extra_cost, "+.1f").replace("-", "−")
    return figures if sure else say("about {cost}", cost=figures)


class NotePanel(QScrollArea):
    """Shows one note of one plan; emits what the teacher wants to try."""

    alternative_chosen = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("panelscroll")
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setAccessibleName(tr("Selected note"))
        body = QWidget()
        body.setObjectName("panel")
        self.setWidget(body)
        self._layout = QVBoxLayout(body)
        self._layout.setContentsMargins(16, 12, 16, 16)
        self._layout.setSpacing(4)
        self.title = label("notetitle", wrap=True)
        self.subtitle = label("muted", wrap=True)
        self.bow = BowPicture()
        self.hand = HandScale()
        self.force = ForceWindow()
        self.faults = FaultFinder()
        self.sentence = label("sentence", wrap=True)
        self.numbers = label("muted", wrap=True)
        self.pins = label("pins", wrap=True)
        self.alike = label("muted", wrap=True)
        self.why_head = label("section", tr("WHY"))
        self.why = label("why", wrap=True)
        self.why.setTextFormat(Qt.TextFormat.RichText)
        self.else_head = label("section", tr("OR ELSE"))
        for widget in (self.title, self.subtitle, self.bow, self.sentence, self.numbers, self.pins,
                       self.alike):  # fmt: skip
            self._layout.addWidget(widget)
        self._layout.addSpacing(8)
        self._layout.addWidget(self.why_head)
        self._layout.addWidget(self.why)
        self._layout.addSpacing(8)
        self._layout.addWidget(self.else_head)
        self._choices = QVBoxLayout()
        self._choices.setSpacing(6)
        self._layout.addLayout(self._choices)
        extras: tuple[tuple[str, QWidget], ...] = (
            (tr("SPEED AND WEIGHT"), self.force),
            (tr("THE HAND"), self.hand),
            (tr("WHAT DO YOU HEAR?"), self.faults),
        )
        for head, extra in extras:
            self._layout.addSpacing(8)
            self._layout.addWidget(label("section", head))
            self._layout.addWidget(extra)
        self._layout.addStretch(1)
        self.buttons: list[AlternativeButton] = []
        self.fit()

    def fit(self) -> None:
        """As wide as the interface scale wants it."""
        self.setFixedWidth(theme.px(WIDTH))
        for widget in (self.bow, self.force, self.hand):
            widget.updateGeometry()

    def show_note(self, plan: Plan, index: int, base: Plan) -> None:
        """Describe a note as a plan plays it; `base` is the plan whose pins stand."""
        note = plan.part.notes[index]
        planned = plan.notes[index]
        names = tr(" and ").join(p.spoken for p in note.pitches)
        self.title.setText(
            f"{note.place[0].upper()}{note.place[1:].replace(', ', ' · ')} · {names}"
        )
        self.subtitle.setText(f"{_hand_words(plan, note)}\n{_length_words(note)}")
        self.bow.show_note(plan.choices.bow, planned)
        if planned is None:
            self.sentence.setText(tr("Plucked: no bow."))
            self.numbers.setText("")
        else:
            rest = rest_sentence(plan, index)
            said = note_sentence(planned, plan.choices.bow)
            self.sentence.setText(f"{rest} {said}" if rest else said)
            self.numbers.setText(_numbers(plan, planned))
        self.force.show_note(plan, index)
        self.hand.show_note(plan, index)
        self.faults.show_note(plan, index)
        pin = base.choices.pins.get(note.id)
        self.pins.setText(
            say("Pinned: {list}  (P lets go)", list=", ".join(pin.words())) if pin else ""
        )
        self.pins.setVisible(pin is not None)
        self.why.setText(_bulleted([r.text for r in reasons_for(plan, index)]))

    def show_alike(self, bars: str, *, everywhere: bool) -> None:
        """Where else a correction is meant, before it is made."""
        self.alike.setVisible(bool(bars))
        if everywhere:
            self.alike.setText(
                say("Meant in {bars} too, where it is like this  (O: here only)", bars=bars)
            )
        else:
            self.alike.setText(say("Meant here only, not in {bars}  (O: there too)", bars=bars))

    def show_alternatives(
        self, plan: Plan, index: int, weighed: Sequence[Alternative] | None = None
    ) -> bool:
        """List what else could be done at a note, with what it would cost.

        Args:
            weighed: as it was planned anew; without, as it is known at once.

        Returns:
            Whether it should be weighed.
        """
        chosen = next((b.alternative for b in self.buttons if b.hasFocus()), None)
        for button in self.buttons:
            self._choices.removeWidget(button)
            button.hide()
            button.deleteLater()
        self.buttons = []
        planned = plan.notes[index]
        unit = None if planned is None else planned.unit
        head = unit is not None and plan.units[unit].first == index
        self.else_head.setVisible(head)
        if unit is None or not head:
            return False
        sure = weighed is not None or plan.prices_are_sure
        for alternative in _worth_showing(plan, unit, weighed):
            change = (
                plan.change_by(unit, alternative.direction, alternative.join)
                if alternative.possible
                else None
            )
            title = _TITLES[alternative.direction, alternative.join]
            button = AlternativeButton(
                alternative, title, alternative_words(alternative, change), sure
            )
            button.clicked.connect(lambda _=False, a=alternative: self.alternative_chosen.emit(a))
            self._choices.addWidget(button)
            self.buttons.append(button)
        for before, after in pairwise((*self.buttons, self.faults.symptom)):
            QWidget.setTabOrder(before, after)
        for button in self.buttons:
            other = button.alternative
            if chosen and (other.direction, other.join) == (chosen.direction, chosen.join):
                button.setFocus()
        return not sure


def _hand_words(plan: Plan, note: Note) -> str:
    """String and finger as said in a lesson: "A string, second finger"."""
    fingered = plan.fingered[note.index]
    if fingered.grip is None:
        return tr("not playable in this player's positions")
    if len(fingered.grip.fingers) > 1:
        return say(
            "{strings} strings, fingers {fingers}",
            strings=fingered.string_words,
            fingers=fingered.finger_words,
        )
    return say(
        "{string} string, {finger}",
        string=fingered.string_words,
        finger=FINGERS[fingered.grip.main.finger],
    )


def _numbers(plan: Plan, planned: PlannedNote) -> str:
    """Bow, speed, lane and weight, for those who want them."""
    contact, row = plan.contact, plan.contact_rows[planned.note.index]
    share = float(contact.share[row])
    heavy = tr("light") if share < 0.4 else tr("heavy") if share > 0.6 else tr("medium")
    return say(
        "{length_mm:.0f} cm at {speed_mm_s:.0f} cm/s\nlane {lane} of 5 "
        "· {heavy}, about {weight_n:.1f} N",
        length_mm=planned.length_mm / 10,
        speed_mm_s=planned.speed_mm_s / 10,
        lane=contact.lane[row],
        heavy=heavy,
        weight_n=contact.weight_n[row],
    )


def _bulleted(lines: list[str]) -> str:
    rows = "".join(f"<tr><td width='14'>·</td><td>{html.escape(line)}</td></tr>" for line in lines)
    return f"<table cellspacing='0' cellpadding='1'>{rows}</table>"


def _worth_showing(
    plan: Plan, unit: int, weighed: Sequence[Alternative] | None
) -> list[Alternative]:
    """The other ways to play a unit, possible ones first, one line for each kind of obstacle."""
    step = plan.steps[unit]
    rows: list[Alternative] = []
    obstacles: set[str] = set()
    for a in plan.alternatives_at_once(unit) if weighed is None else weighed:
        mine = a.direction == (Direction.DOWN, Direction.UP)[step.direction]
        planned = plan.notes[plan.units[unit].first]
        if planned is not None and mine and a.join is planned.join:
            continue
        if not a.possible:
            if a.obstacle in obstacles:
                continue
            obstacles.add(a.obstacle)
        rows.append(a)
    return rows[:MAX_ALTERNATIVES]


def _length_words(note: Note) -> str:
    beats = note.duration_s / note.beat_s if note.beat_s else 0.0
    signs = ", ".join(sorted(in_words(a) for a in note.articulations))
    grace = tr("grace note") if note.grace else several("{n:.3g} beat", "{n:.3g} beats", beats)
    return " · ".join(filter(None, (grace, note.dynamic, signs)))
