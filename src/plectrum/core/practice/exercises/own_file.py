"""The files of a teacher's own exercises and routines: JSON that is checked as it is read."""

from __future__ import annotations

import json
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from plectrum.core.errors import ChoiceError, PlectrumError
from plectrum.core.incoming.border import border
from plectrum.core.incoming.json_text import json_value
from plectrum.core.plain_text import one_line
from plectrum.core.wording import say, tr

Model = TypeVar("Model", bound=BaseModel)


def checked(model: type[Model], raw: Any, name: str) -> Model:
    """Plain values as an exercise or a routine.

    Raises:
        ChoiceError: they are none; it says where.
    """
    try:
        return model.model_validate(raw)
    except ValidationError as error:
        fault = error.errors()[0]
        where = one_line(".".join(map(str, fault["loc"])), 80) or tr("the file")
        what = say("{name} is no {lower}", name=one_line(name, 60), lower=model.__name__.lower())
        raise ChoiceError(
            f"{what} ({where}: {one_line(fault['msg'], 200)})",
            remedy=tr("Begin from one written with -o NAME.json"),
        ) from error


def read(model: type[Model], data: bytes, name: str) -> Model:
    """What a file holds.

    Raises:
        PlectrumError: it is damaged, or holds something else.
    """
    with border(name, PlectrumError):
        try:
            raw = json_value(data)
        except ValueError as error:
            kind = model.__name__.lower()
            raise PlectrumError(say("the {kind} is damaged", kind=kind), where=name) from error
        return checked(model, raw, name)


def written(value: BaseModel) -> bytes:
    """The bytes of a file."""
    values = value.model_dump(mode="json", exclude_none=True)
    return (json.dumps(values, indent=1, ensure_ascii=False) + "\n").encode()
