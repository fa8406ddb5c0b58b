"""entries, reports, limits and calls keep what they held"""

from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

TABLES = ("entry", "report", "load_limit", "athlete_call")


def upgrade() -> None:
    # Of what is there already nobody knows when it came in: it counts as known ever since.
    op.execute("SET timestamp = 1")
    for table in TABLES:
        op.execute(f"ALTER TABLE `{table}` ADD SYSTEM VERSIONING")
    op.execute("SET timestamp = DEFAULT")


def downgrade() -> None:
    for table in TABLES:
        op.execute(f"ALTER TABLE `{table}` DROP SYSTEM VERSIONING")
