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

from plectrum.core.planning.rules.example import Example as Example
from plectrum.core.planning.rules.learnt import LEARNT as LEARNT
from plectrum.core.planning.rules.learnt import LEARNT_FIGURES as LEARNT_FIGURES
from plectrum.core.planning.rules.learnt import SLUR_WORTH as SLUR_WORTH
from plectrum.core.planning.rules.table import TABLE as TABLE
from plectrum.core.planning.rules.table import Rule as Rule
from plectrum.core.planning.rules.table import by_school, rule
from plectrum.core.score.model import Articulation

MILLIONTHS = 1_000_000
CELLS_N = 48  # halves, thirds, quarters, eighths and sixteenths all land on this grid
IMPOSSIBLE = 10**15  # in millionths: outside the usable bow, no time, wrong way


def millionths(cost: float) -> int:
    """A cost in the planner's exact unit."""
    return round(cost * MILLIONTHS)


# Terms of a plan's cost, in the order in which they are printed, with words for people.
TERM_WORDS = {
    "amount": "how much bow the notes get",
    "place": "where on the bow they lie",
    "limit": "bow speed beyond the player's limits",
    "tape": "distance from the tape marks",
    "crossing": "string crossings away from the middle of the bow",
    "slur": "slurs added, dropped or unlikely",
    "even": "strokes quicker or slower than those beside them",
    "metre": "strong beats on the up-bow",
    "join": "hooks and lifts",
    "travel": "carrying the bow through the air",
    "same": "bars that bow otherwise than those like them",
    "together": "another way than the other part's",
    "score_mark": "a mark of the score that is not kept",
    "pin": "a pin that is not kept",
}
TERMS = tuple(TERM_WORDS)

# Strings and fingers. Costs of one grip, or of going from one to the next.
_STRINGS = "planning.fingering.search"
CROSS = rule(
    "cross", 0.4, "cost a string", _STRINGS, "rolling to the neighbouring string",
    example=Example("F4 F5 E5 C4", "strings", positions=(1, 3)),
)  # fmt: skip
SKIP = rule(
    "skip", 0.6, "cost a string", _STRINGS, "jumping over a string",
    example=Example("F#5 G3 C#5 F#4", "strings", positions=(1, 3, 4, 5)),
)  # fmt: skip
IN_SLUR = rule(
    "in_slur", 1.6, "times the cost", _STRINGS, "a crossing inside a slur", out=1.0,
    example=Example("E5( C#5 Bb4 G5)", "strings"),
)  # fmt: skip
FAST = rule(
    "fast", 1.5, "times the cost", _STRINGS, "a crossing between fast notes", out=1.0,
    example=Example("F4*1/4 G5*1/4 C4*1/4 D5*1/4 D5*3", "strings", bpm=120.0, positions=(1, 3)),
)  # fmt: skip
FAST_S = rule(
    "fast_s", 0.25, "s", _STRINGS, "what counts as fast",
    example=Example("F5*1/4 C5*1/4 C4*1/4 A4*1/4 D5*3", "strings", bpm=120.0),
)  # fmt: skip
FOURTH = rule(
    "fourth", 0.5, "cost", _STRINGS, "the weak fourth finger",
    example=Example("B4 E5 B4 E5", "strings"),
)  # fmt: skip
EXTENSION = rule(
    "extension", 0.5, "cost", _STRINGS, "a stretched or squeezed finger",
    example=Example("A5 G3 F#4 F#5", "strings", positions=(1, 3, 4, 5)),
)  # fmt: skip
HIGHER_POSITION = rule(
    "higher_position", 0.3, "cost", _STRINGS, "a higher position",
    example=Example("E4 G5 F5 F#4", "strings", positions=(1, 3)),
)  # fmt: skip
SHIFT = rule(
    "shift", 1.2, "cost", _STRINGS, "moving the hand to another position",
    example=Example("F#5 B5 F#5 C#6 F#5 B5 F#5 C#6", "strings", "8/4", positions=(1, 3, 4, 5)),
)  # fmt: skip
# Common practice: the hand moves while an open string sounds.
OPEN_SHIFT = rule(
    "open_shift", 0.5, "times the cost", _STRINGS, "on an open string it is easier", out=1.0,
    example=Example("B5 D4 A3 B5", "strings", positions=(1, 3, 4, 5)),
)  # fmt: skip
SLOW_OPEN = rule("slow_open", 1.5, "cost", _STRINGS, "a slow note rings on its open string",
                 example=Example("G4 E5 G3 G5", "strings", positions=(1, 3)))  # fmt: skip
