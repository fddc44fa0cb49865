"""The rule table: every number the planner decides by, its words for "why", and its example.

Each row is written once, where its name is defined; the code that uses a rule reads it from here
by name. A test takes each rule out and sees its example change. All are own defaults, calibrated on
worked cases, unless a row says that a fact of the trade (common practice) stands behind it.

Costs are whole numbers of millionths, so that sums are exact, ties are real ties, and the printed
terms add up to the total to the last digit.

To add a rule, write a row with its example, and use it where its `place` says. To change how a
school decides, change the row's number for it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import TypeVar

from plectrum.core.player.school import DirectionSchool
from plectrum.core.score.model import Articulation

MILLIONTHS = 1_000_000
CELLS_N = 48  # halves, thirds, quarters, eighths and sixteenths all land on this grid
IMPOSSIBLE = 10**15  # in millionths: outside the usable bow, no time, wrong way

Weight = TypeVar("Weight", float, Mapping[DirectionSchool, float], tuple[float, float])


@dataclass(frozen=True, slots=True)
class Example:
    """A small tune that a rule decides.

    Attributes:
        music: bars split by "|", a note as PITCH*QUARTERS and signs: ( ) slur, . staccato,
            > accent, u d bow marks; [p] dynamics and [<] [x] hairpins before it.
        see: what of the plan the rule changes: "strings", "lengths", "places", "stops",
            "crossings", "lifts" or "pairs".
        metre, bpm, instrument, player, school: as they are set.
        positions: of the left hand, in place of the player's own.
        kind: an articulation all notes have, or "breath" for the ends of phrases.
        pin_string, written_finger: of the first note.
    """

    music: str
    see: str
    metre: str = "4/4"
    bpm: float = 80.0
    instrument: str = "violin"
    player: str = "steady"
    school: Mapping[str, str] = field(default_factory=dict)
    positions: tuple[int, ...] = ()
    kind: str = ""
    pin_string: int | None = None
    written_finger: str = ""


@dataclass(frozen=True)
class Rule:
    """One row.

    Attributes:
        name: lower case; the number itself has this name in capitals.
        weight: the number, or one for each direction school.
        unit: what it counts.
        place: the module that uses it, inside `plectrum.core`.
        why: words for what it is about, as "because of …" would go on.
        term: the term of a plan's cost it goes into; empty where it shapes wishes, not costs.
        out: what stands in its place when it is taken out.
        example: what then changes; None where it waits for the strokes to be built anew.
    """

    name: str
    weight: object
    unit: str
    place: str
    why: str
    term: str = ""
    out: object = 0.0
    example: Example | None = None


TABLE: dict[str, Rule] = {}


def _rule(
    name: str,
    weight: Weight,
    unit: str,
    place: str,
    why: str,
    *,
    term: str = "",
    out: object = 0.0,
    example: Example | None = None,
) -> Weight:
    """Write a row, and give its number."""
    TABLE[name] = Rule(name, weight, unit, place, why, term, out, example)
    return weight


def millionths(cost: float) -> int:
    """A cost in the planner's exact unit."""
    return round(cost * MILLIONTHS)


# Terms of a plan's cost, in the order in which they are printed, with words for people.
TERM_WORDS = {
    "amount": "how much bow the notes get",
    "place": "where on the bow they lie",
    "speed": "bow speed beyond the player's limits",
    "tape": "distance from the tape marks",
    "crossing": "string crossings away from the middle of the bow",
    "metre": "strong beats on the up-bow",
    "join": "hooks and lifts",
    "travel": "carrying the bow through the air",
    "same": "bars that bow otherwise than those like them",
    "seam": "a repeat that does not go on to its beginning",
    "together": "another way than the other part's",
    "score_mark": "a mark of the score that is not kept",
    "pin": "a pin that is not kept",
}
TERMS = tuple(TERM_WORDS)

