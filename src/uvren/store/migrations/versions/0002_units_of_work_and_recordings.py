"""units of work and recordings"""

from alembic import op
import sqlalchemy as sa
import uvren.store.types
from uvren.store.types import new_ulid
from sqlalchemy.dialects import mysql

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "alias",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("said", sa.String(length=120), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_alias_athlete_id")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_alias_squad_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_alias")),
        sa.UniqueConstraint("squad_id", "said", name=op.f("uq_alias_squad_id_said")),
    )
    op.create_table(
        "place",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=60), nullable=False),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_place_squad_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_place")),
        sa.UniqueConstraint("squad_id", "name", name=op.f("uq_place_squad_id_name")),
    )
    op.create_table(
        "anchor",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=False),
        sa.Column(
            "kind",
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
            nullable=False,
        ),
        sa.Column("value", sa.Double(), nullable=True),
        sa.Column("word", sa.String(length=24), nullable=True),
        sa.Column("from_day", sa.Date(), nullable=False),
        sa.Column("source", sa.String(length=200), nullable=False),
        sa.Column("set_by", sa.Integer(), nullable=True),
        sa.Column("set_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.Column("withdrawn_at", uvren.store.types.Instant(fsp=6), nullable=True),
        sa.CheckConstraint("(value IS NULL) <> (word IS NULL)", name=op.f("ck_anchor_value_or_word")),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_anchor_athlete_id")),
        sa.ForeignKeyConstraint(["set_by"], ["user.id"], name=op.f("fk_anchor_set_by")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_anchor")),
    )
    op.create_index(
        op.f("ix_anchor_athlete_id_kind_from_day"), "anchor", ["athlete_id", "kind", "from_day"], unique=False
    )
    op.create_table(
        "channel_definition",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("channel_id", sa.Integer(), nullable=False),
        sa.Column("form", sa.String(length=24), nullable=False),
        sa.Column("settings", sa.JSON(), nullable=False),
        sa.Column("kinds", sa.JSON(), nullable=False),
        sa.Column("from_day", sa.Date(), nullable=False),
        sa.Column("reason", sa.String(length=400), nullable=False),
        sa.Column("set_by", sa.Integer(), nullable=True),
        sa.Column("set_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.Column("withdrawn_at", uvren.store.types.Instant(fsp=6), nullable=True),
        sa.ForeignKeyConstraint(["channel_id"], ["channel.id"], name=op.f("fk_channel_definition_channel_id")),
        sa.ForeignKeyConstraint(["set_by"], ["user.id"], name=op.f("fk_channel_definition_set_by")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_channel_definition")),
    )
    op.create_index(
        op.f("ix_channel_definition_channel_id_from_day"),
        "channel_definition",
        ["channel_id", "from_day"],
        unique=False,
    )
    op.create_table(
        "file_mapping",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("signature", sa.String(length=64), nullable=False),
        sa.Column("spec", sa.JSON(), nullable=False),
        sa.Column("set_by", sa.Integer(), nullable=True),
        sa.Column("set_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(["set_by"], ["user.id"], name=op.f("fk_file_mapping_set_by")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_file_mapping_squad_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_file_mapping")),
        sa.UniqueConstraint("squad_id", "name", name=op.f("uq_file_mapping_squad_id_name")),
    )
    op.create_index(op.f("ix_file_mapping_squad_id_signature"), "file_mapping", ["squad_id", "signature"], unique=False)
    op.create_table(
        "work",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("session_id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=False),
        sa.Column("what", sa.String(length=60), nullable=False),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.Column(
            "source",
            sa.Enum("staff", "athlete", "import", name="source", native_enum=False, create_constraint=True, length=16),
            nullable=False,
        ),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("entered_by", sa.Integer(), nullable=True),
        sa.Column("entered_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.CheckConstraint("version >= 1", name=op.f("ck_work_version")),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_work_athlete_id")),
        sa.ForeignKeyConstraint(["entered_by"], ["user.id"], name=op.f("fk_work_entered_by")),
        sa.ForeignKeyConstraint(["session_id"], ["session.id"], name=op.f("fk_work_session_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_work")),
        sa.UniqueConstraint("session_id", "athlete_id", "what", name=op.f("uq_work_session_id_athlete_id_what")),
    )
    op.create_table(
        "file_import",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("file_name", sa.String(length=200), nullable=False),
        sa.Column("digest", sa.String(length=64), nullable=False),
        sa.Column("size", sa.BigInteger(), nullable=False),
        sa.Column(
            "state",
            sa.Enum(
                "looked_at",
                "waiting",
                "running",
                "done",
                "failed",
                "undone",
                name="importstate",
                native_enum=False,
                create_constraint=True,
                length=16,
            ),
            nullable=False,
        ),
        sa.Column("spec", sa.JSON(), nullable=False),
        sa.Column("mapping_id", sa.Integer(), nullable=True),
        sa.Column("step", sa.String(length=120), nullable=False),
        sa.Column("share", sa.Double(), nullable=False),
        sa.Column("report", sa.JSON(), nullable=False),
        sa.Column("undo", sa.JSON(), nullable=False),
        sa.Column("created_by", sa.Integer(), nullable=True),
        sa.Column("created_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.Column("finished_at", uvren.store.types.Instant(fsp=6), nullable=True),
        sa.Column("undone_at", uvren.store.types.Instant(fsp=6), nullable=True),
        sa.Column("undone_by", sa.Integer(), nullable=True),
        sa.ForeignKeyConstraint(["created_by"], ["user.id"], name=op.f("fk_file_import_created_by")),
        sa.ForeignKeyConstraint(["mapping_id"], ["file_mapping.id"], name=op.f("fk_file_import_mapping_id")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_file_import_squad_id")),
        sa.ForeignKeyConstraint(["undone_by"], ["user.id"], name=op.f("fk_file_import_undone_by")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_file_import")),
    )
    op.create_index(op.f("ix_file_import_squad_id_created_at"), "file_import", ["squad_id", "created_at"], unique=False)
    op.create_index(op.f("ix_file_import_squad_id_digest"), "file_import", ["squad_id", "digest"], unique=False)
    op.create_table(
        "recording",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=False),
        sa.Column("session_id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=True),
        sa.Column("import_id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=True),
        sa.Column(
            "kind",
            sa.Enum(
                "heart_rate",
                "position",
                "impacts",
                name="recordingkind",
                native_enum=False,
                create_constraint=True,
                length=16,
            ),
            nullable=False,
        ),
        sa.Column("device", sa.String(length=120), nullable=False),
        sa.Column("starts_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.Column("seconds", sa.Double(), nullable=False),
        sa.Column("offset_seconds", sa.Double(), nullable=False),
        sa.Column("samples", sa.Integer(), nullable=False),
        sa.Column("dropped", sa.Integer(), nullable=False),
        sa.Column("coverage", sa.Double(), nullable=True),
        sa.Column("counts", sa.Boolean(), nullable=False),
        sa.Column("summary", sa.JSON(), nullable=False),
        sa.Column("data", mysql.LONGBLOB(), nullable=False),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_recording_athlete_id")),
        sa.ForeignKeyConstraint(["import_id"], ["file_import.id"], name=op.f("fk_recording_import_id")),
        sa.ForeignKeyConstraint(["session_id"], ["session.id"], name=op.f("fk_recording_session_id")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_recording_squad_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_recording")),
    )
    op.create_index(
        op.f("ix_recording_session_id_athlete_id_kind"), "recording", ["session_id", "athlete_id", "kind"], unique=False
    )
    op.create_index(op.f("ix_recording_squad_id_starts_at"), "recording", ["squad_id", "starts_at"], unique=False)
    op.add_column("channel", sa.Column("regions", sa.JSON(), nullable=True))
    op.execute("UPDATE channel SET regions = '[\"whole body\"]'")
    op.alter_column("channel", "regions", existing_type=sa.JSON(), nullable=False)
    op.add_column("channel", sa.Column("mark", sa.String(length=16), nullable=False, server_default="ring"))
    op.alter_column("channel", "mark", existing_type=sa.String(length=16), nullable=False, server_default=None)
    op.add_column("channel", sa.Column("rank", sa.Integer(), nullable=False, server_default="0"))
    op.alter_column("channel", "rank", existing_type=sa.Integer(), nullable=False, server_default=None)
    op.add_column("segment", sa.Column("begins", sa.Double(), nullable=False, server_default="0"))
    op.alter_column("segment", "begins", existing_type=sa.Double(), nullable=False, server_default=None)
    # Until now segments followed each other from the start of the session.
    op.execute(
        "UPDATE segment JOIN (SELECT id, SUM(minutes) OVER (PARTITION BY session_id ORDER BY place) - minutes AS at"
        " FROM segment) AS before_it USING (id) SET segment.begins = before_it.at"
    )
    op.create_check_constraint("begins", "segment", "begins BETWEEN -120 AND 600")
    # The channels there are hold session-RPE load, always have and for every kind of session.
    connection = op.get_bind()
    for (channel,) in connection.execute(sa.text("SELECT id FROM channel")).all():
        connection.execute(
            sa.text(
                "INSERT INTO channel_definition (id, channel_id, form, settings, kinds, from_day, reason, set_at)"
                " VALUES (:id, :channel, 'effort_minutes', '{}',"
                ' \'["court", "gym", "run", "ski", "recovery", "match"]\', \'2000-01-01\','
                " 'From the beginning', UTC_TIMESTAMP(6))"
            ),
            {"id": new_ulid(), "channel": channel},
        )
    op.add_column("session", sa.Column("place", sa.String(length=60), nullable=True))


def downgrade() -> None:
    op.drop_constraint("begins", "segment", type_="check")
    op.drop_column("session", "place")
    op.drop_column("segment", "begins")
    op.drop_column("channel", "rank")
    op.drop_column("channel", "mark")
    op.drop_column("channel", "regions")
    op.drop_table("recording")
    op.drop_table("file_import")
    op.drop_table("work")
    op.drop_table("file_mapping")
    op.drop_table("channel_definition")
    op.drop_table("anchor")
    op.drop_table("place")
    op.drop_table("alias")