SLOW_OPEN_S = rule("slow_open_s", 0.4, "s", _STRINGS, "what counts as slow", out=99.0,
                   example=Example("A4 D6 E5 G3", "strings", positions=(1, 3, 4, 5)))  # fmt: skip
SAME_FINGER_JUMP = rule(
    "same_finger_jump", 0.4, "cost", _STRINGS, "one finger moving between two stopped places",
    example=Example("F5 Bb4 A3 F#4", "strings"),
)  # fmt: skip
FIFTH_SAVED = rule(
    "fifth_saved", 0.2, "cost", _STRINGS, "one finger across two strings: only the bow moves",
    example=Example("G5 D6 C4", "strings", positions=(1, 3)),
)  # fmt: skip
FOURTH_SCHOOL = rule(
    "fourth_school", 4.0, "cost", _STRINGS, "the school's fourth finger or open string",
    example=Example("B4 E5 B4 E5", "strings", school={"fourth": "stopped"}),
)  # fmt: skip
HAND_NOT_LEARNT = rule(
    "hand_not_learnt", 8.0, "cost", _STRINGS, "a string or finger the player does not have",
    example=Example("D5 E5 D5 E5", "strings", player="starter", school={"fourth": "stopped"}),
)  # fmt: skip
WRITTEN = rule(
    "written", 40.0, "cost", _STRINGS, "a fingering of the score",
    example=Example("E5 D5 C#5 B4", "strings", written_finger="4"),
)  # fmt: skip
STRING_PIN = rule(
    "string_pin", 400.0, "cost", _STRINGS, "the teacher's own string or finger",
    example=Example("E5 D5 C#5 B4", "strings", pin_string=2),
)  # fmt: skip

# How much bow a note wishes for, and where. The facts are common practice, the amounts ours.
_AMOUNTS = "planning.strokes.amounts"
REFERENCE_S = rule(
    "reference_s", 0.75, "s", _AMOUNTS, "at this length a note has the comfortable speed", out=0.4,
    example=Example("A4 B4 A4 B4", "lengths"),
)  # fmt: skip
# "Two short and a long" comes out fast, fast, slow on one bow.
DURATION_EXPONENT = rule(
    "duration_exponent", 0.8, "exponent", _AMOUNTS, "long notes are drawn slower", out=1.0,
    example=Example("A4*1/2 B4*1/2 A4*3", "lengths"),
)  # fmt: skip
STRING_EXPONENT = rule(
    "string_exponent", 0.25, "exponent", _AMOUNTS, "lower string, slower bow",
    example=Example("G3 A3 G3 A3", "lengths"),
)  # fmt: skip
SHARED_DB = rule(
    "shared_db", 40.0, "dB", _AMOUNTS, "amount and weight share a dynamic", out=1e9,
    example=Example("[f] A4 B4 A4 B4", "lengths"),
)  # fmt: skip
ALONE_DB = rule(
    "alone_db", 20.0, "dB", _AMOUNTS, "amount carries a dynamic alone where the lane stays",
    out=1e9, example=Example("[f] A4 B4 A4 B4", "lengths", school={"dynamics": "amount"}),
)  # fmt: skip
SHAPING_DB = rule(
    "shaping_db", 11.0, "dB", _AMOUNTS, "under a short hairpin bow carries it", out=1e9,
    example=Example("[p] [<] A4 B4 C#5 D5 [x]|[f] E5*4", "lengths"),
)  # fmt: skip
SHAPING_LIMIT_S = rule(
    "shaping_limit_s", 6.0, "s", _AMOUNTS, "a longer hairpin is not a shape of one bow",
    example=Example("[p] [<] A4 B4 C#5 D5 [x]|[f] E5*4", "lengths"),
)  # fmt: skip
STACCATO_SHARE = rule(
    "staccato_share", 0.5, "share of the note", _AMOUNTS, "a stopped note moves part of its time",
    out=1.0, example=Example("A4. B4. A4. B4.", "lengths"),
)  # fmt: skip
HOOK_STOP_S = rule(
    "hook_stop_s", (0.08, 0.15), "s", _AMOUNTS, "the stop of a hook", out=(0.0, 0.0),
    example=Example("A4*3/4 B4*1/4 A4 B4*2", "stops"),
)  # fmt: skip
HOOK_STOP_SHARE = rule(
    "hook_stop_share", 0.2, "share of the note", _AMOUNTS, "the stop of a hook on a short note",
    example=Example("A4*1/2 B4*1/2 A4 B4*2", "stops", bpm=50.0),
)  # fmt: skip
HOOK_STOP_MOST = rule(
    "hook_stop_most", 0.4, "share of the note", _AMOUNTS, "a stop leaves most of a quick note",
    out=1.0, example=Example("A4*1/4 B4*1/4 A4 B4*5/2", "stops", bpm=180.0),
)  # fmt: skip
AMOUNT_OF = {
    kind: rule(
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
        (Articulation.SFORZANDO, 1.4),
    )
}  # fmt: skip
WHOLE_FROM_BEATS = rule(
    "whole_from_beats", 0.95, "beats", _AMOUNTS, "in note values a beat takes the whole bow",
    out=2.0, example=Example("A4 B4 A4 B4", "lengths", school={"amount": "values"}),
)  # fmt: skip
HALF_FROM_BEATS = rule(
    "half_from_beats", 0.45, "beats", _AMOUNTS, "and half a beat half of it", out=2.0,
    example=Example("A4*1/2 B4*1/2 A4*1/2 B4*1/2 A4*2", "lengths", school={"amount": "values"}),
)  # fmt: skip
RICOCHET_PLACE = rule(
    "ricochet_place", 0.62, "fraction of the hair", _AMOUNTS, "thrown above the middle", out=0.5,
    example=Example("A4 B4 A4 B4", "places", kind="ricochet"),
)  # fmt: skip
SPICCATO_ABOVE_BALANCE = rule(
    "spiccato_above_balance", 0.06, "fraction of the hair", _AMOUNTS,
    "off the string just above the balance point",
    example=Example("A4 B4 A4 B4", "places", kind="spiccato"),
)  # fmt: skip
TREMOLO_PER_S = rule(
    "tremolo_per_s", 9.0, "strokes a second", _AMOUNTS, "a tremolo that is not measured", out=2.0,
    example=Example("A4 B4 A4 B4", "lengths", kind="tremolo"),
)  # fmt: skip
MEASURED_S = rule(
    "measured_s", 0.1, "s", _AMOUNTS, "quicker strokes of a tremolo are not counted", out=9.0,
    example=Example("A4*2= B4*2", "bows"),
)  # fmt: skip
PLACE_PER_DB = rule(
    "place_per_db", 0.012, "fraction of the hair per dB", _AMOUNTS, "loud towards the frog",
    example=Example("[f] A4 B4 A4 B4", "places"),
)  # fmt: skip
ACCENTED_PLACE = rule(
    "accented_place", -0.06, "fraction of the hair", _AMOUNTS, "accents in the lower half",
    example=Example("A4> B4> A4> B4>", "places"),
)  # fmt: skip
STOPPED_PLACE = rule(
    "stopped_place", 0.05, "fraction of the hair", _AMOUNTS, "stopped notes above the middle",
    example=Example("A4. B4. A4. B4.", "places"),
)  # fmt: skip
PLACE_MOST = rule(
    "place_most", 0.25, "fraction of the hair", _AMOUNTS, "never far from the middle", out=1.0,
    example=Example("[fff] A4> B4> A4> B4>", "places", instrument="bass"),
)  # fmt: skip

