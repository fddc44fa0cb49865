"""`plectrum plan` from the outside: formats, pipes, exit codes, one line for every error."""

from __future__ import annotations

import csv
import io
import json
import sys
from pathlib import Path

import numpy as np
import pytest

from plectrum.cli.main import main
from plectrum.core.score.model import Direction
from plectrum.core.score.reading.opening import open_path, open_score
from plectrum.core.score.scorefile import read_part
from plectrum.core.tracking.sensor import SensorReader
from plectrum.demo import demo_paths
from tests.command import from_outside, plectrum, refusal
from tests.core.score.test_guards import MALFORMED
from tests.tunes import score_xml, tune_xml

NOTE_KEYS = {
    "index", "id", "bar", "beat", "onset_s", "duration_s", "gap_before_s", "written", "midi",
    "direction", "join", "stroke", "from", "to", "length_mm", "speed_mm_s", "dynamic", "level_db",
    "pinned", "reasons", "alternatives",
}  # fmt: skip
STROKE_KEYS = {
    "index", "direction", "join", "first_note", "last_note", "from", "to", "length_mm",
    "speed_mm_s", "kind",
}  # fmt: skip


@pytest.fixture
def tune(tmp_path: Path) -> Path:
    path = tmp_path / "tune.musicxml"
    path.write_bytes(tune_xml("A4 B4 C5 D5|E5*3/2 D5*1/2 C5*2|[f] A4*4!|"))
    return path


def test_json_has_every_promised_key(tune):
    done = plectrum("plan", str(tune), "--format", "json")
    assert done.returncode == 0, done.stderr
    plan = json.loads(done.stdout)
    assert (plan["format"], plan["version"]) == ("plectrum-plan", 1)
    assert {
        "piece", "instrument", "bow", "player", "school", "tempo", "notes", "strokes", "warnings",
        "summary", "cost",
    } <= set(plan)  # fmt: skip
    assert set(plan["notes"][0]) >= NOTE_KEYS
    assert set(plan["strokes"][0]) >= STROKE_KEYS
    assert plan["piece"] == {"title": "tune", "part": "Violin", "bars": 3}
    assert plan["tempo"]["beat_unit"] == "quarter"
    assert plan["tempo"]["floor_bpm"] < plan["tempo"]["bpm"] == 80 < plan["tempo"]["ceiling_bpm"]
    assert plan["notes"][-1]["direction"] is None  # pizzicato
    assert sum(plan["cost"]["terms"].values()) == pytest.approx(plan["cost"]["total"])


def test_csv_has_a_row_a_note(tune):
    rows = list(
        csv.DictReader(io.StringIO(plectrum("plan", str(tune), "--format", "csv").stdout.decode()))
    )
    assert len(rows) == 8
    assert rows[0]["note"] == "A4"
    assert rows[-1]["direction"] == ""


def test_text_is_a_line_a_note(tune):
    lines = plectrum("plan", str(tune)).stdout.decode().splitlines()
    assert sum(1 for line in lines if " cm in " in line) == 7
    assert any("plucked" in line for line in lines)


def test_musicxml_through_pipes():
    done = from_outside(
        "plan", "-", "--from", "musicxml", "--format", "musicxml", data=tune_xml("A4 B4 C5 D5|")
    )
    notes = read_part(open_score(done.stdout, "x"), "P1").notes
    assert [n.mark for n in notes] == [Direction.DOWN, Direction.UP] * 2


def test_output_to_a_file(tune, tmp_path):
    out = tmp_path / "plan.json"
    assert plectrum("plan", str(tune), "--format", "json", "-o", str(out)).returncode == 0
    assert json.loads(out.read_text())["instrument"] == "violin"


def test_slurs_and_sizes(tune):
    """More slurs make fewer bows; a half-size violin has its bow, 530 mm of hair."""
    bows = []
    for amount in ("0", "100"):
        args = ("--format", "json", "--slurs", "song", "--slur-amount", amount, "--size", "1/2")
        plan = json.loads(plectrum("plan", str(tune), *args).stdout)
        bows.append(len(plan["strokes"]))
        assert max(n.get("length_mm") or 0 for n in plan["notes"]) <= 530
    assert bows[0] >= bows[1]
    refused = plectrum("plan", str(tune), "--slur-amount", "101")
    assert refused.returncode != 0
    assert b"101" in refused.stderr


