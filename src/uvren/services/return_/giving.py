"""Plans to come back as tables in open formats: the weeks of each channel, and what happened on the way."""

from __future__ import annotations

from collections.abc import Iterator, Set
from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.core.audience import Audience
from uvren.files.writing import Cell, TableFormat, table_chunks
from uvren.services.club import audit
from uvren.services.return_.reading import read_returns
from uvren.services.return_.whole import ReturnWhole, read_whole
from uvren.services.stamp import Stamp
from uvren.store.models import Squad

WEEKS = (
    "plan", "athlete", "position", "what", "first_day_off", "first_day_back", "ready_by", "stage", "stages", "channel",
    "unit", "usual_week", "week_from", "held_again", "share_percent", "load",
)  # fmt: skip
CRITERIA = ("plan", "athlete", "stage", "criterion", "asks", "met", "said", "missing")
LOG = ("plan", "athlete", "day", "by", "what")


def wholes(
    db: DbSession, squad: Squad, as_of: date, today: date, audiences: Set[Audience], *, stamp: Stamp
) -> list[ReturnWhole]:
    """Every plan of a day whole, as these audiences may know it; that it was taken out is noted. Does not commit."""
    found = read_returns(db, squad, as_of, today, audiences)
    audit.note(db, "returns_taken_out", f"squad:{squad.id}", stamp=stamp, squad_id=squad.id,
               clinical=Audience.CLINICAL in audiences)  # fmt: skip
    return [read_whole(db, squad, row.plan_id, as_of, today, audiences) for row in found.rows]


def weeks_table(plans: list[ReturnWhole], format: TableFormat) -> Iterator[bytes]:
    """The weeks of each channel of each plan."""
    return table_chunks(format, WEEKS, (row for plan in plans for row in _weeks(plan)))


def _weeks(plan: ReturnWhole) -> Iterator[list[Cell]]:
    row = plan.row
    for lane in plan.lanes:
        for week in lane.weeks:
            yield [
                row.plan_id, row.name, row.position, row.what, row.first_off, row.first_day, row.target, row.stage,
                row.stages, lane.name, lane.unit, lane.reference, week.first, week.again, week.share,
                round(lane.reference * week.share / 100, 2),
            ]  # fmt: skip


def criteria_table(plans: list[ReturnWhole], format: TableFormat) -> Iterator[bytes]:
    """The criteria of the stage that each is in; nothing for who may not read them."""
    rows: Iterator[list[Cell]] = (
        [plan.row.plan_id, plan.row.name, plan.stage.number, one.name, one.asks, one.met, one.said, one.missing]
        for plan in plans
        if plan.stage is not None
        for one in plan.stage.criteria
    )
    return table_chunks(format, CRITERIA, rows)


def log_table(plans: list[ReturnWhole], format: TableFormat) -> Iterator[bytes]:
    """What happened to each plan, the oldest first."""
    rows: Iterator[list[Cell]] = (
        [plan.row.plan_id, plan.row.name, one.day, one.by, one.said] for plan in plans for one in reversed(plan.events)
    )
    return table_chunks(format, LOG, rows)


TABLES = {"weeks": weeks_table, "criteria": criteria_table, "log": log_table}
