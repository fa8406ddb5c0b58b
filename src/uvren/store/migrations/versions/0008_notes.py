"""notes"""

from alembic import op
import sqlalchemy as sa
import uvren.store.types
from sqlalchemy.dialects import mysql

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "note",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("squad_id", sa.Integer(), nullable=False),
        sa.Column("athlete_id", sa.Integer(), nullable=False),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column(
            "audience",
            sa.Enum(
                "desk", "reports", "clinical", name="audience", native_enum=False, create_constraint=True, length=16
            ),
            nullable=False,
        ),
        sa.Column("words", sa.Text(), nullable=False),
        sa.Column("made_by", sa.Integer(), nullable=False),
        sa.Column("made_at", uvren.store.types.Instant(fsp=6), nullable=False),
        sa.Column("withdrawn_at", uvren.store.types.Instant(fsp=6), nullable=True),
        sa.ForeignKeyConstraint(["athlete_id"], ["athlete.id"], name=op.f("fk_note_athlete_id")),
        sa.ForeignKeyConstraint(["made_by"], ["user.id"], name=op.f("fk_note_made_by")),
        sa.ForeignKeyConstraint(["squad_id"], ["squad.id"], name=op.f("fk_note_squad_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_note")),
    )
    op.create_index(op.f("ix_note_athlete_id_day"), "note", ["athlete_id", "day"], unique=False)


def downgrade() -> None:
    op.drop_table("note")
