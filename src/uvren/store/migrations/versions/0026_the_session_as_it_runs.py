"""what is noted while a session runs, spells, and what devices send meanwhile"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.mysql import LONGBLOB

from uvren.store.types import Instant, UlidType

revision = "0026"
down_revision = "0025"
branch_labels = None
depends_on = None

KINDS = sa.Enum(
    "begin", "stop", "count", "break", "leave", "note", "on", "off",
    name="fieldkind", native_enum=False, create_constraint=True, length=16,
)  # fmt: skip
RECORDINGS = sa.Enum(
    "heart_rate", "position", "impacts", name="recordingkind", native_enum=False, create_constraint=True, length=16
)


def _squad_keys(table: str, *others: str) -> list[sa.ForeignKeyConstraint]:
    named = {"squad": "squad_id", "session": "session_id", "athlete": "athlete_id"}
    keys = {**{named[to]: to for to in ("squad", *(one for one in others if one in named))}}
    keys |= {one: "user" for one in others if one not in named}
    return [
        sa.ForeignKeyConstraint([column], [f"{to}.id"], name=op.f(f"fk_{table}_{column}_{to}"))
        for column, to in keys.items()
    ]


def upgrade() -> None:
    op.create_table(
        "field_event",
        sa.Column("id", UlidType(), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("session_id", UlidType(), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=True),
        sa.Column("kind", KINDS, nullable=False),
        sa.Column("at", Instant(), nullable=False),
        sa.Column("part", sa.Integer(), nullable=True),
        sa.Column("amount", sa.Double(), nullable=False),
        sa.Column("what", sa.String(60), nullable=False),
        sa.Column("words", sa.String(400), nullable=False),
        sa.Column("made_by", sa.Integer(), nullable=True),
        sa.Column("made_at", Instant(), nullable=False),
        sa.Column("taken_back_at", Instant(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_field_event")),
        *_squad_keys("field_event", "session", "athlete", "made_by"),
        mysql_engine="InnoDB",
    )
    op.create_index(op.f("ix_field_event_session_id_at"), "field_event", ["session_id", "at"])
    op.create_index(op.f("ix_field_event_squad_id_at"), "field_event", ["squad_id", "at"])
    op.create_table(
        "spell_limit",
        sa.Column("id", UlidType(), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=True),
        sa.Column("what", sa.String(60), nullable=False),
        sa.Column("most", sa.Integer(), nullable=False),
        sa.Column("break_minutes", sa.Double(), nullable=False),
        sa.Column("from_day", sa.Date(), nullable=False),
        sa.Column("set_by", sa.Integer(), nullable=True),
        sa.Column("set_at", Instant(), nullable=False),
        sa.Column("withdrawn_at", Instant(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_spell_limit")),
        *_squad_keys("spell_limit", "athlete", "set_by"),
        sa.CheckConstraint("most BETWEEN 1 AND 1000", name=op.f("ck_spell_limit_most")),
        sa.CheckConstraint("break_minutes BETWEEN 0.5 AND 120", name=op.f("ck_spell_limit_break_minutes")),
        mysql_engine="InnoDB",
    )
    op.create_index(op.f("ix_spell_limit_squad_id_from_day"), "spell_limit", ["squad_id", "from_day"])
    _live()


def _live() -> None:
    op.create_table(
        "live_hub",
        sa.Column("id", UlidType(), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(60), nullable=False),
        sa.Column("token_digest", sa.String(64), nullable=False),
        sa.Column("made_by", sa.Integer(), nullable=True),
        sa.Column("made_at", Instant(), nullable=False),
        sa.Column("withdrawn_at", Instant(), nullable=True),
        sa.Column("seen_at", Instant(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_live_hub")),
        sa.UniqueConstraint("token_digest", name=op.f("uq_live_hub_token_digest")),
        *_squad_keys("live_hub", "made_by"),
        mysql_engine="InnoDB",
    )
    op.create_index(op.f("ix_live_hub_squad_id"), "live_hub", ["squad_id"])
    op.create_table(
        "live_chunk",
        sa.Column("id", sa.BigInteger(), autoincrement=True, nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("session_id", UlidType(), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=False),
        sa.Column("device", sa.String(60), nullable=False),
        sa.Column("kind", RECORDINGS, nullable=False),
        sa.Column("number", sa.BigInteger(), nullable=False),
        sa.Column("begins_at", Instant(), nullable=False),
        sa.Column("samples", sa.Integer(), nullable=False),
        sa.Column("received_at", Instant(), nullable=False),
        sa.Column("data", LONGBLOB(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_live_chunk")),
        sa.UniqueConstraint(
            "session_id", "device", "kind", "number", name=op.f("uq_live_chunk_session_id_device_kind_number")
        ),
        *_squad_keys("live_chunk", "session", "athlete"),
        mysql_engine="InnoDB",
    )
    op.create_index(op.f("ix_live_chunk_session_id_id"), "live_chunk", ["session_id", "id"])


def downgrade() -> None:
    for table in ("live_chunk", "live_hub", "spell_limit", "field_event"):
        op.drop_table(table)
