"""ABC as people write it, made what the converter reads right: bar lines that stand twice, broken
rhythm over grace notes, and the scale of the bagpipes."""

from __future__ import annotations

import re
from fractions import Fraction

# What XML, as which it is read on, cannot hold (published standard: XML 1.0, section 2.2).
_NO_LETTERS = re.compile("[^\t\n\r\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
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


def decoded(data: bytes) -> str:
    """ABC text of either usual encoding, without what is no letter."""
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("latin-1")
    return _NO_LETTERS.sub("", text)


_JUMP = re.compile(r"!D\.([CS])\.al(?:coda|fine)!")
_TIMES = re.compile(r"(?<=[|\[])(\d)\s*-\s*(\d)")  # of an ending
_VOICE = re.compile(r"\[?V:\s*(\S+?)(?:[\s\]]|$)")
_BACKWARD = '<repeat direction="backward"'


def with_times(xml: str, text: str) -> str:
    """MusicXML that was made from a text, with how often its repeats are played: `::|` is three
    times (published: the ABC standard 2.1, section 4.8, quoted from memory), which the converter
    leaves out."""
    times = list(_times_by_voice(text).values())
    parts = xml.split("<part id=")
    if all(t == 2 for voice in times for t in voice) or len(parts) != len(times) + 1:
        return xml
    for k, voice in enumerate(times, start=1):
        pieces = parts[k].split(_BACKWARD)
        if len(pieces) == len(voice) + 1:
            signs = [f'{_BACKWARD} times="{n}"' if n > 2 else _BACKWARD for n in voice]
            joined = (part for pair in zip(signs, pieces[1:], strict=True) for part in pair)
            parts[k] = "".join([pieces[0], *joined])
    return "<part id=".join(parts)


def _times_by_voice(text: str) -> dict[str, list[int]]:
    """How often each repeat is played, by voice in their order."""
    voices: dict[str, list[int]] = {}
    voice, begun = "", 1
    for line in text.split("\n"):
        named = _VOICE.match(line.strip())
        if named is None and _FIELD.match(line.strip()):
            continue
        for found in [named, *([] if named and line.startswith("V:") else _TOKEN.finditer(line))]:
            if found is not None and (inner := _VOICE.match(found[0])):
                voice = inner[1]
                voices.setdefault(voice, [])
            elif found is not None and found["bar"] and ":" in found["bar"]:
                ends, begins = re.fullmatch(r"(:*)[^:]*(:*)", found["bar"]).groups()  # type: ignore[union-attr]
                if not begins and "|" not in found["bar"]:
                    ends, begins = ":", ":"
                if ends:
                    voices.setdefault(voice, []).append(1 + max(len(ends), begun))
                begun = max(1, len(begins))
    return voices or {"": []}


def readable(text: str) -> str:
    """The text as the converter takes it right."""
    text = _JUMP.sub(r"!D.\1.!", text)
    text = _TIMES.sub(lambda m: ",".join(map(str, range(int(m[1]), int(m[2]) + 1))), text)
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
