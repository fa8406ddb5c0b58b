"""what stood before is kept, units and a session's parts carry a version, and no version is older than the one before"""

import sqlalchemy as sa
from alembic import op

from uvren.store.types import Instant, UlidType

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None

WITH_VERSIONS = ("channel", "session")


def upgrade() -> None:
    op.create_table(
        "earlier",
        sa.Column("id", UlidType(), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=True),
        sa.Column("kind", sa.String(24), nullable=False),
        sa.Column("key", sa.String(40), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.Column("until", Instant(), nullable=False),
        sa.Column("changed_by", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_earlier_squad_id")),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_earlier_athlete_id")),
        sa.ForeignKeyConstraint(["changed_by"], ["user.id"], name=op.f("fk_earlier_changed_by")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_earlier")),
    )
    op.create_index(op.f("ix_earlier_squad_id_kind_key"), "earlier", ["squad_id", "kind", "key"])
    op.create_index(op.f("ix_earlier_athlete_id"), "earlier", ["athlete_id"])
    for table in WITH_VERSIONS:
        op.add_column(table, sa.Column("version", sa.Integer(), nullable=False, server_default="1"))
        op.alter_column(table, "version", existing_type=sa.Integer(), existing_nullable=False, server_default=None)
    op.add_column("squad_lock", sa.Column("written_to", Instant(), nullable=True))


def downgrade() -> None:
    op.drop_column("squad_lock", "written_to")
    for table in WITH_VERSIONS:
        op.drop_column(table, "version")
    op.drop_table("earlier")