# What a unit is: time to lift, dotted pairs, crossings.
_UNITS = "planning.strokes.bow_columns"
STOLEN_S = rule(
    "stolen_s", 0.15, "s", _UNITS, "time taken at the end of a phrase to lift",
    example=Example("A4 B4 A4 B4|C#5*3 r|A4*4", "lifts", kind="breath"),
)  # fmt: skip
LIFTED_SHARE = rule(
    "lifted_share", 0.5, "share of the note", _UNITS, "what a dotted note gives up for a lift",
    example=Example("A4*3/2 B4*1/2 A4*3/2 B4*1/2", "lifts", school={"dotted": "lift"}),
)  # fmt: skip
PAIR_SHORT_BEATS = rule(
    "pair_short_beats", 0.51, "beats", _UNITS, "the short note of a pair lies inside a beat",
    out=9.0, example=Example("A4*5/2 B4 A4*1/2", "pairs"),
)  # fmt: skip
PAIR_OFF_BEAT = rule(
    "pair_off_beat", -0.5, "metric weight", _UNITS, "the short note of a pair is off the beat",
    out=9.0, example=Example("A4*2 B4*1/2 A4*1/2 B4", "pairs", metre="4/4"),
)  # fmt: skip
PAIR_RATIO = rule(
    "pair_ratio", 2.0, "times", _UNITS, "the long note of a pair is so much longer", out=1.0,
    example=Example("A4*1/2 B4*1/2 A4*3", "pairs"),
)  # fmt: skip
ROLLING_SHARE = rule(
    "rolling_share", 0.5, "share", _UNITS, "of a crossing's trouble that is left when rolled into",
    out=1.0, example=Example("D4 A4 D4 A4", "crossings"),
)  # fmt: skip
FAST_CROSSING_S = rule(
    "fast_crossing_s", 0.3, "s", _UNITS, "a crossing after a shorter note troubles fully", out=9.0,
    example=Example("D4 A4 D4 A4", "crossings"),
)  # fmt: skip

