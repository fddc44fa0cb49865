"""The command line, called in a process of its own or in this one."""

from __future__ import annotations

import io
import subprocess
import sys

import pytest

from plectrum.cli.main import main


def from_outside(*args: str, data: bytes | None = None) -> subprocess.CompletedProcess[bytes]:
    """A command in a process of its own."""
    return subprocess.run(
        [sys.executable, "-m", "plectrum", *args], input=data, capture_output=True, timeout=60
    )


def plectrum(*args: str, data: bytes = b"") -> subprocess.CompletedProcess[bytes]:
    """A command in this process, which is sooner; with pipes of its own."""
    code = 0
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(sys, "argv", ["plectrum", *args])
        pipes = {name: io.TextIOWrapper(io.BytesIO(), "utf-8") for name in ("stdout", "stderr")}
        patch.setattr(sys, "stdin", io.TextIOWrapper(io.BytesIO(data), "utf-8"))
        for name, pipe in pipes.items():
            patch.setattr(sys, name, pipe)
        try:
            main()
        except SystemExit as ended:
            code = int(ended.code or 0)
        said = []
        for pipe in pipes.values():
            pipe.flush()
            said.append(pipe.buffer.getvalue())  # type: ignore[attr-defined]
    return subprocess.CompletedProcess(args, code, *said)


def refusal(*args: str) -> str:
    """The one line in which a command says why it cannot be done."""
    ran = plectrum(*args)
    said = ran.stderr.decode()
    assert ran.returncode == 2
    assert said.count("\n") == 1
    return said
