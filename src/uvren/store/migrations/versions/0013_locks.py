"""a row for each squad that writers lock, and that no key of another table touches"""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "squad_lock",
        sa.Column("squad_id", sa.Integer(), autoincrement=False, nullable=False),
        sa.PrimaryKeyConstraint("squad_id", name=op.f("pk_squad_lock")),
    )
    op.execute("INSERT INTO squad_lock (squad_id) SELECT id FROM squad")


def downgrade() -> None:
    op.drop_table("squad_lock")
