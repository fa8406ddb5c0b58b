"""complaints and fitness tests carry a version, so that nobody overwrites silently"""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("complaint", sa.Column("version", sa.Integer(), nullable=False, server_default="1"))
    op.add_column("test_definition", sa.Column("version", sa.Integer(), nullable=False, server_default="1"))
    op.alter_column("complaint", "version", existing_type=sa.Integer(), existing_nullable=False, server_default=None)
    op.alter_column(
        "test_definition", "version", existing_type=sa.Integer(), existing_nullable=False, server_default=None
    )


def downgrade() -> None:
    op.drop_column("test_definition", "version")
    op.drop_column("complaint", "version")
