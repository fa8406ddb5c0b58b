"""how somebody takes part in a session without load"""

import sqlalchemy as sa
from alembic import op

revision = "0028"
down_revision = "0027"
branch_labels = None
depends_on = None

HOW = ("watch", "tactics", "walk")
KIND = sa.Enum(*HOW, name="besides", native_enum=False, create_constraint=False, length=16)


def upgrade() -> None:
    op.execute("SET SESSION system_versioning_alter_history = KEEP")
    op.add_column("entry", sa.Column("beside", KIND, nullable=True))
    names = ", ".join(repr(one) for one in HOW)
    op.create_check_constraint(op.f("ck_entry_besides"), "entry", f"beside IN ({names})")


def downgrade() -> None:
    op.execute("SET SESSION system_versioning_alter_history = KEEP")
    op.drop_constraint(op.f("ck_entry_besides"), "entry", type_="check")
    op.drop_column("entry", "beside")
