"""ABC as people write it, made what the converter reads right: bar lines that stand twice, broken
rhythm over grace notes, and the scale of the bagpipes."""

from __future__ import annotations

import re
from fractions import Fraction

_FIELD = re.compile(r"[A-Za-z+]:|%")
_ENDS_A_BAR = re.compile(r"[|\]]\s*(%.*)?$")
# What is no bar line though it may hold the signs of one, or a bar line.
_TOKEN = re.compile(
    r"""(?P<said>"[^"]*"(?=\s*\[?\|))|(?P<other>"[^"]*"|![^!\n]*!|%.*|\[[A-Za-z]:[^\]]*\])"""
    r"""|(?P<bar>:*(?:\[?\|+\]?)+:*|:*\.\||::+|:(?=\s*"[^"]*"\s*\[?\|))"""
)
# What the converter knows as one bar line.
_KNOWN = {"|", "||", "|]", "[|", "[|]", ".|", ":|", "|:", "::", ":|:", ":||:", ":|]", ":||"}
# The bagpipes' scale: two sharps, printed or not (published: the ABC standard 2.1, section 4.6,
# quoted from memory).
_PIPES = re.compile(r"(?m)^K:[ \t]*H[Pp]\b")
_NOTE = r"([=^_]*[A-Ga-gz][,']*)(\d*(?:/+\d*)?)"
_BROKEN_OVER_GRACE = re.compile(rf"{_NOTE}\s*([<>]{{1,3}})\s*(\{{[^}}]*\}}[^A-Ga-gz|\s]*){_NOTE}")


def readable(text: str) -> str:
    """The text as the converter takes it right."""
    return one_bar_line(_BROKEN_OVER_GRACE.sub(_spelled_out, _PIPES.sub("K:D", text)))


def _spelled_out(found: re.Match[str]) -> str:
    """Two notes in broken rhythm with graces between, their lengths written out."""
    first, first_length, broken, between, second, second_length = found.groups()
    short = Fraction(1, 2 ** len(broken))
    parts = (2 - short, short) if broken[0] == ">" else (short, 2 - short)
    lengths = [_length(text) * part for text, part in zip((first_length, second_length), parts,
                                                          strict=True)]  # fmt: skip
    return f"{first}{lengths[0]}{between}{second}{lengths[1]}"


def _length(text: str) -> Fraction:
    """A note's length as ABC has it: "", "3", "/", "//", "3/2"."""
    above, below = text.partition("/")[0], text.rpartition("/")[2] if "/" in text else "1"
    divided = int(below) if below else 2 ** text.count("/")
    return Fraction(int(above or 1), divided or 1)


def one_bar_line(text: str) -> str:
    """Bar lines with nothing between them stand once: in a line, and where one ends a line and
    another begins the next. The converter would make empty bars of them."""
    lines = text.split("\n")
    before: int | None = None
    for k, line in enumerate(lines):
        music = line.strip()
        if not music or _FIELD.match(music):
            before = None if music.startswith("V:") or not music else before
            continue
        lines[k] = _merged(line)
        music = lines[k].strip()
        if before is not None and music.startswith("||") and _ENDS_A_BAR.search(lines[before]):
            rest = music[2:]
            lines[k] = "|" + rest if rest.startswith(":") else rest
            lines[before] = _doubled(lines[before])
        before = k
    return "\n".join(lines)


def _doubled(line: str) -> str:
    """The bar line at the end of a line as a double one, if it is a plain one."""
    return re.sub(r"(?<![|:\[])\|(\s*(?:%.*)?)$", r"||\1", line)


def _merged(line: str) -> str:
    """A line of music in which no two bar lines meet."""
    out: list[str] = []
    run: list[str] = []  # bar lines that meet
    at = 0
    for found in _TOKEN.finditer(line):
        between = line[at : found.start()]
        at = found.end()
        meets = run and not between.strip()
        if meets and found["said"] is not None:  # a word at a bar line parts no bar lines
            out.append(found[0])
            continue
        if not meets or found["bar"] is None:
            out += [_one_of(run), between] if run else [between]
            run = []
        if found["bar"] is None:
            out.append(found[0])
        else:
            run.append(found["bar"])
    return "".join([*out, _one_of(run) if run else "", line[at:]])


def _one_of(run: list[str]) -> str:
    """The one bar line that several in a row are."""
    if len(run) == 1 and run[0] in _KNOWN:
        return run[0]
    ends, begins = run[0].startswith(":"), run[-1].endswith(":")
    signs = "".join(run)
    if ends and begins:
        return "::"
    if ends:
        return ":|"
    if begins:
        return "|:"
    if re.search(r"\|\]", signs.replace("[|]", "")):
        return "|]"
    return "||" if "||" in signs else "|"