# Strings and fingers. Costs of one grip, or of going from one to the next.
_STRINGS = "planning.fingering.search"
CROSS = _rule(
    "cross", 0.4, "cost a string", _STRINGS, "rolling to the neighbouring string",
    example=Example("F4 F5 E5 C4", "strings", positions=(1, 3)),
)  # fmt: skip
SKIP = _rule(
    "skip", 0.6, "cost a string", _STRINGS, "jumping over a string",
    example=Example("F#5 G3 C#5 F#4", "strings", positions=(1, 3, 4, 5)),
)  # fmt: skip
IN_SLUR = _rule(
    "in_slur", 1.6, "times the cost", _STRINGS, "a crossing inside a slur", out=1.0,
    example=Example("E5( C#5 Bb4 G5)", "strings"),
)  # fmt: skip
FAST = _rule(
    "fast", 1.5, "times the cost", _STRINGS, "a crossing between fast notes", out=1.0,
    example=Example("F4*1/4 G5*1/4 C4*1/4 D5*1/4 D5*3", "strings", bpm=120.0, positions=(1, 3)),
)  # fmt: skip
FAST_S = _rule(
    "fast_s", 0.25, "s", _STRINGS, "what counts as fast",
    example=Example("F5*1/4 C5*1/4 C4*1/4 A4*1/4 D5*3", "strings", bpm=120.0),
)  # fmt: skip
FOURTH = _rule(
    "fourth", 0.5, "cost", _STRINGS, "the weak fourth finger",
    example=Example("B4 E5 B4 E5", "strings"),
)  # fmt: skip
EXTENSION = _rule(
    "extension", 0.5, "cost", _STRINGS, "a stretched or squeezed finger",
    example=Example("A5 G3 F#4 F#5", "strings", positions=(1, 3, 4, 5)),
)  # fmt: skip
HIGHER_POSITION = _rule(
    "higher_position", 0.3, "cost", _STRINGS, "a higher position",
    example=Example("E4 G5 F5 F#4", "strings", positions=(1, 3)),
)  # fmt: skip
SHIFT = _rule(
    "shift", 1.2, "cost", _STRINGS, "moving the hand to another position",
    example=Example("F#5 B5 F#5 C#6 F#5 B5 F#5 C#6", "strings", "8/4", positions=(1, 3, 4, 5)),
)  # fmt: skip
SAME_FINGER_JUMP = _rule(
    "same_finger_jump", 0.4, "cost", _STRINGS, "one finger moving between two stopped places",
    example=Example("F5 Bb4 A3 F#4", "strings"),
)  # fmt: skip
FIFTH_SAVED = _rule(
    "fifth_saved", 0.2, "cost", _STRINGS, "one finger across two strings: only the bow moves",
    example=Example("B5 E5 G4 A5", "strings", positions=(1, 3, 4, 5)),
)  # fmt: skip
FOURTH_SCHOOL = _rule(
    "fourth_school", 4.0, "cost", _STRINGS, "the school's fourth finger or open string",
    example=Example("B4 E5 B4 E5", "strings", school={"fourth": "stopped"}),
)  # fmt: skip
HAND_NOT_LEARNT = _rule(
    "hand_not_learnt", 8.0, "cost", _STRINGS, "a string or finger the player does not have",
    example=Example("D5 E5 D5 E5", "strings", player="starter", school={"fourth": "stopped"}),
)  # fmt: skip
WRITTEN = _rule(
    "written", 40.0, "cost", _STRINGS, "a fingering of the score",
    example=Example("E5 D5 C#5 B4", "strings", written_finger="4"),
)  # fmt: skip
STRING_PIN = _rule(
    "string_pin", 400.0, "cost", _STRINGS, "the teacher's own string or finger",
    example=Example("E5 D5 C#5 B4", "strings", pin_string=2),
)  # fmt: skip

