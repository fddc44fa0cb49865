"""Made-up pieces, players and six weeks of their log from the harbour music school of Tidewell,
composed and invented for this project."""

from importlib import resources
from pathlib import Path

PIECES = (
    "lantern_ferry.musicxml",
    "slow_water.musicxml",
    "two_lights.musicxml",
    "harbour_watch.musicxml",
)


def demo_paths() -> list[Path]:
    """The demo pieces as files."""
    folder = resources.files(__name__)
    return [Path(str(folder.joinpath(name))) for name in PIECES]


def demo_log() -> bytes:
    """Six weeks of three invented players, as an exported log."""
    return resources.files(__name__).joinpath("log.json").read_bytes()
