"""Random tunes and choices for property tests, from one place."""

from __future__ import annotations

from hypothesis import strategies as st

PITCHES = ("G3", "D4", "A4", "B4", "C#5", "E5", "A5")
DYNAMICS = ("", "", "", "[p] ", "[f] ", "[mf] ", "[<] ", "[x] ", "[ff] ")


@st.composite
def bars(draw: st.DrawFn, *, beats: int = 4, marks: bool = True, rests: bool = True) -> str:
    """One full bar: random rhythm, slurs, rests, dynamics, dots and bow marks."""
    tokens = []
    left = beats * 2  # in eighths
    slur_left = 0
    while left:
        length = draw(st.sampled_from([e for e in (1, 1, 2, 2, 3, 4) if e <= left]))
        left -= length
        token = f"{draw(st.sampled_from(DYNAMICS))}"
        if rests and slur_left == 0 and draw(st.integers(0, 7)) == 0:
            tokens.append(f"{token}r*{length}/2")
            continue
        signs = ""
        if slur_left == 0 and left > 2 and draw(st.integers(0, 3)) == 0:
            slur_left = draw(st.integers(1, 2))
            signs += "("
        elif slur_left:
            slur_left -= 1
            if slur_left == 0 or not left:
                slur_left = 0
                signs += ")"
        if marks and not signs and draw(st.integers(0, 9)) == 0:
            signs += draw(st.sampled_from("ud"))
        if not signs and draw(st.integers(0, 9)) == 0:
            signs += "."
        tokens.append(f"{token}{draw(st.sampled_from(PITCHES))}*{length}/2{signs}")
    return " ".join(tokens)


@st.composite
def tunes(draw: st.DrawFn, *, most_bars: int = 6, marks: bool = True) -> str:
    """A tune in common time that has at least one note."""
    music = draw(st.lists(bars(marks=marks), min_size=1, max_size=most_bars))
    return "A4*4|" + "|".join(music)


def players() -> st.SearchStrategy[str]:
    return st.sampled_from(["starter", "growing", "steady"])


def schools() -> st.SearchStrategy[str]:
    return st.sampled_from(["usual", "downbeat", "flow", "travel"])
