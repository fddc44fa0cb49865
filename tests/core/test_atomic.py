"""Writing: whole or not at all, to what a link names, and nothing left behind."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from plectrum.core import atomic
from plectrum.core.atomic import private_folder, sweep, write_atomically
from plectrum.core.errors import PlectrumError

AS_USER = os.geteuid() == 0


def test_a_links_target_is_written_and_the_link_stays(tmp_path):
    (tmp_path / "real").mkdir()
    target, link = tmp_path / "real/plan", tmp_path / "link"
    target.write_bytes(b"old")
    link.symlink_to(target)
    write_atomically(link, b"new")
    assert link.is_symlink()
    assert target.read_bytes() == b"new"


def test_a_link_to_nothing_makes_what_it_names(tmp_path):
    (tmp_path / "link").symlink_to(tmp_path / "there")
    write_atomically(tmp_path / "link", b"new")
    assert (tmp_path / "there").read_bytes() == b"new"


def test_devices_and_pipes_are_written_to(tmp_path):
    write_atomically(Path("/dev/null"), b"x")
    assert Path("/dev/null").is_char_device()
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    reading = subprocess.Popen(["cat", pipe], stdout=subprocess.PIPE)
    write_atomically(pipe, b"spoken")
    assert reading.communicate(timeout=10)[0] == b"spoken"
    assert pipe.is_fifo()


def test_standard_output_by_its_path_is_written_to():
    code = (
        "from pathlib import Path; from plectrum.core.atomic import write_atomically;"
        "write_atomically(Path('/dev/stdout'), b'spoken')"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, timeout=60)
    assert done.stdout == b"spoken", done.stderr


def test_a_device_without_room_is_one_line():
    with pytest.raises(PlectrumError, match="no space left"):
        write_atomically(Path("/dev/full"), b"x")


def test_very_long_names_can_be_written(tmp_path):
    path = tmp_path / ("n" * 250)
    write_atomically(path, b"x", keep=True)
    assert path.read_bytes() == b"x"
    with pytest.raises(PlectrumError, match="name too long"):
        write_atomically(tmp_path / ("n" * 300), b"x")


def test_what_was_there_is_kept_once_where_that_is_wanted(tmp_path):
    path = tmp_path / "plan"
    for data in (b"1", b"2", b"3"):
        write_atomically(path, data, keep=True)
    assert path.read_bytes() == b"3"
    assert (tmp_path / "plan~").read_bytes() == b"2"
    assert sorted(p.name for p in tmp_path.iterdir()) == ["plan", "plan~"]


def test_private_files_are_the_users_alone_and_others_keep_their_rights(tmp_path):
    write_atomically(tmp_path / "a", b"x", private=True)
    assert (tmp_path / "a").stat().st_mode & 0o777 == 0o600
    (tmp_path / "b").write_bytes(b"x")
    (tmp_path / "b").chmod(0o640)
    write_atomically(tmp_path / "b", b"y")
    assert (tmp_path / "b").stat().st_mode & 0o777 == 0o640
    assert private_folder(tmp_path / "c/d").stat().st_mode & 0o777 == 0o700


def test_litter_of_writers_that_are_gone_is_swept_and_that_of_living_ones_not(tmp_path):
    (tmp_path / ".plectrum-dead.part").write_bytes(b"half")
    (tmp_path / "mine.part").write_bytes(b"x")
    holding = subprocess.Popen(
        [sys.executable, "-c", ("import fcntl, sys, time; f = open(sys.argv[1], 'w');"
         "fcntl.flock(f, fcntl.LOCK_EX); print('held', flush=True); time.sleep(60)"),
         str(tmp_path / ".plectrum-alive.part")], stdout=subprocess.PIPE, text=True,
    )  # fmt: skip
    assert holding.stdout is not None
    holding.stdout.readline()
    assert sweep(tmp_path) == 1
    assert sorted(p.name for p in tmp_path.iterdir()) == [".plectrum-alive.part", "mine.part"]
    holding.kill()
    holding.communicate()
    assert sweep(tmp_path) == 1


def test_the_folder_is_on_the_disk_too(tmp_path, monkeypatch):
    synced = []
    real = os.fsync

    def fsync(handle: int) -> None:
        synced.append(os.readlink(f"/proc/self/fd/{handle}"))
        real(handle)

    monkeypatch.setattr(atomic.os, "fsync", fsync)
    write_atomically(tmp_path / "plan", b"x")
    assert synced[-1] == str(tmp_path)
    assert len(synced) == 2


WRITING = """
import sys
from pathlib import Path
from plectrum.core.atomic import write_atomically
k = 0
while True:
    write_atomically(Path(sys.argv[1]), bytes([65 + k % 26]) * 300_000, keep=True)
    k += 1
    print(k, flush=True)
"""


def test_kills_while_saving_tear_nothing_and_leave_nothing(tmp_path):
    """Twenty kills at odd moments; the file is always whole, and the next writing sweeps."""
    path = tmp_path / "plan"
    for k in range(20):
        writing = subprocess.Popen(
            [sys.executable, "-c", WRITING, str(path)], stdout=subprocess.PIPE
        )
        assert writing.stdout is not None
        writing.stdout.readline()
        time.sleep(0.001 * k)
        writing.send_signal(signal.SIGKILL)
        writing.communicate()
        data = path.read_bytes()
        assert len(data) == 300_000
        assert data == data[:1] * 300_000
    write_atomically(path, b"end")
    assert sorted(p.name for p in tmp_path.iterdir()) == ["plan", "plan~"]


AS_NOBODY = """
import os, sys, random
from pathlib import Path
from plectrum.core.atomic import write_atomically
from plectrum.core.errors import PlectrumError
from plectrum.core.incoming.files import read_file
os.setgid(65534); os.setuid(65534)
for work in (lambda: write_atomically(Path(sys.argv[1]) / "locked/plan", b"x"),
             lambda: read_file(Path(sys.argv[1]) / "secret")):
    try:
        work()
        print("done")
    except PlectrumError as error:
        print(error)
"""


@pytest.mark.skipif(not AS_USER, reason="only root can become an ordinary user")
def test_an_ordinary_user_is_told_what_is_not_allowed(tmp_path):
    """Run as nobody, since root may do everything."""
    os.chmod(tmp_path, 0o755)
    for folder in tmp_path.parents:
        if os.stat(folder).st_uid == os.getuid() and folder != Path("/"):
            os.chmod(folder, os.stat(folder).st_mode | 0o055)
    (tmp_path / "locked").mkdir(mode=0o755)
    (tmp_path / "secret").write_bytes(b"x")
    (tmp_path / "secret").chmod(0o600)
    done = subprocess.run(
        [sys.executable, "-c", AS_NOBODY, str(tmp_path)], capture_output=True, text=True
    )
    lines = done.stdout.splitlines()
    assert len(lines) == 2, done.stderr
    assert "cannot be written (permission denied)" in lines[0]
    assert "cannot be read (permission denied)" in lines[1]
