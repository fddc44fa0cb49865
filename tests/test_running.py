"""A second start hands its files to the window that is open."""

from __future__ import annotations

import contextlib
import os
import socket
import stat
import threading
import time
from pathlib import Path

import pytest

from plectrum import running
from plectrum.running import Handed, Listener, hand_over


@pytest.fixture
def here(tmp_path, monkeypatch):
    monkeypatch.setattr(running, "user_runtime_path", lambda _name: tmp_path / "runtime")
    return tmp_path / "runtime"


def handed(listener: Listener, paths: list[Path]) -> tuple[bool, Handed | None]:
    """What both ends say of one handing over."""
    said: list[bool] = []
    other = threading.Thread(target=lambda: said.append(hand_over(paths)))
    other.start()
    found = None
    while other.is_alive() and found is None:
        found = listener.take()
    other.join()
    return said[0], found


def test_files_of_any_name_arrive_whole(here, monkeypatch):
    monkeypatch.setenv("XDG_ACTIVATION_TOKEN", "front")
    listener = Listener.begin()
    assert listener is not None
    odd = Path(os.fsdecode(b"/tunes/\xff \n .abc"))
    done, found = handed(listener, [odd, Path("ferry.abc")])
    assert done
    assert found == Handed((odd, Path("ferry.abc").absolute()), "front")
    listener.end()


def test_without_a_window_nothing_is_handed_over(here):
    assert not hand_over([Path("ferry.abc")])


def test_there_is_one_window_and_after_it_another(here):
    first = Listener.begin()
    assert first is not None
    assert Listener.begin() is None
    first.end()
    assert not hand_over([])
    second = Listener.begin()
    assert second is not None
    second.end()


def test_a_socket_left_by_a_killed_window_is_no_hindrance(here):
    here.mkdir()
    dead = socket.socket(socket.AF_UNIX)
    dead.bind(str(here / "window.socket"))
    dead.close()
    assert not hand_over([])
    listener = Listener.begin()
    assert listener is not None
    assert stat.S_IMODE((here / "window.socket").stat().st_mode) == 0o600
    listener.end()


@pytest.mark.parametrize(
    "said", [b"", b"{}", b"[1]", b'{"paths": ["zz"]}', b"[" * 90_000, b"\xff" * 2_000_000]
)
def test_what_is_not_ours_is_not_answered(here, said):
    listener = Listener.begin()
    assert listener is not None

    def speak() -> None:
        with socket.socket(socket.AF_UNIX) as line:
            line.settimeout(5)
            line.connect(str(here / "window.socket"))
            try:
                line.sendall(said)
                line.shutdown(socket.SHUT_WR)
                heard.append(line.recv(2))
            except OSError:
                heard.append(b"")

    heard: list[bytes] = []
    other = threading.Thread(target=speak)
    other.start()
    while other.is_alive():
        assert listener.take() is None
    other.join()
    assert heard == [b""]
    listener.end()


def test_who_drips_is_left_soon_and_the_next_is_served(here):
    """A byte now and then, and never an end: the window is not held, and files still come."""
    listener = Listener.begin()
    assert listener is not None
    ended = threading.Event()

    def drip() -> None:
        with socket.socket(socket.AF_UNIX) as line:
            line.connect(str(here / "window.socket"))
            with contextlib.suppress(OSError):
                while not ended.wait(0.05):
                    line.sendall(b" ")

    other = threading.Thread(target=drip)
    other.start()
    begun = time.monotonic()
    while time.monotonic() - begun < 0.1:
        time.sleep(0.02)
    assert listener.take() is None
    assert time.monotonic() - begun < 1.0
    assert handed(listener, [Path("ferry.abc")]) == (True, Handed((Path("ferry.abc").absolute(),)))
    ended.set()
    other.join()
    listener.end()