# A stroke by itself: its length, place and speed.
_TABLES = "planning.strokes.stroke_tables"
AMOUNT_LESS = rule(
    "amount_less", 1.5, "cost per squared log", _TABLES, "less bow than wished", term="amount"
)
AMOUNT_MORE = rule(
    "amount_more", 1.0, "cost per squared log", _TABLES, "more bow than wished", term="amount"
)
PLACE = rule(
    "place",
    by_school(usual=1.5, downbeat=1.5, flow=1.5, travel=12.0),
    "cost per squared distance", _TABLES, "away from the place wished for", term="place",
)  # fmt: skip
CROSSING = rule(
    "crossing", 1.0, "cost per level and squared distance", _TABLES,
    "a crossing away from the middle", term="crossing",
)  # fmt: skip
LIMIT = rule("limit", 40.0, "cost", _TABLES, "a stroke that this player cannot draw", term="limit")
TOO_FAST = rule(
    "too_fast", 60.0, "cost per squared log", _TABLES, "faster than the player can", term="limit"
)
TOO_SLOW = rule(
    "too_slow", 60.0, "cost per squared log", _TABLES, "slower than the player can", term="limit"
)
SPEED_CLASSES_N = 7
SPEED_CLASS_RATIO = rule(
    "speed_class_ratio", 1.45, "times", _TABLES, "speeds nearer than this count as the same",
    term="even", out=1e3,
)  # fmt: skip
EVEN = rule(
    "even", 0.6, "cost per squared log", _TABLES, "another speed than the stroke before",
    term="even",
)  # fmt: skip
EVEN_AFTER_REST = rule(
    "even_after_rest", 0.5, "share", _TABLES, "of evenness that is left after a short rest",
    term="even", out=1.0,
)  # fmt: skip

