"""What happens when something unforeseen does: it is noted, shown once, and work goes on."""

from __future__ import annotations

import sys
from collections.abc import Callable
from types import TracebackType

from PySide6.QtCore import QSize
from PySide6.QtWidgets import (
    QApplication,
    QDialog,
    QDialogButtonBox,
    QPlainTextEdit,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.plain_text import shown_path
from plectrum.core.trouble_log import log_tail, technical_facts, trouble_log_path
from plectrum.core.wording import say, tr
from plectrum.ui.look.labels import label
from plectrum.ui.look.room import open_within


def catch_unforeseen(show: Callable[[Exception], object]) -> None:
    """From now on what nobody catches is handed on instead of ending the program."""

    def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if isinstance(error, Exception):
            show(error)
        else:
            sys.__excepthook__(kind, error, trace)

    sys.excepthook = hook


class Unforeseen:
    """Tells what was shown already: the same trouble at the same place is shown once."""

    def __init__(self) -> None:
        self._seen: set[tuple[str, str, int]] = set()

    def is_new(self, error: Exception) -> bool:
        trace = error.__traceback__
        while trace is not None and trace.tb_next is not None:
            trace = trace.tb_next
        where = ("", 0) if trace is None else (trace.tb_frame.f_code.co_filename, trace.tb_lineno)
        place = (type(error).__name__, *where)
        if place in self._seen:
            return False
        self._seen.add(place)
        return True


class ReportDialog(QDialog):
    """Where the log file lies, and the technical facts to copy."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Report a problem"))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(24, 16, 24, 16)
        layout.setSpacing(12)
        layout.addWidget(
            label(
                "",
                tr(
                    "Write down what you did and what you expected, and add what stands below. It "
                    "holds versions and places in the program; no names, "
                    "no notes, no paths of yours."
                ),
                wrap=True,
            )
        )
        layout.addWidget(
            label(
                "muted",
                say("The log file: {path}", path=shown_path(trouble_log_path())),
                wrap=True,
            )
        )
        self.facts = QPlainTextEdit(self._text())
        self.facts.setReadOnly(True)
        self.facts.setAccessibleName(tr("Technical facts"))
        layout.addWidget(self.facts, 1)
        buttons = QDialogButtonBox()
        self.copy = buttons.addButton(tr("Copy"), QDialogButtonBox.ButtonRole.ActionRole)
        self.copy.clicked.connect(lambda: QApplication.clipboard().setText(self._text()))
        buttons.addButton(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        layout.addWidget(buttons)
        open_within(self, QSize(640, 480))

    @staticmethod
    def _text() -> str:
        tail = log_tail().strip()
        return f"{technical_facts()}\n\n{tail or tr('Nothing unexpected was noted.')}"
