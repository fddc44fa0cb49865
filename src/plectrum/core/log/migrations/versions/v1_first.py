"""The first version: students, bows, pieces, plans, sessions, results, measurements, lessons."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "1"
down_revision = None


def _id() -> sa.Column[Any]:
    return sa.Column("id", sa.String(32), primary_key=True)


def _student() -> sa.Column[Any]:
    key = sa.ForeignKey("students.id", ondelete="CASCADE")
    return sa.Column("student_id", sa.String(32), key, nullable=False)


def _piece() -> sa.Column[Any]:
    key = sa.ForeignKey("pieces.id", ondelete="SET NULL")
    return sa.Column("piece_id", sa.String(32), key)


def _on() -> sa.Column[Any]:
    return sa.Column("on", sa.Date, nullable=False)


def _text(name: str) -> sa.Column[Any]:
    return sa.Column(name, sa.Text, nullable=False, server_default="")


def upgrade() -> None:
    op.create_table(
        "students", _id(),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("instrument", sa.String(16), nullable=False),
        _text("note"),
        sa.Column("archived", sa.Boolean, nullable=False, server_default=sa.false()),
    )  # fmt: skip
    op.create_table(
        "pieces", _id(),
        sa.Column("title", sa.String(200), nullable=False),
        sa.Column("instrument", sa.String(16), nullable=False),
        sa.Column("goal_bpm", sa.Float, nullable=False),
        sa.Column("bars_n", sa.Integer, nullable=False, server_default="0"),
    )  # fmt: skip
    op.create_table(
        "bows", _id(), _student(),
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("hair_mm", sa.Float, nullable=False),
        _text("note"),
    )  # fmt: skip
    key = sa.ForeignKey("pieces.id", ondelete="CASCADE")
    op.create_table(
        "plans", _id(), _student(), sa.Column("piece_id", sa.String(32), key, nullable=False),
        _on(), sa.Column("document", sa.LargeBinary, nullable=False), _text("note"),
    )  # fmt: skip
    op.create_table(
        "sessions", _id(), _student(), _on(),
        sa.Column("minutes", sa.Integer, nullable=False),
        _text("note"),
    )  # fmt: skip
    op.create_table(
        "results", _id(), _student(), _piece(), _on(),
        sa.Column("key", sa.String(80), nullable=False),
        sa.Column("title", sa.String(200), nullable=False),
        sa.Column("mark", sa.String(8), nullable=False),
        sa.Column("bpm", sa.Float),
        sa.Column("section", sa.String(80), nullable=False, server_default=""),
    )  # fmt: skip
    op.create_table(
        "measurements", _id(), _student(), _piece(), _on(),
        sa.Column("measure", sa.String(40), nullable=False),
        sa.Column("value", sa.Float, nullable=False),
        sa.Column("tries", sa.JSON, nullable=False),
        sa.Column("string", sa.Integer),
        sa.Column("direction", sa.String(4)),
        sa.Column("section", sa.String(80), nullable=False, server_default=""),
        _text("note"),
    )  # fmt: skip
    op.create_table(
        "lessons", _id(), _student(), _on(), _text("note"), _text("next_note"),
        sa.Column("checks", sa.JSON, nullable=False),
    )  # fmt: skip
    for name in ("plans", "sessions", "results", "measurements", "lessons"):
        op.create_index(f"{name}_of_a_student", name, ["student_id", "on"])
    op.create_index("bows_of_a_student", "bows", ["student_id"])