# Joins: what the trade says without exception, beside what was learnt.
_PREFERENCES = "planning.strokes.preferences"
STRONG_BEATS = rule(
    "strong_beats",
    by_school(usual=1.0, downbeat=1.0, flow=0.1, travel=0.0),
    "share", _PREFERENCES, "strong beats down, as much as the school asks", term="metre",
)  # fmt: skip
FEW_HOOKS = rule(
    "few_hooks",
    by_school(usual=0.0, downbeat=0.0, flow=4.0, travel=0.0),
    "cost", _PREFERENCES, "as it comes: few hooks", term="join",
)  # fmt: skip
STOPPING_REST_S = rule(
    "stopping_rest_s", 0.2, "s", _PREFERENCES, "a rest in which the bow stands still anyway",
    term="join", out=1e9,
)  # fmt: skip
REST_HOOK = rule(
    "rest_hook", 0.3, "cost", _PREFERENCES, "the same way again after a rest", term="join", out=9.0
)
WAITING_HOOK = rule(
    "waiting_hook", 1.0, "cost", _PREFERENCES,
    "a note between rests inside a bar: the bow waits on the string", term="join", out=-9.0,
)  # fmt: skip
RUNNING_HOOK = rule(
    "running_hook", 8.0, "cost", _PREFERENCES, "a stop among equal quick notes", term="join",
    out=-9.0,
)  # fmt: skip
RUNNING_S = rule(
    "running_s", 0.26, "s", _PREFERENCES, "what counts as a quick note among its equals",
    term="join", out=0.0,
)  # fmt: skip
SEAM_HOOK = rule(
    "seam_hook", 0.3, "cost", _PREFERENCES, "a repeated section begins anew", term="join", out=9.0
)
FIRST_BEAT = rule(
    "first_beat", by_school(usual=0.0, downbeat=6.0, flow=0.0, travel=0.0), "cost", _PREFERENCES,
    "every first beat down that can be", term="metre",
)  # fmt: skip
WRITTEN_PLACE = rule(
    "written_place", 0.5, "cost a cell", "planning.strokes.stroke_tables",
    "away from where words over the staff say", term="pin", out=0.0,
    example=Example("{al tallone} A4 B4 A4 B4|{alla punta} A4 B4 A4 B4", "bows"),
)  # fmt: skip
FINAL_CHORD = rule(
    "final_chord", 4.0, "cost", "planning.strokes.terms",
    "the last chord down, also after another", term="metre",
    example=Example("A4*2 D4+A4+F5*2|A4*2 D4+A4+F5*2|D4+A4+F5*4", "bows"),
)  # fmt: skip
FIRST_HOOK = rule(
    "first_hook", 4.0, "cost", _PREFERENCES,
    "a first beat comes down by what is before it, not by a hook onto it", term="join",
    example=Example("A4 B4 A4*2|A4 B4 A4*2", "bows", bpm=90.0, player="growing",
                    school={"direction": "downbeat"}),
)  # fmt: skip
LAST_HOOK = rule(
    "last_hook", 1.0, "cost", _PREFERENCES,
    "the last notes of a bar hooked, so that the next begins down", term="join", out=9.0,
)  # fmt: skip
LAST_HOOK_S = rule(
    "last_hook_s", 0.2, "s", _PREFERENCES, "notes slow enough to stop between", term="join", out=1e9
)
CROWDED_HOOK = rule(
    "crowded_hook", 6.0, "cost for a bow's length", _PREFERENCES,
    "hooked, two bows want more than there is", term="join",
)  # fmt: skip
CROWDED_FROM = rule(
    "crowded_from", 1.25, "bows", _PREFERENCES, "hooked, two bows can each give up a fifth",
    term="join", out=1.0,
)  # fmt: skip
TWO_UPS_HOOK = rule(
    "two_ups_hook", -0.6, "cost", _PREFERENCES, "two ups that balance a slur down", term="join",
    out=9.0,
)  # fmt: skip
BALANCE_S = rule(
    "balance_s", 0.4, "s", _PREFERENCES, "ups long enough to balance a slur", term="join", out=1e9
)
BALANCE_SHARE = rule(
    "balance_share", (0.6, 1.67), "share of the slur", _PREFERENCES,
    "two ups take about the time of the slur", term="join", out=(9.0, 9.0),
)  # fmt: skip
PAIR_HOOKED = rule(
    "pair_hooked", -8.0, "cost", _PREFERENCES, "the school hooks dotted pairs", term="join", out=9.0
)
HOOKED_PAIR_S = rule(
    "hooked_pair_s", 0.1, "s", _PREFERENCES, "a pair quicker than this cannot be hooked",
    term="join", out=1e9,
)  # fmt: skip
PAIR_SEPARATE = rule(
    "pair_separate", 4.0, "cost", _PREFERENCES, "the school keeps dotted pairs separate",
    term="join", out=-9.0,
)  # fmt: skip
RETAKE = rule("retake", 1.2, "cost", _PREFERENCES, "lifting and setting down", term="join")
ODD_HOOK = rule(
    "odd_hook", -1.5, "cost", _PREFERENCES, "an odd figure after a rest goes as before",
    term="join", out=9.0,
)  # fmt: skip
AGAIN_ANEW = rule(
    "again_anew", 0.4, "cost", _PREFERENCES, "a figure that comes again begins as before",
    term="join", out=0.0,
)  # fmt: skip
BACK_SHARE = rule(
    "back_share", 0.6, "of a bow", "planning.strokes.terms", "so far the bow is carried back",
    term="join", out=9.0,
)  # fmt: skip
FAR_HOOK = rule(
    "far_hook", 6.0, "cost", _PREFERENCES, "the same way again where there is no time to go back",
    term="join", out=-9.0,
)  # fmt: skip
RETAKE_PAIR = rule(
    "retake_pair", -0.8, "cost", _PREFERENCES, "the school lifts in dotted pairs", term="join"
)
RETAKE_REST = rule(
    "retake_rest", -4.0, "cost", _PREFERENCES, "the school lifts in rests", term="join", out=1.2
)
LIFTED_REST_S = rule(
    "lifted_rest_s", 0.5, "s", _PREFERENCES, "a rest long enough to lift in", term="join", out=9.0
)
NOT_LEARNT = rule(
    "not_learnt", 300.0, "cost", _PREFERENCES, "a hook or lift not learnt", term="join"
)

# What the learnt features call whole bars, rests, quick and slow notes.
_CONTEXT = "planning.strokes.context"
RESET_S = rule("reset_s", 0.7, "s", _CONTEXT, "a rest after which a phrase begins anew", out=1e9)
SLOW_HOOK_S = rule("slow_hook_s", 0.28, "s", _CONTEXT, "notes that are not quick", out=9.0)
SLOW_BOW_S = rule("slow_bow_s", 0.5, "s", _CONTEXT, "a first beat that is not quick", out=9.0)
CHORD_REST_S = rule("chord_rest_s", 0.3, "s", _CONTEXT, "time to set down for a chord", out=9.0)
WHOLE_BAR_SHARE = rule(
    "whole_bar_share", 0.95, "share of the bar", _CONTEXT, "a bow that takes the bar", out=9.0
)
REST_S = rule("rest_s", 0.05, "s", _CONTEXT, "a rest that is heard", out=9.0)
QUICK_S = rule("quick_s", 0.2, "s", _CONTEXT, "a note too quick to stop before", out=0.0)
LONG_S = rule("long_s", 0.6, "s", _CONTEXT, "a long note to go on from", out=9.0)

