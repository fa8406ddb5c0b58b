"""how hard rounds are to be, and what share of full intensity they are to come to"""

import sqlalchemy as sa
from alembic import op

revision = "0031"
down_revision = "0030"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("segment", sa.Column("grade", sa.Integer(), nullable=True))
    op.create_check_constraint(op.f("ck_segment_grade"), "segment", "grade BETWEEN 1 AND 5")
    op.add_column("session", sa.Column("mix_aim", sa.Double(), nullable=True))
    op.create_check_constraint(op.f("ck_session_mix_aim"), "session", "mix_aim BETWEEN 0.2 AND 1")


def downgrade() -> None:
    op.drop_constraint(op.f("ck_session_mix_aim"), "session", type_="check")
    op.drop_column("session", "mix_aim")
    op.drop_constraint(op.f("ck_segment_grade"), "segment", type_="check")
    op.drop_column("segment", "grade")
