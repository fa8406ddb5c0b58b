"""what is planned for one alone may say its load, and a position what it tops up with"""

import sqlalchemy as sa
from alembic import op

revision = "0021"
down_revision = "0020"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("SET SESSION system_versioning_alter_history = KEEP")
    op.add_column("entry", sa.Column("planned_loads", sa.JSON(), nullable=True))
    op.add_column("squad", sa.Column("top_up_forms", sa.JSON(), nullable=True))


def downgrade() -> None:
    op.drop_column("squad", "top_up_forms")
    op.execute("SET SESSION system_versioning_alter_history = KEEP")
    op.drop_column("entry", "planned_loads")
