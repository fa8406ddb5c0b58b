"""What of a squad the worn notice rests on for a week, as it was known when the week began.

As it was known then, and no more: so that it is the same for everybody who looks, whatever comes in later.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.reports import ITEMS, Good, ReportKind
from uvren.core.windows import Bools, Floats
from uvren.core.worn import (
    EFFORT_DAYS,
    LEVEL_DAYS,
    LOAD_DAYS,
    REPORT_DAYS,
    SILENT_DAYS,
    USUAL_RATE,
    Basis,
    Sources,
    level_for,
    sources,
    speaks,
    squad_variance,
)
from uvren.store import queries
from uvren.store.models import Scope, Squad
from uvren.store.queries.session import KIND_CODES
from uvren.store.versions import is_known_at, known_at

_KEPT = "worn_basis"
# Long enough for the norms under each report of the weeks that the level is set by.
DAYS = LEVEL_DAYS + 2 * REPORT_DAYS + 14
MOST_KEPT = 200


def keep_in(db: DbSession, kept: dict[Any, Basis]) -> None:
    """Let a session take what was worked out before from ``kept``, and leave there what it works out."""
    db.info[_KEPT] = kept


def basis_on(db: DbSession, squad: Squad, as_of: date, items: tuple[str, ...]) -> Basis:
    """The squad's basis on a day: that of its Monday."""
    monday = as_of - timedelta(days=as_of.weekday())
    rate = _rate(db, squad.id, monday)
    kept: dict[Any, Basis] | None = db.info.get(_KEPT)
    key = (squad.id, monday, rate, items)
    if kept is not None and key in kept:
        return kept[key]
    with _known_by(db, datetime.combine(monday, time(), ZoneInfo(squad.time_zone))):
        basis = _work_out(db, squad, monday, rate, items)
    if kept is not None:
        if len(kept) >= MOST_KEPT:
            kept.clear()
        kept[key] = basis
    return basis


def _rate(db: DbSession, squad_id: int, day: date) -> float:
    """How often the squad wants it to speak."""
    of_squad = [
        row for row in queries.squad.notice_settings_until(db, squad_id, day)
        if row.code == "worn" and row.scope is Scope.SQUAD and "rate" in row.values
    ]  # fmt: skip
    return float(of_squad[-1].values["rate"]) if of_squad else USUAL_RATE


@contextmanager
def _known_by(db: DbSession, moment: datetime) -> Iterator[None]:
    before = is_known_at(db)
    known_at(db, moment if before is None else min(before, moment))
    try:
        yield
    finally:
        known_at(db, before)


RATES = (0.25, 0.5, 1.0, 2.0)
SHOWN_DAYS = 28


@dataclass(frozen=True)
class RateTried:
    """What a rate would have said in the four weeks before a Monday: on how many days in all, of how many people."""

    rate: float
    level: float
    days: int
    people: int


def rates_on(db: DbSession, squad: Squad, as_of: date, items: tuple[str, ...]) -> list[RateTried]:
    """What each rate would have said last month, as it was known on the Monday of a day."""
    monday = as_of - timedelta(days=as_of.weekday())
    with _known_by(db, datetime.combine(monday, time(), ZoneInfo(squad.time_zone))):
        found, counted, _ = _season(db, squad, monday, items)
    out = []
    for rate in RATES:
        level = level_for(found, rate, counted)
        spoke = speaks(found, level, ~counted)[:, -SHOWN_DAYS:]
        out.append(RateTried(rate, level, int(spoke.sum()), int(spoke.any(axis=1).sum())))
    return out


def _work_out(db: DbSession, squad: Squad, monday: date, rate: float, items: tuple[str, ...]) -> Basis:
    found, counted, variance = _season(db, squad, monday, items)
    return Basis(level_for(found, rate, counted), variance)


def _season(db: DbSession, squad: Squad, monday: date, items: tuple[str, ...]) -> tuple[Sources, Bools, Floats]:
    """The sources of the weeks before a Monday, the days that count for the level, and what answers vary by."""
    members = queries.squad.members(db, squad.id, monday)
    row_of = {member.athlete_id: row for row, member in enumerate(members)}
    floors = np.array([ITEMS[code].step / 2 for code in items])
    turned = {Good.LOW: 1.0, Good.HIGH: -1.0, Good.NEITHER: 0.0}
    worse = np.array([turned[ITEMS[code].good] for code in items])
    first, last = monday - timedelta(days=DAYS), monday - timedelta(days=1)
    daily = _answers(db, squad, row_of, first, items)
    variance = squad_variance(daily[..., -REPORT_DAYS:], floors)
    since = monday - timedelta(days=max(LOAD_DAYS, EFFORT_DAYS) + LEVEL_DAYS)
    row, ordinal, kind, planned, effort, minutes = _efforts(db, squad, row_of, min(since, first), last)
    shape = (len(members), (monday - min(since, first)).days)
    loads, there = _loads(row, ordinal, planned, effort, minutes, shape, monday)
    joined = np.array([(monday - member.from_day).days for member in members], dtype=np.int64)
    ages = joined[:, None] - np.arange(DAYS, 0, -1)[None, :] + 1
    counted = (ages > SILENT_DAYS) & there[:, -DAYS:].any(axis=0)
    counted[:, :-LEVEL_DAYS] = False
    found = sources(daily, worse, floors, variance, row, ordinal - first.toordinal(), kind, planned, effort, loads)
    return found, counted, variance


def _answers(db: DbSession, squad: Squad, row_of: dict[int, int], first: date, items: tuple[str, ...]) -> Floats:
    last = first + timedelta(days=DAYS - 1)
    at = {code: i for i, code in enumerate(items)}
    daily = np.full((len(row_of), len(items), DAYS), np.nan)
    for athlete, _, day, answers in queries.day.reports_between(
        db, squad.id, (ReportKind.DAILY,), first, last, list(row_of)
    ):
        for code, answer in answers.items():
            if code in at:
                daily[row_of[athlete], at[code], (day - first).days] = answer["value"]
    return daily


def _efforts(db: DbSession, squad: Squad, row_of: dict[int, int], first: date, last: date) -> tuple[np.ndarray, ...]:
    found = queries.day.efforts_between(db, squad.id, first, last, list(row_of))
    rows = [(row_of[one[0]], one[1].toordinal(), KIND_CODES[one[2]], *one[3:]) for one in found]
    columns = np.array(rows, dtype=np.float64).reshape(-1, 6).T
    whose, ordinal, kind = (column.astype(np.int64) for column in columns[:3])
    return whose, ordinal, kind, columns[3], columns[4], columns[5]


def _loads(
    row: np.ndarray, ordinal: np.ndarray, planned: Floats, effort: Floats, minutes: Floats, shape: tuple[int, int],
    monday: date,
) -> tuple[Floats, np.ndarray]:  # fmt: skip
    """Minutes x effort by day, a missing rating as planned; and the days on which anybody did anything."""
    loads = np.zeros(shape)
    column = ordinal - (monday.toordinal() - shape[1])
    felt = np.where(np.isnan(effort), planned, effort)
    np.add.at(loads, (row, column), np.nan_to_num(minutes * felt))
    return loads, loads > 0
