"""A plan for other programs and for people: JSON, CSV, text and marked MusicXML.

JSON is version 1 of the published form: keys may be added, never renamed or dropped. Keys
whose computation does not exist yet are absent.
"""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterator, Sequence
from typing import Any

from plectrum.core.advice.reasons import reasons_for
from plectrum.core.advice.remedies import tried_warnings
from plectrum.core.advice.rests import rest_sentence
from plectrum.core.advice.since_kept import in_one_line, one_by_one, otherwise_today
from plectrum.core.advice.things import things_of
from plectrum.core.advice.words import counts_words, join_words, length_words, place_words
from plectrum.core.document.choices import Join, Pin
from plectrum.core.document.document import Document
from plectrum.core.files.marking import PENCIL, Marking, bowing_of
from plectrum.core.planning.ensemble.ensemble import Ensemble
from plectrum.core.planning.plan import Plan
from plectrum.core.planning.strokes.planned import PlannedNote
from plectrum.core.score.bow_signs import write_bowing
from plectrum.core.score.left_out import as_rows
from plectrum.core.score.metre import beat_unit
from plectrum.core.score.model import Direction, Note, format_beat
from plectrum.core.score.playing_order import times_played
from plectrum.core.wording import NOTE_VALUE, in_words, say, tr

CSV_COLUMNS = (
    "bar", "beat", "note", "onset_s", "duration_s", "dynamic", "direction", "join", "stroke",
    "from", "to", "length_mm", "speed_mm_s", "string", "finger", "string_level", "lane",
    "weight_n", "pinned",
)  # fmt: skip

# What a plan is written as, and the ending of its file.
PLAN_FORMATS = {"text": ".txt", "json": ".json", "csv": ".csv", "musicxml": ".musicxml"}


def _number(value: float, digits: int = 6) -> float:
    return round(float(value), digits)


def plan_as_dict(document: Document, plan: Plan) -> dict[str, Any]:
    """The plan as plain values, ready for JSON."""
    choices, part = plan.choices, plan.part
    passes = times_played(part.bars)
    return {
        "format": "plectrum-plan",
        "version": 1,
        "piece": {"title": document.title, "part": part.name, "bars": part.bars_n},
        "instrument": choices.instrument,
        "bow": {
            "hair_mm": choices.bow.hair_mm,
            "usable": [choices.player.usable_from, choices.player.usable_to],
            "marks": [{"name": m.name, "at": m.at, "colour": m.colour} for m in choices.bow.marks],
        },
        "player": plan.player.as_dict(),
        "school": choices.school.as_dict(),
        "tempo": _tempo(plan),
        "left_out": as_rows(part.left_out),
        "notes": [_note(plan, note, passes[note.bar_index]) for note in part.notes],
        "strokes": [
            {
                "index": s.index,
                "direction": str(s.direction),
                "join": str(s.join),
                "first_note": s.first_note,
                "last_note": s.last_note,
                "from": _number(s.start),
                "to": _number(s.end),
                "length_mm": _number(s.length_mm, 3),
                "speed_mm_s": _number(s.speed_mm_s, 3),
                "kind": s.kind,
            }
            for s in plan.strokes
        ],
        "warnings": [
            {
                "code": w.code,
                "severity": str(w.severity),
                "bar": w.bar,
                "note": w.note,
                "text": w.text,
                "remedy": w.remedy,
            }
            for w in tried_warnings(plan)
        ],
        "summary": plan.summary,
        "cost": {"total": plan.total_cost, "terms": plan.terms},
    }


def _tempo(plan: Plan) -> dict[str, Any]:
    """Beat, tempo, and the window in which this plan plays; null where there is none."""
    tempo = plan.part.tempo
    window = plan.tempo_window
    return {
        "beat_unit": beat_unit(tempo.beat_q),
        "bpm": _number(tempo.bpm, 3),
        "floor_bpm": None if window is None else _number(window[0], 3),
        "ceiling_bpm": None if window is None else _number(window[1], 3),
    }


