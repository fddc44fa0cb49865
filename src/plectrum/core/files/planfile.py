"""The plan file `*.plectrum`: a zip of the score and the teacher's choices.

`mimetype` comes first and uncompressed, then `score.musicxml`, the document of record, and
`plan.json`. The version is major.minor: a newer minor version is read and its unknown keys
are kept; a newer major version is refused.
"""

from __future__ import annotations

import io
import json
import os
import zipfile
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any
from urllib.parse import quote_from_bytes, unquote_to_bytes

from pydantic import BaseModel, ValidationError

from plectrum.core.atomic import write_atomically
from plectrum.core.document.choices import Choices, Kept
from plectrum.core.document.document import Document
from plectrum.core.document.seats import Seat
from plectrum.core.document.sections import OwnSection
from plectrum.core.errors import PlanFileError, ScoreError
from plectrum.core.files.kinds import MIMETYPE
from plectrum.core.files.plan_records import (
    ChoicesRecord,
    PlanFile,
    SectionRecord,
    choices_json,
    choices_of,
    homework_json,
    kept_json,
    kept_of,
    player_of,
    seat_json,
    section_json,
)
from plectrum.core.incoming.border import border
from plectrum.core.incoming.files import read_file
from plectrum.core.incoming.json_text import json_value
from plectrum.core.incoming.numbers import only_whole
from plectrum.core.plain_text import one_line, shown_name
from plectrum.core.planning.ensemble.documents import parts_in_order, plan_of
from plectrum.core.planning.kept_plan import PLANNER, kept_with
from plectrum.core.planning.plan import Plan
from plectrum.core.score import guards
from plectrum.core.score.model import Part
from plectrum.core.score.reading.opening import open_score
from plectrum.core.score.scorefile import ScoreFile, read_part
from plectrum.core.wording import say, tr

MAJOR, MINOR = 1, 12
LEARNT_MINOR = 4  # since when the planner knows what print has taught it
KEPT_MINOR = 12  # since when bows are kept; the planner of a file before had the file's number
_NOTE = "recovery.json"  # of an unsaved copy: what it is a copy of
_NAMED = ("pins", "variants", "results", "seats", "kept")  # keys that hold items by name


def _plan_json(document: Document) -> dict[str, Any]:
    known = {
        "format": "plectrum-document",
        "version": f"{MAJOR}.{MINOR}",
        "part": document.part_id,
        **choices_json(document.choices),
        **kept_json(kept_with(document, _plans(document))),
        "variants": {
            name: choices_json(c) | kept_json(_kept_variant(document, c))
            for name, c in document.variants.items()
        },
        "source_name": document.score.name,
        "homework": homework_json(document.homework),
        "sections": [section_json(section) for section in document.sections],
        "together": document.together,
        "seats": {key: seat_json(seat) for key, seat in sorted(document.seats.items())},
    }
    return _merged(known, document.unknown)


def _kept_variant(document: Document, choices: Choices) -> Kept | None:
    """The bows of a variant; of parts planned as one they are not kept, which would take long."""
    if document.together or choices.instrument != document.choices.instrument:
        return choices.kept
    own = document.with_choices(choices)
    return kept_with(own, _plans(own))


def _plans(document: Document) -> Sequence[Plan]:
    """The plans that are decided with a document: of its part, and of those that go with it."""
    several = document.together and len(document.string_parts) > 1
    return parts_in_order(document) if several else (plan_of(document),)


def _merged(known: dict[str, Any], unknown: Any, inside: str = "") -> dict[str, Any]:
    """Known keys with the unknown ones of a newer version put back where they were; those of
    a pin or variant that is gone go with it."""
    merged = dict(known)
    for key, value in unknown.items():
        if key not in merged:
            if inside not in _NAMED:
                merged[key] = value
        elif isinstance(merged[key], dict) and isinstance(value, dict):
            merged[key] = _merged(merged[key], value, key)
    return merged


def _unknown(model: BaseModel) -> dict[str, Any]:
    """Keys the model does not know, at any depth of nested objects."""
    found = dict(model.__pydantic_extra__ or {})
    for name in type(model).model_fields:
        value = getattr(model, name)
        if name in _NAMED:
            inner = {k: u for k, v in value.items() if (u := _unknown(v))}
        else:
            inner = _unknown(value) if isinstance(value, BaseModel) else {}
        if inner:
            found[name] = inner
    return found


def document_bytes(document: Document) -> bytes:
    """The plan file of a document; the same document always gives the same bytes."""
    return _bytes_of(document)


def recovery_bytes(document: Document, original: Path | None) -> bytes:
    """A plan file that also says where the plan it is a copy of lies."""
    path = "" if original is None else quote_from_bytes(os.fsencode(original))
    note = {"title": document.title, "original": path}
    return _bytes_of(document, (_NOTE, json.dumps(note).encode(), zipfile.ZIP_DEFLATED))


def recovery_note(copy: Path) -> tuple[str, str]:
    """Title and original path of an unsaved copy; the path is empty where there is none.

    Raises:
        PlectrumError: it cannot be read.
    """
    name = shown_name(copy)
    with border(name, PlanFileError):
        archive = guards.open_zip(read_file(copy), name)
        if _NOTE not in archive.namelist():
            return copy.stem, ""
        note = json_value(guards.read_member(archive, _NOTE, name))
        original = os.fsdecode(unquote_to_bytes(str(note["original"])))
        return one_line(str(note["title"])), original


