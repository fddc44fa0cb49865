"""Writes the JSON Schemas that are shipped: of plan files, exercises and routines."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from plectrum.core.files.plan_records import PlanFile
from plectrum.core.practice.exercises.model import Exercise
from plectrum.core.practice.exercises.routine import Routine

CORE = Path(__file__).parents[1] / "src" / "plectrum" / "core"
SCHEMAS: dict[str, type[BaseModel]] = {
    "files/plan.schema.json": PlanFile,
    "practice/exercises/exercise.schema.json": Exercise,
    "practice/exercises/routine.schema.json": Routine,
}


def schema(name: str) -> dict[str, Any]:
    """The schema of a shipped file, under the name by which others may refer to it."""
    kind = Path(name).name.removesuffix(".schema.json")
    head = {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": f"urn:plectrum:{kind}:1",
    }
    return head | SCHEMAS[name].model_json_schema()


def main() -> int:
    for name in SCHEMAS:
        (CORE / name).write_text(json.dumps(schema(name), indent=1) + "\n", "utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
