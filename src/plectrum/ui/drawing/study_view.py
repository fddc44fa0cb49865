"""A study engraved: with its bow path where it is bowed, as plain staff where it is not."""

from __future__ import annotations

from PySide6.QtCore import QPointF, Signal
from PySide6.QtWidgets import QStackedWidget, QVBoxLayout, QWidget

from plectrum.core.document.document import Document
from plectrum.core.planning.plan import Plan
from plectrum.core.wording import say
from plectrum.ui.drawing.path_row import PathRow
from plectrum.ui.drawing.score_view import Handle, ScoreView
from plectrum.ui.drawing.staff_view import StaffView
from plectrum.ui.engraving.client import EngravingClient
from plectrum.ui.engraving.system import System
from plectrum.ui.look import theme


class _PathView(ScoreView):
    """A score with bow path in which nothing is changed by hand."""

    def handle_at(self, at: QPointF) -> Handle | None:
        return None


class StudyView(QWidget):
    """Shows one study at a time."""

    failed = Signal(str)

    def __init__(self, engraver: EngravingClient, name: str, parent: QWidget | None = None) -> None:
        """Make the view.

        Args:
            name: of its channel to the engraver.
        """
        super().__init__(parent)
        self.channel = engraver.channel(name)
        self.path, self.staff = _PathView(), StaffView()
        self.pages = QStackedWidget()
        for view in (self.path, self.staff):
            self.pages.addWidget(view)
            view.layout_wanted.connect(self._engrave)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.pages)
        self._document: Document | None = None
        self.channel.laid_out.connect(self._laid_out)
        self.channel.system_ready.connect(self._add_system)
        self.channel.failed.connect(self.failed)

    @property
    def view(self) -> ScoreView | StaffView:
        return self.path if self.pages.currentWidget() is self.path else self.staff

    @property
    def is_laid_out(self) -> bool:
        return self.view.is_laid_out

    def show_study(self, document: Document, plan: Plan, *, bowed: bool) -> None:
        """Engrave another study.

        Args:
            bowed: whether its bow path is drawn.
        """
        self._document = document
        self.path.rows = (PathRow(plan, pins_shown=False),)
        self.pages.setCurrentWidget(self.path if bowed else self.staff)
        self.view.setAccessibleName(say("Music of the study: {title}", title=document.title))
        self._engrave()

    def clear(self) -> None:
        """Nothing to show."""
        self._document = None
        for view in (self.path, self.staff):
            view.clear()

    def repaint_all(self) -> None:
        """Colours or scale have changed."""
        for view in (self.path, self.staff):
            view.repaint_all()

    def fit(self) -> None:
        """High enough for one line at the present scale."""
        self.setMinimumHeight(theme.px(180))

    def _engrave(self) -> None:
        document = self._document
        if document is None:
            return
        parts = [part.id for part in document.score.parts]
        self.view.engrave(self.channel, document.score, parts, document.choices.instrument)

    def _laid_out(self, systems_n: int) -> None:
        self.view.expect(systems_n)

    def _add_system(self, system: System) -> None:
        if self._document is not None:
            self.view.add_system(system)
