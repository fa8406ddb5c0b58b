"""sessions that are called off or come from a calendar's event, days that are off or not known, years of birth"""

from datetime import timedelta
from itertools import pairwise

import sqlalchemy as sa
from alembic import op

from uvren.store.types import Instant

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("session", sa.Column("called_off", sa.String(200), nullable=True))
    op.add_column("session", sa.Column("calendar_uid", sa.String(200), nullable=True))
    op.create_index("ix_session_squad_id_calendar_uid", "session", ["squad_id", "calendar_uid"])
    op.add_column("athlete", sa.Column("birth_year", sa.SmallInteger(), nullable=True))
    op.create_table(
        "day_mark",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column(
            "mark",
            sa.Enum("off", "unknown", name="daymarkkind", native_enum=False, create_constraint=True, length=16),
            nullable=False,
        ),
        sa.Column("set_by", sa.Integer(), nullable=True),
        sa.Column("set_at", Instant(), nullable=False),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_day_mark_squad_id_squad")),
        sa.ForeignKeyConstraint(["set_by"], ["user.id"], name=op.f("fk_day_mark_set_by_user")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_day_mark")),
        sa.UniqueConstraint("squad_id", "day", name=op.f("uq_day_mark_squad_id_day")),
    )
    _apart(op.get_bind())


def _apart(db: sa.Connection) -> None:
    """Spans of one athlete in one squad that lie over each other end before the next begins; the last reaches as far."""
    rows = db.execute(sa.text("SELECT id, squad_id, athlete_id, from_day, to_day FROM membership "
                              "ORDER BY squad_id, athlete_id, from_day")).all()  # fmt: skip
    ends = {row.id: row.to_day for row in rows}
    for before, after in pairwise(rows):
        same = (before.squad_id, before.athlete_id) == (after.squad_id, after.athlete_id)
        last = ends[before.id]
        if not same or (last is not None and last < after.from_day):
            continue
        ends[before.id] = after.from_day - timedelta(days=1)
        if ends[after.id] is not None and (last is None or last > ends[after.id]):
            ends[after.id] = last
    for row in rows:
        if ends[row.id] != row.to_day:
            db.execute(
                sa.text("UPDATE membership SET to_day = :day WHERE id = :id"), {"day": ends[row.id], "id": row.id}
            )


def downgrade() -> None:
    op.drop_table("day_mark")
    op.drop_column("athlete", "birth_year")
    op.drop_index("ix_session_squad_id_calendar_uid", "session")
    op.drop_column("session", "calendar_uid")
    op.drop_column("session", "called_off")