def _bytes_of(document: Document, *more: tuple[str, bytes, int]) -> bytes:
    text = json.dumps(_plan_json(document), indent=1, ensure_ascii=False, sort_keys=True)
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        for name, data, method in (
            ("mimetype", MIMETYPE.encode(), zipfile.ZIP_STORED),
            ("score.musicxml", document.score.xml, zipfile.ZIP_DEFLATED),
            ("plan.json", text.encode("utf-8", "replace"), zipfile.ZIP_DEFLATED),
            *more,
        ):
            info = zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0))
            info.compress_type = method
            archive.writestr(info, data)
    return buffer.getvalue()


def save_document(document: Document, path: Path) -> None:
    """Write the plan file atomically; the plan saved there before stays beside it as NAME~.

    Raises:
        PlectrumError: it cannot be written there.
    """
    write_atomically(path, document_bytes(document), keep=True)


def document_from_bytes(data: bytes, name: str) -> Document:
    """Read a plan file.

    Raises:
        PlanFileError: damaged, or of a newer major version.
        ScoreError: the score inside cannot be read.
    """
    with border(name, PlanFileError):
        return _read(data, name)


def _read(data: bytes, name: str) -> Document:
    archive = guards.open_zip(data, name)
    text = guards.read_member(archive, "plan.json", name)
    xml = guards.read_member(archive, "score.musicxml", name)
    model = _validated(text, name)
    score = open_score(xml, one_line(model.source_name) or name)
    try:
        part = read_part(score, model.part, model.instrument, empty=True)
    except ScoreError as error:
        raise error.at(name) from error
    document = Document(
        score,
        model.part,
        choices_of(model, name),
        part,
        _unknown(model),
        {key: choices_of(variant, name) for key, variant in model.variants.items()},
        model.homework.homework(),
        kept_before=_is_before(model.version, min(KEPT_MINOR, PLANNER)),
        sections=_sections(model.sections, part),
        together=model.together,
        seats=_seats(model, score, name),
    )
    return _with_kept(document, model)


def _with_kept(document: Document, model: PlanFile) -> Document:
    """The document with the bows that its file has kept."""

    def held(record: ChoicesRecord, choices: Choices) -> Choices:
        own = replace(document, choices=choices)
        return replace(choices, kept=kept_of(record, choices, own.settings))

    variants = {key: held(model.variants[key], c) for key, c in document.variants.items()}
    return replace(document, choices=held(model, document.choices), variants=variants)


def _seats(model: PlanFile, score: ScoreFile, name: str) -> dict[str, Seat]:
    """Who plays the other parts; seats of parts that the score does not have are left out."""
    known = {info.id for info in score.parts} - {model.part}
    return {
        key: Seat(player_of(seat.player, name), seat.bow.bow(seat.instrument))
        for key, seat in model.seats.items()
        if key in known
    }


def _sections(rows: Sequence[SectionRecord], part: Part) -> tuple[OwnSection, ...]:
    """The sections as they are kept; of those that cannot be, each is left out: one that ends
    before it begins, lies over another, or has another's key."""
    places = {note.id: note.index for note in part.notes}
    kept: list[OwnSection] = []
    free = 0
    rows = sorted(rows, key=lambda row: places.get(row.first, -1))
    for row in rows:
        section = OwnSection(row.key, row.first, row.last, one_line(row.name), row.figure)
        if row.first in places and row.last in places:
            first, last = places[row.first], places[row.last]
            over = not row.figure and first < free
            if last < first or over or any(s.key == row.key for s in kept):
                continue
            free = free if row.figure else last + 1
        kept.append(section)
    return tuple(sorted(kept, key=lambda s: (s.figure, places.get(s.first_id, -1))))


def _is_before(version: str, minor: int) -> bool:
    """Whether a file was written before a version."""
    major, _, own = version.partition(".")
    before = only_whole(own)
    return major == "1" and before is not None and before < minor


def _learnt_since(raw: Any, version: str) -> None:
    """Up to version 1.3 the school "hook" left it to the planner whether a dotted pair is hooked,
    and up to 1.11 "downbeat" what print has taught; both are now "usual"."""
    if not isinstance(raw, dict):
        return
    was = [("direction", "downbeat")] if _is_before(version, KEPT_MINOR) else []
    was += [("dotted", "hook")] if _is_before(version, LEARNT_MINOR) else []
    variants = raw.get("variants")
    for choices in [raw, *(variants.values() if isinstance(variants, dict) else ())]:
        school = choices.get("school") if isinstance(choices, dict) else None
        if not isinstance(school, dict):
            continue
        school |= {question: "usual" for question, answer in was if school.get(question) == answer}


def _validated(text: bytes, name: str) -> PlanFile:
    try:
        raw = json_value(text)
    except ValueError as error:
        raise PlanFileError(
            tr("the plan inside the file is damaged"), where=name, remedy=tr("Open a backup copy")
        ) from error
    version = str(raw.get("version", "")) if isinstance(raw, dict) else ""
    major = version.split(".")[0]
    if (only_whole(major) or 0) > MAJOR:
        shown = one_line(version, 20)
        raise PlanFileError(
            say(
                "the file was made by a newer version of Plectrum (plan version {version})",
                version=shown,
            ),
            where=name,
            remedy=tr("Update Plectrum to open it; nothing was changed"),
        )
    _learnt_since(raw, version)
    try:
        return PlanFile.model_validate(raw)
    except ValidationError as error:
        faults = "; ".join(
            f"{'.'.join(map(str, e['loc'])) or 'plan.json'}: {e['msg']}" for e in error.errors()[:5]
        )
        raise PlanFileError(
            say("the plan inside the file cannot be used ({faults})", faults=one_line(faults, 600)),
            where=name,
        ) from error