def test_pins_tempo_player_school_and_instrument(tune):
    done = plectrum(
        "plan", str(tune), "--format", "json", "--pin", "1.1=up", "--pin", "2.2.5=turn",
        "--tempo", "60", "--player", "steady", "--direction", "flow", "--instrument", "viola",
    )  # fmt: skip
    plan = json.loads(done.stdout)
    assert plan["notes"][0]["direction"] == "up"
    assert plan["notes"][0]["pinned"] == ["up"]
    assert plan["notes"][5]["join"] == "turn"
    assert plan["tempo"]["bpm"] == 60
    assert plan["player"]["name"] == "steady"
    assert plan["school"]["direction"] == "flow"
    assert plan["instrument"] == "viola"


def test_a_players_file(tune, tmp_path):
    player = tmp_path / "mika.json"
    plan = json.loads(plectrum("plan", str(tune), "--format", "json").stdout)
    fields = plan["player"] | {"name": "mika", "usable_from": 0.25, "usable_to": 0.75}
    player.write_text(json.dumps(fields))
    done = plectrum("plan", str(tune), "--format", "json", "--player", str(player))
    plan = json.loads(done.stdout)
    assert plan["bow"]["usable"] == [0.25, 0.75]
    assert all(0.25 <= n["from"] <= 0.75 for n in plan["notes"] if n["direction"])


@pytest.mark.parametrize(
    ("args", "said"),
    [
        (["plan", "missing.xml"], "cannot be read"),
        (["plan", "{tune}", "--part", "Oboe"], "no part 'Oboe'"),
        (["plan", "{tune}", "--pin", "9.1=up"], "no note starts in bar 9"),
        (["plan", "{tune}", "--pin", "1.1=sideways"], "cannot be pinned"),
        (["plan", "{tune}", "--pin", "nonsense"], "is not a pin"),
        (["plan", "{tune}", "--player", "bob"], "no player stage"),
        (["plan", "{tune}", "--direction", "sideways"], "sideways"),
        (["plan", "{tune}", "--tempo", "3"], "tempo"),
        (["plan", "{tune}", "--bogus"], "bogus"),
        (["plan", "{tune}", "-o", "no/such/folder/x"], "cannot be written"),
        (["plan"], "FILE"),
    ],
)
def test_bad_calls_say_one_line_and_exit_2(tune, args, said):
    done = plectrum(*[a.replace("{tune}", str(tune)) for a in args])
    assert done.returncode == 2
    lines = done.stderr.decode().strip().splitlines()
    assert len(lines) == 1
    assert said.lower() in lines[0].lower()
    assert done.stdout == b""


BAD_FILES = {name: data for name, (data, _) in MALFORMED.items()} | {
    "part without notes": tune_xml("r*4|"),
    "score without strings": tune_xml("A4*4|", name="Flute"),
}


@pytest.mark.parametrize("name", BAD_FILES)
def test_every_bad_file_exits_2_with_one_line(name, tmp_path, monkeypatch, capsys):
    path = tmp_path / "bad.xml"
    path.write_bytes(BAD_FILES[name])
    monkeypatch.setattr(sys, "argv", ["plectrum", "plan", str(path)])
    with pytest.raises(SystemExit) as ended:
        main()
    out, err = capsys.readouterr()
    assert ended.value.code == 2
    assert len(err.strip().splitlines()) == 1
    assert "bad.xml" in err
    assert out == ""


def test_a_bad_file_exits_2_from_the_outside(tmp_path):
    path = tmp_path / "bad.xml"
    path.write_bytes(BAD_FILES["truncated"])
    assert from_outside("plan", str(path)).returncode == 2


def test_a_faulty_player_file_names_every_fault(tune, tmp_path):
    player = tmp_path / "bad.json"
    player.write_text('{"name": "x", "usable_from": 2, "colour": "red"}')
    line = plectrum("plan", str(tune), "--player", str(player)).stderr.decode()
    assert "usable_from" in line
    assert "colour" in line
    assert "lift_s" in line


