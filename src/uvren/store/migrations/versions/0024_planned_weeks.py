"""weeks of a block: what each is for, and how hard"""

import sqlalchemy as sa
from alembic import op

from uvren.store.types import Instant, UlidType

revision = "0024"
down_revision = "0023"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "planned_week",
        sa.Column("id", UlidType(), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("first_day", sa.Date(), nullable=False),
        sa.Column("goal", sa.String(120), nullable=False),
        sa.Column("share", sa.Double(), nullable=False),
        sa.Column("lighter", sa.Boolean(), nullable=False),
        sa.Column("set_by", sa.Integer(), nullable=True),
        sa.Column("set_at", Instant(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_planned_week")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_planned_week_squad_id_squad")),
        sa.ForeignKeyConstraint(["set_by"], ["user.id"], name=op.f("fk_planned_week_set_by_user")),
        sa.UniqueConstraint("squad_id", "first_day", name=op.f("uq_planned_week_squad_id_first_day")),
        mysql_engine="InnoDB",
    )


def downgrade() -> None:
    op.drop_table("planned_week")
