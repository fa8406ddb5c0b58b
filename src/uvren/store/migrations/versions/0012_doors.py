"""who acts for the whole club, namesakes, codes that are good once, and where a link was used"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

from uvren.store.types import Instant

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("user", sa.Column("club_admin", sa.Boolean(), nullable=False, server_default=sa.false()))
    # Who administers every squad of a club has acted for it so far; where nobody does, whoever came first.
    op.execute(
        """
        UPDATE user SET club_admin = 1 WHERE id IN (
            SELECT g.user_id FROM role_grant g JOIN squad s ON s.id = g.squad_id
            WHERE g.role = 'admin' GROUP BY g.user_id, s.club_id
            HAVING COUNT(*) = (SELECT COUNT(*) FROM squad other WHERE other.club_id = s.club_id)
        )
        """
    )
    op.execute(
        """
        UPDATE user SET club_admin = 1 WHERE id IN (
            SELECT MIN(g.user_id) FROM role_grant g JOIN squad s ON s.id = g.squad_id
            WHERE g.role = 'admin'
              AND s.club_id NOT IN (SELECT held.club_id FROM (SELECT club_id FROM user WHERE club_admin) held)
            GROUP BY s.club_id
        )
        """
    )
    op.drop_constraint("fk_athlete_club_id", "athlete", type_="foreignkey")
    op.drop_constraint("uq_athlete_club_id_name", "athlete", type_="unique")
    op.create_index(op.f("ix_athlete_club_id_name"), "athlete", ["club_id", "name"])
    op.create_foreign_key(op.f("fk_athlete_club_id"), "athlete", "club", ["club_id"], ["id"])
    op.add_column("invitation", sa.Column("used_from", sa.String(length=200), nullable=True))
    op.create_table(
        "known_device",
        sa.Column("user_id", sa.Integer(), nullable=False),
        sa.Column("device_digest", sa.String(length=64), nullable=False),
        sa.Column("seen_at", Instant(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(["user_id"], ["user.id"], name=op.f("fk_known_device_user_id")),
        sa.PrimaryKeyConstraint("user_id", "device_digest", name=op.f("pk_known_device")),
    )
    op.create_table(
        "used_code",
        sa.Column("user_id", sa.Integer(), nullable=False),
        sa.Column("step", sa.BigInteger(), autoincrement=False, nullable=False),
        sa.ForeignKeyConstraint(["user_id"], ["user.id"], name=op.f("fk_used_code_user_id")),
        sa.PrimaryKeyConstraint("user_id", "step", name=op.f("pk_used_code")),
    )
    op.create_table(
        "recovery_code",
        sa.Column("id", mysql.CHAR(charset="ascii", collation="ascii_bin", length=26), nullable=False),
        sa.Column("user_id", sa.Integer(), nullable=False),
        sa.Column("code_digest", sa.String(length=64), nullable=False),
        sa.Column("used_at", Instant(fsp=6), nullable=True),
        sa.ForeignKeyConstraint(["user_id"], ["user.id"], name=op.f("fk_recovery_code_user_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_recovery_code")),
    )
    op.create_index(op.f("ix_recovery_code_user_id"), "recovery_code", ["user_id"])


def downgrade() -> None:
    op.drop_table("recovery_code")
    op.drop_table("used_code")
    op.drop_table("known_device")
    op.drop_column("invitation", "used_from")
    op.drop_constraint("fk_athlete_club_id", "athlete", type_="foreignkey")
    op.drop_index("ix_athlete_club_id_name", "athlete")
    op.create_unique_constraint("uq_athlete_club_id_name", "athlete", ["club_id", "name"])
    op.create_foreign_key("fk_athlete_club_id", "athlete", "club", ["club_id"], ["id"])
    op.drop_column("user", "club_admin")
