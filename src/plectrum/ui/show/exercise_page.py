"""An exercise on the Show screen: the moving bow, large, with its counts, and a few controls."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from plectrum.core.advice.care import PAUSE, PAUSE_AFTER_S
from plectrum.core.wording import say, tr
from plectrum.ui.desk.guest import ExerciseGuest
from plectrum.ui.look.buttons import small_button
from plectrum.ui.look.flow_layout import FlowLayout
from plectrum.ui.look.labels import label
from plectrum.ui.look.strip import Strip
from plectrum.ui.moving.heard_row import HeardRow
from plectrum.ui.moving.moving_bow import MovingBow
from plectrum.ui.playback.speaker import Speaker

BACK = tr("Esc goes back to the piece.")


class ExercisePage(QWidget):
    """Signals: closed: back to the piece. mirror_wanted, full_screen_wanted; message for the
    status line."""

    closed = Signal()
    mirror_wanted = Signal(bool)
    full_screen_wanted = Signal()
    message = Signal(str)

    def __init__(self, speaker: Speaker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.moving = MovingBow(speaker)
        self.heard = HeardRow(voice=True)
        self.title = label("key", wrap=True)
        self.back = QPushButton(tr("Back to the piece"))
        self.what, self.good = label("sentence", wrap=True), label("why", wrap=True)
        self.caution = label("muted", wrap=True)
        self.start = small_button(tr("To the start"), tr("Back to the count-in  (Home)"))
        self.earlier = small_button(tr("‹ Step"), tr("To the step before  (Left)"))
        self.play = small_button(tr("Play"), tr("Play or stop  (Space)"))
        self.play.setObjectName("primary")
        self.later = small_button(tr("Step ›"), tr("One step  (Right)"))
        self.mirror = QComboBox()
        self.mirror.setAccessibleName(tr("Seen"))
        self.mirror.addItems([tr("As in a mirror"), tr("As the teacher sees it")])
        self.full = small_button(tr("Full screen"), tr("Nothing but the stage  (F11)"))
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        self._head = QWidget()
        bar = QHBoxLayout(self._head)
        bar.setContentsMargins(16, 6, 16, 2)
        self.back.setObjectName("small")
        bar.addWidget(self.title, 1)
        bar.addWidget(self.back)
        self._controls = Strip()
        column = self._controls.column
        for words in (self.what, self.good):
            column.addWidget(words)
        flow = FlowLayout(gap=10)
        for widget in (self.start, self.earlier, self.play, self.later, self.heard, self.mirror,
                       self.full):  # fmt: skip
            flow.addWidget(widget)
        column.addLayout(flow)
        column.addWidget(self.caution)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self._head)
        whole.addWidget(self.moving, 1)
        whole.addWidget(self._controls)
        self.moving.stage.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFocusProxy(self.moving)

    def _connect(self) -> None:
        transport = self.moving.transport
        transport.set_heard(self.heard.heard)
        transport.changed.connect(
            lambda: self.play.setText(tr("Stop") if transport.playing else tr("Play"))
        )
        self.heard.changed.connect(transport.set_heard)
        self.back.clicked.connect(self.closed)
        self.start.clicked.connect(transport.go_to_start)
        self.earlier.clicked.connect(lambda: transport.step(-1))
        self.later.clicked.connect(lambda: transport.step(1))
        self.play.clicked.connect(self.toggle)
        self.mirror.activated.connect(lambda index: self.mirror_wanted.emit(index == 0))
        self.full.clicked.connect(self.full_screen_wanted)
        self.moving.message.connect(self.message)
        self.moving.moved.connect(self._remind)

    def show_exercise(self, guest: ExerciseGuest, *, alone: bool) -> None:
        """Show an exercise from its count-in.

        Args:
            alone: no piece is open, so that there is none to go back to.
        """
        made = guest.play.made
        self.title.setText(guest.title if alone else f"{guest.title}.  {BACK}")
        self.back.setVisible(not alone)
        self.what.setText(made.today)
        self.good.setText(say("Good when: {good}.", good=made.good))
        self.caution.setText(guest.play.drill.caution)
        self.moving.set_exercise(guest.play)
        self.moving.transport.go_to_start()

    def _remind(self, _at_s: float) -> None:
        """A pause after ten minutes, as with a tune."""
        if self.moving.transport.played_s > PAUSE_AFTER_S:
            self.moving.transport.played_s = 0.0
            self.message.emit(PAUSE)

    def set_frog_right(self, right: bool) -> None:
        """As in a mirror, or as the teacher sees it."""
        self.moving.stage.set_frog_right(right)
        self.mirror.setCurrentIndex(0 if right else 1)
        self.moving.draw_now()

    def set_alone(self, alone: bool) -> None:
        """Nothing but the stage."""
        self._head.setHidden(alone)
        self._controls.setHidden(alone)

    def toggle(self) -> None:
        """Play, or stop."""
        self.moving.transport.toggle()

    def let_go(self) -> bool:
        """Stop playing; False if it did not play."""
        playing = self.moving.transport.playing
        self.moving.transport.pause()
        return playing

    def key(self, key: int) -> bool:
        """What the arrows and the space bar do; False for another key."""
        transport = self.moving.transport
        if key == Qt.Key.Key_Space:
            self.toggle()
            return True
        steps = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}
        if Qt.Key(key) in steps:
            transport.step(steps[Qt.Key(key)])
            return True
        if key == Qt.Key.Key_Home:
            transport.go_to_start()
            return True
        return False
