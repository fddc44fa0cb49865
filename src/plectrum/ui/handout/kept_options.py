"""The options of the page that are kept between runs."""

from __future__ import annotations

from typing import Any

from plectrum.core.practice.handout import HandoutOptions, Paper, Picture, Words

REMEMBERED = ("paper", "large", "picture", "words", "watch", "steps", "made_by")


def remembered(options: HandoutOptions) -> dict[str, Any]:
    """What is kept between runs; whom the page was for is not."""
    return {name: getattr(options, name) for name in REMEMBERED}


def recalled(kept: dict[str, Any]) -> HandoutOptions:
    """The options kept; the usual ones where they cannot be used."""
    try:
        return HandoutOptions(
            Paper(kept["paper"]),
            bool(kept["large"]),
            Picture(kept["picture"]),
            Words(kept["words"]),
            bool(kept["watch"]),
            bool(kept["steps"]),
            made_by=str(kept["made_by"]),
        )
    except (ValueError, KeyError, TypeError):
        return HandoutOptions()
