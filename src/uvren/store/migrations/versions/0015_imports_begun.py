"""imports count how often they were begun, so that a file that ends the worker is not begun for ever"""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("file_import", sa.Column("begun", sa.Integer(), nullable=False, server_default="0"))
    op.alter_column("file_import", "begun", existing_type=sa.Integer(), existing_nullable=False, server_default=None)


def downgrade() -> None:
    op.drop_column("file_import", "begun")
