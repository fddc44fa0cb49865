"""The Handout screen: the printed page, live, with what is on it beside it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date
from typing import Any

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from plectrum.core.document.document import Document
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import Plan
from plectrum.core.practice.handout import (
    Handout,
    HandoutOptions,
    handout_of,
)
from plectrum.core.wording import say, several, tr
from plectrum.ui.desk.desk import Desk
from plectrum.ui.desk.screen import Screen
from plectrum.ui.desk.sheets import Sheets
from plectrum.ui.drawing.timeline import notes_key
from plectrum.ui.editing.runner import Runner
from plectrum.ui.engraving.client import Layout
from plectrum.ui.engraving.system import System
from plectrum.ui.handout.feeding import Feeding
from plectrum.ui.handout.handing_out import HandingOut
from plectrum.ui.handout.kept_options import recalled, remembered
from plectrum.ui.handout.options_panel import OptionsPanel
from plectrum.ui.handout.pages import Page, Sheet, compose
from plectrum.ui.handout.preview import Preview
from plectrum.ui.handout.routine_page import routine_pages
from plectrum.ui.look import theme
from plectrum.ui.look.labels import label, scrolling

WIDTH = 300
SOON_MS = 150
NOTHING_OPEN = tr("Open a tune, or choose an exercise or a routine (Ctrl+Shift+N) and its page.")
NOTHING = tr("There is nothing to hand out yet: type the notes on the Piece screen (Ctrl+1).")


class HandoutScreen(Screen):
    """Shows the handout of the session's plan and hands it out."""

    ready = Signal()

    def __init__(self, desk: Desk, parent: QWidget | None = None) -> None:
        super().__init__(desk, parent)
        self.channel = desk.engraver.channel("handout")
        self.preview = Preview()
        self.panel = OptionsPanel()
        self.nothing = label("banner", NOTHING, wrap=True)
        self.sheets: Sheets | None = None
        self.sheets_bar = QWidget()
        self.sheets_words = label("key", wrap=True)
        self.sheets_back = QPushButton(tr("Back to the piece"))
        self.feeding = Feeding(self)
        self.handing_out = HandingOut(self, self)
        self._writer = Runner(self)
        self._handouts: list[Handout] = []
        self._systems: dict[int, System] = {}
        self._awaited_n = 0
        self._engraved: tuple[object, ...] = ()
        self._stale = True
        self._waiting: Callable[[], object] | None = None
        self._soon = QTimer(self, singleShot=True, interval=SOON_MS)
        self._soon.timeout.connect(self._write)
        self.panel.show_options(recalled(desk.settings.handout))
        self._lay_out()
        self._connect()

    def _lay_out(self) -> None:
        self.scroll_area = scrolling(self.panel)
        self.scroll_area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        left = QVBoxLayout()
        left.setContentsMargins(0, 0, 0, 0)
        left.setSpacing(0)
        left.addWidget(self.nothing)
        left.addWidget(self.sheets_bar)
        bar = QHBoxLayout(self.sheets_bar)
        bar.setContentsMargins(16, 6, 16, 2)
        self.sheets_back.setObjectName("small")
        bar.addWidget(self.sheets_words, 1)
        bar.addWidget(self.sheets_back)
        self.sheets_bar.hide()
        left.addWidget(self.preview, 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addLayout(left, 1)
        row.addWidget(self.scroll_area)
        self.nothing.hide()
        self.fit()

    def catch_up(self) -> None:
        self._opened()
        self._changed()

    @property
    def focus_target(self) -> QWidget:
        return self.preview

    def zoom(self, steps: int) -> None:
        self.preview.zoom_step(steps)

    def refresh_look(self) -> None:
        self.fit()

    def fit(self) -> None:
        """As wide as the interface scale wants it."""
        self.scroll_area.setFixedWidth(theme.px(WIDTH))
        self.panel.fit()

    def _connect(self) -> None:
        session, panel = self.session, self.panel
        session.opened.connect(self._opened)
        session.planned.connect(lambda _: self._changed())
        session.score_changed.connect(self._changed)
        session.homework_changed.connect(self._changed)
        self.channel.failed.connect(session.not_engraved)
        self.channel.laid_out.connect(self._laid_out)
        self.channel.system_ready.connect(self._take_system)
        panel.changed.connect(self._options_edited)
        panel.players_changed.connect(self._changed)
        panel.letter_changed.connect(self._set_letter)
        panel.pdf_wanted.connect(self.handing_out.save_pdf)
        panel.print_wanted.connect(self.handing_out.print_out)
        panel.svg_wanted.connect(self.handing_out.save_svg)
        self.sheets_back.clicked.connect(self.leave_sheets)
        self.feeding.failed.connect(session.failed)
        self.feeding.said.connect(self.message)

    # what is on the page

    @property
    def options(self) -> HandoutOptions:
        return self.panel.options

    @property
    def pages(self) -> list[Page]:
        return self.preview.pages

    def _options_edited(self, options: HandoutOptions) -> None:
        self.desk.settings.handout = remembered(options)
        self._changed()

    def _set_letter(self, text: str) -> None:
        document = self.session.document
        if document is not None and document.homework.letter != text:
            self.session.change(
                lambda d: d.with_homework(replace(d.homework, letter=text)),
                tr("words to the student"),
            )

    # exercises

    def show_sheets(self, sheets: Sheets) -> None:
        """The pages of an exercise or a routine, in place of the piece's."""
        self.sheets = sheets
        self._changed()

    def leave_sheets(self) -> None:
        """Back to the pages of the piece."""
        if self.sheets is not None and self.session.document is not None:
            self.sheets = None
            self.preview.show_pages([])
            self._changed()

    def arrive(self, before: Screen | None) -> None:
        """With nothing open, what is looked at on the screen before is handed out."""
        sheets = getattr(before, "sheets", None)
        if self.session.document is None and callable(sheets):
            found = sheets()
            if found is not None:
                self.show_sheets(found)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape and self.sheets is not None:
            self.leave_sheets()
            return
        super().keyPressEvent(event)

    def _write_sheets(self, sheets: Sheets) -> None:
        """Set the pages of exercises: one after the other for each player."""
        self._stale = False
        options = self.options
        pages: list[Page] = []
        for sheet in sheets.players:
            own = replace(options, made_for=sheet.name or options.made_for)
            pages += routine_pages(sheets.routine, sheet.items, sheet.days, own)
        self.nothing.hide()
        for button in (self.panel.pdf, self.panel.print_button, self.panel.svg):
            button.setEnabled(True)
        self.preview.show_pages(pages)
        count = len(pages)
        self.panel.said.setText(
            several("{n} page, {paper}.", "{n} pages, {paper}.", count, paper=options.paper)
        )
        self.ready.emit()
        self._go_on()

    def _show_sheets_bar(self) -> None:
        alone = self.session.document is None
        sheets = self.sheets
        self.sheets_bar.setVisible(sheets is not None)
        self.sheets_back.setVisible(not alone)
        self.panel.show_of_piece(sheets is None and not alone)
        if sheets is not None:
            names = ", ".join(p.name for p in sheets.players if p.name)
            for_whom = say(" for {names}", names=names) if names else ""
            back = "" if alone else tr("  Esc goes back to the piece.")
            self.sheets_words.setText(f"{sheets.title}{for_whom}.{back}")

    def _opened(self) -> None:
        self.sheets = None
        self._handouts, self._systems, self._engraved = [], {}, ()
        self.preview.show_pages([])

    def show_players(self) -> None:
        """The named players of this instrument, to choose from."""
        document = self.session.document
        own = document.choices.instrument if document is not None else ""
        names = [p.name for p in self.desk.named_players() if p.bow.instrument == own]
        self.panel.show_players(names)

    def _changed(self) -> None:
        """Something on the page is different: it is made anew soon, or when it is next seen."""
        self._stale = True
        if self.isVisible():
            self._soon.start()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.show_players()
        if self._stale:
            self._write()

    @property
    def busy(self) -> bool:
        """Whether the pages shown are not those wanted yet."""
        if self.sheets is not None:
            return self._soon.isActive() or self._stale
        waiting = len(self._systems) < self._awaited_n or self.channel.waiting
        return self._soon.isActive() or self._writer.busy or waiting or self._stale

    def _write(self) -> None:
        """Make the words aside, and engrave if the staff is not there at this width."""
        document, plan = self.session.both
        self._show_sheets_bar()
        if self.sheets is not None:
            self._write_sheets(self.sheets)
            return
        if document is None:
            self._stale = False
            self.nothing.setText(NOTHING_OPEN)
            self.nothing.show()
            for button in (self.panel.pdf, self.panel.print_button, self.panel.svg):
                button.setEnabled(False)
            return
        if plan is None:
            return
        self._stale = False
        self.nothing.setText(NOTHING)
        self.panel.show_letter(document.homework.letter)
        has_notes = bool(plan.part.notes)
        self.nothing.setVisible(not has_notes)
        for button in (self.panel.pdf, self.panel.print_button, self.panel.svg):
            button.setEnabled(has_notes)
        if not has_notes:
            self.preview.show_pages([])
            return
        options, today = self.options, date.today()
        members = self._members(document, plan)
        self._writer.run(
            lambda: [
                handout_of(d, p if p is not None else plan_of(d), options, today)
                for d, p in members
            ],
            self._take_handouts,
            self.session.failed.emit,
        )
        self._engrave(document)

    def _members(self, document: Document, plan: Plan) -> list[tuple[Document, Plan | None]]:
        """The document as it is, or for each player chosen."""
        chosen = self.panel.chosen_players()
        players = [p for p in self.desk.named_players() if p.name in chosen]
        if not players:
            return [(document, plan)]
        return [(document.for_player(p), None) for p in players]

    def _engrave(self, document: Document) -> None:
        width = Sheet.of(self.options).engraving_width
        wanted = (document.score, document.part_id, document.choices.instrument, width)
        if wanted == self._engraved:
            return
        self._engraved = wanted
        self._systems, self._awaited_n = {}, 1
        instrument = document.choices.instrument
        self.channel.engrave(Layout(document.score, (document.part_id,), instrument, width))

    def _laid_out(self, systems_n: int) -> None:
        self._systems, self._awaited_n = {}, systems_n

    def _take_system(self, system: System) -> None:
        self._systems[system.index] = system
        self._compose()

    def _take_handouts(self, handouts: Any) -> None:
        self._handouts = handouts
        self._compose()

    def _compose(self) -> None:
        """Set the pages, once words and staff are both there and belong together."""
        document = self.session.document
        if self.sheets is not None:
            return
        whole = self._systems and len(self._systems) == self._awaited_n
        if document is None or not whole or not self._handouts:
            return
        engraved = bool(self._engraved) and self._engraved[0] is document.score
        if not engraved or self._writer.busy:
            return
        key = notes_key(document.part)
        if any(notes_key(h.plan.part) != key for h in self._handouts):
            return  # words of older notes: those of the new ones are on their way
        systems = [self._systems[k] for k in sorted(self._systems)]
        pages = compose(systems, self._handouts, self.options)
        self.preview.show_pages(pages)
        count = len(pages)
        self.panel.said.setText(
            several("{n} page, {paper}.", "{n} pages, {paper}.", count, paper=self.options.paper)
        )
        if not self.busy:
            self.ready.emit()
            self._go_on()

    # handing out

    def when_ready(self, then: Callable[[], object]) -> None:
        """Do something with the pages once they are those of the present plan."""
        self._waiting = then
        if not self.busy and self.pages:
            self._go_on()

    def _go_on(self) -> None:
        then, self._waiting = self._waiting, None
        if then is not None:
            QTimer.singleShot(0, then)

    @property
    def title(self) -> str:
        if self.sheets is not None:
            return self.sheets.title
        return self.session.document.title if self.session.document is not None else "tune"

    def say(self, text: str) -> None:
        self.message.emit(text)