# Slurs as decisions; how likely each is, is learnt.
_SLURS = "planning.strokes.slurs"
SLUR_GAP_S = rule(
    "slur_gap_s", 0.02, "s", "planning.strokes.slur_columns", "no slur over a rest", term="slur",
    out=9.0,
)  # fmt: skip
SLUR_ADDED = rule("slur_added", 1.8, "cost", _SLURS, "a slur that is not printed", term="slur")
SLUR_DROPPED = rule("slur_dropped", 1.8, "cost", _SLURS, "a printed slur let go", term="slur")
SLUR_LIKELY = rule("slur_likely", 0.3, "share", _SLURS, "a slur that print likes", term="slur")
SLUR_SHARE = rule("slur_share", 1.4, "cost of the log odds", _SLURS, "likely slurs", term="slur")
SLUR_AMOUNT = rule(
    "slur_amount", 0.04, "log odds a step", _SLURS, "more slurs or fewer", term="slur"
)
SLUR_USUAL = rule(
    "slur_usual", 0.5, "log odds", _SLURS, "print leaves out what players slur", term="slur"
)

# The problem as a whole.
_COSTS, _TERMS = "planning.strokes.costs", "planning.strokes.terms"
EVEN_REST_S = rule(
    "even_rest_s", 0.3, "s", _TERMS, "after a longer rest the speed begins anew", term="even"
)
SAME = rule(
    "same",
    by_school(usual=0.6, downbeat=3.0, flow=0.2, travel=0.2),
    "cost", _TERMS, "a bar bowed otherwise than its equals", term="same",
)  # fmt: skip
SAME_PAIR = rule(
    "same_pair", 1.2, "cost", _TERMS, "a dotted pair joined otherwise than those like it",
    term="same",
)  # fmt: skip
DOTTED_RATIO = rule(
    "dotted_ratio", (2.9, 7.1), "times", "planning.strokes.equal_bars",
    "how much longer the long note of a dotted pair is", out=(99.0, 99.0),
)  # fmt: skip
TOGETHER = rule("together", 6.0, "cost", _TERMS, "another way than the other part", term="together")
_ENSEMBLE = "planning.ensemble.coupling"
TOGETHER_JOIN = rule(
    "together_join", 2.0, "cost", _ENSEMBLE, "turned where the other part hooks or lifts",
    term="together",
)  # fmt: skip
TOGETHER_PLACE = rule(
    "together_place", 24.0, "cost", _ENSEMBLE, "in another region than the other part",
    term="together",
)  # fmt: skip
TOGETHER_WEAK = rule(
    "together_weak", 0.5, "share", _ENSEMBLE, "the others on the weakest places", out=1.0,
    term="together",
)  # fmt: skip
FIGURE_N = rule(
    "figure_n", 6.0, "bows", "planning.ensemble.imitation", "a figure that can be imitated",
    out=99.0, term="together",
)  # fmt: skip
LATER_BARS_N = rule(
    "later_bars_n", 4.0, "bars", "planning.ensemble.imitation", "how much later at most", out=0.0,
    term="together",
)  # fmt: skip
IMITATED = rule(
    "imitated", 0.7, "times", _ENSEMBLE, "a figure otherwise than in the part it imitates", out=0.0,
    term="together",
)  # fmt: skip
BEGUN = rule(
    "begun", 0.5, "times", _ENSEMBLE, "the other way where two parts begin a bar", out=0.0,
    term="together",
)  # fmt: skip
TOGETHER_HELD = rule(
    "together_held", 10.0, "times", _ENSEMBLE, "where one of the parts is pinned or marked",
    out=1.0, term="together",
)  # fmt: skip
GUARD = rule(
    "guard", 100_000.0, "cost", _COSTS, "what a player cannot, for the sake of another part",
    term="limit",
)  # fmt: skip
FIRM = 30  # times: marks and pins where other parts are asked too
TRAVEL = rule("travel", 1.0, "cost per bow length", _COSTS, "carrying the bow", term="travel")
MARK = rule("mark", 3_000.0, "cost", _TERMS, "against a bow mark of the score", term="score_mark")
PIN = rule("pin", 30_000.0, "cost", _TERMS, "against the teacher's own pin", term="pin")