# How much bow a note wishes for, and where. The facts are common practice, the amounts ours.
_AMOUNTS = "planning.strokes.amounts"
REFERENCE_S = _rule(
    "reference_s", 0.75, "s", _AMOUNTS, "at this length a note has the comfortable speed", out=0.4,
    example=Example("A4 B4 A4 B4", "lengths"),
)  # fmt: skip
# "Two short and a long" comes out fast, fast, slow on one bow.
DURATION_EXPONENT = _rule(
    "duration_exponent", 0.8, "exponent", _AMOUNTS, "long notes are drawn slower", out=1.0,
    example=Example("A4*1/2 B4*1/2 A4*3", "lengths"),
)  # fmt: skip
STRING_EXPONENT = _rule(
    "string_exponent", 0.25, "exponent", _AMOUNTS, "lower string, slower bow",
    example=Example("G3 A3 G3 A3", "lengths"),
)  # fmt: skip
SHARED_DB = _rule(
    "shared_db", 40.0, "dB", _AMOUNTS, "amount and weight share a dynamic", out=1e9,
    example=Example("[f] A4 B4 A4 B4", "lengths"),
)  # fmt: skip
ALONE_DB = _rule(
    "alone_db", 20.0, "dB", _AMOUNTS, "amount carries a dynamic alone where the lane stays",
    out=1e9, example=Example("[f] A4 B4 A4 B4", "lengths", school={"dynamics": "amount"}),
)  # fmt: skip
SHAPING_DB = _rule(
    "shaping_db", 11.0, "dB", _AMOUNTS, "under a short hairpin bow carries it", out=1e9,
    example=Example("[p] [<] A4 B4 C#5 D5 [x]|[f] E5*4", "lengths"),
)  # fmt: skip
SHAPING_LIMIT_S = _rule(
    "shaping_limit_s", 6.0, "s", _AMOUNTS, "a longer hairpin is not a shape of one bow",
    example=Example("[p] [<] A4 B4 C#5 D5 [x]|[f] E5*4", "lengths"),
)  # fmt: skip
STACCATO_SHARE = _rule(
    "staccato_share", 0.5, "share of the note", _AMOUNTS, "a stopped note moves part of its time",
    out=1.0, example=Example("A4. B4. A4. B4.", "lengths"),
)  # fmt: skip
HOOK_STOP_S = _rule(
    "hook_stop_s", (0.08, 0.15), "s", _AMOUNTS, "the stop of a hook", out=(0.0, 0.0),
    example=Example("A4*3/4 B4*1/4 A4 B4*2", "stops"),
)  # fmt: skip
HOOK_STOP_SHARE = _rule(
    "hook_stop_share", 0.2, "share of the note", _AMOUNTS, "the stop of a hook on a short note",
    example=Example("A4*1/2 B4*1/2 A4 B4*2", "stops", bpm=50.0),
)  # fmt: skip
HOOK_STOP_MOST = _rule(
    "hook_stop_most", 0.4, "share of the note", _AMOUNTS, "a stop leaves most of a quick note",
    out=1.0, example=Example("A4*1/4 B4*1/4 A4 B4*5/2", "stops", bpm=180.0),
)  # fmt: skip
AMOUNT_OF = {
    kind: _rule(
        f"amount_of_{kind}", weight, "times the bow", _AMOUNTS, f"how much bow {kind} takes",
        out=1.0, example=Example("A4 B4 A4 B4", "lengths", kind=str(kind)),
    )
    for kind, weight in (
        (Articulation.SPICCATO, 0.3),
        (Articulation.RICOCHET, 0.35),
        (Articulation.STACCATISSIMO, 0.8),
        (Articulation.PORTATO, 0.9),
        (Articulation.TENUTO, 1.1),
        (Articulation.ACCENT, 1.15),
        (Articulation.MARCATO, 1.25),
    )
}  # fmt: skip
WHOLE_FROM_BEATS = _rule(
    "whole_from_beats", 0.95, "beats", _AMOUNTS, "in note values a beat takes the whole bow",
    out=2.0, example=Example("A4 B4 A4 B4", "lengths", school={"amount": "values"}),
)  # fmt: skip
HALF_FROM_BEATS = _rule(
    "half_from_beats", 0.45, "beats", _AMOUNTS, "and half a beat half of it", out=2.0,
    example=Example("A4*1/2 B4*1/2 A4*1/2 B4*1/2 A4*2", "lengths", school={"amount": "values"}),
)  # fmt: skip
RICOCHET_PLACE = _rule(
    "ricochet_place", 0.62, "fraction of the hair", _AMOUNTS, "thrown above the middle", out=0.5,
    example=Example("A4 B4 A4 B4", "places", kind="ricochet"),
)  # fmt: skip
SPICCATO_ABOVE_BALANCE = _rule(
    "spiccato_above_balance", 0.06, "fraction of the hair", _AMOUNTS,
    "off the string just above the balance point",
    example=Example("A4 B4 A4 B4", "places", kind="spiccato"),
)  # fmt: skip
PLACE_PER_DB = _rule(
    "place_per_db", 0.012, "fraction of the hair per dB", _AMOUNTS, "loud towards the frog",
    example=Example("[f] A4 B4 A4 B4", "places"),
)  # fmt: skip
ACCENTED_PLACE = _rule(
    "accented_place", -0.06, "fraction of the hair", _AMOUNTS, "accents in the lower half",
    example=Example("A4> B4> A4> B4>", "places"),
)  # fmt: skip
STOPPED_PLACE = _rule(
    "stopped_place", 0.05, "fraction of the hair", _AMOUNTS, "stopped notes above the middle",
    example=Example("A4. B4. A4. B4.", "places"),
)  # fmt: skip
PLACE_MOST = _rule(
    "place_most", 0.25, "fraction of the hair", _AMOUNTS, "never far from the middle", out=1.0,
    example=Example("[fff] A4> B4> A4> B4>", "places", instrument="bass"),
)  # fmt: skip

