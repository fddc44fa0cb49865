"""What the window shows before anything is open: what to do, and the demo."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from plectrum.core.plain_text import shown_name
from plectrum.core.wording import tr
from plectrum.demo import demo_paths
from plectrum.ui.look.labels import label
from plectrum.ui.look.plain import key_free, tip


class Welcome(QWidget):
    """Offers to open a tune, a recent one, or a demo piece."""

    open_wanted = Signal()
    type_wanted = Signal()
    paste_wanted = Signal()
    exercise_wanted = Signal()
    routine_wanted = Signal(str)
    path_wanted = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._column = QVBoxLayout(self)
        self._column.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self._column.setSpacing(8)
        title = label("title", tr("Open a tune, and see where the bow goes."))
        hint = label(
            "muted",
            tr(
                "MusicXML, compressed MusicXML, ABC, MIDI or a Plectrum plan. "
                "You can drop a file here."
            ),
        )
        self.open_button = QPushButton(tr("&Open a tune …"))
        self.open_button.setObjectName("primary")
        self.open_button.clicked.connect(self.open_wanted)
        self.type_button = QPushButton(tr("&Type a tune"))
        self.type_button.clicked.connect(self.type_wanted)
        self.paste_button = QPushButton(tr("&Paste ABC …"))
        self.paste_button.clicked.connect(self.paste_wanted)
        self.exercise_button = QPushButton(tr("&Exercises"))
        self.exercise_button.setToolTip(tr("Without a tune: found, shaped, done by the clock"))
        self.exercise_button.clicked.connect(self.exercise_wanted)
        self.routine_button = QPushButton(tr("&Routines"))
        self.routine_button.setToolTip(tr("Warm-up, first lessons, holiday"))
        self.routine_button.clicked.connect(lambda: self.routine_wanted.emit(""))
        buttons = QHBoxLayout()
        buttons.setSpacing(8)
        for button in (
            self.open_button, self.type_button, self.paste_button, self.exercise_button,
            self.routine_button,
        ):  # fmt: skip
            buttons.addWidget(button)
        for widget in (title, hint):
            self._column.addWidget(widget, 0, Qt.AlignmentFlag.AlignHCenter)
        self._column.addLayout(buttons)
        self._column.setAlignment(buttons, Qt.AlignmentFlag.AlignHCenter)
        self._column.addSpacing(16)
        self._add_group(tr("Or try a demo piece"), demo_paths())
        self._recent: list[QWidget] = []

    def _add_group(self, text: str, paths: Sequence[Path]) -> list[QWidget]:
        head = label("muted", text)
        added: list[QWidget] = [head]
        self._column.addWidget(head, 0, Qt.AlignmentFlag.AlignHCenter)
        for path in paths:
            button = QPushButton(key_free(shown_name(path.stem).replace("_", " ").title()))
            button.setMinimumWidth(240)
            button.setToolTip(tip(shown_name(path)))
            button.clicked.connect(lambda _=False, p=path: self.path_wanted.emit(p))
            self._column.addWidget(button, 0, Qt.AlignmentFlag.AlignHCenter)
            added.append(button)
        return added

    def show_recent(self, paths: Sequence[Path]) -> None:
        for widget in self._recent:
            self._column.removeWidget(widget)
            widget.deleteLater()
        self._recent = self._add_group(tr("Opened lately"), paths[:5]) if paths else []
