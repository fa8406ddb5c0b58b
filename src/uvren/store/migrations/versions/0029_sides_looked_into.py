"""sides that differ, looked into step by step"""

import sqlalchemy as sa
from alembic import op

from uvren.store.types import Instant, UlidType

revision = "0029"
down_revision = "0028"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "side_check",
        sa.Column("id", UlidType(), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=False),
        sa.Column("test", sa.String(40), nullable=False),
        sa.Column("from_day", sa.Date(), nullable=False),
        sa.Column("ranges", sa.JSON(), nullable=False),
        sa.Column("strengths", sa.JSON(), nullable=False),
        sa.Column("how", sa.String(16), nullable=True),
        sa.Column("sets", sa.Integer(), nullable=True),
        sa.Column("retest_on", sa.Date(), nullable=True),
        sa.Column("words", sa.String(400), nullable=False),
        sa.Column("ended_on", sa.Date(), nullable=True),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("set_by", sa.Integer(), nullable=True),
        sa.Column("set_at", Instant(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_side_check")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_side_check_squad_id_squad")),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_side_check_athlete_id_athlete")),
        sa.ForeignKeyConstraint(["set_by"], ["user.id"], name=op.f("fk_side_check_set_by_user")),
        sa.CheckConstraint("how IS NULL OR how IN ('first', 'sets', 'matched')", name=op.f("ck_side_check_how")),
        sa.CheckConstraint("sets IS NULL OR sets BETWEEN 1 AND 20", name=op.f("ck_side_check_sets")),
        mysql_engine="InnoDB",
    )
    op.create_index(op.f("ix_side_check_squad_id_from_day"), "side_check", ["squad_id", "from_day"])
    op.create_index(op.f("ix_side_check_athlete_id_from_day"), "side_check", ["athlete_id", "from_day"])


def downgrade() -> None:
    op.drop_table("side_check")