# What a unit is: time to lift, dotted pairs, crossings.
_UNITS = "planning.strokes.units"
STOLEN_S = _rule(
    "stolen_s", 0.15, "s", _UNITS, "time taken at the end of a phrase to lift",
    example=Example("A4 B4 A4 B4|C#5*3 r|A4*4", "lifts", kind="breath"),
)  # fmt: skip
LIFTED_SHARE = _rule(
    "lifted_share", 0.5, "share of the note", _UNITS, "what a dotted note gives up for a lift",
    example=Example("A4*3/2 B4*1/2 A4*3/2 B4*1/2", "lifts", school={"dotted": "lift"}),
)  # fmt: skip
PAIR_SHORT_BEATS = _rule(
    "pair_short_beats", 0.51, "beats", _UNITS, "the short note of a pair lies inside a beat",
    out=9.0, example=Example("A4*2 B4 A4", "pairs"),
)  # fmt: skip
PAIR_RATIO = _rule(
    "pair_ratio", 2.0, "times", _UNITS, "the long note of a pair is so much longer", out=1.0,
    example=Example("A4*1/2 B4*1/2 A4*3", "pairs"),
)  # fmt: skip
ROLLING_SHARE = _rule(
    "rolling_share", 0.5, "share", _UNITS, "of a crossing's trouble that is left when rolled into",
    out=1.0, example=Example("D4 A4 D4 A4", "crossings"),
)  # fmt: skip
FAST_CROSSING_S = _rule(
    "fast_crossing_s", 0.3, "s", _UNITS, "a crossing after a shorter note troubles fully", out=9.0,
    example=Example("D4 A4 D4 A4", "crossings"),
)  # fmt: skip

# Strokes, joins and seams, as they are; they are built anew on what was learnt from print.
_COSTS = "planning.strokes.costs"
AMOUNT_LESS = _rule("amount_less", 1.5, "cost per squared log", _COSTS, "less bow than wished",
                    term="amount")  # fmt: skip
AMOUNT_MORE = _rule("amount_more", 0.8, "cost per squared log", _COSTS, "more bow than wished",
                    term="amount")  # fmt: skip
PLACE = _rule("place", 1.5, "cost per squared distance", _COSTS, "away from the place wished for",
              term="place")  # fmt: skip
