"""How a plan file is told from other files."""

from __future__ import annotations

from plectrum.core.score import guards

MIMETYPE = "application/x-plectrum"


def is_plan_file(data: bytes) -> bool:
    """Whether bytes are a plan file, told by the first member of the zip."""
    return (
        guards.kind_of(data) == "zip"
        and data[30:38] == b"mimetype"
        and (data[38 : 38 + len(MIMETYPE)] == MIMETYPE.encode())
    )
