"""Pain noted at students, sessions and lessons; where faults were seen; sessions by day."""

import sqlalchemy as sa
from alembic import op

revision = "2"
down_revision = "1"


def upgrade() -> None:
    op.add_column("students", sa.Column("pain_since", sa.Date))
    for name in ("sessions", "lessons"):
        pain = sa.Column("pain", sa.Boolean, nullable=False, server_default=sa.false())
        op.add_column(name, pain)
    student = sa.ForeignKey("students.id", ondelete="CASCADE")
    piece = sa.ForeignKey("pieces.id", ondelete="SET NULL")
    op.create_table(
        "faults",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("student_id", sa.String(32), student, nullable=False),
        sa.Column("piece_id", sa.String(32), piece),
        sa.Column("on", sa.Date, nullable=False),
        sa.Column("kind", sa.String(80), nullable=False),
        sa.Column("bar", sa.Integer),
        sa.Column("place", sa.Float),
    )
    op.create_index("faults_of_a_student", "faults", ["student_id", "on"])
    op.create_index("sessions_by_day", "sessions", ["on"])
