"""The bows of the other parts while one is played: small, each over a string of its own."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from plectrum.core.instrument.bow import Bow
from plectrum.core.playing.motion import BowState, Motion
from plectrum.core.sound.together import Beside
from plectrum.core.wording import tr
from plectrum.ui.drawing import signs
from plectrum.ui.look import theme

HEIGHT = 34.0
HAIR_PX, HAIR = 130.0, 7.0  # length and thickness of a small bow's hair
NAME = 78.0  # room for a part's name
LIFT = 7.0
FROG = 9.0
MOST_SHOWN = 5


@dataclass(frozen=True)
class SmallBow:
    """One other part: what it is called, its bow, how it moves, and when it begins."""

    name: str
    bow: Bow
    motion: Motion
    start_s: float

    @property
    def length_s(self) -> float:
        return self.motion.performance.length_s

    def at(self, at_s: float) -> BowState:
        """The bow at a time of the part that is played."""
        return self.motion.at(min(max(0.0, at_s - self.start_s), self.length_s))


class SmallBows(QWidget):
    """A row of small bows; hidden without other parts."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.bows: tuple[SmallBow, ...] = ()
        self.states: tuple[BowState, ...] = ()
        self.frog_right = True
        self._at_s = 0.0
        self.setAccessibleName(tr("The bows of the other parts"))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.hide()

    def sizeHint(self) -> QSize:
        return QSize(400, theme.px(HEIGHT))

    def set_others(self, others: Beside | None) -> None:
        """Show the bows of these parts; None hides the row."""
        rows = () if others is None else zip(others.performances, others.starts_s, strict=True)
        self.bows = tuple(
            SmallBow(p.plan.part.name, p.plan.choices.bow, Motion(p), start_s)
            for p, start_s in rows
        )[:MOST_SHOWN]
        self.setVisible(bool(self.bows))
        self.show_at(self._at_s)

    def show_at(self, at_s: float) -> None:
        """Move them to a time of the part that is played."""
        self._at_s = at_s
        states = tuple(bow.at(at_s) for bow in self.bows)
        if states != self.states:
            self.states = states
            self.update()

    def set_frog_right(self, right: bool) -> None:
        self.frog_right = right
        self.update()

    def cell(self, k: int) -> QRectF:
        """The room of one of the bows."""
        width = self.width() / max(1, len(self.bows))
        return QRectF(k * width, 0, width, self.height())

    def hair(self, k: int) -> QRectF:
        """Where the hair of one of the bows is; its string stands in the middle of its room."""
        cell, state, unit = self.cell(k), self.states[k], theme.scale()
        name = NAME * unit
        string_x = cell.left() + name + (cell.width() - name) / 2
        length = min(HAIR_PX * unit, (cell.width() - name) / 2 - 14 * unit)
        share = state.position if self.frog_right else 1 - state.position
        left = string_x - length * (1 - share)
        y = cell.center().y() - HAIR / 2 * unit - state.lifted * LIFT * unit
        return QRectF(left, y, length, HAIR * unit)

    def paintEvent(self, _event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colours().paper)
        for k, bow in enumerate(self.bows):
            self._paint(painter, k, bow)
        painter.end()

    def _paint(self, painter: QPainter, k: int, bow: SmallBow) -> None:
        now, unit = theme.colours(), theme.scale()
        cell, state, hair = self.cell(k), self.states[k], self.hair(k)
        painter.setPen(now.muted)
        painter.setFont(theme.label_font(12))
        metrics = QFontMetricsF(painter.font())
        shown = metrics.elidedText(bow.name, Qt.TextElideMode.ElideRight, NAME * unit - 6)
        flags = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(cell.left(), 0, NAME * unit - 4, cell.height()), flags, shown)
        string_x = cell.left() + NAME * unit + (cell.width() - NAME * unit) / 2
        painter.fillRect(QRectF(string_x - unit, 2, 2 * unit, cell.height() - 4), now.muted)
        painter.setPen(QPen(now.wood, 1.6 * unit))
        painter.setBrush(now.field)
        painter.drawRect(hair)
        for mark in bow.bow.marks:
            at = 1 - mark.at if self.frog_right else mark.at
            x = hair.left() + at * hair.width()
            painter.fillRect(
                QRectF(x - unit, hair.top(), 2 * unit, hair.height()), QColor(mark.colour)
            )
        frog = hair.right() if self.frog_right else hair.left() - 9 * unit
        painter.fillRect(
            QRectF(frog, hair.top() - unit, 9 * unit, hair.height() + 2 * unit), now.ink
        )
        if state.moving and state.direction is not None:
            painter.save()
            painter.translate(string_x, 8 * unit)
            painter.scale(unit * 0.8, unit * 0.8)
            painter.translate(-22, 0)
            signs.paint_bow(painter, state.direction, QRectF().center())
            painter.restore()
