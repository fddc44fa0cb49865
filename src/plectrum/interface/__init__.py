"""Plectrum for those who script: read a score, choose, plan, and write what is handed out. Nothing
here opens a window; Qt is loaded by the functions that make pages, and by no others.

    import plectrum

    tune = plectrum.read("tune.musicxml")
    tune = plectrum.choose(tune, player="starter", tempo_bpm=72, direction="flow")
    tune = plectrum.pin(tune, "3.1", "up")
    plan = plectrum.plan(tune)
    plectrum.save(tune, "tune.plectrum")
    plectrum.handout(tune, "page.pdf", made_for="Wren")

Documents and plans are values: nothing changes them, every function gives a new one. What cannot be
done raises `PlectrumError`, whose text says what, where and what to do. A file that is there is
replaced, unless it was read here: that is refused.
"""

from plectrum.core.document.document import Document
from plectrum.core.errors import PlectrumError
from plectrum.core.files.marking import Division, Marking, Under
from plectrum.core.planning.plan import Plan
from plectrum.core.practice.handout import HandoutOptions
from plectrum.interface.pages import handout, parts
from plectrum.interface.plans import (
    as_dict,
    choose,
    export,
    learn_bowing,
    part,
    pin,
    place,
    plan,
    read,
    save,
    tunes,
)
from plectrum.interface.practice import (
    exercise,
    exercises,
    routine,
    routines,
    write_exercise,
    write_routine,
)
from plectrum.interface.sounds import sound

__all__ = [
    "Division", "Document", "HandoutOptions", "Marking", "Plan", "PlectrumError", "Under",
    "as_dict", "choose", "exercise", "exercises", "export", "handout", "learn_bowing", "part",
    "parts", "pin", "place", "plan", "read", "routine", "routines", "save", "sound", "tunes",
    "write_exercise", "write_routine",
]  # fmt: skip
