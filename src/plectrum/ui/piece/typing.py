"""Keys on the staff: what each one types or changes. Holds the caret; the notes are the session's.

A letter types a note after the caret, in the length chosen last, as near as can be to the note
before. Signs act on the note just typed, or on the notes selected. While an edit is on its way
further keys wait their turn.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from fractions import Fraction
from typing import Any

from PySide6.QtCore import QObject, Signal

from plectrum.core.errors import PlectrumError
from plectrum.core.instrument.specification import instrument
from plectrum.core.score.model import STEP_SEMITONES, Pitch
from plectrum.core.score.writing.editor import DYNAMICS, Editor, Written
from plectrum.core.score.writing.elements import key_alter
from plectrum.core.score.writing.values import TRIPLET, TYPES, Value
from plectrum.core.wording import in_words, say, tr
from plectrum.ui.editing.session import Session

LENGTH_KEYS = {
    "1": Fraction(4),
    "2": Fraction(2),
    "4": Fraction(1),
    "8": Fraction(1, 2),
    "6": Fraction(1, 4),
}
ARTICULATION_KEYS = {"'": "staccato", "^": "accent", "_": "tenuto"}
Work = Callable[[Editor], object]


def nearest_pitch(step: str, near: Pitch, fifths: int) -> Pitch:
    """The pitch of a letter within a fourth of another, in a key."""
    letters = tuple(STEP_SEMITONES)
    place = letters.index(near.step) + 7 * near.octave
    options = [(letters.index(step) + 7 * octave, octave) for octave in range(0, 9)]
    octave = min(options, key=lambda o: (abs(o[0] - place), o[0]))[1]
    return Pitch(step, key_alter(step, fifths), octave)


class Typing(QObject):
    """The caret, the selection and the length to come; turns keys into edits."""

    moved = Signal()
    refused = Signal(str)

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.written: tuple[Written, ...] = ()
        self.caret: str | None = None  # id of the note before the caret
        self.anchor: str | None = None  # other end of the selection; None while there is a caret
        self.value = Value(Fraction(1))
        self._pair_base_q: Fraction | None = None  # of a dotted pair whose short note is to come
        self.fifths = 0

    # where things are

    def _place(self, note_id: str | None) -> int:
        """Index of a note, −1 for the beginning or one that is gone."""
        return next((k for k, w in enumerate(self.written) if w.id == note_id), -1)

    @property
    def selected(self) -> tuple[Written, ...]:
        """The selected notes, none while there is a caret."""
        if self.anchor is None or not self.written:
            return ()
        a, b = sorted((self._place(self.anchor), self._place(self.caret)))
        return self.written[max(0, a) : b + 1]

    @property
    def aimed(self) -> tuple[Written, ...]:
        """What signs act on: the selection, else the note before the caret."""
        place = self._place(self.caret)
        return self.selected or (self.written[place : place + 1] if place >= 0 else ())

    @property
    def words(self) -> str:
        """Where the caret is, or what is selected, in words."""
        aimed = self.aimed
        if not aimed:
            return tr("at the beginning")
        names = ", ".join(tr("rest") if w.pitch is None else w.pitch.spoken for w in aimed)
        return (
            say("selected: {names}", names=names)
            if self.selected
            else say("after {names}", names=names)
        )

    def show(self, written: Sequence[Written], fifths: int) -> None:
        """Other notes are there; the caret stays where it can."""
        kept = max(0, self._place(self.caret))
        self.written, self.fifths = tuple(written), fifths
        if self.caret is not None and self._place(self.caret) < 0:
            self.caret = self.written[min(kept, len(self.written) - 1)].id if written else None
        if self.anchor is not None and self._place(self.anchor) < 0:
            self.anchor = None
        self.moved.emit()

    def begin(self) -> None:
        """Another tune: the caret goes to its end if it is empty, else its first note is chosen."""
        self.caret = self.anchor = None
        self.value = Value(Fraction(1))
        self._pair_base_q = None

    # moving

    def walk(self, steps: int, *, extend: bool = False, by_bar: bool = False) -> None:
        """Move the caret, or with `extend` the end of the selection."""
        self._queue(lambda: self._walk(steps, extend, by_bar))

    def _walk(self, steps: int, extend: bool, by_bar: bool) -> None:
        if not self.written:
            return
        if extend and self.anchor is None:
            start = max(0, self._place(self.caret) + (0 if steps < 0 else 1))
            start = min(start, len(self.written) - 1)
            self.anchor = self.caret = self.written[start].id
            if steps in (-1, 1) and not by_bar:
                self.moved.emit()
                return
        elif not extend and self.anchor is not None:
            self.anchor = None
            if steps == 1 and not by_bar:
                self.moved.emit()
                return
        place = self._place(self.caret)
        target = self._bar_step(place, steps) if by_bar else place + steps
        lowest = 0 if extend else -1
        target = min(len(self.written) - 1, max(lowest, target))
        self.caret = self.written[target].id if target >= 0 else None
        self.moved.emit()

    def _bar_step(self, place: int, steps: int) -> int:
        bars = [w.bar_index for w in self.written]
        here = bars[max(0, place)]
        if steps > 0:
            return next((k for k, b in enumerate(bars) if b > here), len(bars)) - (
                0 if self.anchor is not None else 1
            )
        first = bars.index(here)
        if place > first or here == bars[0]:
            return first - (0 if self.anchor is not None else 1)
        return bars.index(here - 1) - (0 if self.anchor is not None else 1)

    def go_to(self, note_id: str, *, extend: bool = False) -> None:
        """Select a note, as a click does."""
        if self._place(note_id) < 0:
            return
        if not extend or self.anchor is None:
            self.anchor = note_id
        self.caret = note_id
        self.moved.emit()

    def let_go(self) -> bool:
        """From a selection back to the caret; False if there was none."""
        if self.anchor is None:
            return False
        self.anchor = None
        self.moved.emit()
        return True

    # typing

    def press(self, text: str) -> bool:
        """A key that types or changes something; False if it means nothing here."""
        if not text:
            return False
        for keys, action in (
            ("abcdefg", self._letter),
            ("ABCDEFG", self._chord),
            ("12468", self._length),
            ("3", lambda _: self._triplet()),
            ("rR", lambda _: self._rest()),
            (".", lambda _: self._dot()),
            ("#+", lambda _: self.alter(1)),
            ("-", lambda _: self.alter(-1)),
            ("nN", lambda _: self._natural()),
            ("tT", lambda _: self._tie()),
            ("sS", lambda _: self._slur()),
            ("'^_", self._articulation),
            ("<>", self._hairpin),
            ("{}", self._repeat),
        ):
            if text in keys:
                self._queue(lambda t=text, a=action: a(t))  # type: ignore[misc]
                return True
        return False

    def _queue(self, step: Callable[[], None]) -> None:
        """In its turn: where a key lands depends on those before it."""
        self._session.edits.in_turn(step, self)

    @property
    def busy(self) -> bool:
        return self._session.edits.busy

    def _ids(self) -> list[str]:
        return [w.id for w in self.aimed]

    def _aim(self, text: str, work: Callable[[Editor, list[str]], object]) -> None:
        """Edit the notes that are aimed at, by their ids."""
        ids = self._ids()
        if ids:
            self._edit(text, lambda e: work(e, ids))
        else:
            self.refused.emit(tr("Type a note first, or select some (Shift and the arrows)."))

    def _edit(self, text: str, work: Work, *, move: bool = False) -> None:
        """Edit, then take the notes as they are now; with `move` the caret to the new note."""

        def run(editor: Editor) -> object:
            result = work(editor)
            return result, editor.written(), editor.fifths()

        def take(done: Any) -> None:
            result, written, fifths = done
            if move:
                self.caret, self.anchor = result, None
            self.written = tuple(written)
            if move:
                self._length_to_come()
            self.show(written, fifths)

        self._session.edit_score(run, text, take, self._refuse)

    def _length_to_come(self, longer_q: Fraction = Fraction(0)) -> bool:
        """The length that is most often wanted next: a bar begins with that of the bar before, and
        after the short note of a dotted pair comes the plain one again.

        Args:
            longer_q: what the last note is about to grow by.

        Returns:
            Whether the bar is full.
        """
        if self._pair_base_q is not None:
            self.value, self._pair_base_q = Value(self._pair_base_q), None
        place, document = self._place(self.caret), self._session.document
        if document is None or place < 0 or place + 1 < len(self.written):
            return False
        here = [w for w in self.written if w.bar_index == self.written[place].bar_index]
        bars, index, first = document.part.bars, here[0].bar_index, here[0].value
        if index >= len(bars) or bars[index].number == 0 or first is None:
            return False
        full = sum(w.length_q for w in here) + longer_q >= bars[index].metre.length_q
        if full:
            self.value = Value(first.base_q, 0, first.tuplet)
        return full

    def _refuse(self, error: Exception) -> None:
        """An edit cannot be done: what was typed after it would land elsewhere."""
        self._session.edits.forget(self)
        self.refused.emit(refusal(error))

    def when_idle(self, step: Callable[[], None]) -> None:
        """Do something once no edit is on its way."""
        self._queue(step)

    def edit_whole(self, text: str, work: Work) -> None:
        """An edit of the whole tune: key, metre, title and so on."""
        self._queue(lambda: self._edit(text, work))

    def _near(self) -> Pitch:
        """The pitch that the next one is looked for near: that of the last note before it."""
        place = self._place(self.caret)
        for written in reversed(self.written[: place + 1]):
            if written.pitch is not None:
                return written.pitch
        document = self._session.document
        name = document.choices.instrument if document is not None else "violin"
        step, octave = instrument(name).first_pitch
        return Pitch(step, 0, octave)

    def _letter(self, text: str) -> None:
        step = text.upper()
        chosen = self.selected
        if chosen:
            pitch = nearest_pitch(step, chosen[0].pitch or self._near(), self.fifths)

            def work(editor: Editor) -> object:
                for written in chosen:
                    editor.set_pitch(written.id, pitch)
                return None

            self._edit(say("pitch {step}", step=step), work)
            return
        pitch = nearest_pitch(step, self._near(), self.fifths)
        after, value = self.caret, self.value
        self._edit(
            say("type {step}", step=step), lambda e: e.insert(after, value, pitch), move=True
        )

    def _chord(self, text: str) -> None:
        """A letter with Shift adds to the chord above the note before the caret."""
        base = self.aimed[-1] if self.aimed else None
        if base is None or base.pitch is None:
            self.refused.emit(tr("Type a note first, then add to it with Shift and a letter."))
            return
        pitch = nearest_pitch(text, base.pitch, self.fifths)
        if pitch.midi <= base.pitch.midi:
            pitch = replace(pitch, octave=pitch.octave + 1)
        value = base.value or self.value
        self._edit(tr("chord"), lambda e: e.insert(base.id, value, pitch, chord=True))

    def _rest(self) -> None:
        if self.selected:
            self._aim(tr("rest"), lambda e, ids: e.to_rest(ids))
            return
        after, value = self.caret, self.value
        self._edit(tr("rest"), lambda e: e.insert(after, value, None), move=True)

    def _length(self, text: str) -> None:
        base_q = LENGTH_KEYS[text]
        self.value, self._pair_base_q = Value(base_q, 0, self.value.tuplet), None
        if self.selected:
            self._aim(tr("length"), lambda e, ids: e.set_base(ids, base_q))
        else:
            self.moved.emit()

    def _triplet(self) -> None:
        if self.selected:
            self._aim(tr("triplet"), lambda e, ids: e.triplet(ids))
            return
        self.value = replace(self.value, tuplet=None if self.value.tuplet else TRIPLET)
        self.moved.emit()

    def _dot(self) -> None:
        """Dot what is aimed at; after one dot on the note just typed its other half is next: an
        eighth after a dotted quarter."""
        aimed = self.aimed
        value = aimed[0].value if aimed else None
        self._aim(tr("dot"), lambda e, ids: e.dot(ids))
        if self.selected or value is None or value.dots or value.tuplet is not None:
            return
        half_q = value.base_q / 2
        if not self._length_to_come(half_q) and half_q in TYPES and not self._in_compound_time():
            self.value, self._pair_base_q = Value(half_q), value.base_q
        self.moved.emit()

    def _in_compound_time(self) -> bool:
        document = self._session.document
        bars = document.part.bars if document is not None else ()
        return any(bar.metre.is_compound for bar in bars[:2])

    # signs

    def step(self, steps: int) -> None:
        """Up or down the scale."""
        self._queue(lambda: self._aim(tr("pitch"), lambda e, ids: e.move(ids, steps=steps)))

    def alter(self, semitones: int) -> None:
        self._aim(tr("accidental"), lambda e, ids: e.move(ids, semitones=semitones))

    def _natural(self) -> None:
        aimed = [w for w in self.aimed if w.pitch is not None]

        def work(editor: Editor) -> None:
            for written in aimed:
                if written.pitch is not None:
                    editor.set_pitch(written.id, replace(written.pitch, alter=0))

        if aimed:
            self._edit(tr("natural"), work)

    def _tie(self) -> None:
        self._aim(tr("tie"), lambda e, ids: e.toggle_tie(ids[-1]))

    def _slur(self) -> None:
        """The selected notes in one slur; without a selection to the note before."""
        ids = self._ids()
        if not ids:
            self.refused.emit(tr("Type a note first."))
            return
        if len(ids) == 1:
            place = self._place(ids[0])
            if place < 1:
                self.refused.emit(tr("There is no note before it to slur to."))
                return
            ids.insert(0, self.written[place - 1].id)
        self._edit(tr("slur"), lambda e: e.toggle_slur(ids[0], ids[-1]))

    def _articulation(self, text: str) -> None:
        kind = ARTICULATION_KEYS[text]
        self._aim(in_words(kind), lambda e, ids: e.toggle_articulation(ids, kind))

    def _hairpin(self, text: str) -> None:
        kind = "crescendo" if text == "<" else "diminuendo"
        self.hairpin(kind)

    def hairpin(self, kind: str | None) -> None:
        """A hairpin under the selected notes, None to take it away."""
        ids = self._ids()
        if len(ids) < 2 and kind is not None:
            self.refused.emit(
                tr("Select the notes under the hairpin first (Shift and the arrows).")
            )
            return
        if ids:
            self._edit(
                in_words(kind or "") or tr("no hairpin"),
                lambda e: e.set_hairpin(ids[0], ids[-1], kind),
            )

    def _repeat(self, text: str) -> None:
        self._aim(tr("repeat"), lambda e, ids: e.toggle_repeat(ids[-1], end=text == "}"))

    def dynamic(self, name: str | None) -> None:
        """Set the dynamic at the first note aimed at."""
        text = name or tr("no dynamic")
        self._queue(lambda: self._aim(text, lambda e, ids: e.set_dynamic(ids[0], name)))

    def louder(self, steps: int) -> None:
        """One dynamic louder or softer than is in force at the note."""
        self._queue(lambda: self._louder(steps))

    def _louder(self, steps: int) -> None:
        if not self.aimed:
            self.refused.emit(tr("Type a note first."))
            return
        place = self._place(self.aimed[0].id)
        now = next((w.dynamic for w in reversed(self.written[: place + 1]) if w.dynamic), "mf")
        k = DYNAMICS.index(now) if now in DYNAMICS else DYNAMICS.index("mf")
        name = DYNAMICS[min(len(DYNAMICS) - 1, max(0, k + steps))]
        self._aim(name, lambda e, ids: e.set_dynamic(ids[0], name))

    # taking away

    def delete(self, *, forward: bool) -> None:
        """Take out the selection, the note before the caret, or the one after it."""
        self._queue(lambda: self._delete(forward))

    def _delete(self, forward: bool) -> None:
        gone = list(self.selected)
        place = self._place(self.caret)
        if not gone and forward:
            gone = list(self.written[place + 1 : place + 2])
        elif not gone:
            gone = list(self.written[place : place + 1]) if place >= 0 else []
        if not gone:
            return
        first = self._place(gone[0].id)
        self.anchor = None
        self.caret = self.written[first - 1].id if first > 0 else None
        ids = [w.id for w in gone]
        self._edit(tr("delete"), lambda e: e.delete(ids))


def refusal(error: Exception) -> str:
    """An editor's refusal as one line for the status bar."""
    if isinstance(error, PlectrumError):
        return f"{error.what[0].upper()}{error.what[1:]}. {error.remedy}".strip()
    return str(error)
