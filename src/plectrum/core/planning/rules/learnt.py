"""Rows of the rule table whose numbers are learnt from printed bow marks.

The numbers stand in `learnt.json`, with what they were learnt from; `make calibrate` writes it.
"""

from __future__ import annotations

import json
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
