"""What is said for the player's safety wherever practice is planned or timed.

The cautions are those of the trade (common practice, no source); the length of a long day is an
own default. Teacher and doctor decide, not the program.
"""

from plectrum.core.wording import tr

CAUTION = tr(
    "Stop at pain, tingling or numbness and tell your teacher; see a doctor or therapist if it "
    "stays. Short sessions with pauses, loose hand and shoulder."
)
CARE_CAUTION = tr("Children tune and tighten with an adult. Eyes off a string under tension.")
LIMITS_CAUTION = tr(
    "Limits are what this player does with ease, not what can be forced. Stop at pain, tingling or "
    "numbness and tell your teacher; see a doctor or therapist if it stays. The teacher who sees "
    "the student decides."
)
DEFER = tr("A plan suggests; your teacher, who sees you play, decides.")
LONG_DAY_MINUTES = 45  # a longer day for a child is questioned (own default)
PAUSE_TEXT = tr(
    "Put the bow down. Shake out hands and shoulders, stand up, look out of the window."
)
PAIN_TEXT = tr(
    "Stop for today. Put the instrument away, rest the hand, and tell your teacher what hurt and "
    "where. If it stays, or tingles or feels numb, see a doctor or therapist."
)
PAUSE_AFTER_S = 600.0  # of playing (own default)
PAUSE = tr("Ten minutes of playing: time for a pause. Shake out the hands and the shoulders.")
BEFORE = tr(
    "Before the first bow: tune, tighten the bow until a little finger fits under the stick."
)
AFTER = tr("After the last: loosen the bow, wipe the strings.")
