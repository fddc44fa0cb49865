"""Brings the tables of an older log, or of none, to those of this version, step by step."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy.engine import Connection

STEPS = Path(__file__).parent / "migrations"


def steps_config() -> Config:
    """Where the steps are."""
    config = Config()
    config.set_main_option("script_location", str(STEPS))
    return config


def upgrade(connection: Connection, to: str = "head") -> None:
    """Take every step up to a revision, inside the transaction that is under way."""
    config = steps_config()
    config.attributes["connection"] = connection
    command.upgrade(config, to)
