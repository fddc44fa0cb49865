"""What is said aloud while a tune is played, and that it is heard on its beat."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest

from plectrum.core.document.choices import Join
from plectrum.core.planning.ensemble.documents import plan_of
from plectrum.core.playing.cues import tune_cues
from plectrum.core.playing.performance import Performance, Rehearsal
from plectrum.core.sound import voice
from plectrum.core.sound.render import RATE_HZ, Renderer
from plectrum.core.sound.voice import said, spoken, words
from plectrum.core.wording.language import Language
from plectrum.core.wording.own_words import OwnWords
from tests.tunes import tune_document


def performance_of(text: str, rehearsal: Rehearsal | None = None, **changes) -> Performance:
    return Performance(plan_of(tune_document(text, **changes)), rehearsal)


def test_the_count_in_is_counted():
    played = performance_of("A4 B4 C5 D5")
    cues = tune_cues(played)
    assert [c.word for c in cues[:4]] == ["1", "2", "3", "4"]
    assert [c.at_s for c in cues[:4]] == [b.at_s for b in played.beats if b.count_in]
    assert {c.word for c in cues} <= words()


@pytest.fixture
def speaking(monkeypatch):
    """Has the voice speak a language, in the user's own words."""

    def speak(key: str, own: str = "") -> None:
        said.cache_clear()
        words.cache_clear()
        monkeypatch.setattr(voice, "chosen", lambda: Language(key, OwnWords.from_text(own)))

    yield speak
    monkeypatch.undo()
    said.cache_clear()
    words.cache_clear()


def test_the_voice_says_every_word_in_german_too(speaking):
    english, frog = words(), said("frog")
    speaking("de")
    assert words() == english - {"heel", "point", "pull"}  # which only English has two words for
    for word in words():
        wave = said(word)
        assert 0.1 < len(wave) / RATE_HZ < 1.4
        assert 0.2 < np.abs(wave).max() <= 1.0
    assert not np.array_equal(said("frog")[:1000], frog[:1000])


@pytest.mark.parametrize("rate_hz", [16_000, 22_050, 44_100, 48_000])
def test_words_at_another_rate_are_as_scipy_has_them(rate_hz):
    """SciPy's polyphase filter (`scipy.signal.resample_poly`) stands outside the project."""
    from scipy.signal import resample_poly

    time_s = np.arange(int(0.3 * rate_hz)) / rate_hz
    wave = np.sin(2 * np.pi * 440 * time_s) * np.hanning(len(time_s))
    found = voice._at_rate(wave, rate_hz)
    common = np.gcd(RATE_HZ, rate_hz)
    expected = resample_poly(wave, RATE_HZ // common, rate_hz // common)
    assert found.shape == expected.shape
    np.testing.assert_allclose(found, expected, atol=2e-3)


def test_the_voice_says_the_users_own_words(speaking):
    plain = {word: said(word) for word in ("heel", "point", "pull", "push", "stop")}
    speaking("en", "frog=heel,tip=point,ways=pull")
    for theirs, ours in (("frog", "heel"), ("tip", "point"), ("down", "pull"), ("up", "push")):
        assert np.array_equal(said(theirs), plain[ours])
    assert np.array_equal(said("stop"), plain["stop"])


def test_a_hook_is_the_same_again_and_a_lift_is_said_as_the_note_before_ends():
    hooks = performance_of("D4*3/2 E4*1/2 F4*3/2 G4*1/2", answers={"dotted": "hook"})
    same = [c.at_s for c in tune_cues(hooks) if c.word == "same"]
    joined = [p.onset_s for p in hooks.notes if p.join is Join.HOOK]
    assert same == joined
    assert joined
    lifts = performance_of("D4 E4 F4 r | D4 E4 F4 r | D4*4", answers={"rests": "lift"})
    said_lifts = [c.at_s for c in tune_cues(lifts) if c.word == "lift"]
    before = [a.moved_s for a, b in pairwise(lifts.notes) if b.join is Join.RETAKE]
    assert said_lifts == before
    assert before


def test_whose_turn_it_is_and_sections_are_said():
    whole = performance_of("A4 B4 C5 D5 | E5 D5 C5 B4 | A4 B4 C5 D5 | E5 D5 C5 B4")
    onsets = [n.onset_q for n in whole.plan.part.notes]
    sections = (onsets[0], onsets[8])
    named = Performance(whole.plan, Rehearsal(sections=sections, names=("A", "B")))
    (called,) = [c for c in tune_cues(named) if c.word.startswith("section")]
    assert called.word == "section-b"
    begins = next(p.onset_s for p in named.notes if p.note.onset_q == onsets[8])
    assert 0 < begins - called.at_s <= 0.9 + named.beat_s(named.notes[0].note)
    answering = Performance(whole.plan, Rehearsal(answer=True, sections=sections))
    turns = [t.start_s for t in answering.turns if t.answering]
    assert [c.at_s for c in tune_cues(answering) if c.word == "now-you"] == turns


def test_the_voice_lies_over_the_tone_on_its_beat():
    played = performance_of("A4 B4 C5 D5")
    cues = tune_cues(played)
    clips = spoken(cues)
    with_voice = np.concatenate(list(Renderer(played, click=False, voice=clips).blocks()))
    without = np.concatenate(list(Renderer(played, click=False).blocks()))
    voice = with_voice - without
    for at_s, wave in clips:
        first = round(at_s * RATE_HZ)
        assert np.abs(voice[max(0, first - 600) : max(0, first - 1)]).max(initial=0) < 0.3
        heard = np.abs(voice[first : first + len(wave)])
        assert np.argmax(heard > 0.05 * heard.max()) / RATE_HZ < 0.005
    assert np.abs(with_voice).max() <= 1.0


def test_words_never_overlap_and_unknown_ones_are_left_out():
    class At:
        def __init__(self, at_s: float, word: str) -> None:
            self.at_s, self.word, self.text = at_s, word, ""

    clips = spoken([At(0.0, "seventeen"), At(0.0, "17"), At(0.1, "2"), At(1.0, "3")])
    assert [at for at, _ in clips] == [0.0, 1.0]
    assert spoken([At(0.0, "1")], volume=0.0) == []
    assert np.abs(spoken([At(0.0, "1")], volume=0.5)[0][1]).max() == pytest.approx(
        0.5 * np.abs(said("1")).max()
    )
    with pytest.raises(KeyError):
        said("no such word")