# Contact point and weight. Costs are by the second but those of moves.
_FRAMES = "planning.contact.frames"
BITE_S = rule("bite_s", 0.15, "s", _FRAMES, "the bite of an accent", out=0.01)
BITE_SHARE = rule(
    "bite_share", 0.35, "share of the note", _FRAMES, "the bite of a short note", out=0.01
)
BITE_LEAN = rule("bite_lean", 0.45, "neper of weight", _FRAMES, "an accent leans")
BITE_SPEED = rule("bite_speed", 1.3, "times the speed", _FRAMES, "a bite is quick", out=1.0)
BITE_FROM_S = rule("bite_from_s", 0.2, "s", _FRAMES, "a shorter note is all bite", out=99.0)
BITE_OF = {
    kind: rule(f"bite_of_{kind}", weight, "dB at the bite and after it", _FRAMES, f"the {kind}")
    for kind, weight in (
        (Articulation.ACCENT, (4.0, 1.0)),
        (Articulation.MARCATO, (6.0, 3.0)),
        (Articulation.SFORZANDO, (8.0, 5.0)),
    )
}
SLOW_ENOUGH = rule("slow_enough", 1.05, "times", _FRAMES, "so near a limit a speed will do")
UNDRAWABLE = rule(
    "undrawable", 0.01, "share", _FRAMES, "what cannot be drawn is not waited for", out=1.0,
    example=Example("A4 B4 C5 D5|A4*4( B4*4 C5*4 D5*4)", "touch", bpm=42),
)  # fmt: skip
STACCATO_LEAN = rule("staccato_lean", 0.1, "neper of weight", _FRAMES, "staccato leans a little")
LEVEL_PER_NEPER_DB = rule(
    "level_per_neper_db",
    28.0,
    "dB for ten times the weight",
    "planning.contact.touch_costs",
    "weight for loudness",
    out=1000000000.0,
)
HAND_AT_FROG = rule(
    "hand_at_frog", 1.15, "share of the most", _FRAMES, "what a hand gives there", out=0.6
)
HAND_TO_TIP = rule("hand_to_tip", 0.45, "share a bow length", _FRAMES, "less towards the tip")
# Common practice: long notes are drawn slower and sound as loud.
EVEN_DB = rule("even_db", 4.0, "dB for ten times the time", _FRAMES, "long notes carry")
EVEN_RANGE_S = rule(
    "even_range_s", (0.12, 3.0), "s", _FRAMES, "and no longer ones more", out=(0.01, 99.0)
)
# A habit: where nothing asks for another level, only a limit moves the contact point.
AT_TURN = rule(
    "at_turn", (160.0, 1.0), "times, contact and weight", _FRAMES, "moves at a turn", out=(4.0, 9.0)
)
INSIDE_SLUR = rule(
    "inside_slur",
    (160.0, 2.0),
    "times, contact and weight",
    _FRAMES,
    "moves in a slur",
    out=(0.0, 0.0),
)
AT_HOOK = rule(
    "at_hook", (160.0, 0.7), "times, contact and weight", _FRAMES, "moves at a hook", out=(4.0, 9.0)
)
AT_NEW_LEVEL = rule(
    "at_new_level",
    (0.35, 1.3),
    "times, contact and weight",
    _FRAMES,
    "moves for a new dynamic",
    out=(9.0, 9.0),
)
NEW_LEVEL_DB = rule("new_level_db", 2.0, "dB", _FRAMES, "a new dynamic", out=99.0)
IN_HAIRPIN = rule(
    "in_hairpin",
    (0.4, 1.0),
    "times, contact and weight",
    _FRAMES,
    "moves in a hairpin",
    out=(9.0, 9.0),
)
AT_REST = rule(
    "at_rest", (0.2, 2.0), "times, contact and weight", _FRAMES, "moves in a rest", out=(9.0, 9.0)
)
MOVING_REST_S = rule(
    "moving_rest_s", 0.25, "s", _FRAMES, "a rest in which the hair moves freely", out=99.0
)
BITE_IN = rule(
    "bite_in",
    (1.0, 0.015),
    "times, contact and weight",
    _FRAMES,
    "moves into a bite",
    out=(0.0, 9.0),
)
BITE_OUT = rule(
    "bite_out", (2.0, 0.015), "times, contact and weight", _FRAMES, "and out of it", out=(1.0, 1.0)
)