METRE = _rule(
    "metre",
    {DirectionSchool.DOWNBEAT: 1.2, DirectionSchool.FLOW: 0.4, DirectionSchool.TRAVEL: 0.3},
    "cost", _COSTS, "strong beats down", term="metre",
)  # fmt: skip
WEAK_BEAT = _rule("weak_beat", 0.1, "share", _COSTS, "weak beats up, a little", term="metre")
HOOK = _rule("hook", 1.0, "cost", _COSTS, "the same way again after a stop", term="join")
HOOK_SHORT = _rule("hook_short", 0.4, "cost", _COSTS, "a hooked pair", term="join")
HOOK_AGAINST_SCHOOL = _rule("hook_against_school", 2.5, "cost", _COSTS,
                            "a pair hooked where the school does not", term="join")  # fmt: skip
RETAKE_PAIR = _rule("retake_pair", 0.3, "cost", _COSTS, "a pair lifted by school", term="join")
CROSSING = _rule("crossing", 1.0, "cost per level and squared distance", _COSTS,
                 "a crossing away from the middle", term="crossing")  # fmt: skip
SAME = _rule(
    "same",
    {DirectionSchool.DOWNBEAT: 0.8, DirectionSchool.FLOW: 0.2, DirectionSchool.TRAVEL: 0.2},
    "cost", _COSTS, "a bar bowed otherwise than its equals", term="same",
)  # fmt: skip
SEAM_MOVE = _rule("seam_move", 0.6, "cost per bow length", _COSTS, "a repeat that misses its start",
                  term="seam")  # fmt: skip
TOGETHER = _rule(
    "together", 3.0, "cost", _COSTS, "another way than the other part", term="together"
)
RETAKE = _rule("retake", 1.2, "cost", _COSTS, "lifting and setting down", term="join")
TRAVEL = _rule("travel", 1.0, "cost per bow length", _COSTS, "carrying the bow", term="travel")
TOO_FAST = _rule("too_fast", 12.0, "cost per squared log", _COSTS, "faster than the player can",
                 term="speed")  # fmt: skip
TOO_SLOW = _rule("too_slow", 3.0, "cost per squared log", _COSTS, "slower than the player can",
                 term="speed")  # fmt: skip
NOT_LEARNT = _rule("not_learnt", 300.0, "cost", _COSTS, "a hook or lift not learnt", term="join")
MARK = _rule("mark", 3_000.0, "cost", _COSTS, "against a bow mark of the score", term="score_mark")
PIN = _rule("pin", 30_000.0, "cost", _COSTS, "against the teacher's own pin", term="pin")

# Contact point and weight, as they are.
_CONTACT = "planning.contact"
REACH_DB = _rule("reach_db", 3.0, "dB", _CONTACT, "what weight can make up for")
TOO_LOUD_DB = _rule("too_loud_db", 6.0, "dB", _CONTACT, "a lighter arm covers more than a heavier")
NEUTRAL = _rule("neutral", 0.5, "share of the log range", _CONTACT, "where the weight lies at rest")
PER_DB = _rule("per_db", 0.03, "share per dB", _CONTACT, "weight for loudness")
ACCENT_SHIFT = _rule("accent_shift", 0.15, "share", _CONTACT, "accents are heavier")
STOPPED_SHIFT = _rule("stopped_shift", 0.08, "share", _CONTACT, "staccato is heavier")
EDGE = _rule("edge", 0.1, "share", _CONTACT, "never nearer to a limit of weight")
# Fits the cello fact of practice.
ELBOW_SHARE = _rule("elbow_share", 0.8, "share of the hand's way", _CONTACT, "the elbow follows")

# The sound-fault finder.
_FAULTS = "advice.sound_faults"
FAULT_MARGIN = _rule("fault_margin", 0.85, "share", _FAULTS, "a remedy aims inside a limit")
FAULT_CLEARLY = _rule("fault_clearly", 1.2, "times", _FAULTS, "a smaller change is not heard")