def _note(plan: Plan, note: Note, passes: int) -> dict[str, Any]:
    planned = plan.notes[note.index]
    row: dict[str, Any] = {
        "index": note.index,
        "id": note.id,
        "bar": note.bar,
        "beat": _number(float(note.beat)),
        "onset_s": _number(note.onset_s),
        "duration_s": _number(note.duration_s),
        "gap_before_s": _number(note.gap_before_s),
        "written": [p.name for p in note.pitches],
        "midi": [p.midi for p in note.pitches],
        "direction": None,
        "dynamic": note.dynamic,
        "level_db": _number(note.level_db, 3),
        "reasons": [{"code": r.code, "text": r.text} for r in reasons_for(plan, note.index)],
        **({"pass": list(range(1, passes + 1))} if passes > 1 else {}),
        **({"rest": said} if (said := rest_sentence(plan, note.index)) else {}),
    }
    fingered = plan.fingered[note.index]
    row |= {
        "string": fingered.string_words or None,
        "finger": fingered.finger_words or None,
        "string_level": fingered.level,
    }
    if planned is None:
        return row
    unit = plan.units[planned.unit]
    head = unit.first == note.index
    pin = plan.choices.pins.get(note.id)
    row |= {
        "direction": str(planned.direction),
        "join": str(planned.join),
        "stroke": plan.stroke_of(planned),
        "from": _number(planned.start),
        "to": _number(planned.end),
        "length_mm": _number(planned.length_mm, 3),
        "speed_mm_s": _number(planned.speed_mm_s, 3),
        "pinned": list(pin.words()) if pin is not None else [],
        **_places_said(pin),
        **({"strokes": planned.strokes_n} if planned.strokes_n > 1 else {}),
        **({"slur_proposed": True} if planned.join is Join.SLUR and not note.slurred else {}),
        "alternatives": [
            {
                "direction": str(a.direction),
                "join": str(a.join),
                "extra_cost": _number(a.extra_cost),
            }
            for a in (plan.alternatives_at_once(planned.unit) if head else ())
            if a.possible
        ],
    }
    return row | _contact(plan, note.index)


def _contact(plan: Plan, note_index: int) -> dict[str, Any]:
    contact, k = plan.contact, plan.contact_rows[note_index]
    return {
        "contact_lane": int(contact.lane[k]),
        "contact_mm": _number(contact.contact_mm[k], 2),
        "beta": _number(contact.beta[k]),
        "weight_n": _number(contact.weight_n[k], 4),
        "weight_min_n": _number(contact.weight_min_n[k], 4),
        "weight_max_n": _number(contact.weight_max_n[k], 4),
        "speed_from_mm_s": _number(1000 * contact.start.speed_m_s[k], 2),
        "speed_to_mm_s": _number(1000 * contact.end.speed_m_s[k], 2),
        "contact_from_mm": _number(contact.start.contact_mm[k], 2),
        "contact_to_mm": _number(contact.end.contact_mm[k], 2),
        "weight_from_n": _number(contact.start.weight_n[k], 4),
        "weight_to_n": _number(contact.end.weight_n[k], 4),
        "contact_start_mm": _number(contact.start.contact_mm[k], 2),
        "contact_end_mm": _number(contact.end.contact_mm[k], 2),
        "weight_start_n": _number(contact.start.weight_n[k], 4),
        "weight_end_n": _number(contact.end.weight_n[k], 4),
        "speed_start_mm_s": _number(1000 * contact.start.speed_m_s[k], 2),
        "speed_end_mm_s": _number(1000 * contact.end.speed_m_s[k], 2),
        "hand_nmm": _number(contact.hand_nmm[k], 2),
        "arm_deg": _number(contact.arm_deg[k], 2),
        "elbow_mm": _number(contact.elbow_mm[k], 1),
    }


def plan_as_json(document: Document, plan: Plan) -> str:
    """A line for every note, stroke and warning: quicker to write and to read than one a value."""
    parts = [
        f"{json.dumps(key)}: {_json_lines(value) if isinstance(value, list) else _json(value)}"
        for key, value in plan_as_dict(document, plan).items()
    ]
    return "{\n" + ",\n".join(parts) + "\n}\n"


def score_as_json(
    document: Document, plans: Sequence[Plan], ensemble: Ensemble | None = None
) -> str:
    """The plans of several parts, each in the published form, and where they part: version 1."""
    differences = () if ensemble is None else ensemble.differences
    whole = {
        "format": "plectrum-score-plan",
        "version": 1,
        "title": document.title,
        "matched": 0 if ensemble is None else len(ensemble.matched),
        "differences": [
            {
                "bar": d.bar,
                "beat": _number(float(d.beat)),
                "what": d.what,
                "parts": [plans[p].part.name for p in d.odd],
                "notes": list(d.notes),
                "reason": d.reason,
            }
            for d in differences
        ],
        "parts": [plan_as_dict(document, plan) for plan in plans],
    }
    return json.dumps(whole, ensure_ascii=False) + "\n"


def _json(value: object) -> str:
    return json.dumps(value, ensure_ascii=False)


def _json_lines(items: list[Any]) -> str:
    """A list with a line for every item."""
    return "[\n " + ",\n ".join(map(_json, items)) + "\n]" if items else "[]"


def _places_said(pin: Pin | None) -> dict[str, Any]:
    """The words of the teacher, where any are said."""
    return {"places": list(pin.said_where)} if pin is not None and pin.said_where else {}


