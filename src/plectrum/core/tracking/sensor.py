"""What a tracked bow says, line by line: an open format that any device can speak.

The first line names the format and its version; then one line a sample, fields parted by blanks:

    plectrum-bow 1
    # seconds position speed_mm_s angle_deg lane level
    12.340 0.512 -180 1.5 3.1 5

Seconds go by the device's own clock. Position is a fraction of the hair from the frog, speed is
positive towards the tip, the angle is that of the bow to the bridge's line (0 is straight), the
lane counts from 1 at the bridge to 5, the level from 1 to 7. What a device cannot tell is a single
"-". Further fields are left alone; lines that begin with # are remarks.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from plectrum.core.errors import PlectrumError
from plectrum.core.incoming.numbers import decimal
from plectrum.core.plain_text import one_line
from plectrum.core.wording import say, tr

HEAD = "plectrum-bow"
VERSION = 1
FIELDS_N = 6
MOST_LINE = 400  # longer is no line of ours
UNKNOWN = "-"


class SensorError(PlectrumError, ValueError):
    """What is read is not a bow's stream."""


@dataclass(frozen=True, slots=True)
class BowSample:
    """The bow as a device saw it; NaN is unknown."""

    at_s: float
    position: float
    speed_mm_s: float = math.nan
    angle_deg: float = math.nan
    lane: float = math.nan
    level: float = math.nan


def head_lines() -> str:
    """What a stream begins with."""
    return f"{HEAD} {VERSION}\n# seconds position speed_mm_s angle_deg lane level\n"


def sample_line(sample: BowSample) -> str:
    """One sample as a line."""
    values = (
        (sample.at_s, 3), (sample.position, 4), (sample.speed_mm_s, 1), (sample.angle_deg, 2),
        (sample.lane, 3), (sample.level, 2),
    )  # fmt: skip
    words = (UNKNOWN if math.isnan(v) else f"{v:.{digits}f}" for v, digits in values)
    return " ".join(words) + "\n"


class SensorReader:
    """Turns what arrives, in pieces of any size, into samples.

    A line that cannot be read is left out and counted, as a cable may lose a byte; a stream that
    does not begin as it should is refused.

    Attributes:
        bad_n: lines left out.
    """

    def __init__(self) -> None:
        self.bad_n = 0
        self._rest = ""
        self._begun = False

    def feed(self, text: str) -> list[BowSample]:
        """The samples that are whole by now.

        Raises:
            SensorError: another format, or a newer version of this one.
        """
        *lines, self._rest = (self._rest + text).split("\n")
        if len(self._rest) > MOST_LINE:
            if not self._begun:
                raise _not_ours(self._rest)
            self._rest = ""
            self.bad_n += 1
        found = (self._sample(line) for line in map(str.strip, lines) if line)
        return [sample for sample in found if sample is not None]

    def _sample(self, line: str) -> BowSample | None:
        if line.startswith("#"):
            return None
        if not self._begun:
            self._begin(line)
            return None
        try:
            values = [math.nan if w == UNKNOWN else _number(w) for w in line.split()[:FIELDS_N]]
            values += [math.nan] * (FIELDS_N - len(values))
            if not (math.isfinite(values[0]) and math.isfinite(values[1])):
                raise ValueError(line)
        except ValueError:
            self.bad_n += 1
            return None
        return BowSample(values[0], min(1.0, max(0.0, values[1])), *values[2:])

    def _begin(self, line: str) -> None:
        words = line.split()
        if len(words) < 2 or words[0] != HEAD:
            raise _not_ours(line)
        if words[1] != str(VERSION):
            spoken = one_line(words[1], 20)
            raise SensorError(
                say(
                    "the bow speaks version {spoken} of the format, this program {version}",
                    spoken=spoken,
                    version=VERSION,
                ),
                where=tr("bow sensor"),
                remedy=tr("Set the device to the version read here"),
            )
        self._begun = True


def _number(word: str) -> float:
    found = decimal(word)
    if found is None:
        raise ValueError(word)
    return found


def _not_ours(line: str) -> SensorError:
    return SensorError(
        say("no bow is speaking here: the first line is {line!r}", line=one_line(line, 40)),
        where=tr("bow sensor"),
        remedy=say("The stream must begin with “{head} {version}”", head=HEAD, version=VERSION),
    )