_TOUCH = "planning.contact.touch_costs"
LOUD = rule("loud", 1.5, "cost per squared step of 4 dB", _TOUCH, "another loudness than wanted")
LOUD_KNEE = rule("loud_knee", 2.0, "steps", _TOUCH, "from here in a straight line", out=99.0)
# Common practice: a lighter arm covers more than a heavier one adds.
TOO_LOUD_SHARE = rule(
    "too_loud_share", 0.8, "share", _TOUCH, "too loud is less bad than too soft", out=1.0
)
NEUTRAL = rule("neutral", 0.42, "share of the window", _TOUCH, "where the weight lies at rest")
WEIGHT_DB = rule("weight_db", 4.0, "dB over the window", _TOUCH, "what weight alone gives")
OFF_NEUTRAL = rule("off_neutral", 0.35, "cost per squared 0.2 of the window", _TOUCH,
                   "a weight that does not sing")  # fmt: skip
OFF_WISHED = rule("off_wished", 0.25, "cost per squared 0.35 neper", _TOUCH,
                  "another weight than the dynamic wishes")  # fmt: skip
WINDOW = rule(
    "window",
    (0.20, 0.72),
    "share of the window",
    _TOUCH,
    "beyond it the sound breaks",
    out=(-9.0, 9.0),
)
WALL = rule("wall", 12.0, "cost per squared 0.1 of the window", _TOUCH, "near a limit of weight")
WALL_S = rule("wall_s", 0.25, "s", _TOUCH, "limits count at least so long")
HOME = rule("home", 0.03, "cost per squared lane", _TOUCH, "away from the lane at home")
LANE_SNAP = rule("lane_snap", 0.6, "cost per squared lane", _TOUCH, "between two lanes")
LANE_EDGE = rule("lane_edge", 0.15, "cost per squared lane", _TOUCH, "at the bridge, on the board")
STRING_KEPT = rule("string_kept", 0.6, "share", _TOUCH, "a heavier string takes more weight")
REGISTER = rule("register", 0.5, "exponent", _TOUCH, "high notes nearer the bridge")
HIGH_POSITION = rule(
    "high_position", 3, "position", _FRAMES, "above it the bow moves nearer", out=99
)
HIGH_HOME = rule(
    "high_home", 0.8, "cost per squared lane", _TOUCH, "in high positions nearer the bridge"
)
AT_SHIFT = rule("at_shift", 0.03, "times", _FRAMES, "the lane moves with a high shift", out=1.0)
HIGH_STAY_N = rule(
    "high_stay_n", 3, "notes", _FRAMES, "so long the hand stays for a high shift", out=1
)
LANE_MOVE = rule("lane_move", 1.5, "cost of the whole way in a second", _TOUCH, "moving the lane")
LANE_MOVE_ONCE = rule("lane_move_once", 0.5, "cost", _TOUCH, "moving the lane at all")
LEAN = rule("lean", 5.5, "cost per neper in half a second", _TOUCH, "changing the weight")
LEAN_ONCE = rule("lean_once", 0.02, "cost", _TOUCH, "changing the weight at all")

# What a note that grows or fades does with the bow.
_PLANNED = "planning.strokes.planned"
SHAPE_FROM_DB = rule(
    "shape_from_db", 1.5, "dB", _PLANNED, "a smaller change is not shaped", out=99.0
)
SHAPE_FROM_S = rule("shape_from_s", 0.5, "s", _PLANNED, "a shorter note is not shaped", out=99.0)
SHAPE_DB = rule(
    "shape_db",
    24.0,
    "dB for ten times the speed",
    _PLANNED,
    "a note grows by speed",
    out=1000000000.0,
)
SHAPE_MOST = rule("shape_most", 4.0, "times", _PLANNED, "and at most so much", out=1.2)

RUN_N = rule(
    "run_n", 4, "strokes", "planning.tempo_window", "so many quick strokes are a run", out=99,
    example=Example("A4*1/4 B4*1/4 A4*1/4 B4*1/4 A4*3", "window", bpm=60.0, player="starter"),
)  # fmt: skip
_REACH = "advice.out_of_reach"
REACH_DB = rule("reach_db", 4.0, "dB", _REACH, "so much too soft is said", out=99.0)
TOO_LOUD_DB = rule("too_loud_db", 6.0, "dB", _REACH, "so much too loud is said", out=99.0)
FED_FROM_DB = rule(
    "fed_from_db", 3.0, "dB", "planning.feedback", "sound asks for another length", out=99.0
)
_RESULT = "planning.contact.contact"
# Fits the cello fact of practice.
ELBOW_SHARE = rule("elbow_share", 0.8, "share of the hand's way", _RESULT, "the elbow follows")

# The sound-fault finder.
_FAULTS = "advice.sound_faults"
FAULT_MARGIN = rule("fault_margin", 0.85, "share", _FAULTS, "a remedy aims inside a limit", out=1.0)
FAULT_CLEARLY = rule(
    "fault_clearly", 1.2, "times", _FAULTS, "a smaller change is not heard", out=9.0
)
