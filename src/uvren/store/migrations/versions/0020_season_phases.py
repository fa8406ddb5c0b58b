"""the phases of a squad's season"""

import sqlalchemy as sa
from alembic import op

from uvren.store.types import Instant, UlidType

revision = "0020"
down_revision = "0019"
branch_labels = None
depends_on = None

KINDS = ("preparation", "competition", "transition")


def upgrade() -> None:
    op.create_table(
        "season_phase",
        sa.Column("id", UlidType(), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("edition", UlidType(), nullable=False),
        sa.Column(
            "kind",
            sa.Enum(*KINDS, name="phasekind", native_enum=False, create_constraint=True, length=16),
            nullable=False,
        ),
        sa.Column("name", sa.String(60), nullable=False),
        sa.Column("first_day", sa.Date(), nullable=False),
        sa.Column("last_day", sa.Date(), nullable=False),
        sa.Column("set_by", sa.Integer(), nullable=True),
        sa.Column("set_at", Instant(), nullable=False),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_season_phase_squad_id_squad")),
        sa.ForeignKeyConstraint(["set_by"], ["user.id"], name=op.f("fk_season_phase_set_by_user")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_season_phase")),
        sa.CheckConstraint("first_day <= last_day", name=op.f("ck_season_phase_days")),
    )
    op.create_index("ix_season_phase_squad_id_first_day", "season_phase", ["squad_id", "first_day"])


def downgrade() -> None:
    op.drop_table("season_phase")
