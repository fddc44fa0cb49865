"""What a new plan has changed, said once it is drawn."""

from __future__ import annotations

from plectrum.core.advice.answer_words import answer_words
from plectrum.core.advice.reasons import bars_words
from plectrum.core.planning.plan import Plan
from plectrum.core.wording import say, sentence_like


class Changes:
    """Compares every plan with the one before."""

    def __init__(self) -> None:
        self._plan: Plan | None = None

    def words(self, plan: Plan, bars: tuple[int, ...], also: str) -> str:
        """What is otherwise; empty where nothing need be said.

        Args:
            bars: numbers of those that bow otherwise; also: what the command itself has to say.
        """
        before, self._plan = self._plan, plan
        said = [say("Changed: {bars}", bars=bars_words(bars))] if bars else []
        if before is not None:
            said.append(answer_words(before, plan, bars))
        said.append(also)
        return ". ".join(sentence_like(words) for words in said if words)
