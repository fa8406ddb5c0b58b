"""a mark for what has changed of a squad"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "squad_change",
        sa.Column("squad_id", sa.Integer(), sa.ForeignKey("squad.id"), primary_key=True, autoincrement=False),
        sa.Column("athlete_id", sa.Integer(), primary_key=True, autoincrement=False),
        sa.Column("mark", mysql.CHAR(26, charset="ascii", collation="ascii_bin"), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("squad_change")
