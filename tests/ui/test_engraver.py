"""The engraver's process frozen, dying, killed in the middle, and speaking nonsense."""

from __future__ import annotations

import os
import signal
import sys

import pytest
from PySide6.QtCore import QProcess

from plectrum.core.score.reading.opening import open_score
from plectrum.demo import demo_paths
from plectrum.ui.engraving import client as client_module
from plectrum.ui.engraving.client import EngravingClient, Layout
from plectrum.ui.engraving.prepare import engraving_copy
from tests.tunes import score_xml


@pytest.fixture
def client(themed, monkeypatch, tmp_path):
    """A client with a process of its own, little patience and short pauses."""
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    monkeypatch.setattr(client_module, "QProcess", QProcess)
    monkeypatch.setattr(client_module, "ANSWER_S", 2.0)
    monkeypatch.setattr(client_module, "CHARACTERS_A_SECOND", 1e9)
    monkeypatch.setattr(client_module, "PAUSES_MS", (50, 100, 200))
    monkeypatch.setattr(client_module, "LOOK_MS", 50)
    made = EngravingClient()
    made.said = []
    made.trouble.connect(made.said.append)
    yield made
    made.close()


def layout() -> Layout:
    return Layout(open_score(demo_paths()[0].read_bytes(), "x"), ("P1",), "violin", 500, 40)


def engrave(qtbot, client, name: str = "test"):
    """A channel that gathers what it gets."""
    channel = client.channel(name)
    channel.got, channel.why = [], []
    channel.system_ready.connect(lambda system: channel.got.append(system.index))
    channel.failed.connect(channel.why.append)
    channel.engrave(layout())
    return channel


def done(channel) -> bool:
    return not channel.waiting and bool(channel.got)


def test_a_frozen_engraver_is_said_ended_and_asked_again(qtbot, client):
    qtbot.waitUntil(lambda: client._process.state() == QProcess.ProcessState.Running)
    frozen = client._process.processId()
    os.kill(frozen, signal.SIGSTOP)
    channel = engrave(qtbot, client)
    qtbot.waitUntil(lambda: done(channel), timeout=30_000)
    assert "does not answer" in client.said[0]
    assert client.said[-1] == ""  # it is over
    assert client._process.processId() != frozen
    assert sorted(channel.got) == list(range(len(channel.got)))


def test_killed_between_systems_the_rest_comes_all_the_same(qtbot, client):
    channel = engrave(qtbot, client)
    qtbot.waitUntil(lambda: len(channel.got) >= 1, timeout=30_000)
    client._process.kill()
    qtbot.waitUntil(lambda: done(channel), timeout=30_000)
    assert sorted(set(channel.got)) == list(range(max(channel.got) + 1))
    assert len(channel.got) == len(set(channel.got)) > 2
    assert channel.why == []


def test_a_dying_engraver_is_started_seldom_and_given_up_in_words(qtbot, client, monkeypatch):
    """A process that ends at once: three tries, with pauses, then it is said; asking again
    later works when it lives again."""
    starts = []

    def dies(self):
        starts.append(1)
        self._buffer = b""
        self._process.start("/bin/false", [])

    with monkeypatch.context() as ill:
        ill.setattr(EngravingClient, "_start", dies)
        client._process.kill()
        channel = engrave(qtbot, client)
        qtbot.waitUntil(lambda: channel.why != [], timeout=30_000)
        qtbot.wait(500)
    assert len(starts) < 10
    assert "stopped" in channel.why[0]
    assert any("stays away" in text for text in client.said)
    assert not channel.waiting
    client.retry()
    qtbot.waitUntil(lambda: done(channel), timeout=30_000)
    assert client.said[-1] == ""


def test_a_program_that_is_not_there_is_said(qtbot, client, monkeypatch):
    def missing(self):
        self._process.start("/no/such/program", [])

    with monkeypatch.context() as ill:
        ill.setattr(EngravingClient, "_start", missing)
        client._process.kill()
        channel = engrave(qtbot, client)
        qtbot.waitUntil(lambda: channel.why != [], timeout=30_000)


def test_nonsense_from_the_process_ends_it(qtbot, client):
    qtbot.waitUntil(lambda: client._process.state() == QProcess.ProcessState.Running)
    before = client._process.processId()
    client._answers.append(b"no json")
    client._hand_on.start()
    channel = engrave(qtbot, client)
    qtbot.waitUntil(lambda: done(channel), timeout=30_000)
    assert client._process.processId() != before


def test_a_waiting_client_is_closed_without_a_trace(qtbot, client):
    os.kill(client._process.processId(), signal.SIGSTOP)
    engrave(qtbot, client)
    client.close()
    assert client._process.state() == QProcess.ProcessState.NotRunning


def test_the_process_is_isolated(client):
    assert client._process.program() == sys.executable
    assert client._process.arguments()[0] == "-I"


def test_the_tempo_stands_once_over_whatever_part_is_shown():
    """Also where the page has it over the first part alone."""
    both = score_xml({"Violin": "A4*4|", "Viola": "D4*4|"}).decode()
    mark = both[both.index("<direction>") : both.index("</direction>") + len("</direction>")]
    at = both.rindex(mark)
    first_only = both[:at] + both[at + len(mark) :]
    for xml in (both, first_only):
        for ids in (["P1"], ["P2"], ["P1", "P2"]):
            assert engraving_copy(xml.encode(), ids).count("<metronome") == 1
