"""Rows of the rule table whose numbers are learnt from printed bow marks.

The numbers stand in `learnt.json`, with what they were learnt from, and for the rhythms that print
likes to slur in `slur_figures.json`; `make calibrate` writes both.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from functools import cache
from importlib.resources import files

from plectrum.core.planning.rules.table import rule

_FEATURES = "planning.strokes.context"
_FILE = json.loads((files(__package__) / "learnt.json").read_text("utf-8"))
_WHY = {
    "down_whole_bar": "a bow that takes the bar down",
    "down_on_bar": "the first beat down",
    "down_on_bar_compound": "the first beat of a compound bar down",
    "down_on_mid": "the middle of the bar down",
    "down_on_mid_compound": "the middle of a compound bar down",
    "down_on_beat": "a weaker beat down",
    "down_on_off": "between the beats down",
    "down_on_off_compound": "between the beats of a compound bar down",
    "down_on_sub": "the weakest places down",
    "down_on_sub_compound": "the weakest places of a compound bar down",
    "down_pickup": "the pickup up",
    "down_pickup_slur": "a slurred pickup up",
    "down_quick_on_bar": "a quick note on the first beat",
    "down_start": "the beginning down",
    "hook": "the same way again after a stop",
    "hook_on_bar": "a hook onto the first beat",
    "hook_on_mid": "a hook onto the middle of the bar",
    "hook_on_beat": "a hook onto a weaker beat",
    "hook_on_off": "a hook between the beats",
    "hook_on_sub": "a hook onto the weakest places",
    "hook_over_bar": "a hook over the bar line",
    "hook_at_seam": "a hook into a repeated section",
    "hook_over_rest": "a rest between",
    "hook_over_rest_on_sub": "a short note after a rest",
    "hook_quick": "quick notes are not hooked",
    "hook_after_long": "a hook after a long note",
    "hook_pair": "a short note after a long one",
    "hook_equal_notes": "equal notes alternate",
    "hook_to_longer": "a hook onto a longer note",
    "hook_after_slur_on_sub": "a short note after a slur",
    "down_slow_on_bar": "a slow first beat down",
    "down_last_in_bar": "the last note before a first beat up",
    "down_chord": "chords down",
    "hook_slow": "slow notes are not hooked",
    "hook_slow_plain": "slow single notes are not hooked",
    "hook_slow_pair": "a slow short note after a long one",
    "hook_plain": "single notes alternate",
    "hook_plain_inside": "single notes alternate inside a bar",
    "hook_plain_pair": "a single short note after a long one",
    "hook_second": "the second bow of the piece",
    "hook_up": "a hook upwards",
    "hook_up_over_rest": "going on upwards after a rest",
}
LEARNT: dict[str, float] = {
    name: rule(
        name, float(_FILE["worth"].get(name, 0.0)), "cost", _FEATURES, why,
        term="join" if name.startswith("hook") else "metre",
    )
    for name, why in _WHY.items()
}  # fmt: skip
LEARNT_FIGURES: dict[str, object] = _FILE["figures"]

_PLACES = {
    "bar": "the first beat", "mid": "the middle of the bar", "beat": "a beat",
    "off": "between the beats", "sub": "the weakest places",
}  # fmt: skip
SLUR_WHY = {
    "slur_figure": "a slur in a rhythm like this",
    "slur_step": "a step slurred",
    "slur_third": "a third slurred",
    "slur_leap": "a leap slurred",
    "slur_upwards": "a slur upwards",
    "slur_crossing": "a slur over two strings",
    "slur_skipping": "a slur that jumps over a string",
    "slur_quick": "very quick notes slurred",
    "slur_brisk": "quick notes slurred",
    "slur_slow": "slow notes slurred",
    "slur_over_bar": "a slur over the bar line",
    "slur_new_level": "a slur into another dynamic",
    "slur_grace": "a grace note slurred to its note",
    **{f"slur_onto_{p}": f"a slur onto {w}" for p, w in _PLACES.items()},
    **{f"slur_to_longer_{p}": f"a slur to a longer note on {w}" for p, w in _PLACES.items()},
    **{f"slur_to_shorter_{p}": f"a slur to a shorter note on {w}" for p, w in _PLACES.items()},
    **{f"slur_of_{n}": f"a slur of {n} notes" for n in (2, 3, 4)},
    "slur_of_5": "a slur of five notes or more",
    **{f"slur_step_onto_{p}": f"a step slurred onto {w}" for p, w in _PLACES.items()},
    **{f"slur_wide_onto_{p}": f"a wide slur onto {w}" for p, w in _PLACES.items()},
    **{
        f"slur_of_{n}_from_{p}": f"a slur of {n} from {w}"
        for n in (2, 3, 4, 5) for p, w in _PLACES.items()
    },
    **{
        f"slur_of_{n}_from_{p}_compound": f"a slur of {n} from {w} of a compound bar"
        for n in (2, 3, 4, 5) for p, w in _PLACES.items()
    },
    "slur_after_leap": "a slur after a leap",
    "slur_before_leap": "a slur before a leap",
    "slur_after_step": "a slur after a step",
    "slur_before_step": "a slur before a step",
    "slur_triplet": "a triplet slurred",
    "slur_after_longer": "a slur after a longer note",
    "slur_before_longer": "a slur before a longer note",
    **{f"slur_until_{p}": f"a slur that ends before {w}" for p, w in _PLACES.items()},
    "slur_until_end": "a slur to the end",
    "slur_fills_1": "a slur that fills a beat",
    "slur_fills_2": "a slur that fills two beats",
    "slur_half_beat": "a slur that fills half a beat",
    "slur_long": "a long slur",
    "slur_equal": "equal notes slurred",
    "slur_one_way": "a run slurred",
    "slur_after_slur": "a slur after a slur",
    "slur_after_single": "a slur after a single note",
    "single_after_slur": "a single note after a slur",
}  # fmt: skip
# Only what makes a difference has a row: see `scripts/calibrate.py`.
SLUR_WORTH: dict[str, float] = {
    name: rule(
        name, float(worth), "log odds", "planning.strokes.slur_features", SLUR_WHY[name],
        term="slur",
    )
    for name, worth in _FILE["slurs"].items()
}  # fmt: skip


@cache
def slur_figures() -> Mapping[str, float]:
    """What print says of each figure (see `planning.strokes.slur_figures`), in log odds."""
    found: dict[str, float] = json.loads((files(__package__) / "slur_figures.json").read_text())
    return found
