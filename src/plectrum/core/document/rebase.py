"""A change of immutable values carried over to a value that others have changed meanwhile."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields, is_dataclass, replace
from typing import Any, TypeVar

Value = TypeVar("Value")


def rebased(now: Value, before: Value, after: Value) -> Value:
    """What `now` becomes by the change from `before` to `after`.

    Only what that change touched is set; fields of dataclasses and entries of mappings are looked
    at one by one, anything else is taken whole.
    """
    if before == after or now == after:
        return now
    if now == before:
        return after
    values: tuple[Any, Any, Any] = (now, before, after)
    if all(isinstance(v, Mapping) for v in values):
        return _mapping(*values)  # type: ignore[return-value]
    if is_dataclass(now) and type(now) is type(before) is type(after):
        changes = {
            f.name: rebased(*(getattr(v, f.name) for v in values)) for f in fields(now) if f.init
        }
        return replace(now, **changes)  # type: ignore[type-var]
    return after


def _mapping(
    now: Mapping[Any, Any], before: Mapping[Any, Any], after: Mapping[Any, Any]
) -> dict[Any, Any]:
    made = {key: value for key, value in now.items() if key not in before or key in after}
    for key, value in after.items():
        if key not in before or key not in now:
            if before.get(key) != value:
                made[key] = value
        else:
            made[key] = rebased(now[key], before[key], value)
    return made
