"""what clinicians say in numbers, and when something is to be seen again"""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("complaint", sa.Column("again_on", sa.Date(), nullable=True))
    op.add_column("restriction", sa.Column("minutes_share", sa.Double(), nullable=True))
    op.add_column("restriction", sa.Column("effort_cap", sa.Double(), nullable=True))
    op.create_check_constraint("minutes_share", "restriction", "minutes_share IS NULL OR minutes_share BETWEEN 0 AND 1")
    op.create_check_constraint("effort_cap", "restriction", "effort_cap IS NULL OR effort_cap BETWEEN 0 AND 10")
    # What a pain asks for is tuned by two numbers now: the one that was set is the lower of them.
    op.execute(
        "UPDATE notice_setting SET `values` = JSON_REMOVE(JSON_SET(`values`, '$.asks', "
        "JSON_EXTRACT(`values`, '$.severity')), '$.severity') "
        "WHERE code = 'complaint' AND JSON_EXTRACT(`values`, '$.severity') IS NOT NULL"
    )


def downgrade() -> None:
    op.drop_constraint("effort_cap", "restriction", type_="check")
    op.drop_constraint("minutes_share", "restriction", type_="check")
    op.drop_column("restriction", "effort_cap")
    op.drop_column("restriction", "minutes_share")
    op.drop_column("complaint", "again_on")
