"""Small tunes written in one line each, as MusicXML, for the tests.

A tune is bars split by "|". A token is PITCH*QUARTERS and signs after it, "r" being a rest:
u d bow marks, ( ) slur, . staccato, > accent, ~ tie to the next, ^ grace, ! pizzicato, = a beam of
a tremolo.
[p] a dynamic, [<] [>] hairpins, [x] their end, {words} words, all before the next note.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import fields
from fractions import Fraction

from plectrum.core.document.choices import Choices
from plectrum.core.document.document import Document
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.planning.plan import Plan
from plectrum.core.player.player import stage
from plectrum.core.player.school import DirectionSchool, School
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import ScoreFile

DIVISIONS = 24
_TOKEN = re.compile(r"\[[^\]]+\]|\{[^}]+\}|\S+")
_NOTE = re.compile(r"(r|[A-G][#b]?\d(?:\+[A-G][#b]?\d)*)(?:\*([\d/]+))?([ud().>~^!=]*)\Z")


def _pitch(name: str) -> str:
    match = re.match(r"([A-G])([#b]?)(\d)", name)
    assert match is not None, name
    alter = {"#": "<alter>1</alter>", "b": "<alter>-1</alter>", "": ""}[match[2]]
    return f"<pitch><step>{match[1]}</step>{alter}<octave>{match[3]}</octave></pitch>"


def _direction(token: str) -> str:
    inner = token[1:-1]
    if token[0] == "{":
        kind = f"<words>{inner}</words>"
    elif inner in "<>x":
        wedge = {"<": "crescendo", ">": "diminuendo", "x": "stop"}[inner]
        kind = f'<wedge type="{wedge}"/>'
    else:
        kind = f"<dynamics><{inner}/></dynamics>"
    return f"<direction><direction-type>{kind}</direction-type></direction>"


class _Writer:
    def __init__(self) -> None:
        self.tied = False

    def note(self, token: str) -> str:
        match = _NOTE.match(token)
        assert match is not None, token
        names, length, signs = match[1], Fraction(match[2] or 1), match[3]
        duration = length * DIVISIONS
        assert duration.denominator == 1, token
        tie_stop, self.tied = self.tied, "~" in signs
        out = []
        for k, name in enumerate(names.split("+")):
            body = "<grace/>" if "^" in signs else ""
            body += "<chord/>" if k else ""
            body += "<rest/>" if name == "r" else _pitch(name)
            body += "" if "^" in signs else f"<duration>{duration}</duration>"
            body += '<tie type="stop"/>' if tie_stop else ""
            body += '<tie type="start"/>' if self.tied else ""
            body += "<voice>1</voice>"
            body += self._notations(signs) if k == 0 else ""
            attribute = ' pizzicato="yes"' if "!" in signs else ""
            out.append(f"<note{attribute}>{body}</note>")
        return "".join(out)

    @staticmethod
    def _notations(signs: str) -> str:
        inner = ""
        if ")" in signs:
            inner += '<slur type="stop" number="1"/>'
        if "(" in signs:
            inner += '<slur type="start" number="1"/>'
        marks = {"u": "<up-bow/>", "d": "<down-bow/>"}
        technical = "".join(marks[s] for s in signs if s in marks)
        inner += f"<technical>{technical}</technical>" if technical else ""
        kinds = {".": "<staccato/>", ">": "<accent/>"}
        articulations = "".join(kinds[s] for s in signs if s in kinds)
        inner += f"<articulations>{articulations}</articulations>" if articulations else ""
        if "=" in signs:
            inner += f"<ornaments><tremolo>{signs.count('=')}</tremolo></ornaments>"
        return f"<notations>{inner}</notations>" if inner else ""


def tune_xml(
    music: str,
    metre: str = "4/4",
    *,
    bpm: float | None = 80,
    pickup: bool = False,
    name: str = "Violin",
    clef: str = "G2",
) -> bytes:
    """MusicXML of one part; quarter = `bpm`."""
    beats, beat_type = metre.split("/")
    writer = _Writer()
    measures = []
    for k, bar in enumerate(music.strip().strip("|").split("|")):
        number = k if pickup else k + 1
        implicit = ' implicit="yes"' if number == 0 else ""
        head = ""
        if k == 0:
            head = (
                f"<attributes><divisions>{DIVISIONS}</divisions><time><beats>{beats}</beats>"
                f"<beat-type>{beat_type}</beat-type></time><clef><sign>{clef[0]}</sign>"
                f"<line>{clef[1]}</line></clef></attributes>"
            )
            if bpm is not None:
                head += (
                    "<direction><direction-type><metronome><beat-unit>quarter</beat-unit>"
                    f"<per-minute>{bpm:g}</per-minute></metronome></direction-type></direction>"
                )
        body = "".join(
            _direction(t) if t[0] in "[{" else writer.note(t) for t in _TOKEN.findall(bar)
        )
        measures.append(f'<measure number="{number}"{implicit}>{head}{body}</measure>')
    return (
        '<?xml version="1.0" encoding="UTF-8"?><score-partwise version="4.0"><part-list>'
        f'<score-part id="P1"><part-name>{name}</part-name></score-part></part-list>'
        f'<part id="P1">{"".join(measures)}</part></score-partwise>'
    ).encode()


def tune_score(music: str, metre: str = "4/4", **options: object) -> ScoreFile:
    return open_score(tune_xml(music, metre, **options), "tune.musicxml")  # type: ignore[arg-type]


def tune_document(
    music: str,
    metre: str = "4/4",
    *,
    player: str = "growing",
    school: str = "usual",
    instrument: str | None = None,
    answers: Mapping[str, str] | None = None,
    **options: object,
) -> Document:
    """A document for a player and school; by default the growing violinist, as is usual.

    Args:
        answers: to others of the school's questions, as {"dotted": "hook"}.
    """
    document = Document.from_score(tune_score(music, metre, **options), instrument=instrument)
    choices = Choices.default(document.choices.instrument)
    kinds = {f.name: type(getattr(School(), f.name)) for f in fields(School)}
    answered = {question: kinds[question](a) for question, a in (answers or {}).items()}
    wanted = School(**{"direction": DirectionSchool(school), **answered})
    return document.with_choices(Choices(choices.instrument, choices.bow, stage(player), wanted))


def tune_plan(music: str, metre: str = "4/4", **options: object) -> Plan:
    return plan_of(tune_document(music, metre, **options))  # type: ignore[arg-type]


def ways(plan: Plan) -> str:
    """Directions as a string by bar, hooks as lower case, lifts marked: "D U|D d|^D"."""
    bars: dict[int, list[str]] = {}
    heads = {u.first for u in plan.units}
    for planned in plan.notes:
        if planned is None or planned.note.index not in heads:
            continue
        letter = "D" if planned.direction == "down" else "U"
        if planned.join == "hook":
            letter = letter.lower()
        if planned.join == "retake":
            letter = "^" + letter
        bars.setdefault(planned.note.bar_index, []).append(letter)
    return "|".join(" ".join(letters) for letters in bars.values())


CLEFS = {"violin": "G2", "viola": "C3", "cello": "F4"}


def score_xml(tunes: Mapping[str, str], metre: str = "4/4", **options: object) -> bytes:
    """A score of several parts: name of the part, such as "Viola", to its tune."""
    parts, heads = [], []
    for k, (name, tune) in enumerate(tunes.items(), start=1):
        clef = next((c for word, c in CLEFS.items() if word in name.lower()), "G2")
        text = tune_xml(tune, metre, name=name, clef=clef, **options).decode()  # type: ignore[arg-type]
        part = text.split('<part id="P1">')[1].split("</part>")[0]
        parts.append(f'<part id="P{k}">{part}</part>')
        heads.append(f'<score-part id="P{k}"><part-name>{name}</part-name></score-part>')
    head = text.split("<part-list>")[0]
    listing = f"<part-list>{''.join(heads)}</part-list>"
    return f"{head}{listing}{''.join(parts)}</score-partwise>".encode()
