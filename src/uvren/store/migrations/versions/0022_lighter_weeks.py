"""lighter weeks of one athlete, with what they were proposed for"""

import sqlalchemy as sa
from alembic import op

from uvren.store.types import Instant, UlidType

revision = "0022"
down_revision = "0021"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "lighter_week",
        sa.Column("id", UlidType(), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=False),
        sa.Column("from_day", sa.Date(), nullable=False),
        sa.Column("school", sa.String(16), nullable=False),
        sa.Column("signs", sa.JSON(), nullable=False),
        sa.Column("lines", sa.JSON(), nullable=False),
        sa.Column("stood", sa.JSON(), nullable=False),
        sa.Column("made_by", sa.Integer(), nullable=True),
        sa.Column("made_at", Instant(), nullable=False),
        sa.Column("withdrawn_at", Instant(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_lighter_week")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_lighter_week_squad_id_squad")),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_lighter_week_athlete_id_athlete")),
        sa.ForeignKeyConstraint(["made_by"], ["user.id"], name=op.f("fk_lighter_week_made_by_user")),
        mysql_engine="InnoDB",
    )
    op.create_index(op.f("ix_lighter_week_squad_id_from_day"), "lighter_week", ["squad_id", "from_day"])


def downgrade() -> None:
    op.drop_table("lighter_week")
