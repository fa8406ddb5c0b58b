"""accounts and reports"""

from alembic import op
import sqlalchemy as sa
import uvren.store.types
from sqlalchemy.dialects import mysql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "consent",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("given_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.Column("given_by", sa.Integer(), nullable=False),
        sa.Column("withdrawn_at", uvren.store.types.Instant(fsp=6), nullable=True),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_consent_athlete_id")),
        sa.ForeignKeyConstraint(["given_by"], ["user.id"], name=op.f("fk_consent_given_by")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_consent")),
    )
    op.create_index(op.f("ix_consent_athlete_id"), "consent", ["athlete_id"], unique=False)
    op.create_table(
        "invitation",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("token_digest", sa.String(length=64), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column(
            "role",
            sa.Enum(
                "performance",
                "coach",
                "clinician",
                "athlete",
                "admin",
                name="role",
                native_enum=False,
                create_constraint=True,
                length=16,
            ),
            nullable=False,
        ),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=True),
        sa.Column("user_id", sa.Integer(), nullable=True),
        sa.Column("made_by", sa.Integer(), nullable=True),
        sa.Column("made_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.Column("expires_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.Column("used_at", uvren.store.types.Instant(fsp=6), nullable=True),
        sa.Column("withdrawn_at", uvren.store.types.Instant(fsp=6), nullable=True),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_invitation_athlete_id")),
        sa.ForeignKeyConstraint(["made_by"], ["user.id"], name=op.f("fk_invitation_made_by")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_invitation_squad_id")),
        sa.ForeignKeyConstraint(["user_id"], ["user.id"], name=op.f("fk_invitation_user_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_invitation")),
        sa.UniqueConstraint("token_digest", name=op.f("uq_invitation_token_digest")),
    )
    op.create_index(op.f("ix_invitation_squad_id_made_at"), "invitation", ["squad_id", "made_at"], unique=False)
    op.create_table(
        "report",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=False),
        sa.Column(
            "kind",
            sa.Enum(
                "daily", "weekly", "session", name="reportkind", native_enum=False, create_constraint=True, length=16
            ),
            nullable=False,
        ),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("session_id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=True),
        sa.Column("answers", sa.JSON(), nullable=False),
        sa.Column("words", sa.Text(), nullable=True),
        sa.Column(
            "source",
            sa.Enum("staff", "athlete", "import", name="source", native_enum=False, create_constraint=True, length=16),
            nullable=False,
        ),
        sa.Column("told_by", sa.String(length=120), nullable=True),
        sa.Column("replaces", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=True),
        sa.Column("counts", sa.Boolean(), nullable=False),
        sa.Column("rival", sa.Boolean(), nullable=False),
        sa.Column("made_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.Column("entered_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.Column("entered_by", sa.Integer(), nullable=True),
        sa.CheckConstraint("(kind = 'session') = (session_id IS NOT NULL)", name=op.f("ck_report_session_of_kind")),
        sa.CheckConstraint("(source = 'athlete') OR (told_by IS NOT NULL)", name=op.f("ck_report_told_by_someone")),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_report_athlete_id")),
        sa.ForeignKeyConstraint(["entered_by"], ["user.id"], name=op.f("fk_report_entered_by")),
        sa.ForeignKeyConstraint(["session_id"], ["session.id"], name=op.f("fk_report_session_id")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_report_squad_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_report")),
    )
    op.create_index(op.f("ix_report_athlete_id_kind_day"), "report", ["athlete_id", "kind", "day"], unique=False)
    op.create_index(op.f("ix_report_squad_id_day_kind"), "report", ["squad_id", "day", "kind"], unique=False)
    op.create_table(
        "report_form",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column(
            "kind",
            sa.Enum(
                "daily", "weekly", "session", name="reportkind", native_enum=False, create_constraint=True, length=16
            ),
            nullable=False,
        ),
        sa.Column("items", sa.JSON(), nullable=False),
        sa.Column("days", sa.JSON(), nullable=False),
        sa.Column("words", sa.JSON(), nullable=False),
        sa.Column("from_day", sa.Date(), nullable=False),
        sa.Column("set_by", sa.Integer(), nullable=True),
        sa.Column("set_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(["set_by"], ["user.id"], name=op.f("fk_report_form_set_by")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_report_form_squad_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_report_form")),
    )
    op.create_index(
        op.f("ix_report_form_squad_id_kind_from_day"), "report_form", ["squad_id", "kind", "from_day"], unique=False
    )
    op.create_table(
        "restriction",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=False),
        sa.Column(
            "availability",
            sa.Enum(
                "full", "limited", "out", name="availability", native_enum=False, create_constraint=True, length=16
            ),
            nullable=False,
        ),
        sa.Column("change", sa.String(length=400), nullable=False),
        sa.Column("reason", sa.String(length=400), nullable=False),
        sa.Column("from_day", sa.Date(), nullable=False),
        sa.Column("to_day", sa.Date(), nullable=True),
        sa.Column("set_by", sa.Integer(), nullable=False),
        sa.Column("set_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.Column("withdrawn_at", uvren.store.types.Instant(fsp=6), nullable=True),
        sa.CheckConstraint("to_day IS NULL OR to_day >= from_day", name=op.f("ck_restriction_days_in_order")),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_restriction_athlete_id")),
        sa.ForeignKeyConstraint(["set_by"], ["user.id"], name=op.f("fk_restriction_set_by")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_restriction_squad_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_restriction")),
    )
    op.create_index(op.f("ix_restriction_squad_id_from_day"), "restriction", ["squad_id", "from_day"], unique=False)
    op.create_table(
        "complaint",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=False),
        sa.Column("report_id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=True),
        sa.Column(
            "kind",
            sa.Enum(
                "pain", "illness", "injury", name="complaintkind", native_enum=False, create_constraint=True, length=16
            ),
            nullable=False,
        ),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("site", sa.String(length=24), nullable=True),
        sa.Column("side", sa.String(length=8), nullable=True),
        sa.Column("severity", sa.Double(), nullable=True),
        sa.Column("words", sa.Text(), nullable=True),
        sa.Column("told_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.Column("seen_at", uvren.store.types.Instant(fsp=6), nullable=True),
        sa.Column("seen_by", sa.Integer(), nullable=True),
        sa.Column("answer", sa.Text(), nullable=True),
        sa.Column("closed_on", sa.Date(), nullable=True),
        sa.CheckConstraint("severity IS NULL OR severity BETWEEN 1 AND 10", name=op.f("ck_complaint_severity")),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_complaint_athlete_id")),
        sa.ForeignKeyConstraint(["report_id"], ["report.id"], name=op.f("fk_complaint_report_id")),
        sa.ForeignKeyConstraint(["seen_by"], ["user.id"], name=op.f("fk_complaint_seen_by")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_complaint_squad_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_complaint")),
    )
    op.create_index(op.f("ix_complaint_athlete_id_day"), "complaint", ["athlete_id", "day"], unique=False)
    op.create_index(op.f("ix_complaint_squad_id_day"), "complaint", ["squad_id", "day"], unique=False)
    op.add_column("club", sa.Column("performance_reads_clinical", sa.Boolean(), server_default="0", nullable=False))
    op.add_column("club", sa.Column("retention_days", sa.Integer(), nullable=True))
    op.add_column("club", sa.Column("consent_text", sa.Text(), nullable=True))
    op.alter_column(
        "club",
        "demo_hint",
        existing_type=mysql.VARCHAR(length=400),
        type_=sa.String(length=800),
        existing_nullable=True,
    )
    # Whoever is signed in signs in again: what a sign-in knows of its device cannot be made up afterwards.
    op.execute("DELETE FROM sign_in")
    op.add_column(
        "sign_in", sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False)
    )
    op.add_column("sign_in", sa.Column("device", sa.String(length=120), nullable=False))
    op.add_column("sign_in", sa.Column("seen_at", uvren.store.types.Instant(fsp=6), nullable=False))
    op.create_unique_constraint(op.f("uq_sign_in_id"), "sign_in", ["id"])
    op.add_column("user", sa.Column("totp_secret", sa.String(length=64), nullable=True))
    for what in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER audit_no_{what.lower()} BEFORE {what} ON audit FOR EACH ROW "
            "SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the audit is only ever added to'"
        )


def downgrade() -> None:
    for what in ("update", "delete"):
        op.execute(f"DROP TRIGGER audit_no_{what}")
    op.drop_column("user", "totp_secret")
    op.drop_constraint(op.f("uq_sign_in_id"), "sign_in", type_="unique")
    op.drop_column("sign_in", "seen_at")
    op.drop_column("sign_in", "device")
    op.drop_column("sign_in", "id")
    op.alter_column(
        "club",
        "demo_hint",
        existing_type=sa.String(length=800),
        type_=mysql.VARCHAR(length=400),
        existing_nullable=True,
    )
    op.drop_column("club", "consent_text")
    op.drop_column("club", "retention_days")
    op.drop_column("club", "performance_reads_clinical")
    op.drop_table("complaint")
    op.drop_table("restriction")
    op.drop_table("report_form")
    op.drop_table("report")
    op.drop_table("invitation")
    op.drop_table("consent")
