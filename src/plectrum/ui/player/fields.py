"""Every limit of a player as the screen shows it: its words, unit, range, and what it changes."""

from __future__ import annotations

from dataclasses import dataclass

from plectrum.core.wording import tr


@dataclass(frozen=True, slots=True)
class Limit:
    """One number of a player. `shown` is how many of the shown unit make one of the stored."""

    name: str
    title: str
    unit: str
    shown: float
    least: float
    most: float
    step: float
    decimals: int
    sentence: str


LIMITS = (
    Limit("comfortable_mm_s", tr("Comfortable speed"), "cm/s", 0.1, 2, 150, 1, 0,
          tr("A plain mf note moves at this speed; slower or faster "
             "players get less or more bow.")),
    Limit("slowest_mm_s", tr("Slowest clean bow"), "cm/s", 0.1, 0.5, 100, 0.5, 1,
          tr("Below it the sound breaks: it says how long a slur or a long note may last.")),
    Limit("fastest_mm_s", tr("Fastest clean bow"), "cm/s", 0.1, 5, 300, 5, 0,
          tr("Above it the bow skates: it says how fast the piece may go with this plan.")),
    Limit("strokes_per_s", tr("Strokes a second"), "a second", 1, 1, 30, 0.5, 1,
          tr("How quickly separate strokes still speak: it says how fast runs of them may go.")),
    Limit("lift_s", tr("Time for a lift"), "s", 1, 0.1, 3, 0.05, 2,
          tr("A rest shorter than this leaves no time to lift and set the bow down.")),
    Limit("travel_mm_s", tr("Speed in the air"), "cm/s", 0.1, 10, 300, 5, 0,
          tr("How far the bow can be carried back in a rest.")),
    Limit("level_change_s", tr("Time for a string crossing"), "s", 1, 0.02, 2, 0.02, 2,
          tr("How long the arm takes to the next string; slow arms want the middle of the bow.")),
    Limit("slur_notes_n", tr("Notes in a slur"), "notes", 1, 1, 32, 1, 0,
          tr("Longer slurs are listed as not learnt yet, with where to split them.")),
    Limit("mark_weight", tr("Keeps to the tapes"), "", 1, 0, 3, 0.1, 1,
          tr("The more, the more strokes begin and end at a tape or at an end of the bow.")),
    Limit("range_share", tr("Share of the bow"), "%", 100, 10, 100, 5, 0,
          tr("How much of the bow the schools “middle” and “frog” give this player.")),
)  # fmt: skip

ABILITIES = (
    (
        "can_hook",
        tr("Hooked bows"),
        tr("Two notes the same way with a stop; without it the bow turns."),
    ),
    (
        "can_retake",
        tr("Lifts"),
        tr("The bow may leave the string; without it, it stays on."),
    ),
)
TECHNIQUES = (
    ("staccato", tr("Dots: the bow moves for half the note and stops, a little above the middle.")),
    ("accent", tr("Accents get more bow and weight, in the lower half.")),
    ("tenuto", tr("Lines: a little more bow.")),
    ("portato", tr("Several notes in one bow, gently parted; a little less bow.")),
    ("spiccato", tr("Bounced just above the balance point, with little bow.")),
    ("ricochet", tr("Thrown above the middle, several notes in one bow.")),
    ("double stops", tr("Two strings at once, the arm at the level between them.")),
)
NOT_LEARNT = tr(
    "What is not ticked is listed among the things to look at where a piece asks for it."
)
NUMBERED = (
    (
        "lanes",
        tr("Lanes"),
        range(1, 6),
        tr("Where the hair may run: 1 at the bridge, 5 at the board."),
    ),
    (
        "fingers",
        tr("Fingers"),
        range(1, 5),
        tr("Fingers learnt; others are avoided where it can be."),
    ),
    (
        "strings",
        tr("Strings"),
        range(1, 5),
        tr("Strings learnt, 1 the lowest; others are avoided."),
    ),
    ("positions", tr("Positions"), range(1, 6), tr("Positions learnt; 1 is the first.")),
)
