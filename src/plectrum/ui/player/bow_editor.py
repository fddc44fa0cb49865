"""The drawn bow, to be set up by hand: tapes, balance point and the part that is used.

Every handle can be dragged, or chosen with Tab and moved with the arrow keys.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
)
from PySide6.QtWidgets import QSizePolicy, QWidget

from plectrum.core.instrument.bow import Bow, TapeMark
from plectrum.core.wording import say, tr
from plectrum.ui.drawing.bow_picture import paint_marks, paint_stick
from plectrum.ui.look import theme
from plectrum.ui.look.plain import tip

HEIGHT = 170.0
HAIR_Y = 74.0
GRIP = 12.0
SMALL, LARGE = 0.01, 0.05
LEAST_APART = 0.1  # of the usable range
TAPE_COLOURS = ("#b8860b", "#6b6f76", "#3b7d4f", "#8e44ad", "#c0392b", "#2471a3")


@dataclass(frozen=True, slots=True)
class BowSetup:
    """What the editor shows and changes."""

    bow: Bow
    usable_from: float
    usable_to: float


class BowEditor(QWidget):
    """Shows a set-up; emits a new one while a handle moves, and when it is let go."""

    changed = Signal(object)
    settled = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._setup: BowSetup | None = None
        self._grabbed: str | None = None
        self.chosen = "from"
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMouseTracking(True)
        self.setAccessibleName(tr("The bow: tapes, balance point and usable part"))

    def sizeHint(self) -> QSize:
        return QSize(theme.px(640), theme.px(HEIGHT))

    def minimumSizeHint(self) -> QSize:
        return QSize(theme.px(320), theme.px(HEIGHT))

    def show_setup(self, setup: BowSetup) -> None:
        if self._grabbed is None:
            self._setup = setup
            self._describe()
            self.update()

    @property
    def setup(self) -> BowSetup | None:
        return self._setup

    # handles

    def handles(self) -> dict[str, float]:
        """Name and place of every handle: "from", "to", "balance", "tape 0" and on."""
        if self._setup is None:
            return {}
        found = {"from": self._setup.usable_from, "to": self._setup.usable_to}
        found["balance"] = self._setup.bow.balance
        for k, mark in enumerate(self._setup.bow.marks):
            found[f"tape {k}"] = mark.at
        return found

    def _hair(self) -> QRectF:
        return QRectF(44, HAIR_Y, self.width() / theme.scale() - 44 - 26, 6)

    def place_of(self, name: str) -> QPointF:
        """Where a handle is on the widget, in pixels."""
        hair = self._hair()
        y = {"from": HAIR_Y + 34, "to": HAIR_Y + 34, "balance": HAIR_Y + 18}.get(name, HAIR_Y - 12)
        x = hair.left() + self.handles()[name] * hair.width()
        return QPointF(x, y) * theme.scale()

    def _words(self, name: str) -> str:
        setup = self._setup
        if setup is None:
            return ""
        centimetres = self.handles()[name] * setup.bow.hair_mm / 10
        named = {"from": tr("used from"), "to": tr("used to"), "balance": tr("balance point")}.get(
            name
        )
        if named is None:
            named = setup.bow.marks[int(name.split()[1])].called
        return say(
            "{named}: {centimetres:.1f} cm from the frog", named=named, centimetres=centimetres
        )

    def _describe(self) -> None:
        self.setAccessibleDescription("; ".join(self._words(name) for name in self.handles()))

    def move_handle(self, name: str, at: float) -> None:
        """Put a handle at a place of the hair, within what makes sense."""
        setup = self._setup
        if setup is None:
            return
        at = round(min(1.0, max(0.0, at)), 3)
        if name == "from":
            setup = replace(setup, usable_from=min(at, setup.usable_to - LEAST_APART))
        elif name == "to":
            setup = replace(setup, usable_to=max(at, setup.usable_from + LEAST_APART))
        elif name == "balance":
            setup = replace(setup, bow=replace(setup.bow, balance=min(0.9, max(0.05, at))))
        else:
            marks = list(setup.bow.marks)
            k = int(name.split()[1])
            marks[k] = replace(marks[k], at=min(0.98, max(0.02, at)))
            setup = replace(setup, bow=replace(setup.bow, marks=tuple(marks)))
        self._setup = setup
        self._describe()
        self.update()
        self.changed.emit(setup)

    def add_tape(self) -> None:
        """One tape more, in the widest gap."""
        setup = self._setup
        if setup is None or len(setup.bow.marks) >= len(TAPE_COLOURS):
            return
        places = sorted([0.0, *(m.at for m in setup.bow.marks), 1.0])
        gap = max(range(len(places) - 1), key=lambda k: places[k + 1] - places[k])
        at = (places[gap] + places[gap + 1]) / 2
        used = {m.colour for m in setup.bow.marks}
        colour = next(c for c in TAPE_COLOURS if c not in used or len(used) == len(TAPE_COLOURS))
        named = {m.name for m in setup.bow.marks}
        name = next(n for k in range(1, 9) if (n := f"tape {k}") not in named)
        marks = tuple(sorted([*setup.bow.marks, TapeMark(name, at, colour)], key=lambda m: m.at))
        self._settle(replace(setup, bow=replace(setup.bow, marks=marks)))

    def remove_tape(self) -> None:
        """Take the chosen tape off, or the last one."""
        setup = self._setup
        if setup is None or not setup.bow.marks:
            return
        k = int(self.chosen.split()[1]) if self.chosen.startswith("tape") else -1
        marks = list(setup.bow.marks)
        del marks[min(k, len(marks) - 1)]
        self.chosen = "from"
        self._settle(replace(setup, bow=replace(setup.bow, marks=tuple(marks))))

    def _settle(self, setup: BowSetup) -> None:
        self._setup = setup
        self._describe()
        self.update()
        self.settled.emit(setup)

    # the mouse and the keys

    def _handle_at(self, at: QPointF) -> str | None:
        near = {n: (self.place_of(n) - at).manhattanLength() for n in self.handles()}
        best = min(near, key=lambda n: near[n], default=None)
        return best if best is not None and near[best] <= GRIP * theme.scale() else None

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._grabbed = self._handle_at(event.position())
        if self._grabbed is not None:
            self.chosen = self._grabbed
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._grabbed is None:
            over = self._handle_at(event.position())
            self.setCursor(Qt.CursorShape.SizeHorCursor if over else Qt.CursorShape.ArrowCursor)
            if over:
                self.setToolTip(tip(self._words(over)))
            return
        hair = self._hair()
        x = event.position().x() / theme.scale()
        self.move_handle(self._grabbed, (x - hair.left()) / hair.width())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._grabbed is not None and self._setup is not None:
            self._grabbed = None
            self.settled.emit(self._setup)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is not None and self.chosen in self.handles():
            shift = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            size = LARGE if shift else SMALL
            self.move_handle(self.chosen, self.handles()[self.chosen] + step * size)
            if self._setup is not None:
                self.settled.emit(self._setup)
            return
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._choose_next(1 if event.key() == Qt.Key.Key_Down else -1)
            return
        super().keyPressEvent(event)

    def _choose_next(self, step: int) -> None:
        names = sorted(self.handles(), key=lambda n: self.handles()[n])
        if names:
            k = names.index(self.chosen) if self.chosen in names else 0
            self.chosen = names[(k + step) % len(names)]
            self.update()

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.update()

    # painting

    def paintEvent(self, event: QPaintEvent) -> None:
        setup = self._setup
        if setup is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.scale(theme.scale(), theme.scale())
        now, hair = theme.colours(), self._hair()
        paint_stick(painter, hair)
        self._paint_usable(painter, hair, setup)
        paint_marks(painter, hair, setup.bow)
        painter.setFont(theme.label_font(12))
        painter.setPen(now.muted)
        painter.drawText(QRectF(hair.left() - 36, 20, 60, 18), tr("frog"))
        painter.drawText(
            QRectF(hair.right() - 40, 20, 60, 18), Qt.AlignmentFlag.AlignRight, tr("tip")
        )
        for k, mark in enumerate(setup.bow.marks):
            x = hair.left() + mark.at * hair.width()
            place = QRectF(x - 60, 26 + 14 * (k % 2), 120, 16)
            painter.setPen(now.ink)
            painter.drawText(place, Qt.AlignmentFlag.AlignHCenter, mark.called)
        self._paint_balance(painter, hair, setup)
        if self.hasFocus() and self.chosen in self.handles():
            spot = self.place_of(self.chosen) / theme.scale()
            painter.setPen(QPen(now.accent, 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(spot, 12, 12)
            painter.setPen(now.accent)
            words = QRectF(hair.left(), HAIR_Y + 70, hair.width(), 18)
            painter.drawText(words, Qt.AlignmentFlag.AlignHCenter, self._words(self.chosen))
        painter.end()

    def _paint_usable(self, painter: QPainter, hair: QRectF, setup: BowSetup) -> None:
        now = theme.colours()
        left = hair.left() + setup.usable_from * hair.width()
        right = hair.left() + setup.usable_to * hair.width()
        y = HAIR_Y + 34
        painter.fillRect(QRectF(left, HAIR_Y - 1, right - left, 8), QColor(now.good_wash))
        painter.setPen(QPen(now.accent, 2.4))
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        for x, sign in ((left, 1), (right, -1)):
            painter.drawLine(QPointF(x, HAIR_Y + 8), QPointF(x, y + 7))
            painter.setBrush(now.accent)
            painter.drawPolygon(
                QPolygonF([QPointF(x, y - 6), QPointF(x + sign * 10, y), QPointF(x, y + 6)])
            )
        painter.setPen(now.muted)
        painter.setFont(theme.label_font(12))
        centimetres = (setup.usable_to - setup.usable_from) * setup.bow.hair_mm / 10
        painter.drawText(
            QRectF(left, y + 8, right - left, 18),
            Qt.AlignmentFlag.AlignHCenter,
            say("used: {centimetres:.0f} cm", centimetres=centimetres),
        )

    def _paint_balance(self, painter: QPainter, hair: QRectF, setup: BowSetup) -> None:
        now = theme.colours()
        x = hair.left() + setup.bow.balance * hair.width()
        painter.setPen(QPen(now.ink, 1.4))
        painter.setBrush(now.paper)
        top = HAIR_Y + 9
        painter.drawPolygon(
            QPolygonF([QPointF(x, top), QPointF(x - 9, top + 16), QPointF(x + 9, top + 16)])
        )
