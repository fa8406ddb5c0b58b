"""a link that begins a club, its time zone, what its first person is in the squads they make, and more kinds of work"""

import sqlalchemy as sa
from alembic import op

from uvren.store.types import Instant, UlidType

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None

BEFORE = ("court", "gym", "run", "ski", "recovery", "match")
ADDED = ("field", "ride", "swim", "rounds", "skills", "throwing", "swings")


def _allow(kinds: tuple[str, ...]) -> None:
    listed = ", ".join(f"'{kind}'" for kind in kinds)
    op.execute("ALTER TABLE session DROP CONSTRAINT ck_session_sessionkind")
    op.execute(f"ALTER TABLE session ADD CONSTRAINT ck_session_sessionkind CHECK (kind IN ({listed}))")


def upgrade() -> None:
    op.create_table(
        "begin_link",
        sa.Column("id", UlidType(), nullable=False),
        sa.Column("token_digest", sa.String(64), nullable=False),
        sa.Column("made_at", Instant(), nullable=False),
        sa.Column("expires_at", Instant(), nullable=False),
        sa.Column("used_at", Instant(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_begin_link")),
        sa.UniqueConstraint("token_digest", name=op.f("uq_begin_link_token_digest")),
    )
    op.add_column("club", sa.Column("time_zone", sa.String(60), nullable=False, server_default="UTC"))
    op.execute(
        "UPDATE club SET time_zone = COALESCE((SELECT MIN(time_zone) FROM squad WHERE squad.club_id = club.id), 'UTC')"
    )
    op.add_column("user", sa.Column("begins_as", sa.JSON(), nullable=True))
    op.add_column("squad", sa.Column("work", sa.String(16), nullable=True))
    _allow((*BEFORE, *ADDED))


def downgrade() -> None:
    _allow(BEFORE)
    op.drop_column("squad", "work")
    op.drop_column("user", "begins_as")
    op.drop_column("club", "time_zone")
    op.drop_table("begin_link")
