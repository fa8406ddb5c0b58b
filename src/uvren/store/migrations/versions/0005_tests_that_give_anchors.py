"""tests that give anchors"""

from alembic import op
import sqlalchemy as sa

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column(
        "test_definition",
        sa.Column(
            "anchor",
            sa.Enum(
                "hr_max",
                "hr_rest",
                "threshold_1",
                "threshold_2",
                "sex",
                "speed_max",
                "body_mass",
                "dominant_side",
                "experience_years",
                "usual_week_load",
                name="anchorkind",
                native_enum=False,
                create_constraint=True,
                length=24,
            ),
            nullable=True,
        ),
    )


def downgrade() -> None:
    op.drop_constraint(op.f("ck_test_definition_anchorkind"), "test_definition", type_="check")
    op.drop_column("test_definition", "anchor")
