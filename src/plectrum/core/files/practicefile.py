"""Practice without a piece as it is kept: for whom, when, which exercises, and how they went."""

from __future__ import annotations

import json
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Literal

from pydantic import Field, ValidationError

from plectrum.core.atomic import private_folder, write_atomically
from plectrum.core.document.choices import Choices
from plectrum.core.document.homework import Homework
from plectrum.core.errors import PlectrumError
from plectrum.core.files.plan_records import (
    ChoicesRecord,
    HomeworkRecord,
    choices_json,
    choices_of,
    homework_json,
)
from plectrum.core.incoming.border import border
from plectrum.core.incoming.files import read_file
from plectrum.core.incoming.json_text import json_value
from plectrum.core.plain_text import one_line, shown_name
from plectrum.core.wording import say, tr

USUAL_INSTRUMENT = "violin"


class _PracticeFile(ChoicesRecord):
    format: Literal["plectrum-practice"]
    version: Literal["1.0"] = "1.0"
    homework: HomeworkRecord = Field(default_factory=HomeworkRecord)


@dataclass(frozen=True)
class PracticeAlone:
    """Practice without a piece: whose, and what is set."""

    choices: Choices
    homework: Homework

    @classmethod
    def usual(cls, instrument: str = USUAL_INSTRUMENT) -> PracticeAlone:
        """For a beginner on an instrument, with nothing set."""
        return cls(Choices.default(instrument), replace(Homework(), drills={}))


def practice_bytes(practice: PracticeAlone) -> bytes:
    """The file of practice without a piece."""
    values = {
        "format": "plectrum-practice",
        "version": "1.0",
        **choices_json(practice.choices),
        "homework": homework_json(practice.homework),
    }
    return (json.dumps(values, indent=1, ensure_ascii=False) + "\n").encode()


def practice_from_bytes(data: bytes, name: str) -> PracticeAlone:
    """What a file holds.

    Raises:
        PlectrumError: it is damaged, or holds something else.
    """
    with border(name, PlectrumError):
        try:
            model = _PracticeFile.model_validate(json_value(data))
        except ValidationError as error:
            fault = error.errors()[0]
            where = one_line(".".join(map(str, fault["loc"])), 80) or tr("the file")
            raise PlectrumError(
                say(
                    "the practice kept cannot be used ({where}: {fault})",
                    where=where,
                    fault=one_line(fault["msg"], 200),
                ),
                where=name,
            ) from error
        except ValueError as error:
            raise PlectrumError(tr("the practice kept is damaged"), where=name) from error
        return PracticeAlone(choices_of(model, name), model.homework.homework())


def open_practice(path: Path) -> PracticeAlone:
    """What was kept last; a beginner's where nothing is kept yet.

    Raises:
        PlectrumError: it cannot be used.
    """
    if not path.exists():
        return PracticeAlone.usual()
    return practice_from_bytes(read_file(path), shown_name(path))


def keep_practice(practice: PracticeAlone, path: Path) -> None:
    """Write it, for the user's eyes alone.

    Raises:
        PlectrumError: it cannot be written.
    """
    try:
        private_folder(path.parent)
    except OSError as error:
        raise PlectrumError(tr("practice cannot be kept"), where=str(path.parent)) from error
    write_atomically(path, practice_bytes(practice), private=True)
