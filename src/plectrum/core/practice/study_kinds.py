"""The kinds of studies that are made from a place of a piece, and what each of them is."""

from __future__ import annotations

from enum import StrEnum

from plectrum.core.playing.performance import Kind
from plectrum.core.practice.strokes_per_note import Strokes
from plectrum.core.wording import tr


class StudyKind(StrEnum):
    """What is made of a passage, in the order in which it is learnt."""

    SAY_RHYTHM = "say-rhythm"
    SAY = "say"
    PLUCK = "pluck"
    CROSSINGS = "crossings"
    OPEN = "open-strings"
    TWO = "two-strokes"
    ONE = "one-stroke"
    STOPS = "stops"
    EVEN = "even"
    GROWING = "growing"
    GROWING_SLUR = "growing-slurred"
    DIVISION = "bow-division"
    TWO_NOTES = "two-strokes-on-the-notes"
    ONE_NOTES = "one-stroke-on-the-notes"
    RHYTHM = "rhythm-on-each-note"
    HANDS = "both-hands"
    SECOND = "second-part"


TITLES = {
    StudyKind.SAY_RHYTHM: tr("say the rhythm"),
    StudyKind.SAY: tr("say and clap"),
    StudyKind.PLUCK: tr("pluck"),
    StudyKind.CROSSINGS: tr("silent crossings"),
    StudyKind.OPEN: tr("bow alone on open strings"),
    StudyKind.TWO: tr("two strokes a note"),
    StudyKind.ONE: tr("one stroke a note"),
    StudyKind.STOPS: tr("stop-bows"),
    StudyKind.EVEN: tr("the same way, all alike"),
    StudyKind.GROWING: tr("growing bow, separate"),
    StudyKind.GROWING_SLUR: tr("growing bow, slurred"),
    StudyKind.DIVISION: tr("bow division at the tape marks"),
    StudyKind.TWO_NOTES: tr("two strokes on the real notes"),
    StudyKind.ONE_NOTES: tr("one stroke on the real notes"),
    StudyKind.RHYTHM: tr("the bow rhythm on each note"),
    StudyKind.HANDS: tr("both hands"),
    StudyKind.SECOND: tr("with the second part"),
}


# How the Show screen plays a study: it holds open strings already where it is for them.
SHOWN_AS = {
    StudyKind.SAY_RHYTHM: Kind.PLUCKED,
    StudyKind.SAY: Kind.PLUCKED,
    StudyKind.PLUCK: Kind.PLUCKED,
    StudyKind.CROSSINGS: Kind.SILENT,
}


ON_OPEN = {StudyKind.CROSSINGS, StudyKind.OPEN, StudyKind.TWO, StudyKind.ONE, StudyKind.STOPS,
            StudyKind.DIVISION}  # fmt: skip


AS_PLANNED = {StudyKind.OPEN, StudyKind.DIVISION, StudyKind.HANDS, StudyKind.SECOND}


BOWED = (ON_OPEN - {StudyKind.CROSSINGS}) | {
    StudyKind.SAY,
    StudyKind.TWO_NOTES,
    StudyKind.ONE_NOTES,
    StudyKind.RHYTHM,
    StudyKind.HANDS,
    StudyKind.SECOND,
}


SPOKEN = {StudyKind.SAY, StudyKind.SAY_RHYTHM}


STROKES = {
    StudyKind.TWO: Strokes.TWO,
    StudyKind.ONE: Strokes.ONE,
    StudyKind.TWO_NOTES: Strokes.TWO,
    StudyKind.ONE_NOTES: Strokes.ONE,
}


SAME_WAY = {StudyKind.EVEN, StudyKind.GROWING, StudyKind.GROWING_SLUR}
