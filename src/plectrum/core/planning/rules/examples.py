"""Small tunes that a rule decides, one a rule; written by `scripts/find_examples.py`."""

from plectrum.core.planning.rules.example import Example

FOUND: dict[str, Example] = {
    "down_whole_bar": Example(
        "A4*3/2 B4*1/2 A4|A4*3",
        "bows",
        metre="3/4",
        bpm=104.0,
        player="growing",
        school={"dotted": "lift"},
        kind="together",
    ),
    "down_on_bar": Example("A4 B4 A4|A4 B4 A4", "bows", metre="3/4", kind="repeat"),
    "down_on_bar_compound": Example(
        "[p] A4*1/2( B4*1/2) A4*1/2 B4*3/2|A4*1/2( B4*1/2) A4*1/2 B4*3/2",
        "bows",
        metre="6/8",
        instrument="cello",
    ),
    "down_on_mid": Example("A4*2 B4*2|r A4 B4 A4", "bows", bpm=104.0),
    "down_on_mid_compound": Example(
        "[p] r*1/2 A4*1/2 B4*1/2 A4*3/2|r*1/2 A4*1/2 B4*1/2 A4*3/2",
        "bows",
        metre="6/8",
        instrument="cello",
        school={"dotted": "hook"},
        kind="pinned",
    ),
    "down_on_beat": Example(
        "[pp] r A4 B4 A4|r A4 B4 A4", "bows", bpm=50.0, player="starter", school={"dotted": "hook"}
    ),
    "down_on_off": Example(
        "[f] [>] A4u B4*1/2 A4 B4*1/2", "bows", metre="6/8", player="growing", kind="sforzando"
    ),
    "down_on_off_compound": Example(
        "A4 B4*1/2 A4 B4*1/2", "bows", metre="6/8", bpm=240.0, player="growing", kind="together"
    ),
    "down_on_sub": Example(
        "[p] A4*7/4 B4*1/4 A4 B4",
        "bows",
        bpm=132.0,
        player="growing",
        school={"amount": "values"},
        kind="together",
    ),
    "down_on_sub_compound": Example(
        "[p] [<] A4*1/4 B4*1/4 A4u B4*1/2 A4*1/4 B4*3/4|A4*3/2 B4*3/2|A4*3/2 B4*3/2",
        "bows",
        metre="6/8",
        bpm=40.0,
        instrument="cello",
        kind="marcato",
    ),
    "down_pickup": Example("A4|A4|A4|A4|A4", "bows", bpm=50.0, player="starter", kind="pickup"),
    "down_pickup_slur": Example(
        "[f] [>] A4*1/2( B4*1/2)|A4*1/2( B4*1/2)",
        "bows",
        bpm=66.0,
        instrument="cello",
        school={"direction": "travel"},
        kind="pickup",
    ),
    "down_quick_on_bar": Example(
        "[f] [>] A4*3 r|A4*1/4 B4*1/4 A4*1/2 B4 A4*2|A4*2 [<] B4*2 [x]",
        "bows",
        bpm=240.0,
        instrument="bass",
        kind="repeat",
    ),
    "down_start": Example(
        "A4*2 B4", "bows", metre="3/4", instrument="cello", school={"direction": "travel"}
    ),
    "hook": Example("A4 r B4 r", "bows", bpm=104.0, player="starter"),
    "hook_on_bar": Example(
        "[p] r A4 B4|A4*2 B4|A4*2 B4",
        "bows",
        metre="3/4",
        bpm=104.0,
        school={"dotted": "separate"},
        kind="pinned",
    ),
    "hook_on_mid": Example(
        "A4+E5+C6 B4 A4u B4", "bows", bpm=240.0, school={"direction": "downbeat"}
    ),
    "hook_on_beat": Example("A4*3/4 r*1/4 B4*1/4 A4*3/4 B4*2", "bows"),
    "hook_on_off": Example(
        "A4 B4*1/2 A4 B4*1/2", "bows", metre="6/8", bpm=240.0, player="growing", kind="together"
    ),
    "hook_on_sub": Example(
        "[p] A4|A4*3/2 r*1/4 B4*1/4 A4 B4",
        "bows",
        instrument="cello",
        player="growing",
        kind="pickup",
    ),
    "hook_over_bar": Example(
        "[p] A4 B4 A4|A4( B4) A4|A4*3|r A4 B4",
        "bows",
        metre="3/4",
        bpm=104.0,
        instrument="cello",
        player="growing",
        kind="together",
    ),
    "hook_at_seam": Example(
        "A4*1/2 B4*1/2 A4 B4 A4*1/2 r*1/2|A4*4", "bows", bpm=60.0, player="starter", kind="repeat"
    ),
    "hook_over_rest": Example(
        "[p] A4|A4*3/2 r*1/4 B4*1/4 A4 B4",
        "bows",
        instrument="cello",
        player="growing",
        kind="pickup",
    ),
    "hook_over_rest_on_sub": Example(
        "[p] A4|A4*3/2 r*1/4 B4*1/4 A4 B4",
        "bows",
        instrument="cello",
        player="growing",
        kind="pickup",
    ),
    "hook_quick": Example(
        "[p] A4*3/4( B4*1/4) A4*3/4 B4*1/4 A4*2", "bows", bpm=132.0, instrument="cello"
    ),
    "hook_after_long": Example(
        "[p] A4*3/2 r*1/4 B4*1/4 A4 B4", "bows", bpm=132.0, instrument="cello", player="growing"
    ),
    "hook_pair": Example(
        "A4 B4*1/2 A4 B4*1/2", "bows", metre="6/8", bpm=240.0, player="growing", kind="together"
    ),
    "hook_equal_notes": Example(
        "[p] A4*1/4 B4*1/4 A4 B4*1/2 A4*1/4 B4*3/4",
        "bows",
        metre="6/8",
        bpm=240.0,
        instrument="cello",
        player="growing",
        school={"dotted": "separate"},
    ),
    "hook_to_longer": Example(
        "[p] r A4 B4|A4*2 B4|A4*2 B4",
        "bows",
        metre="3/4",
        bpm=104.0,
        school={"dotted": "separate"},
        kind="pinned",
    ),
    "hook_after_slur_on_sub": Example(
        "A4*2( B4*3/4) A4*1/4 B4", "bows", bpm=240.0, player="growing", kind="pinned"
    ),
    "hook_up": Example("A4+E5+C6 B4 A4u B4", "bows", bpm=240.0, school={"direction": "downbeat"}),
    "hook_up_over_rest": Example(
        "[pp] A4( B4)|r A4 B4",
        "bows",
        metre="3/4",
        bpm=240.0,
        instrument="bass",
        player="growing",
        school={"dotted": "separate"},
        kind="pickup",
    ),
    "slur_repeat": Example(
        "A4*1/4 A4*1/4 B4*1/2 D5", "slurs", metre="2/4", school={"slurs": "song"}
    ),
    "slur_skipping": Example(
        "A4*1/4 E5*1/4 G3*1/2( A4",
        "slurs",
        metre="2/4",
        player="growing",
        school={"slurs": "help"},
        kind="many slurs",
    ),
    "slur_quick": Example(
        "A4*3/4 B4*1/4 A4*3/4 B4*1/4",
        "slurs",
        metre="2/4",
        bpm=120.0,
        player="growing",
        school={"slurs": "help"},
    ),
    "slur_slow": Example(
        "A4 B4", "slurs", metre="2/4", bpm=120.0, player="growing", school={"slurs": "help"}
    ),
    "slur_over_bar": Example(
        "A4*3/2 B4*3/2|A4*3/2 B4*3/2", "slurs", metre="6/8", bpm=120.0, school={"slurs": "song"}
    ),
    "slur_onto_mid": Example(
        "A4*3/2 B4*3/2", "slurs", metre="6/8", player="growing", school={"slurs": "help"}
    ),
    "slur_onto_beat": Example(
        "A4 B4", "slurs", metre="2/4", bpm=120.0, player="growing", school={"slurs": "help"}
    ),
    "slur_onto_off": Example(
        "A4*1/2 B4 A4 B4*1/2", "slurs", metre="6/8", player="growing", school={"slurs": "song"}
    ),
    "slur_to_longer_bar": Example(
        "A4*1/3 B4*1/3 C#5*1/3 D5|A4^ B4 A4|A4*2",
        "slurs",
        metre="2/4",
        bpm=50.0,
        school={"slurs": "song"},
    ),
    "slur_to_longer_mid": Example(
        "A4 B4*1/2 C#5 D5*1/2", "slurs", metre="6/8", school={"slurs": "song"}
    ),
    "slur_to_longer_beat": Example(
        "A4 B4 C#5*1/2 B4*1/2 A4",
        "slurs",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_to_longer_off": Example(
        "A4*1/2 B4 A4 B4*1/2", "slurs", metre="6/8", player="growing", school={"slurs": "song"}
    ),
    "slur_to_longer_sub": Example(
        "A4*2|A4*1/4 B4*3/4 C#5*1/4 D5*3/4",
        "slurs",
        metre="2/4",
        bpm=50.0,
        school={"slurs": "song"},
    ),
    "slur_to_shorter_bar": Example(
        "A4 B4|A4*1/4 E5*1/4 G3*1/2 A4",
        "slurs",
        metre="2/4",
        school={"slurs": "song"},
        kind="pickup",
    ),
    "slur_to_shorter_mid": Example(
        "A4 B4 C#5*1/2 B4*1/2 A4",
        "slurs",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_to_shorter_beat": Example(
        "A4*2|A4*1/4 B4*3/4 C#5*1/4 D5*3/4",
        "slurs",
        metre="2/4",
        bpm=50.0,
        school={"slurs": "song"},
    ),
    "slur_to_shorter_off": Example(
        "A4*1/2 B4 A4 B4*1/2", "slurs", metre="6/8", player="growing", school={"slurs": "song"}
    ),
    "slur_to_shorter_sub": Example(
        "A4*3/4 B4*1/4 A4*3/4 B4*1/4",
        "slurs",
        metre="2/4",
        bpm=50.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_of_2": Example(
        "A4 B4", "slurs", metre="2/4", bpm=120.0, player="growing", school={"slurs": "song"}
    ),
    "slur_of_4": Example(
        "A4*1/2 B4 A4 B4*1/2", "slurs", metre="6/8", player="growing", school={"slurs": "song"}
    ),
    "slur_of_5": Example(
        "A4 B4 C#5*1/2 B4*1/2 A4",
        "slurs",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_step_onto_mid": Example(
        "A4*3/2 B4*3/2", "slurs", metre="6/8", player="growing", school={"slurs": "help"}
    ),
    "slur_step_onto_sub": Example(
        "A4*1/3 B4*1/3 C#5*1/3 D5",
        "slurs",
        metre="2/4",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_wide_onto_mid": Example(
        "G3*3/2 A4*1/4 E5*1/4 B4*1/2 C#5*1/2 D5",
        "slurs",
        bpm=50.0,
        player="growing",
        school={"slurs": "song"},
    ),
    "slur_of_2_from_mid": Example(
        "A4 B4 C#5*1/2 B4*1/2 A4",
        "slurs",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_of_2_from_off": Example(
        "A4 B4 C#5*1/2 B4*1/2 A4",
        "slurs",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_of_2_from_sub": Example(
        "A4*1/4 A4*1/4 B4*1/2 D5", "slurs", metre="2/4", school={"slurs": "song"}
    ),
    "slur_of_3_from_mid": Example(
        "A4 B4 C#5*1/2 B4*1/2 A4",
        "slurs",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_of_3_from_off": Example(
        "A4*3/2 B4*1/2 A4*3/2 B4*1/2", "slurs", bpm=50.0, school={"slurs": "song"}
    ),
    "slur_of_3_from_sub": Example(
        "A4*1/4 A4*1/4 B4*1/2 D5", "slurs", metre="2/4", school={"slurs": "song"}
    ),
    "slur_of_4_from_bar": Example(
        "A4 B4 C#5*1/2 B4*1/2 A4",
        "slurs",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_of_4_from_mid": Example(
        "A4 B4 C#5*1/2 B4*1/2 A4|A4 B4 C#5*1/2 B4*1/2 A4",
        "slurs",
        bpm=50.0,
        player="growing",
        school={"slurs": "song"},
    ),
    "slur_of_4_from_beat": Example(
        "A4 B4 C#5*1/2 B4*1/2 A4",
        "slurs",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_of_4_from_sub": Example(
        "G4*1/4 B4*1/4 D5*1/4 B4*1/4 A4", "slurs", metre="2/4", bpm=120.0, school={"slurs": "song"}
    ),
    "slur_of_5_from_bar": Example(
        "A4 B4 C#5*1/2 B4*1/2 A4",
        "slurs",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_of_5_from_off": Example(
        "G3*3/2 A4*1/4 E5*1/4 B4*1/2 C#5*1/2 D5",
        "slurs",
        bpm=50.0,
        player="growing",
        school={"slurs": "song"},
    ),
    "slur_of_5_from_sub": Example(
        "A4*1/8 B4*1/8 C#5*1/8 D5*1/8 E5*1/2 A4",
        "slurs",
        metre="2/4",
        bpm=120.0,
        school={"slurs": "song"},
    ),
    "slur_of_2_from_bar_compound": Example(
        "A4*3/2 B4*3/2",
        "slurs",
        metre="6/8",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_of_2_from_mid_compound": Example(
        "A4*1/2 B4 A4 B4*1/2", "slurs", metre="6/8", player="growing", school={"slurs": "song"}
    ),
    "slur_of_2_from_sub_compound": Example(
        "A4*3/4 B4*1/4 A4*1/2 B4*1/2 A4",
        "slurs",
        metre="6/8",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_of_3_from_bar_compound": Example(
        "A4*1/2 B4 A4 B4*1/2", "slurs", metre="6/8", player="growing", school={"slurs": "song"}
    ),
    "slur_of_3_from_mid_compound": Example(
        "A4*3/2 B4*3/2|A4*3/2 B4*3/2", "slurs", metre="6/8", bpm=120.0, school={"slurs": "song"}
    ),
    "slur_of_3_from_off_compound": Example(
        "A4*1/2 B4 A4 B4*1/2", "slurs", metre="6/8", player="growing", school={"slurs": "song"}
    ),
    "slur_of_3_from_sub_compound": Example(
        "A4*3/4 B4*1/4 A4*1/2 B4*1/2 A4",
        "slurs",
        metre="6/8",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_of_4_from_bar_compound": Example(
        "A4*1/2 B4 A4 B4*1/2", "slurs", metre="6/8", player="growing", school={"slurs": "song"}
    ),
    "slur_of_4_from_mid_compound": Example(
        "A4*3/2 B4*3/2|A4 B4*1/2 C#5 D5*1/2",
        "slurs",
        metre="6/8",
        player="growing",
        school={"slurs": "song"},
    ),
    "slur_of_4_from_off_compound": Example(
        "A4*1/2 B4 A4 B4*1/2|A4*1/2 B4 A4 B4*1/2",
        "slurs",
        metre="6/8",
        bpm=50.0,
        school={"slurs": "song"},
    ),
    "slur_before_leap": Example(
        "A4 B4|A4*1/4 E5*1/4 G3*1/2 A4",
        "slurs",
        metre="2/4",
        school={"slurs": "song"},
        kind="pickup",
    ),
    "slur_triplet": Example(
        "A4*1/3 B4*1/3 C#5*1/3 D5",
        "slurs",
        metre="2/4",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_after_longer": Example(
        "A4 B4*1/2 C#5 D5*1/2", "slurs", metre="6/8", school={"slurs": "song"}
    ),
    "slur_before_longer": Example(
        "A4 B4*1/2 C#5 D5*1/2", "slurs", metre="6/8", school={"slurs": "song"}
    ),
    "slur_until_mid": Example(
        "A4*1/2 B4 A4 B4*1/2", "slurs", metre="6/8", player="growing", school={"slurs": "song"}
    ),
    "slur_until_beat": Example(
        "A4 B4 C#5*1/2 B4*1/2 A4",
        "slurs",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_until_off": Example(
        "A4*1/2 B4 A4 B4*1/2", "slurs", metre="6/8", player="growing", school={"slurs": "song"}
    ),
    "slur_until_sub": Example(
        "A4*1/3 B4*1/3 C#5*1/3 D5",
        "slurs",
        metre="2/4",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_until_end": Example(
        "A4 B4", "slurs", metre="2/4", bpm=120.0, player="growing", school={"slurs": "song"}
    ),
    "slur_fills_1": Example(
        "A4*1/2 B4 A4 B4*1/2", "slurs", metre="6/8", player="growing", school={"slurs": "song"}
    ),
    "slur_fills_2": Example(
        "A4 B4", "slurs", metre="2/4", bpm=120.0, player="growing", school={"slurs": "song"}
    ),
    "slur_one_way": Example("A4 B4*1/2 C#5 D5*1/2", "slurs", metre="6/8", school={"slurs": "song"}),
    "slur_after_slur": Example(
        "A4 B4", "slurs", metre="2/4", bpm=120.0, player="growing", school={"slurs": "song"}
    ),
    "slur_after_single": Example(
        "A4 B4", "slurs", metre="2/4", bpm=120.0, player="growing", school={"slurs": "song"}
    ),
    "single_after_slur": Example(
        "A4 B4", "slurs", metre="2/4", bpm=120.0, player="growing", school={"slurs": "song"}
    ),
    "amount_less": Example("A4*3", "bows", metre="3/4", bpm=50.0, kind="pinned"),
    "amount_more": Example("A4|A4", "bows", bpm=240.0, player="growing", kind="pickup"),
    "place": Example("A4|A4", "bows", bpm=240.0, player="growing", kind="pickup"),
    "crossing": Example("[p] G3 E5 G3 E5", "bows", bpm=132.0, player="growing", kind="marcato"),
    "limit": Example(
        "[pp] A4*4",
        "bows",
        bpm=104.0,
        instrument="cello",
        player="starter",
        school={"dotted": "separate"},
        kind="together",
    ),
    "too_fast": Example(
        "[f] [>] A4*1/4> B4*15/4|A4*1/4> B4*15/4|[p] [<] A4*4 [x]",
        "bows",
        bpm=50.0,
        instrument="bass",
        player="starter",
        kind="repeat",
    ),
    "too_slow": Example(
        "[pp] [p] [<] A4*4 [x]",
        "bows",
        bpm=40.0,
        instrument="bass",
        player="starter",
        kind="together",
    ),
    "speed_class_ratio": Example(
        "A4( B4) A4",
        "bows",
        metre="3/4",
        bpm=132.0,
        instrument="cello",
        player="growing",
        school={"amount": "values"},
    ),
    "even": Example(
        "A4( B4) A4",
        "bows",
        metre="3/4",
        bpm=132.0,
        instrument="cello",
        player="growing",
        school={"amount": "values"},
    ),
    "even_after_rest": Example(
        "[ff] r*1/2 A4*1/2 B4*1/2 A4*3/2|r*1/2 A4*1/2 B4*1/2 A4*3/2|r*1/2 A4*1/2 B4*1/2 A4*3/2|A4*1/4 B4*1/4 A4 B4*1/2 A4*1/4 B4*3/4",
        "bows",
        metre="6/8",
        bpm=104.0,
        kind="repeat",
    ),
    "strong_beats": Example("r A4 B4 A4", "bows", player="starter"),
    "few_hooks": Example(
        "[p] A4*2( B4*3/4) A4*1/4 B4",
        "bows",
        bpm=66.0,
        player="growing",
        school={"direction": "flow"},
        kind="sforzando",
    ),
    "stopping_rest_s": Example(
        "[pp] A4( B4)|r A4 B4",
        "bows",
        metre="3/4",
        bpm=240.0,
        instrument="bass",
        player="growing",
        school={"dotted": "separate"},
        kind="pickup",
    ),
    "rest_hook": Example(
        "[pp] A4( B4)|r A4 B4",
        "bows",
        metre="3/4",
        bpm=240.0,
        instrument="bass",
        player="growing",
        school={"dotted": "separate"},
        kind="pickup",
    ),
    "seam_hook": Example("A4 B4 A4|A4 B4 A4", "bows", metre="3/4", kind="repeat"),
    "short_s": Example(
        "[p] r A4 B4|A4*2 B4|A4*2 B4",
        "bows",
        metre="3/4",
        bpm=104.0,
        school={"dotted": "separate"},
        kind="pinned",
    ),
    "short_hook": Example(
        "[p] r A4 B4|A4*2 B4|A4*2 B4",
        "bows",
        metre="3/4",
        bpm=104.0,
        school={"dotted": "separate"},
        kind="pinned",
    ),
    "slow_s": Example(
        "[pp] A4( B4) A4|r A4u B4|A4*2 B4", "bows", metre="3/4", player="growing", kind="repeat"
    ),
    "slow_hook": Example(
        "[pp] A4( B4) A4|r A4u B4|A4*2 B4", "bows", metre="3/4", player="growing", kind="repeat"
    ),
    "crowded_hook": Example(
        "[ff] A4*3|A4*3|A4u B4 A4",
        "bows",
        metre="3/4",
        bpm=104.0,
        instrument="cello",
        player="growing",
        kind="repeat",
    ),
    "crowded_from": Example(
        "[p] [<] A4( B4) C#5 D5", "bows", bpm=66.0, school={"amount": "values"}, kind="repeat"
    ),
    "two_ups_hook": Example(
        "A4( B4) C#5 D5", "bows", bpm=104.0, instrument="cello", kind="marcato"
    ),
    "balance_s": Example("A4( B4) C#5 D5", "bows", bpm=104.0, instrument="cello", kind="marcato"),
    "balance_share": Example(
        "A4( B4) C#5 D5", "bows", bpm=104.0, instrument="cello", kind="marcato"
    ),
    "triple_hook": Example(
        "[pp] A4*3|A4 B4 A4", "bows", metre="3/4", bpm=50.0, instrument="bass", player="growing"
    ),
    "triple_s": Example(
        "[pp] A4*3|A4 B4 A4", "bows", metre="3/4", bpm=50.0, instrument="bass", player="growing"
    ),
    "pair_hooked": Example(
        "A4 B4*1/2 A4 B4*1/2|A4*3/2 B4*3/2",
        "bows",
        metre="6/8",
        bpm=66.0,
        instrument="bass",
        player="growing",
        school={"dotted": "hook"},
        kind="repeat",
    ),
    "hooked_pair_s": Example(
        "A4 B4*1/2 A4 B4*1/2|A4*3/2 B4*3/2",
        "bows",
        metre="6/8",
        bpm=66.0,
        instrument="bass",
        player="growing",
        school={"dotted": "hook"},
        kind="repeat",
    ),
    "pair_separate": Example(
        "[p] [<] A4*3/2 B4*1/2 A4|A4*2 B4",
        "bows",
        metre="3/4",
        bpm=240.0,
        player="growing",
        school={"dotted": "lift"},
        kind="marcato",
    ),
    "retake": Example("A4 r B4 r", "bows", bpm=104.0, player="starter"),
    "retake_rest": Example("A4 B4 r C5|A4*4", "bows", school={"rests": "lift"}),
    "lifted_rest_s": Example("A4 B4 r C5|A4*4", "bows", school={"rests": "lift"}),
    "retake_pair": Example(
        "A4*3/2 B4*1/2 A4|A4*3",
        "bows",
        metre="3/4",
        bpm=104.0,
        player="growing",
        school={"dotted": "lift"},
        kind="together",
    ),
    "not_learnt": Example(
        "[p] A4*3|A4*3", "bows", metre="3/4", bpm=120.0, player="starter", kind="repeat"
    ),
    "whole_bar_share": Example(
        "A4u B4 C#5 D5|A4*4", "bows", bpm=240.0, player="growing", school={"direction": "downbeat"}
    ),
    "rest_s": Example(
        "[pp] A4( B4)|r A4 B4",
        "bows",
        metre="3/4",
        bpm=240.0,
        instrument="bass",
        player="growing",
        school={"dotted": "separate"},
        kind="pickup",
    ),
    "quick_s": Example(
        "[p] A4*3/4( B4*1/4) A4*3/4 B4*1/4 A4*2", "bows", bpm=132.0, instrument="cello"
    ),
    "long_s": Example(
        "[p] A4*3/2 r*1/4 B4*1/4 A4 B4", "bows", bpm=132.0, instrument="cello", player="growing"
    ),
    "slur_gap_s": Example(
        "A4*1/2 B4*1/2 r*1/2 C#5*1/2 A4*1/2 G3*1/2 B4", "slurs", school={"slurs": "song"}
    ),
    "slur_added": Example(
        "A4 B4", "slurs", metre="2/4", bpm=120.0, player="growing", school={"slurs": "help"}
    ),
    "slur_dropped": Example(
        "A4 B4 C#5*1/2( B4*1/2) A4", "slurs", bpm=120.0, school={"slurs": "help"}, kind="many slurs"
    ),
    "slur_likely": Example(
        "A4 B4", "slurs", metre="2/4", bpm=120.0, player="growing", school={"slurs": "help"}
    ),
    "slur_share": Example(
        "A4 B4", "slurs", metre="2/4", bpm=120.0, player="growing", school={"slurs": "song"}
    ),
    "slur_amount": Example(
        "A4*3/2 B4*3/2",
        "slurs",
        metre="6/8",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_usual": Example(
        "A4 B4", "slurs", metre="2/4", bpm=120.0, player="growing", school={"slurs": "song"}
    ),
    "even_rest_s": Example(
        "A4( B4) A4",
        "bows",
        metre="3/4",
        bpm=132.0,
        instrument="cello",
        player="growing",
        school={"amount": "values"},
    ),
    "same": Example(
        "[p] A4 r B4 r|A4 r B4 r", "bows", bpm=132.0, instrument="bass", player="growing"
    ),
    "together": Example("A4*3", "bows", metre="3/4", bpm=40.0, kind="together"),
    "together_join": Example(
        "B4*1/2 E5*2 G3*1/2 E5*2u E5*2 B4u",
        "together",
        bpm=120.0,
        player="growing",
        other="A4*1/2 E5*2d A4*1/2 B4*2 G3*2 B4",
        other_player="starter",
    ),
    "together_place": Example(
        "B4*3/2 E5 G3*3/2 D4 D4",
        "together",
        player="starter",
        kind="pinned",
        other="A4*3/2 G3 A4*3/2 G3*2",
        other_player="starter",
    ),
    "together_held": Example(
        "B4*1/2 E5*2 G3*1/2 E5*2u E5*2 B4u",
        "together",
        bpm=120.0,
        player="growing",
        other="A4*1/2 E5*2d A4*1/2 B4*2 G3*2 B4",
        other_player="starter",
    ),
    "guard": Example(
        "G3*1/2u E5*1/2 B4*2u A4d B4*1/2u r",
        "together",
        bpm=120.0,
        player="starter",
        other="G3*1/2u E5*1/2 A4*2 B4u A4*1/2d r",
        other_player="starter",
    ),
    "travel": Example("A4*3 r|A4*3 r", "bows"),
    "mark": Example("r A4u B4", "bows", metre="3/4", bpm=132.0),
    "pin": Example("A4*3", "bows", metre="3/4", bpm=50.0, kind="pinned"),
    "bite_s": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="sforzando"),
    "bite_share": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="sforzando"),
    "bite_lean": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="sforzando"),
    "bite_speed": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="sforzando"),
    "bite_from_s": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="sforzando"),
    "bite_of_accent": Example(
        "A4*1/4> B4*15/4",
        "touch",
        bpm=66.0,
        instrument="bass",
        player="growing",
        school={"dotted": "separate"},
        kind="together",
    ),
    "bite_of_marcato": Example(
        "A4*4",
        "touch",
        bpm=50.0,
        instrument="bass",
        player="starter",
        school={"dotted": "lift"},
        kind="marcato",
    ),
    "bite_of_sforzando": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="sforzando"),
    "slow_enough": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="sforzando"),
    "staccato_lean": Example(
        "A4*1/2 r*1/2 B4 A4. B4.",
        "touch",
        instrument="cello",
        school={"amount": "values"},
        kind="sforzando",
    ),
    "level_per_neper_db": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="sforzando"),
    "hand_at_frog": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="sforzando"),
    "hand_to_tip": Example("[ff] A4*3", "touch", metre="3/4", bpm=66.0, kind="marcato"),
    "even_db": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="pinned"),
    "even_range_s": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="sforzando"),
    "at_turn": Example(
        "A4*1/4> B4*15/4",
        "touch",
        bpm=66.0,
        instrument="bass",
        player="growing",
        school={"dotted": "separate"},
        kind="together",
    ),
    "inside_slur": Example("A4( B4) A4", "touch", metre="3/4", bpm=66.0, instrument="cello"),
    "at_hook": Example(
        "[p] [<] A4*3|A4*3/2 B4*1/2 A4|r A4u B4|A4*2 B4",
        "touch",
        metre="3/4",
        bpm=40.0,
        player="growing",
        kind="repeat",
    ),
    "at_new_level": Example(
        "A4*2 B4",
        "touch",
        metre="3/4",
        bpm=132.0,
        instrument="bass",
        player="starter",
        kind="sforzando",
    ),
    "new_level_db": Example(
        "A4( B4) A4", "touch", metre="3/4", bpm=104.0, player="growing", kind="sforzando"
    ),
    "in_hairpin": Example(
        "[ff] [f] [>] A4( B4) A4*2 [x]", "touch", bpm=40.0, instrument="bass", player="growing"
    ),
    "at_rest": Example(
        "[p] A4 r B4 r",
        "touch",
        bpm=40.0,
        player="growing",
        school={"dotted": "lift"},
        kind="sforzando",
    ),
    "moving_rest_s": Example(
        "A4*1/2 r*1/2 B4 A4. B4.",
        "touch",
        instrument="cello",
        school={"amount": "values"},
        kind="sforzando",
    ),
    "bite_in": Example(
        "A4*2 B4",
        "touch",
        metre="3/4",
        bpm=132.0,
        instrument="bass",
        player="starter",
        kind="sforzando",
    ),
    "bite_out": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="sforzando"),
    "loud": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="pinned"),
    "loud_knee": Example("[ff] A4*3 r", "touch", bpm=50.0, player="growing", kind="sforzando"),
    "too_loud_share": Example(
        "A4*4", "touch", bpm=104.0, player="growing", school={"dotted": "separate"}
    ),
    "neutral": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="pinned"),
    "weight_db": Example(
        "A4*4", "touch", bpm=104.0, player="growing", school={"dotted": "separate"}
    ),
    "off_neutral": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="sforzando"),
    "off_wished": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="pinned"),
    "window": Example(
        "A4*4",
        "touch",
        bpm=50.0,
        instrument="bass",
        player="starter",
        school={"dotted": "lift"},
        kind="marcato",
    ),
    "wall": Example(
        "A4*4",
        "touch",
        bpm=50.0,
        instrument="bass",
        player="starter",
        school={"dotted": "lift"},
        kind="marcato",
    ),
    "wall_s": Example(
        "[ff] A4*3/2 B4*3/2",
        "touch",
        metre="6/8",
        bpm=66.0,
        instrument="bass",
        school={"dotted": "hook"},
        kind="marcato",
    ),
    "home": Example(
        "[p] [<] A4|A4", "touch", metre="3/4", bpm=132.0, instrument="bass", kind="pickup"
    ),
    "lane_snap": Example(
        "A4*4", "touch", bpm=104.0, player="growing", school={"dotted": "separate"}
    ),
    "lane_edge": Example(
        "[p] [<] A4|A4", "touch", metre="3/4", bpm=132.0, instrument="bass", kind="pickup"
    ),
    "string_kept": Example("A4*3", "touch", metre="3/4", bpm=50.0, kind="pinned"),
    "register": Example("[p] A4*3 B4", "touch", bpm=50.0, player="growing", kind="marcato"),
    "lane_move": Example("A4*1/4> B4*15/4", "touch", bpm=60.0, player="growing", kind="marcato"),
    "lane_move_once": Example("[p] A4*3 B4", "touch", bpm=50.0, player="growing", kind="marcato"),
    "lean": Example(
        "A4 B4 A4",
        "touch",
        metre="3/4",
        bpm=240.0,
        instrument="bass",
        player="starter",
        kind="sforzando",
    ),
    "lean_once": Example(
        "[f] [>] A4> B4 A4> B4", "touch", player="growing", school={"amount": "values"}
    ),
    "shape_from_db": Example(
        "A4*2 [<] B4*2 [x]", "touch", bpm=104.0, instrument="bass", player="starter"
    ),
    "shape_from_s": Example(
        "A4*2 [<] B4*2 [x]", "touch", bpm=104.0, instrument="bass", player="starter"
    ),
    "shape_db": Example(
        "A4*2 [<] B4*2 [x]", "touch", bpm=104.0, instrument="bass", player="starter"
    ),
    "shape_most": Example(
        "A4*2 [<] B4*2 [x]", "touch", bpm=104.0, instrument="bass", player="starter"
    ),
    "reach_db": Example(
        "A4*4",
        "warned",
        bpm=50.0,
        instrument="bass",
        player="starter",
        school={"dotted": "lift"},
        kind="marcato",
    ),
    "too_loud_db": Example(
        "[pp] A4*4",
        "warned",
        bpm=104.0,
        instrument="cello",
        player="starter",
        school={"dotted": "separate"},
        kind="together",
    ),
    "fed_from_db": Example("[pp] A4*4", "bows", bpm=66.0, player="growing"),
    "elbow_share": Example("[p] G3 E5 G3 E5", "touch", bpm=132.0, player="growing", kind="marcato"),
    "fault_margin": Example("A4*3", "causes", metre="3/4", bpm=50.0, kind="pinned"),
    "fault_clearly": Example("A4*3", "causes", metre="3/4", bpm=50.0, kind="pinned"),
    "slur_figure": Example(
        "A4 B4", "slurs", metre="2/4", bpm=120.0, player="growing", school={"slurs": "help"}
    ),
    "slur_brisk": Example(
        "A4*1/4 A4*1/4 B4*1/2 D5", "slurs", metre="2/4", school={"slurs": "song"}
    ),
    "slur_onto_bar": Example(
        "A4*3/2 B4*3/2|A4*3/2 B4*3/2", "slurs", metre="6/8", bpm=120.0, school={"slurs": "song"}
    ),
    "slur_onto_sub": Example(
        "A4*1/4 A4*1/4 B4*1/2 D5", "slurs", metre="2/4", school={"slurs": "song"}
    ),
    "slur_step_onto_bar": Example(
        "A4*3/2 B4*3/2|A4*3/2 B4*3/2", "slurs", metre="6/8", bpm=120.0, school={"slurs": "song"}
    ),
    "slur_of_5_from_bar_compound": Example(
        "A4*3/4 B4*1/4 A4*1/2 B4*1/2 A4",
        "slurs",
        metre="6/8",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_half_beat": Example(
        "A4*1/4 A4*1/4 B4*1/2 D5", "slurs", metre="2/4", school={"slurs": "song"}
    ),
    "slur_long": Example(
        "A4 B4 C#5*1/2 B4*1/2 A4",
        "slurs",
        bpm=120.0,
        player="growing",
        school={"slurs": "song"},
        kind="many slurs",
    ),
    "slur_equal": Example(
        "A4 B4", "slurs", metre="2/4", bpm=120.0, player="growing", school={"slurs": "song"}
    ),
    "down_slow_on_bar": Example(
        "[p] A4*7/4 B4*1/4 A4 B4",
        "bows",
        bpm=132.0,
        player="growing",
        school={"amount": "values"},
        kind="together",
    ),
    "down_last_in_bar": Example(
        "[p] A4 r B4 r|A4 r B4 r", "bows", bpm=132.0, instrument="bass", player="growing"
    ),
    "down_chord": Example(
        "[p] A4+E5+C6 B4 A4 B4",
        "bows",
        bpm=104.0,
        instrument="bass",
        player="growing",
        school={"dotted": "separate"},
        kind="together",
    ),
    "hook_slow": Example(
        "A4*3/2 B4*1/2 A4|A4*3/2 B4*1/2 A4", "bows", metre="3/4", bpm=104.0, player="growing"
    ),
    "hook_slow_plain": Example(
        "A4*3/2 B4*1/2 A4|A4*3/2 B4*1/2 A4", "bows", metre="3/4", bpm=104.0, player="growing"
    ),
    "hook_slow_pair": Example(
        "A4*3/2 B4*1/2 A4|A4*3/2 B4*1/2 A4", "bows", metre="3/4", bpm=104.0, player="growing"
    ),
    "hook_plain": Example(
        "[p] A4*7/4 B4*1/4 A4 B4",
        "bows",
        bpm=132.0,
        player="growing",
        school={"amount": "values"},
        kind="together",
    ),
    "hook_plain_inside": Example(
        "[p] A4*7/4 B4*1/4 A4 B4",
        "bows",
        bpm=132.0,
        player="growing",
        school={"amount": "values"},
        kind="together",
    ),
    "hook_plain_pair": Example(
        "A4 B4*1/2 A4 B4*1/2", "bows", metre="6/8", bpm=240.0, player="growing", kind="together"
    ),
    "hook_break": Example(
        "[p] r*1/2 A4*1/2 B4*1/2 A4*3/2|r*1/2 A4*1/2 B4*1/2 A4*3/2|r*1/2 A4*1/2 B4*1/2 A4*3/2",
        "bows",
        metre="6/8",
        bpm=50.0,
        instrument="bass",
        kind="marcato",
    ),
    "hook_second": Example(
        "[p] A4*3/2 r*1/4 B4*1/4 A4 B4", "bows", bpm=132.0, instrument="cello", player="growing"
    ),
    "waiting_hook": Example("[p] A4 r B4 r|A4 r B4 r", "bows"),
    "first_beat": Example(
        "[f] [>] A4|A4*3|A4( B4) A4",
        "bows",
        metre="3/4",
        school={"direction": "downbeat"},
        kind="pickup",
    ),
    "last_hook": Example(
        "A4*1/2 B4*1/2|A4*1/2 B4*1/2|A4*1/2 B4*1/2",
        "bows",
        metre="6/8",
        bpm=132.0,
        player="growing",
        school={"direction": "downbeat"},
        kind="pickup",
    ),
    "last_hook_s": Example(
        "A4*1/2 B4*1/2|A4*1/2 B4*1/2|A4*1/2 B4*1/2",
        "bows",
        metre="6/8",
        bpm=132.0,
        player="growing",
        school={"direction": "downbeat"},
        kind="pickup",
    ),
    "reset_s": Example("A4*2 B4|r A4 B4", "bows", metre="3/4"),
    "break_s": Example(
        "[p] r*1/2 A4*1/2 B4*1/2 A4*3/2|r*1/2 A4*1/2 B4*1/2 A4*3/2|r*1/2 A4*1/2 B4*1/2 A4*3/2",
        "bows",
        metre="6/8",
        bpm=50.0,
        instrument="bass",
        kind="marcato",
    ),
    "slow_hook_s": Example(
        "[pp] A4*3/4 B4*1/4 A4*1/2 B4*3/2", "bows", metre="6/8", bpm=40.0, kind="marcato"
    ),
    "slow_bow_s": Example(
        "[p] A4*7/4 B4*1/4 A4 B4",
        "bows",
        bpm=132.0,
        player="growing",
        school={"amount": "values"},
        kind="together",
    ),
    "chord_rest_s": Example(
        "B4 A4+E5+C6 r A4+E5+C6",
        "bows",
        bpm=40.0,
        instrument="bass",
        player="starter",
        kind="repeat",
    ),
    "same_pair": Example(
        "[p] A4*3/4 B4*1/4 A4*3/4 B4*1/4 A4*2|A4 r B4 r", "bows", bpm=240.0, kind="pinned"
    ),
    "dotted_ratio": Example(
        "[p] A4*3/4 B4*1/4 A4*3/4 B4*1/4 A4*2|A4 r B4 r", "bows", bpm=240.0, kind="pinned"
    ),
}
