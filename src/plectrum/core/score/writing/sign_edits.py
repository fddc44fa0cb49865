"""Ties, slurs, articulations, dynamics, hairpins and repeat signs."""

from __future__ import annotations

from collections.abc import Sequence

from lxml import etree

from plectrum.core.errors import ScoreError
from plectrum.core.score.edit import remove_element
from plectrum.core.score.writing.elements import (
    element,
    pitch_of,
    set_ties,
    tie_types,
)
from plectrum.core.score.writing.open_part import OpenPart, dynamic_of
from plectrum.core.wording import tr

DYNAMICS = ("pp", "p", "mp", "mf", "f", "ff")


class SignEdits(OpenPart):
    """What changes the signs at and between the notes."""

    def toggle_tie(self, note_id: str) -> bool:
        """Tie a note to the next one of the same pitch, or untie it.

        Raises:
            ScoreError: the next note is not the same.
        """
        note = self._note(note_id)
        following = self._next_head(note)
        if "start" in tie_types(note):
            self._untie(note, before=False)
            return False
        same = following is not None and pitch_of(following) == pitch_of(note)
        if following is None or pitch_of(note) is None or not same:
            raise ScoreError(
                tr("there is nothing to tie this note to"),
                remedy=tr("A tie goes to the next note of the same pitch"),
            )
        set_ties(note, tie_types(note) | {"start"})
        set_ties(following, tie_types(following) | {"stop"})
        self._show_accidentals()
        return True

    def toggle_slur(self, first_id: str, last_id: str) -> bool:
        """Slur a run of notes, or take out the slur that is just this one.

        Returns:
            True if there is a slur now.

        Raises:
            ScoreError: the run is a single note.
        """
        first, last = self._note(first_id), self._note(last_id)
        if first is last:
            raise ScoreError(
                tr("one note makes no slur"), remedy=tr("Select the notes to slur (Shift)")
            )
        for slur in first.findall("notations/slur[@type='start']"):
            partner = self._slur_partner(first, slur)
            if partner is not None and last in list(partner.iterancestors("note")):
                remove_element(slur)
                remove_element(partner)
                return False
        number = self._free_number(first, last)
        for note, kind in ((first, "start"), (last, "stop")):
            self._notations(note).append(element("slur", type=kind, number=number))
        return True

    def _free_number(self, first: etree._Element, last: etree._Element) -> str:
        notes = list(self.part.iter("note"))
        run = notes[notes.index(first) : notes.index(last) + 1]
        used = {s.get("number", "1") for n in run for s in n.findall("notations/slur")}
        return next(str(k) for k in range(1, 17) if str(k) not in used)

    def toggle_articulation(self, ids: Sequence[str], kind: str) -> None:
        """Put a sign on notes, or take it off if all have it."""
        notes = [n for n in map(self._note, ids) if n.find("rest") is None]
        off = bool(notes) and all(
            n.find(f"notations/articulations/{kind}") is not None for n in notes
        )
        for note in notes:
            found = note.find(f"notations/articulations/{kind}")
            if off and found is not None:
                holder = found.getparent()
                remove_element(found)
                if holder is not None and len(holder) == 0:
                    remove_element(holder)
                _drop_if_empty(note)
            elif not off and found is None:
                notations = self._notations(note)
                holder = notations.find("articulations")
                if holder is None:
                    holder = element("articulations")
                    notations.append(holder)
                holder.append(element(kind))

    def set_dynamic(self, note_id: str, name: str | None) -> None:
        """Set the dynamic at a note, or take it away with None."""
        for direction in self._directions_at(note_id):
            if dynamic_of(direction):
                remove_element(direction)
        if name is not None:
            kind = element("dynamics")
            kind.append(element(name))
            self._before(note_id, _direction(kind))

    def _directions_at(self, note_id: str) -> list[etree._Element]:
        """The directions right before a note."""
        found = []
        before = self._note(note_id).getprevious()
        while before is not None and (
            before.tag == "direction" or before.find("grace") is not None
        ):
            if before.tag == "direction":
                found.append(before)
            before = before.getprevious()
        return found

    def _before(self, note_id: str, direction: etree._Element) -> None:
        note = self._note(note_id)
        holder = note.getparent()
        if holder is not None:
            holder.insert(holder.index(note), direction)

    def set_hairpin(self, first_id: str, last_id: str, kind: str | None) -> None:
        """A crescendo or diminuendo from the first note to the end of the last; None clears."""
        self._clear_wedges(first_id, last_id)
        if kind is None:
            return
        self._before(first_id, _direction(element("wedge", type=kind)))
        stop = _direction(element("wedge", type="stop"))
        last = self._chord_of(self._note(last_id))[-1]
        holder = last.getparent()
        if holder is not None:
            holder.insert(holder.index(last) + 1, stop)

    def _clear_wedges(self, first_id: str, last_id: str) -> None:
        """Take out the hairpins that begin in a run of notes, with their ends."""
        items = list(self.part.iter("note", "direction"))
        start = items.index(self._note(first_id))
        stop = items.index(self._note(last_id))
        while start and items[start - 1].tag == "direction":
            start -= 1
        opened = False
        for k, item in enumerate(items):
            wedge = item.find("direction-type/wedge")
            if wedge is None:
                continue
            begins = wedge.get("type") in ("crescendo", "diminuendo")
            if begins and start <= k <= stop:
                opened = True
                remove_element(item)
            elif opened and wedge.get("type") == "stop":
                opened = False
                remove_element(item)
            elif begins:
                opened = False

    def toggle_repeat(self, note_id: str, *, end: bool) -> None:
        """A repeat sign at the start or the end of the bar of a note, or none."""
        measure = self._measure(note_id)
        side = "right" if end else "left"
        for barline in measure.findall("barline"):
            if barline.get("location", "right") == side:
                had = barline.find("repeat") is not None
                remove_element(barline)
                if had:
                    return
        barline = element("barline", location=side)
        barline.append(element("bar-style", "light-heavy" if end else "heavy-light"))
        barline.append(element("repeat", direction="backward" if end else "forward"))
        if end:
            measure.append(barline)
            return
        heads = [k for k, c in enumerate(measure) if c.tag in ("attributes", "print")]
        measure.insert(heads[-1] + 1 if heads else 0, barline)


def _direction(kind: etree._Element) -> etree._Element:
    direction = element("direction", placement="below")
    holder = element("direction-type")
    holder.append(kind)
    direction.append(holder)
    return direction


def _drop_if_empty(note: etree._Element) -> None:
    notations = note.find("notations")
    if notations is not None and len(notations) == 0:
        remove_element(notations)
