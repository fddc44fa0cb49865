"""Other formats turned into MusicXML, in a child process with a limit on time and memory.

Converters are foreign code that a strange file can hang or blow up; here that costs a
message and nothing else.
"""

from __future__ import annotations

import re
import signal
import subprocess
from fractions import Fraction

from lxml import etree

from plectrum.core.errors import ScoreError
from plectrum.core.incoming.numbers import only_whole, whole
from plectrum.core.own_process import own_command
from plectrum.core.plain_text import one_line
from plectrum.core.score import guards
from plectrum.core.wording import say, tr

CPU_LIMIT_S = 8  # the child's own time, which a busy machine does not lengthen
PATIENCE_S = 120.0  # for a child that waits for the machine
MAX_ABC_BYTES = 400_000


def abc_to_musicxml(data: bytes, where: str, *, cpu_limit_s: int = CPU_LIMIT_S) -> bytes:
    """Convert the first tune of an ABC text.

    Raises:
        ScoreError: not convertible, or not within the limit of the processor's time.
    """
    if len(data) > MAX_ABC_BYTES:
        raise ScoreError(
            tr("the ABC text is too long"),
            where=where,
            remedy=tr("Open one tune, not a whole book"),
        )
    program, words = own_command("plectrum.core.score.reading.abc_child", str(cpu_limit_s))
    try:
        done = subprocess.run(
            [program, *words],
            input=data,
            capture_output=True,
            timeout=PATIENCE_S,
            check=False,
        )
    except subprocess.TimeoutExpired as error:
        raise ScoreError(
            tr("the ABC text was not converted: the machine is too busy"),
            where=where,
            remedy=tr("Try again when less is running"),
        ) from error
    if done.returncode == -signal.SIGXCPU:
        raise ScoreError(
            say(
                "the ABC text was not converted within {seconds} seconds of the processor's time",
                seconds=cpu_limit_s,
            ),
            where=where,
            remedy=tr("Check it for unclosed brackets, or open a single tune"),
        )
    if done.returncode != 0 or b"<score-partwise" not in done.stdout:
        lines = [line for line in done.stderr.decode("utf-8", "replace").splitlines() if line]
        reason = re.sub(r"^\w*(Error|Exception): ", "", lines[-1]) if lines else tr("no tune found")
        raise ScoreError(
            say("the ABC text cannot be converted ({reason})", reason=one_line(reason, 120)),
            where=where,
            remedy=tr("Check the X:, M:, L: and K: lines and the notes after them"),
        )
    return _mended(done.stdout, where)


def _mended(data: bytes, where: str) -> bytes:
    """What the converter writes otherwise than it should: a short first bar is numbered 0, as it
    is printed, and a key's sign of no octave has no mark of one."""
    tree = guards.parse_xml(data, where).getroot()
    for key in tree.iter("key"):
        for mark in [m for m in key.findall("key-octave") if not m.text]:
            key.remove(mark)
    for part in tree.iterfind("part"):
        measures = part.findall("measure")
        if measures and _is_short(measures[0]):
            measures[0].set("implicit", "yes")
            for k, measure in enumerate(measures):
                measure.set("number", str(k))
    done: bytes = etree.tostring(tree, xml_declaration=True, encoding="UTF-8")
    return done


def _is_short(measure: etree._Element) -> bool:
    divisions = only_whole(measure.findtext("attributes/divisions")) or 1
    beats = measure.findtext("attributes/time/beats") or "4"
    beat_type = only_whole(measure.findtext("attributes/time/beat-type")) or 4
    nominal_q = Fraction(sum(only_whole(b) or 0 for b in beats.split("+")) * 4, beat_type)
    voice = next((n.findtext("voice") for n in measure.iterfind("note")), None)
    content = sum(
        whole(n.findtext("duration")) or 0
        for n in measure.iterfind("note")
        if n.find("chord") is None and n.findtext("voice") == voice
    )
    return 0 < Fraction(content, divisions) < nominal_q
