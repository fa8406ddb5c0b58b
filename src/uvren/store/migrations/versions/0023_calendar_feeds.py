"""secret links to a squad's calendar, or to an athlete's own"""

import sqlalchemy as sa
from alembic import op

from uvren.store.types import Instant, UlidType

revision = "0023"
down_revision = "0022"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "calendar_feed",
        sa.Column("id", UlidType(), nullable=False),
        sa.Column("token_digest", sa.String(64), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=True),
        sa.Column("made_by", sa.Integer(), nullable=True),
        sa.Column("made_at", Instant(), nullable=False),
        sa.Column("withdrawn_at", Instant(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_calendar_feed")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_calendar_feed_squad_id_squad")),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_calendar_feed_athlete_id_athlete")),
        sa.ForeignKeyConstraint(["made_by"], ["user.id"], name=op.f("fk_calendar_feed_made_by_user")),
        sa.UniqueConstraint("token_digest", name=op.f("uq_calendar_feed_token_digest")),
        mysql_engine="InnoDB",
    )
    op.create_index(op.f("ix_calendar_feed_squad_id_made_at"), "calendar_feed", ["squad_id", "made_at"])


def downgrade() -> None:
    op.drop_table("calendar_feed")