def test_the_demo_pieces_plan():
    for path in demo_paths():
        assert plectrum("plan", str(path)).returncode == 0


def test_version():
    assert from_outside("--version").stdout.decode().startswith("plectrum ")


# playing


def test_a_plan_is_written_as_sound(tune, tmp_path):
    """A WAV that SciPy reads: as long as the tune and its count-in, twice that at half tempo."""
    from scipy.io import wavfile  # slow to load; only here

    lengths = []
    for percent in ("100", "50"):
        out = tmp_path / f"{percent}.wav"
        done = plectrum("sound", str(tune), "-o", str(out), "--percent", percent, "--no-click")
        assert (done.returncode, done.stdout) == (0, b"")
        rate, samples = wavfile.read(out)
        assert np.abs(samples).max() > 1000
        lengths.append(len(samples) / rate - 0.5)
    assert lengths[1] == pytest.approx(2 * lengths[0], rel=0.01)


def test_the_other_parts_are_written_as_sound_too(tmp_path):
    from scipy.io import wavfile

    duet = next(p for p in demo_paths() if len(open_path(p).parts) > 1)
    heard = {}
    for parts in ("me alone", "all parts", "all but me"):
        out = tmp_path / f"{parts}.wav"
        done = plectrum("sound", str(duet), "--parts", parts, "--no-repeats", "-o", str(out))
        assert done.returncode == 0
        heard[parts] = wavfile.read(out)[1].astype(float)
    lengths = {len(x) for x in heard.values()}
    assert len(lengths) == 1
    power = {name: float(np.mean(x**2)) for name, x in heard.items()}
    assert power["all parts"] > power["me alone"]
    assert np.abs(heard["all but me"] - heard["me alone"]).max() > 1000


def test_the_stand_in_bow_speaks_the_line_format(tune):
    done = plectrum("sensor", str(tune), "--at-once", "--clumsy", "late crossings", "--seed", "3")
    assert done.returncode == 0
    samples = SensorReader().feed(done.stdout.decode())
    assert len(samples) > 300
    assert [s.at_s for s in samples] == pytest.approx([k / 100 for k in range(len(samples))])
    again = plectrum("sensor", str(tune), "--at-once", "--clumsy", "late crossings", "--seed", "3")
    assert again.stdout == done.stdout


def test_playing_commands_refuse_in_one_line(tune, tmp_path):
    for args in (
        ("sound", str(tune), "-o", str(tmp_path / "none" / "x.wav")),
        ("sound", str(tmp_path / "missing.abc"), "-o", str(tmp_path / "x.wav")),
        ("sound", str(tune), "-o", "x.wav", "--percent", "5"),
        ("sensor", str(tune), "--clumsy", "graceful"),
    ):
        done = plectrum(*args)
        assert done.returncode == 2
        assert done.stderr.decode().startswith("plectrum: ")
        assert done.stderr.decode().count("\n") == 1


# studies


def test_a_study_is_a_score_with_its_bowing(tmp_path):
    tune = tmp_path / "tune.musicxml"
    tune.write_bytes(tune_xml("A4( B4) C#5 D5|E5*3/2 D5*1/2 C#5 B4|A4*4|"))
    target = tmp_path / "study.musicxml"
    ran = plectrum("study", str(tune), "--bars", "1-2", "--kind", "open-strings", "-o", str(target))
    assert (ran.returncode, ran.stderr) == (0, b"")
    part = read_part(open_score(target.read_bytes(), "study.musicxml"), "P1")
    assert [b.number for b in part.bars] == [1, 2]
    assert {p.name for n in part.notes for p in n.pitches} <= {"A4", "E5"}
    assert part.notes[0].mark is Direction.DOWN
    assert part.notes[1].slurred


def test_a_study_goes_through_pipes_at_another_tempo():
    data = tune_xml("A4 B4 C#5 D5|A4*4|", bpm=80)
    ran = plectrum("study", "-", "--from", "musicxml", "--bars", "1", "--kind", "both-hands",
                   "--percent", "75", data=data)  # fmt: skip
    assert ran.returncode == 0
    assert read_part(open_score(ran.stdout, "s.musicxml"), "P1").tempo.bpm == 60


