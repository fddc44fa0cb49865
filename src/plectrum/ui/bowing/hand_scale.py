"""The hand on one note: does the little finger carry, or does the index lean?"""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from plectrum.core.planning.plan import Plan
from plectrum.core.wording import say, tr
from plectrum.ui.drawing.strips import MOST_HAND_NMM
from plectrum.ui.look import theme


class HandScale(QWidget):
    """A scale from little finger to index with the note's balance on it, and the arm in words."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._share: float | None = None
        self._arm = ""
        self.setAccessibleName(tr("The hand"))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        return QSize(theme.px(260), theme.px(64))

    def show_note(self, plan: Plan, index: int) -> None:
        """Show a note; nothing for a plucked one."""
        row = plan.contact_rows.get(index)
        self._share = None
        self._arm = ""
        if row is not None:
            hand = float(plan.contact.hand_nmm[row])
            self._share = max(-1.0, min(1.0, hand / MOST_HAND_NMM))
            who = tr("the index leans") if hand > 0 else tr("the little finger carries")
            degrees = float(plan.contact.arm_deg[row])
            if abs(degrees) > 0.1:
                string = tr("a higher string") if degrees > 0 else tr("a lower string")
                self._arm = say(
                    "Arm: {degrees:.0f}° to {string}, elbow {elbow:.0f} mm",
                    degrees=abs(degrees),
                    string=string,
                    elbow=float(plan.contact.elbow_mm[row]),
                )
            self.setAccessibleDescription(
                say("{who}, {hand:.0f} N·mm. {arm}", who=who, hand=abs(hand), arm=self._arm)
            )
        self.setVisible(row is not None)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        if self._share is None:
            return
        now = theme.colours()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.label_font(theme.px(12)))
        painter.setPen(now.muted)
        words_h = theme.px(18)
        whole = QRectF(0, 0, self.width(), words_h)
        painter.drawText(whole, Qt.AlignmentFlag.AlignLeft, tr("little finger"))
        painter.drawText(whole, Qt.AlignmentFlag.AlignRight, tr("index", "finger"))
        y = words_h + theme.px(9)
        left, right = theme.px(8), self.width() - theme.px(8)
        painter.setPen(QPen(now.edge, theme.px(4), Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        middle = (left + right) / 2
        painter.setPen(QPen(now.muted, 1.4))
        painter.drawLine(QPointF(middle, y - theme.px(7)), QPointF(middle, y + theme.px(7)))
        painter.setPen(QPen(now.paper, 2))
        painter.setBrush(now.ink)
        x = middle + self._share * (right - left) / 2
        painter.drawEllipse(QPointF(x, y), theme.px(7), theme.px(7))
        painter.setPen(now.muted)
        under = QRectF(0, y + theme.px(12), self.width(), words_h + 4)
        painter.drawText(under, Qt.AlignmentFlag.AlignLeft, self._arm)
        painter.end()
