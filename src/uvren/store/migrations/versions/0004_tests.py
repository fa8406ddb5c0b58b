"""tests"""

from alembic import op
import sqlalchemy as sa
import uvren.store.types
from sqlalchemy.dialects import mysql

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "test_definition",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("code", sa.String(length=40), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("unit", sa.String(length=24), nullable=False),
        sa.Column(
            "better",
            sa.Enum("higher", "lower", name="better", native_enum=False, create_constraint=True, length=16),
            nullable=False,
        ),
        sa.Column("trials", sa.Integer(), nullable=False),
        sa.Column("sides", sa.Boolean(), nullable=False),
        sa.Column(
            "combine",
            sa.Enum("best", "mean", name="combine", native_enum=False, create_constraint=True, length=16),
            nullable=False,
        ),
        sa.Column("typical_error", sa.Double(), nullable=True),
        sa.Column("worthwhile", sa.Double(), nullable=True),
        sa.Column("protocol", sa.Text(), nullable=True),
        sa.Column("rank", sa.Integer(), nullable=False),
        sa.Column("set_by", sa.Integer(), nullable=True),
        sa.Column("set_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.Column("withdrawn_at", uvren.store.types.Instant(fsp=6), nullable=True),
        sa.CheckConstraint("trials BETWEEN 1 AND 10", name=op.f("ck_test_definition_trials")),
        sa.CheckConstraint(
            "typical_error IS NULL OR typical_error >= 0", name=op.f("ck_test_definition_typical_error")
        ),
        sa.CheckConstraint("worthwhile IS NULL OR worthwhile >= 0", name=op.f("ck_test_definition_worthwhile")),
        sa.ForeignKeyConstraint(["set_by"], ["user.id"], name=op.f("fk_test_definition_set_by")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_test_definition_squad_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_test_definition")),
        sa.UniqueConstraint("squad_id", "code", name=op.f("uq_test_definition_squad_id_code")),
    )
    op.create_table(
        "test_result",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("test_id", sa.Integer(), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("side", sa.String(length=8), nullable=False),
        sa.Column("trials", sa.JSON(), nullable=False),
        sa.Column("value", sa.Double(), nullable=False),
        sa.Column("more", sa.JSON(), nullable=False),
        sa.Column("sure", sa.Boolean(), nullable=False),
        sa.Column(
            "source",
            sa.Enum("staff", "athlete", "import", name="source", native_enum=False, create_constraint=True, length=16),
            nullable=False,
        ),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("entered_by", sa.Integer(), nullable=True),
        sa.Column("entered_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.CheckConstraint("side IN ('', 'left', 'right')", name=op.f("ck_test_result_side")),
        sa.CheckConstraint("version >= 1", name=op.f("ck_test_result_version")),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_test_result_athlete_id")),
        sa.ForeignKeyConstraint(["entered_by"], ["user.id"], name=op.f("fk_test_result_entered_by")),
        sa.ForeignKeyConstraint(["test_id"], ["test_definition.id"], name=op.f("fk_test_result_test_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_test_result")),
        sa.UniqueConstraint(
            "test_id", "athlete_id", "day", "side", name=op.f("uq_test_result_test_id_athlete_id_day_side")
        ),
    )
    op.create_index(op.f("ix_test_result_athlete_id_day"), "test_result", ["athlete_id", "day"], unique=False)


def downgrade() -> None:
    op.drop_table("test_result")
    op.drop_table("test_definition")
