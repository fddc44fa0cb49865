"""Schools: questions on which teachers disagree. All are supported; the teacher chooses."""

from __future__ import annotations

from dataclasses import dataclass, fields
from enum import StrEnum

from plectrum.core.wording import in_words, sentence_like, tr


class DirectionSchool(StrEnum):
    """What decides the direction of the bow."""

    USUAL = "usual"
    DOWNBEAT = "downbeat"
    FLOW = "flow"
    TRAVEL = "travel"

    @property
    def called(self) -> str:
        return sentence_like(in_words(self))

    @property
    def sentence(self) -> str:
        return _DIRECTION_SENTENCES[self]


class AmountSchool(StrEnum):
    """What decides how much bow a note gets."""

    STEADY = "steady"
    VALUES = "values"
    MIDDLE = "middle"
    FROG = "frog"


class DottedSchool(StrEnum):
    """How a short note after a long one is played."""

    USUAL = "usual"
    HOOK = "hook"
    SEPARATE = "separate"
    LIFT = "lift"


class RestSchool(StrEnum):
    """What the bow does in a rest."""

    USUAL = "usual"
    LIFT = "lift"


class SlurSchool(StrEnum):
    """Whether slurs are decisions of the plan."""

    WRITTEN = "written"
    HELP = "help"
    SONG = "song"


class DynamicsSchool(StrEnum):
    """Whether the contact point moves with the dynamic."""

    AMOUNT = "amount"
    LANES = "lanes"


class CrossingSchool(StrEnum):
    """Whether the bow stands still while the arm changes level."""

    STILL = "still"
    ROLLING = "rolling"


class FourthSchool(StrEnum):
    """Fourth finger or open string."""

    CONTOUR = "contour"
    OPEN = "open"
    STOPPED = "stopped"


@dataclass(frozen=True, slots=True)
class School:
    """The choices of one plan."""

    direction: DirectionSchool = DirectionSchool.USUAL
    amount: AmountSchool = AmountSchool.STEADY
    dotted: DottedSchool = DottedSchool.USUAL
    dynamics: DynamicsSchool = DynamicsSchool.LANES
    crossing: CrossingSchool = CrossingSchool.ROLLING
    fourth: FourthSchool = FourthSchool.CONTOUR
    slurs: SlurSchool = SlurSchool.WRITTEN
    rests: RestSchool = RestSchool.USUAL

    def as_dict(self) -> dict[str, str]:
        """Question to answer, as plain words."""
        return {f.name: str(getattr(self, f.name)) for f in fields(self)}


_DIRECTION_SENTENCES = {
    DirectionSchool.USUAL: tr("as most bowings have it: as it comes, mended where that is usual"),
    DirectionSchool.DOWNBEAT: tr("every first beat down, the last notes of a bar hooked for it"),
    DirectionSchool.FLOW: tr("as it comes: down and up alternate, anew after a rest"),
    DirectionSchool.TRAVEL: tr("whatever keeps the bow in a good place"),
}

# Every question: field of `School`, what it is about, and the answers in words. To add one, write
# a field and a row, and read the field where plans are made.
QUESTIONS: tuple[tuple[str, str, dict[StrEnum, str]], ...] = (
    (
        "direction",
        tr("What turns the bow"),
        {school: f"{school.called}: {school.sentence}" for school in DirectionSchool},
    ),
    (
        "amount",
        tr("How much bow"),
        {
            AmountSchool.STEADY: tr("Steady: one comfortable speed, length follows duration"),
            AmountSchool.VALUES: tr("Values: whole bows for a beat or more, halves for half beats"),
            AmountSchool.MIDDLE: tr("Middle: around the middle, growing with the player"),
            AmountSchool.FROG: tr("Frog: the lower half first"),
        },
    ),
    (
        "dotted",
        tr("Dotted pairs"),
        {
            DottedSchool.USUAL: tr("Usual: as most printed bowings have it"),
            DottedSchool.HOOK: tr("Hook: stop, same way again"),
            DottedSchool.SEPARATE: tr("Separate: a light, quick return"),
            DottedSchool.LIFT: tr("Lift: off the string between them"),
        },
    ),
    (
        "dynamics",
        tr("Loud and soft"),
        {
            DynamicsSchool.LANES: tr("Lanes: the contact point moves too"),
            DynamicsSchool.AMOUNT: tr("Amount: the lane stays, more bow and weight"),
        },
    ),
    (
        "crossing",
        tr("String crossings"),
        {
            CrossingSchool.ROLLING: tr("Rolling: during the end of the stroke"),
            CrossingSchool.STILL: tr("Still: stop, roll, go"),
        },
    ),
    (
        "fourth",
        tr("Fourth finger"),
        {
            FourthSchool.CONTOUR: tr("Contour: open if the line goes on, fourth if it comes back"),
            FourthSchool.OPEN: tr("Open string always"),
            FourthSchool.STOPPED: tr("Fourth finger always"),
        },
    ),
    (
        "slurs",
        tr("Slurs"),
        {
            SlurSchool.WRITTEN: tr("As written"),
            SlurSchool.HELP: tr("Help: added or dropped where that saves a hook or a wrong way"),
            SlurSchool.SONG: tr("Song: smooth, more or fewer as you like"),
        },
    ),
    (
        "rests",
        tr("Rests"),
        {
            RestSchool.USUAL: tr("As it comes: the bow mostly waits on the string"),
            RestSchool.LIFT: tr("Lift: in every rest that is long enough"),
        },
    ),
)
