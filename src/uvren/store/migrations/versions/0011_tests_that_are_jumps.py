"""which test is the jump of the three signals is said, and not read from its name"""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("test_definition", sa.Column("jump", sa.Boolean(), nullable=False, server_default=sa.false()))
    op.execute("UPDATE test_definition SET jump = 1 WHERE LOWER(name) LIKE '%jump%' AND unit IN ('cm', 'm/s')")
    op.alter_column("test_definition", "jump", existing_type=sa.Boolean(), existing_nullable=False, server_default=None)


def downgrade() -> None:
    op.drop_column("test_definition", "jump")
