"""What the page says at a glance, as words beside the staff."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QLabel, QPushButton, QVBoxLayout, QWidget

from plectrum.core.advice.overview import Overview, TrickyBar
from plectrum.core.advice.passages import passage_words
from plectrum.core.document.sections import Section
from plectrum.core.planning.plan import Plan
from plectrum.core.wording import say, tr
from plectrum.ui.look.labels import label
from plectrum.ui.look.plain import tip

PASSAGES_N = 6


class Glance(QWidget):
    """Range, fingers, dynamics, longest note, sections, equal and tricky bars."""

    note_wanted = Signal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._layout.setSpacing(3)
        self.buttons: list[QPushButton] = []

    def text(self) -> str:
        """All that is said, a line each; also what a screen reader gets."""
        parts = [w.text() for w in self.findChildren(QLabel) if not w.isHidden()]
        return "\n".join(parts + [b.text() for b in self.buttons])

    def show_overview(self, seen: Overview, plan: Plan, form: Sequence[Section]) -> None:
        """Say what an overview of a plan holds."""
        self._clear()
        if seen.lowest is None or seen.highest is None:
            self._add(label("muted", tr("Nothing is written yet."), wrap=True))
            return
        self._row(
            tr("RANGE"),
            say("{lowest} to {highest}", lowest=seen.lowest.written, highest=seen.highest.written),
        )
        self._row(
            tr("FINGERS"),
            "\n".join(
                say("{name} string: {list}", name=name, list=", ".join(fingers))
                for name, fingers in seen.fingers
            ),
        )
        self._row(
            tr("LOUDNESS"),
            say("softest {softest}, loudest {loudest}", softest=seen.softest, loudest=seen.loudest),
        )
        self._row(tr("LONGEST NOTE"), _longest(seen, plan))
        self._row(tr("SECTIONS"), _sections(form))
        self._row(tr("EQUAL BARS"), _equal(seen, plan))
        self._row(tr("LEARN ONCE, PLAY TWICE"), _passages(seen, plan))
        self._head(tr("TRICKY BARS"))
        if not seen.tricky:
            self._add(label("why", tr("None stands out.")))
        for rank, bar in enumerate(seen.tricky, start=1):
            self._add_tricky(rank, bar)

    def _clear(self) -> None:
        self.buttons = []
        while (item := self._layout.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.setParent(None)
                widget.deleteLater()

    def _add(self, widget: QWidget) -> None:
        self._layout.addWidget(widget)

    def _head(self, text: str) -> None:
        head = label("section", text)
        head.setContentsMargins(0, 6, 0, 0)
        self._add(head)

    def _row(self, head: str, text: str) -> None:
        if text:
            self._head(head)
            self._add(label("why", text, wrap=True))

    def _add_tricky(self, rank: int, bar: TrickyBar) -> None:
        button = QPushButton(
            say("{rank}.  Bar {bar}: {reason}", rank=rank, bar=bar.bar, reason=bar.reasons[0])
        )
        button.setObjectName("small")
        button.setStyleSheet("text-align: left;")
        button.setToolTip(
            tip(
                say(
                    "Bar {bar}: {list}. Press to go there.",
                    bar=bar.bar,
                    list=", ".join(bar.reasons),
                )
            )
        )
        button.setAccessibleName(
            say(
                "Tricky bar {rank}: bar {bar}, {list}",
                rank=rank,
                bar=bar.bar,
                list=", ".join(bar.reasons),
            )
        )
        button.clicked.connect(lambda _=False: self.note_wanted.emit(bar.note))
        self._add(button)
        self.buttons.append(button)


def _longest(seen: Overview, plan: Plan) -> str:
    if seen.longest_note is None:
        return ""
    note = plan.part.notes[seen.longest_note]
    return say("{longest_s:.1f} s, in bar {bar}", longest_s=seen.longest_s, bar=note.bar)


def _sections(form: Sequence[Section]) -> str:
    return "\n".join(f"{s.name}: {s.bars}{tr(', repeated') if s.repeated else ''}" for s in form)


def _equal(seen: Overview, plan: Plan) -> str:
    rows = []
    for k, bars in enumerate(seen.equal_bars):
        numbers = [str(plan.part.bars[b].number) for b in bars]
        rows.append(
            say("{letter}: bars {list}", letter=chr(ord("a") + k % 26), list=", ".join(numbers))
        )
    return "\n".join(rows) or tr("no two bars are the same")


def _passages(seen: Overview, plan: Plan) -> str:
    """Runs of two bars or more, and bars that come again on other strings."""
    told = [p for p in seen.passages if p.bars_n > 1 or p.strings_up]
    said = [passage_words(plan, p) for p in told[:PASSAGES_N]]
    more = len(told) - len(said)
    return "\n".join([*said, say("and {more} more", more=more)] if more else said)
