"""What is on the handout: paper, pictures, words, and for whom it is made."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from plectrum.core.practice.handout import HandoutOptions, Paper, Picture, Words
from plectrum.core.wording import in_words, tr
from plectrum.ui.look import theme
from plectrum.ui.look.labels import label

LETTER_CHARS_N = 4000
_SWITCHES = (
    ("large", tr("&Large print"), tr("Staves of about 10 mm and larger words")),
    ("watch", tr("What to &watch"), tr("A box with the tricky bars and what helps")),
    ("steps", tr("The week's &steps"), tr("The steps of the week with boxes to tick")),
    (
        "teacher",
        tr("&Teacher's copy, with numbers"),
        tr("Length, speed, lane, weight and string a note"),
    ),
)


class OptionsPanel(QWidget):
    """Signals: changed with new options; letter_changed when the words to the student are
    done; players_changed; and the three ways to hand it out."""

    changed = Signal(object)
    letter_changed = Signal(str)
    players_changed = Signal()
    pdf_wanted = Signal()
    print_wanted = Signal()
    svg_wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("panel")
        self.options = HandoutOptions()
        self._quiet = False
        self.paper, self.picture, self.words = QComboBox(), QComboBox(), QComboBox()
        for combo, kinds in ((self.paper, Paper), (self.picture, Picture), (self.words, Words)):
            combo.addItems([in_words(kind) for kind in kinds])
            combo.setMinimumContentsLength(8)
            combo.currentIndexChanged.connect(self._edited)
        self.switches = {name: QCheckBox(text) for name, text, _ in _SWITCHES}
        for name, _, tip in _SWITCHES:
            self.switches[name].setToolTip(tip)
            self.switches[name].toggled.connect(self._edited)
        self.made_for, self.made_by = QLineEdit(), QLineEdit()
        self.made_for.setPlaceholderText(tr("a name, or a line"))
        self.made_by.setPlaceholderText(tr("teacher or school"))
        for field in (self.made_for, self.made_by):
            field.setMaxLength(80)
            field.textEdited.connect(self._edited)
        self.letter = _Letter()
        self.letter.done.connect(self.letter_changed)
        self.players = QListWidget()
        self.players.setObjectName("boxed")
        self.players.setAccessibleName(tr("Players, each with a page of their own"))
        self.players.itemChanged.connect(self._player_ticked)
        self.pdf = QPushButton(tr("Save &PDF …"))
        self.pdf.setObjectName("primary")
        self.print_button = QPushButton(tr("P&rint …"))
        self.svg = QPushButton(tr("Save S&VG …"))
        self.pdf.clicked.connect(self.pdf_wanted)
        self.print_button.clicked.connect(self.print_wanted)
        self.svg.clicked.connect(self.svg_wanted)
        self.said = label("muted", wrap=True)
        self._lay_out()
        self.show_options(self.options)

    def _lay_out(self) -> None:
        self._names: list[QLabel] = []
        self._of_piece: list[QWidget] = [
            box for name, box in self.switches.items() if name != "large"
        ]
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 12, 16, 16)
        column.setSpacing(5)
        column.addWidget(self.pdf)
        row = QHBoxLayout()
        for button in (self.print_button, self.svg):
            row.addWidget(button)
        column.addLayout(row)
        column.addWidget(self.said)
        column.addSpacing(6)
        column.addWidget(label("section", tr("THE PAGE")))
        self._row(column, tr("P&aper"), self.paper)
        self._row(column, tr("Sta&ff"), self.picture)
        self._row(column, tr("Wor&ds"), self.words)
        for box in self.switches.values():
            column.addWidget(box)
        column.addSpacing(6)
        column.addWidget(label("section", tr("FOR WHOM")))
        self._row(column, tr("F&or"), self.made_for)
        self._row(column, tr("B&y"), self.made_by)
        self._row(column, tr("Words to the st&udent"), self.letter)
        self.players_head = QLabel(tr("Several players, a page eac&h"))
        self.players_head.setBuddy(self.players)
        column.addWidget(self.players_head)
        column.addWidget(self.players)
        column.addStretch(1)

    def _row(self, column: QVBoxLayout, text: str, field: QWidget) -> None:
        """A field with its name: beside it if it is one line, else over it."""
        name = QLabel(text)
        name.setBuddy(field)
        field.setAccessibleName(text.replace("&", ""))
        if field in (self.picture, self.words, self.letter):
            self._of_piece += [name, field]
        if isinstance(field, QPlainTextEdit):
            column.addWidget(name)
            column.addWidget(field)
            return
        row = QHBoxLayout()
        row.addWidget(name)
        row.addWidget(field, 1)
        self._names.append(name)
        column.addLayout(row)

    def fit(self) -> None:
        """As tall as the interface scale wants it."""
        for name in self._names:
            name.setMinimumWidth(theme.px(56))
        self.letter.setFixedHeight(theme.px(64))
        self.players.setFixedHeight(theme.px(78))

    # showing

    def show_options(self, options: HandoutOptions) -> None:
        self._quiet = True
        self.options = options
        for combo, kinds, value in (
            (self.paper, Paper, options.paper),
            (self.picture, Picture, options.picture),
            (self.words, Words, options.words),
        ):
            combo.setCurrentIndex(list(kinds).index(value))
        for name, box in self.switches.items():
            box.setChecked(getattr(options, name))
        self.made_for.setText(options.made_for)
        self.made_by.setText(options.made_by)
        self._quiet = False

    def show_of_piece(self, shown: bool) -> None:
        """What only the page of a piece has."""
        for widget in self._of_piece:
            widget.setVisible(shown)
        for widget in (self.players, self.players_head):
            widget.setVisible(shown and self.players.count() > 0)

    def show_letter(self, text: str) -> None:
        self.letter.show_text(text)

    def show_players(self, names: list[str]) -> None:
        """The named players there are to choose from; chosen ones stay chosen."""
        chosen = self.chosen_players()
        self._quiet = True
        self.players.clear()
        for name in names:
            item = QListWidgetItem(name)
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            state = Qt.CheckState.Checked if name in chosen else Qt.CheckState.Unchecked
            item.setCheckState(state)
            self.players.addItem(item)
        for widget in (self.players, self.players_head):
            widget.setVisible(bool(names))
        self._quiet = False

    def chosen_players(self) -> list[str]:
        """Names of the players that get a page; empty for the plan's own player."""
        items = [self.players.item(k) for k in range(self.players.count())]
        return [i.text() for i in items if i.checkState() is Qt.CheckState.Checked]

    def _player_ticked(self) -> None:
        if not self._quiet:
            self.players_changed.emit()

    def _edited(self, _value: object = None) -> None:
        if self._quiet:
            return
        self.options = replace(
            self.options,
            paper=list(Paper)[self.paper.currentIndex()],
            picture=list(Picture)[self.picture.currentIndex()],
            words=list(Words)[self.words.currentIndex()],
            made_for=self.made_for.text(),
            made_by=self.made_by.text(),
            **{name: box.isChecked() for name, box in self.switches.items()},
        )
        self.changed.emit(self.options)


class _Letter(QPlainTextEdit):
    """Some words to the student; they are done when the cursor leaves them."""

    done = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setTabChangesFocus(True)
        self._shown = ""

    def show_text(self, text: str) -> None:
        if text != self._shown or text != self.toPlainText():
            self._shown = text
            self.setPlainText(text)

    def focusOutEvent(self, event: object) -> None:
        super().focusOutEvent(event)  # type: ignore[arg-type]
        text = self.toPlainText()[:LETTER_CHARS_N]
        if text != self._shown:
            self._shown = text
            self.done.emit(text)
