"""The last resort of every reader: what nobody foresaw becomes one clear line and a trace."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from plectrum.core.errors import ForeignError, PlectrumError
from plectrum.core.plain_text import one_line
from plectrum.core.trouble_log import note_trouble
from plectrum.core.wording import tr


@contextmanager
def border(where: str, error: type[PlectrumError] = ForeignError) -> Iterator[None]:
    """Everything that reads foreign bytes runs inside.

    Args:
        where: the file, for the message.
        error: the kind of error this reader's callers know.

    Raises:
        PlectrumError: whatever goes wrong inside; the unforeseen is noted in the trouble log.
    """
    try:
        yield
    except PlectrumError:
        raise
    except MemoryError as trouble:
        note_trouble(trouble)
        raise error(tr("there is not enough memory to read it"), where=one_line(where)) from trouble
    except Exception as trouble:
        note_trouble(trouble)
        raise error(
            tr("the file holds something that was not expected"),
            where=one_line(where),
            remedy=tr("It was left as it is; save or export it again where it was made"),
        ) from trouble
