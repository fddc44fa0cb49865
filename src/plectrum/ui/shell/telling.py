"""What the window says: the status line, "does it play?", and errors."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QMessageBox, QPushButton, QStatusBar, QWidget

from plectrum.core.errors import PlectrumError
from plectrum.core.score.metre import beat_sign
from plectrum.core.wording import say, several, tr
from plectrum.ui.editing.session import Session
from plectrum.ui.look.plain import message_box

if TYPE_CHECKING:
    from plectrum.core.planning.plan import Plan

SHOWN_MS = 6000


def plays_words(plan: Plan) -> str:
    """The answer to "does it play?": the tempo window in the beats of the tempo mark."""
    window = plan.tempo_window
    if not plan.units:
        return tr("nothing to play yet")
    if window is None:
        return tr("plays at no tempo as a whole")
    sign = beat_sign(plan.part.tempo.beat_q)
    return say(
        "plays from {sign} = {low:.0f} to {high:.0f}",
        sign=sign,
        low=window[0],
        high=window[1],
    )


class StatusLine:
    """The line under the screens."""

    def __init__(self, bar: QStatusBar, session: Session) -> None:
        self._bar = bar
        self._session = session
        self.plays = QLabel(textFormat=Qt.TextFormat.PlainText)
        self.plays.setAccessibleName(tr("Does it play?"))
        self._cancel = QPushButton(tr("Cancel"))
        self._cancel.setObjectName("small")
        self._cancel.clicked.connect(session.cancel_opening)
        self._cancel.hide()
        bar.addPermanentWidget(self._cancel)
        bar.addPermanentWidget(self.plays)
        session.detailed.connect(self._show_plays)
        session.trials.changed.connect(self._show_plays)
        session.said.connect(self.say)
        session.busy_changed.connect(self._busy)

    def say(self, text: str) -> None:
        """A message that goes by itself."""
        self._bar.showMessage(text, SHOWN_MS)

    def _busy(self, text: str) -> None:
        self._cancel.setVisible(bool(text))
        if text:
            self._bar.showMessage(text)
        else:
            self._bar.clearMessage()

    def _show_plays(self) -> None:
        from plectrum.core.advice.things import things_of
        from plectrum.core.advice.warnings import warnings_of

        plan = self._session.shown_plan
        if plan is None:
            return
        count = len(things_of(warnings_of(plan)))
        things = (
            several("{n} thing to look at", "{n} things to look at", count)
            if count
            else tr("nothing to look at")
        )
        self.plays.setText(f"{plays_words(plan)} · {things}")
        s = plan.summary
        self.plays.setToolTip(
            say(
                "{hooks} hooks, {lifts} lifts, {crossings} string crossings",
                hooks=s["hooks"],
                lifts=s["retakes"],
                crossings=s["crossings"],
            )
        )


def error_box(error: Exception, parent: QWidget) -> QMessageBox:
    """One clear message; what was open stays."""
    if isinstance(error, PlectrumError):
        what = f"{error.what[0].upper()}{error.what[1:]}."
        more = "\n".join(f"{part}." for part in (error.where, error.remedy) if part)
    else:
        what = tr("Something unexpected happened inside Plectrum. Your work is kept.")
        more = tr(
            "You can go on. What happened is noted; Help, Report a problem, shows where. "
            "If it comes again, save under another name and start Plectrum anew."
        )
    return message_box(parent, what, more, icon=QMessageBox.Icon.Warning)
