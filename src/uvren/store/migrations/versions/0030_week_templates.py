"""weeks kept to be planned again, and what sport a squad does"""

import sqlalchemy as sa
from alembic import op

from uvren.store.types import Instant, UlidType

revision = "0030"
down_revision = "0029"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("squad", sa.Column("sport", sa.String(40), nullable=True))
    op.create_table(
        "week_template",
        sa.Column("id", UlidType(), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("years_least", sa.Double(), nullable=True),
        sa.Column("years_most", sa.Double(), nullable=True),
        sa.Column("sport", sa.String(40), nullable=False),
        sa.Column("sport_days", sa.Double(), nullable=True),
        sa.Column("longest", sa.Double(), nullable=True),
        sa.Column("sessions", sa.JSON(), nullable=False),
        sa.Column("made_by", sa.Integer(), nullable=True),
        sa.Column("made_at", Instant(), nullable=False),
        sa.Column("gone_at", Instant(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_week_template")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_week_template_squad_id_squad")),
        sa.ForeignKeyConstraint(["made_by"], ["user.id"], name=op.f("fk_week_template_made_by_user")),
        mysql_engine="InnoDB",
    )
    op.create_index(op.f("ix_week_template_squad_id"), "week_template", ["squad_id"])


def downgrade() -> None:
    op.drop_table("week_template")
    op.drop_column("squad", "sport")