@pytest.mark.parametrize(
    ("bars", "kind", "words"),
    [
        ("7-9", "say", "there are no bars 7-9. The piece has bars 1 to 2"),
        ("one", "say", "'one' names no bars. Write 5 or 5-8"),
        ("2-1", "say", "there are no bars 2-1"),
        ("1-2", "stops", "no slur in these bars"),
        ("1-2", "second-part", "no second part"),
        ("1-2", "nonsense", "nonsense"),
    ],
)
def test_a_study_that_cannot_be_made_is_one_clear_line(tmp_path, bars, kind, words):
    tune = tmp_path / "tune.musicxml"
    tune.write_bytes(tune_xml("A4 B4 C#5 D5|A4*4|"))
    assert words in refusal("study", str(tune), "--bars", bars, "--kind", kind)


def test_a_part_by_itself_is_planned_without_the_others(tmp_path):
    score = tmp_path / "duet.musicxml"
    score.write_bytes(score_xml({"Violin": "A4 B4 C5*2|", "Viola": "D4u E4 F4*2|"}))
    together = plectrum("plan", str(score)).stdout.decode()
    alone = plectrum("plan", str(score), "--alone").stdout.decode()
    assert "A4      A0   V" in together
    assert "A4      A0   ⊓" in alone


def test_all_parts_are_printed_as_one(tmp_path):
    score = tmp_path / "duet.musicxml"
    score.write_bytes(score_xml({"Violin": "A4 B4 C5*2|", "Viola": "D4u E4 F4*2|"}))
    text = plectrum("plan", str(score), "--all").stdout.decode()
    assert text.count("for Growing") == 2
    assert "3 places match, all go the same way." in text
    found = json.loads(plectrum("plan", str(score), "--all", "--format", "json").stdout)
    assert [part["piece"]["part"] for part in found["parts"]] == ["Violin", "Viola"]
    assert found["matched"] == 3
    assert found["differences"] == []
    marked = plectrum("plan", str(score), "--all", "--format", "musicxml").stdout
    assert marked.count(b"<up-bow/>") + marked.count(b"<down-bow/>") == 6
    table = plectrum("plan", str(score), "--all", "--format", "csv")
    assert table.returncode == 2
    assert b"a table has one part" in table.stderr


def test_a_tune_of_a_book_is_chosen_and_none_is_taken_silently(tmp_path):
    book = tmp_path / "book.abc"
    head = "M:4/4\nL:1/4\nK:D\n"
    book.write_text(f"X:1\nT:Fog Bell\n{head}ABcd|\n\nX:2\nT:Net Mender\n{head}dcBA|\n")
    asked = plectrum("plan", str(book))
    assert asked.returncode == 2
    assert (
        b"it holds 2 tunes (1. Fog Bell, D; 2. Net Mender, D). Choose one: --tune N" in asked.stderr
    )
    chosen = plectrum("plan", str(book), "--tune", "2")
    assert chosen.stdout.startswith(b"Net Mender:")
    piped = plectrum("plan", "-", "--from", "abc", "--tune", "1", data=book.read_bytes())
    assert piped.stdout.startswith(b"Fog Bell:")
    sound = tmp_path / "out.mid"
    assert plectrum("sound", str(book), "--tune", "2", "-o", str(sound)).returncode == 0


def test_a_terminal_of_few_letters_shows_a_plan(monkeypatch):
    """Signs it has not become question marks; nothing ends in an error."""
    monkeypatch.setenv("PYTHONIOENCODING", "ascii")
    done = from_outside("plan", "missing–file.abc")
    assert done.returncode == 2
    assert b"unexpected" not in done.stderr
    assert b"missing?file.abc" in done.stderr


def test_a_note_that_midi_has_not_is_named(tmp_path):
    tune = tmp_path / "high.musicxml"
    tune.write_bytes(tune_xml("A4 B4").replace(b"<octave>4</octave>", b"<octave>9</octave>"))
    said = refusal("sound", str(tune), "-o", str(tmp_path / "x.mid"))
    assert "beyond what MIDI has" in said
    assert not (tmp_path / "x.mid").exists()
