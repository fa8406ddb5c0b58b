"""the morning desk"""

from alembic import op
import sqlalchemy as sa
import uvren.store.types
from sqlalchemy.dialects import mysql

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "coach_sheet",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("content", sa.JSON(), nullable=False),
        sa.Column("made_by", sa.Integer(), nullable=False),
        sa.Column("made_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(["made_by"], ["user.id"], name=op.f("fk_coach_sheet_made_by")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_coach_sheet_squad_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_coach_sheet")),
        sa.UniqueConstraint("squad_id", "day", "version", name=op.f("uq_coach_sheet_squad_id_day_version")),
    )
    op.create_table(
        "notice_setting",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("code", sa.String(length=40), nullable=False),
        sa.Column(
            "scope",
            sa.Enum("squad", "position", "athlete", name="scope", native_enum=False, create_constraint=True, length=16),
            nullable=False,
        ),
        sa.Column("position", sa.String(length=40), nullable=True),
        sa.Column("athlete_id", sa.Integer(), nullable=True),
        sa.Column("off", sa.Boolean(), nullable=False),
        sa.Column("values", sa.JSON(), nullable=False),
        sa.Column("reason", sa.String(length=400), nullable=False),
        sa.Column("from_day", sa.Date(), nullable=False),
        sa.Column("set_by", sa.Integer(), nullable=True),
        sa.Column("set_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.Column("withdrawn_at", uvren.store.types.Instant(fsp=6), nullable=True),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_notice_setting_athlete_id")),
        sa.ForeignKeyConstraint(["set_by"], ["user.id"], name=op.f("fk_notice_setting_set_by")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_notice_setting_squad_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_notice_setting")),
    )
    op.create_index(
        op.f("ix_notice_setting_squad_id_from_day"), "notice_setting", ["squad_id", "from_day"], unique=False
    )
    op.create_table(
        "rest_trial",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=False),
        sa.Column("from_day", sa.Date(), nullable=False),
        sa.Column("days", sa.Integer(), nullable=False),
        sa.Column("better", sa.Boolean(), nullable=True),
        sa.Column("judged_on", sa.Date(), nullable=True),
        sa.Column("started_by", sa.Integer(), nullable=False),
        sa.Column("started_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.Column("judged_by", sa.Integer(), nullable=True),
        sa.Column("withdrawn_at", uvren.store.types.Instant(fsp=6), nullable=True),
        sa.CheckConstraint("days IN (7, 14)", name=op.f("ck_rest_trial_days")),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_rest_trial_athlete_id")),
        sa.ForeignKeyConstraint(["judged_by"], ["user.id"], name=op.f("fk_rest_trial_judged_by")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_rest_trial_squad_id")),
        sa.ForeignKeyConstraint(["started_by"], ["user.id"], name=op.f("fk_rest_trial_started_by")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_rest_trial")),
    )
    op.create_index(op.f("ix_rest_trial_squad_id_from_day"), "rest_trial", ["squad_id", "from_day"], unique=False)
    op.create_table(
        "saved_view",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("user_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.Column("query", sa.String(length=400), nullable=False),
        sa.Column("made_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_saved_view_squad_id")),
        sa.ForeignKeyConstraint(["user_id"], ["user.id"], name=op.f("fk_saved_view_user_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_saved_view")),
        sa.UniqueConstraint("squad_id", "user_id", "name", name=op.f("uq_saved_view_squad_id_user_id_name")),
    )
    op.add_column("athlete_call", sa.Column("minutes", sa.Double(), nullable=True))
    op.add_column("athlete_call", sa.Column("effort_cap", sa.Double(), nullable=True))
    op.add_column("athlete_call", sa.Column("content", sa.String(length=200), nullable=True))
    op.add_column("athlete_call", sa.Column("above_room", sa.Boolean(), nullable=False))
    # Calls there are already answered nothing that is known.
    op.add_column("athlete_call", sa.Column("about", sa.JSON(), nullable=True))
    op.execute("UPDATE athlete_call SET about = '{}'")
    op.alter_column("athlete_call", "about", existing_type=sa.JSON(), nullable=False)
    op.add_column("athlete_call", sa.Column("reply", sa.Text(), nullable=True))
    op.add_column("athlete_call", sa.Column("replied_by", sa.Integer(), nullable=True))
    op.add_column("athlete_call", sa.Column("replied_at", uvren.store.types.Instant(fsp=6), nullable=True))
    op.create_foreign_key(op.f("fk_athlete_call_replied_by"), "athlete_call", "user", ["replied_by"], ["id"])
    op.create_check_constraint("minutes", "athlete_call", "minutes IS NULL OR minutes >= 0")
    op.create_check_constraint("effort_cap", "athlete_call", "effort_cap IS NULL OR effort_cap BETWEEN 0 AND 10")


def downgrade() -> None:
    op.drop_constraint("effort_cap", "athlete_call", type_="check")
    op.drop_constraint("minutes", "athlete_call", type_="check")
    op.drop_constraint(op.f("fk_athlete_call_replied_by"), "athlete_call", type_="foreignkey")
    op.drop_column("athlete_call", "replied_at")
    op.drop_column("athlete_call", "replied_by")
    op.drop_column("athlete_call", "reply")
    op.drop_column("athlete_call", "about")
    op.drop_column("athlete_call", "above_room")
    op.drop_column("athlete_call", "content")
    op.drop_column("athlete_call", "effort_cap")
    op.drop_column("athlete_call", "minutes")
    op.drop_table("saved_view")
    op.drop_table("rest_trial")
    op.drop_table("notice_setting")
    op.drop_table("coach_sheet")