def plan_as_csv(plan: Plan) -> str:
    """One row a note; notes without bow have empty bow columns."""
    buffer = io.StringIO()
    writer = csv.writer(buffer, lineterminator="\n")
    writer.writerow(CSV_COLUMNS)
    for note, planned in zip(plan.part.notes, plan.notes, strict=True):
        row: list[Any] = [
            note.bar, format_beat(note.beat), " ".join(p.name for p in note.pitches),
            f"{note.onset_s:.3f}", f"{note.duration_s:.3f}", note.dynamic,
        ]  # fmt: skip
        if planned is not None:
            pin = plan.choices.pins.get(note.id)
            fingered, k = plan.fingered[note.index], plan.contact_rows[note.index]
            row += [
                planned.direction, planned.join, plan.stroke_of(planned), f"{planned.start:.4f}",
                f"{planned.end:.4f}", f"{planned.length_mm:.0f}", f"{planned.speed_mm_s:.0f}",
                fingered.string_words, fingered.finger_words, fingered.level,
                int(plan.contact.lane[k]), f"{plan.contact.weight_n[k]:.2f}",
                " ".join(pin.words()) if pin is not None else "",
            ]  # fmt: skip
        writer.writerow([*row, *[""] * (len(CSV_COLUMNS) - len(row))])
    return buffer.getvalue()


def plan_as_text(document: Document, plan: Plan) -> str:
    """A line a note, for people."""
    tempo = plan.part.tempo
    lines = [
        (
            say(
                "{title}: {part}, {instrument}, for {player}, {direction}, "
                "{bowing}{beat_unit} = {bpm:.0f}",
                title=document.title,
                part=plan.part.name,
                instrument=in_words(plan.choices.instrument),
                player=plan.choices.player.called,
                direction=plan.choices.school.direction,
                bowing=tr("my bowing, ") if plan.choices.bowing is not None else "",
                beat_unit=tr(beat_unit(tempo.beat_q), NOTE_VALUE),
                bpm=tempo.bpm,
            )
        ),
        "",
    ]
    bar = None
    for note, planned in zip(plan.part.notes, plan.notes, strict=True):
        if note.bar_index != bar:
            bar = note.bar_index
            lines.append(say("bar {bar}", bar=note.bar))
        lines.append(_text_line(plan, note, planned))
    lines += [
        "",
        counts_words(plan.summary),
        _window_words(plan),
    ]
    lines += list(_things_said(plan))
    lines += list(_since_kept(document, plan))
    return "\n".join(lines) + "\n"


def _things_said(plan: Plan) -> Iterator[str]:
    """A line for each kind of warning; what mends it where all of them say the same."""
    for thing in things_of(tried_warnings(plan)):
        remedies = list(dict.fromkeys(w.remedy for w in thing.warnings))
        more = "" if len(remedies) == 1 else tr(" (each in its own way)")
        yield f"! {thing.text}. {remedies[0]}{more}."


def _since_kept(document: Document, plan: Plan) -> Iterator[str]:
    """How a plan of an earlier planner stands to today's."""
    bows = otherwise_today(document, plan)
    if bows:
        yield say("as it was kept; {bows}; --today plans it anew:", bows=in_one_line(bows))
        yield from (f"  {line}" for line in one_by_one(bows))


def _window_words(plan: Plan) -> str:
    window = plan.tempo_window
    if window is None:
        return tr("there is no tempo at which this plan stays within the player's limits")
    return say("plays from {low:.0f} to {high:.0f}", low=window[0], high=window[1])


def _text_line(plan: Plan, note: Note, planned: PlannedNote | None) -> str:
    fingered = plan.fingered[note.index]
    stopped = f"{fingered.string_words}{fingered.finger_words}"
    names = " ".join(p.written for p in note.pitches)
    head = f"  {format_beat(note.beat):>5}  {names:<8}{stopped:<5}"
    if planned is None:
        return head + tr("plucked")
    bow = plan.choices.bow
    sign = "⊓" if planned.direction is Direction.DOWN else "V"
    if planned.join is Join.SLUR:
        sign = "‿"
    length = length_words(abs(planned.end - planned.start))
    return say(
        "{head}{sign}  {start} to {end}, {length}, {length_mm:.0f} cm in {duration_s:.2f} s",
        head=head,
        sign=sign,
        start=place_words(planned.start, bow),
        end=place_words(planned.end, bow),
        length=length,
        length_mm=planned.length_mm / 10,
        duration_s=note.duration_s,
    ) + (f" ({join_words(planned.join, planned.direction)})" if _joins_aloud(planned) else "")


def _joins_aloud(planned: PlannedNote) -> bool:
    return planned.join in (Join.HOOK, Join.RETAKE)


def plan_as_musicxml(document: Document, plan: Plan, marking: Marking = PENCIL) -> bytes:
    """The user's own score with a bow mark at the first note of every bow.

    Slurs are written only where a pin splits or joins them; nothing else changes, but for what
    is asked for.
    """
    return write_bowing(document.score, {document.part_id: bowing_of(plan, marking)})


def score_as_musicxml(
    document: Document, plans: Sequence[Plan], marking: Marking = PENCIL
) -> bytes:
    """The same with the bows of several parts."""
    return write_bowing(document.score, {plan.part.id: bowing_of(plan, marking) for plan in plans})
