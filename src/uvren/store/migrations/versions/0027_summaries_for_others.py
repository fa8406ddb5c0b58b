"""a plan to come back may be given to another clinic"""

from alembic import op

revision = "0027"
down_revision = "0026"
branch_labels = None
depends_on = None

NAME = "ck_return_event_returnstep"
BEFORE = ("begun", "stage", "kept", "word", "measured", "steps", "date", "ended")


def upgrade() -> None:
    _steps((*BEFORE, "given"))


def downgrade() -> None:
    op.execute("DELETE FROM return_event WHERE step = 'given'")
    _steps(BEFORE)


def _steps(names: tuple[str, ...]) -> None:
    op.drop_constraint(op.f(NAME), "return_event", type_="check")
    op.create_check_constraint(op.f(NAME), "return_event", f"step IN ({', '.join(repr(one) for one in names)})")
