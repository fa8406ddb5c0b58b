"""a squad that is deleted leaves its name to the audit and nothing else"""

import sqlalchemy as sa
from alembic import op

from uvren.store.types import Instant

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("squad", sa.Column("gone_at", Instant(), nullable=True))


def downgrade() -> None:
    op.drop_column("squad", "gone_at")
