"""Where and how much, in a teacher's words: a small menu at the selected notes, one letter each."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from itertools import permutations

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QAction, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QMenu, QWidget

from plectrum.core.document.places import WORDS
from plectrum.core.instrument.bow import Bow
from plectrum.core.wording import say, tr
from plectrum.ui.look.plain import key_free

# Word and the letter that says it, in groups: where, where it starts, how much, how it changes.
LETTERS: Sequence[Sequence[tuple[str, str]]] = (
    (("whole", "W"), ("upper-half", "U"), ("lower-half", "L"), ("middle", "M")),
    (("frog", "F"), ("tip", "T"), ("balance", "B")),
    (("stay", "S"), ("tiny", "I"), ("little", "E"), ("quarter", "Q"), ("half", "H"),
     ("much", "A")),
    (("growing", "G"), ("shrinking", "R")),
)  # fmt: skip


OF_NOTE = tr("For the selected notes of this slur; select the whole slur to say it of the bow")


class PlaceMenu(QMenu):
    """The words with their letters; `choose` gets the word that is said, and whether it is said
    of the places that are like this one too.

    Attributes:
        everywhere: the switch for these; None where there are none.
    """

    def __init__(
        self,
        bow: Bow,
        elsewhere: str,
        choose: Callable[[str, bool], object],
        parent: QWidget | None = None,
        *,
        of_note: bool = False,
    ) -> None:
        """Make it.

        Args:
            bow: whose marks a stroke can go between.
            elsewhere: the bars of the places like this, in words; empty where there are none.
            of_note: whether what is chosen are some notes of a bow, not the bow.
        """
        super().__init__(parent)
        self._choose = choose
        if of_note:
            self.addAction(OF_NOTE).setEnabled(False)
            self.addSeparator()
        self.everywhere: QAction | None = None
        if elsewhere:
            self.everywhere = self.addAction(say("Als&o in {elsewhere}", elsewhere=elsewhere))
            self.everywhere.setCheckable(True)
            self.everywhere.setChecked(True)
            self.addSeparator()
        for group in LETTERS:
            for word, letter in group:
                self._add(word, letter)
            self.addSeparator()
        marks = self.addMenu(tr("From mar&k to mark"))
        own = [(mark.name, mark.called) for mark in sorted(bow.marks, key=lambda mark: mark.at)]
        places = [("frog", tr("frog")), *own, ("tip", tr("tip"))]
        for (start, first), (end, last) in permutations(places, 2):
            text = key_free(say("from {start} to {end}", start=first, end=last))
            marks.addAction(text, partial(self._say, f"{start}..{end}"))

    def event(self, event: QEvent) -> bool:
        """While the words are shown, letters are theirs and no command's of the screen."""
        if event.type() == QEvent.Type.ShortcutOverride:
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """The letter of the switch turns it and leaves the words where they are."""
        if event.key() == Qt.Key.Key_O and self.everywhere is not None:
            self.everywhere.toggle()
        else:
            super().keyPressEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self.everywhere is not None and self.activeAction() is self.everywhere:
            self.everywhere.toggle()
        else:
            super().mouseReleaseEvent(event)

    def _add(self, word: str, letter: str) -> None:
        """A word with its letter in front, where the eye and the key find it."""
        text = WORDS[word]
        self.addAction(f"&{letter}   {text[0].upper()}{text[1:]}", partial(self._say, word))

    def _say(self, word: str) -> None:
        self._choose(word, self.everywhere is not None and self.everywhere.isChecked())
