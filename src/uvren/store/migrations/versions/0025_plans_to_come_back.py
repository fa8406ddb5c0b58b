"""plans to come back, and what happened on the way"""

import sqlalchemy as sa
from alembic import op

from uvren.store.types import Instant, UlidType

revision = "0025"
down_revision = "0024"
branch_labels = None
depends_on = None

KINDS = sa.Enum(
    "injury", "illness", "layoff", "new", name="returnkind", native_enum=False, create_constraint=True, length=16
)
ONSETS = sa.Enum("sudden", "gradual", name="onset", native_enum=False, create_constraint=True, length=16)
MECHANISMS = sa.Enum(
    "contact", "landing", "turn", "sprint", "throw", "overuse", "infection", "other",
    name="mechanism", native_enum=False, create_constraint=True, length=16,
)  # fmt: skip
STEPS = sa.Enum(
    "begun", "stage", "kept", "word", "measured", "steps", "date", "ended",
    name="returnstep", native_enum=False, create_constraint=True, length=16,
)  # fmt: skip


def upgrade() -> None:
    _plans()
    _events()
    op.add_column("squad", sa.Column("stages_by_sign_off", sa.Boolean(), nullable=False, server_default=sa.text("0")))
    op.alter_column("squad", "stages_by_sign_off", existing_type=sa.Boolean(), existing_nullable=False,
                    server_default=None)  # fmt: skip


def _plans() -> None:
    op.create_table(
        "return_plan",
        sa.Column("id", UlidType(), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=False),
        sa.Column("kind", KINDS, nullable=False),
        sa.Column("template", sa.String(24), nullable=False),
        sa.Column("site", sa.String(24), nullable=True),
        sa.Column("side", sa.String(8), nullable=True),
        sa.Column("note", sa.String(400), nullable=False),
        sa.Column("onset", ONSETS, nullable=True),
        sa.Column("mechanism", MECHANISMS, nullable=True),
        sa.Column("first_off", sa.Date(), nullable=True),
        sa.Column("first_day", sa.Date(), nullable=False),
        sa.Column("target_day", sa.Date(), nullable=True),
        sa.Column("needed", sa.Double(), nullable=False),
        sa.Column("school", sa.String(16), nullable=False),
        sa.Column("shares", sa.JSON(none_as_null=True), nullable=True),
        sa.Column("parts", sa.JSON(), nullable=False),
        sa.Column("days_a_week", sa.Integer(), nullable=False),
        sa.Column("stages", sa.JSON(), nullable=False),
        sa.Column("stage", sa.Integer(), nullable=False),
        sa.Column("stage_since", sa.Date(), nullable=False),
        sa.Column("made_by", sa.Integer(), nullable=True),
        sa.Column("made_at", Instant(), nullable=False),
        sa.Column("ended_on", sa.Date(), nullable=True),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_return_plan")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_return_plan_squad_id_squad")),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_return_plan_athlete_id_athlete")),
        sa.ForeignKeyConstraint(["made_by"], ["user.id"], name=op.f("fk_return_plan_made_by_user")),
        sa.CheckConstraint("first_off IS NULL OR first_off <= first_day",
                           name=op.f("ck_return_plan_days_in_order")),
        sa.CheckConstraint("needed > 0 AND needed <= 100", name=op.f("ck_return_plan_needed")),
        mysql_engine="InnoDB",
    )  # fmt: skip
    op.create_index(op.f("ix_return_plan_squad_id_first_day"), "return_plan", ["squad_id", "first_day"])
    op.create_index(op.f("ix_return_plan_athlete_id_first_day"), "return_plan", ["athlete_id", "first_day"])


def _events() -> None:
    op.create_table(
        "return_event",
        sa.Column("id", UlidType(), nullable=False),
        sa.Column("plan_id", UlidType(), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=False),
        sa.Column("step", STEPS, nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("stage", sa.Integer(), nullable=False),
        sa.Column("criterion", sa.String(24), nullable=True),
        sa.Column("value", sa.Double(), nullable=True),
        sa.Column("other", sa.Double(), nullable=True),
        sa.Column("words", sa.String(400), nullable=False),
        sa.Column("said_by", sa.Integer(), nullable=True),
        sa.Column("said_at", Instant(), nullable=False),
        sa.Column("withdrawn_at", Instant(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_return_event")),
        sa.ForeignKeyConstraint(["plan_id"], ["return_plan.id"], name=op.f("fk_return_event_plan_id_return_plan")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_return_event_squad_id_squad")),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_return_event_athlete_id_athlete")),
        sa.ForeignKeyConstraint(["said_by"], ["user.id"], name=op.f("fk_return_event_said_by_user")),
        mysql_engine="InnoDB",
    )
    op.create_index(op.f("ix_return_event_plan_id_day"), "return_event", ["plan_id", "day"])
    op.create_index(op.f("ix_return_event_squad_id_day"), "return_event", ["squad_id", "day"])


def downgrade() -> None:
    op.drop_column("squad", "stages_by_sign_off")
    op.drop_table("return_event")
    op.drop_table("return_plan")
