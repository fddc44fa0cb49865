"""The sound's inner loops: compiled where they could be built, else in Python."""

from __future__ import annotations

from plectrum.core.sound import in_python

try:
    from plectrum.core.sound import _compiled as chosen
except ImportError:  # no compiler when the program was set up
    chosen = in_python  # type: ignore[misc]

run_string = chosen.run_string
run_sections = chosen.run_sections
COMPILED = chosen is not in_python
