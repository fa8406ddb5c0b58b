"""Work still to come: what the plan asks of each, and what stands of it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.day import Standing
from uvren.core.units import EffortMinutes
from uvren.core.windows import Floats
from uvren.services.day.loads import Definition
from uvren.services.day.plan import planned_for
from uvren.services.day.standing import PLANNED, Standings
from uvren.store import queries
from uvren.store.models import Squad
from uvren.store.queries.session import KIND_CODES


@dataclass(frozen=True)
class Plan:
    """Work still to come, an item each: whose (row), when (column), which session, its kind, minutes, effort.

    ``share`` and ``cap`` are what stands of it: a share of the minutes, and the most effort; ``stands`` is why,
    by row and column, where anything was said.
    """

    row: np.ndarray
    column: np.ndarray
    kind: np.ndarray
    minutes: Floats
    effort: Floats
    place: list[str | None]
    share: Floats
    cap: Floats
    session: list[str]
    stands: Mapping[tuple[int, int], Standing]

    def changed(self, minutes: Floats, column: np.ndarray) -> Plan:
        """The same plan with other minutes on other days, shapes (items,); what stands of them follows."""
        total: dict[tuple[int, int], float] = defaultdict(float)
        keys = list(zip(self.row.tolist(), column.tolist(), strict=True))
        for key, each in zip(keys, minutes.tolist(), strict=True):
            total[key] += each
        stands = [self.stands.get(key, PLANNED) for key in keys]
        share = [one.share(total[key]) for one, key in zip(stands, keys, strict=True)]
        return replace(self, minutes=minutes, column=column, share=np.array(share, dtype=np.float64),
                       cap=np.array([one.cap for one in stands], dtype=np.float64))  # fmt: skip

    def loads(
        self, shape: tuple[int, int], definition: Definition, rate: Floats, *, as_written: bool = False
    ) -> Floats:
        """Load that the plan asks for, rows x days; by rating on a rated channel, else at the usual rate.

        ``as_written`` leaves out what calls and clinicians have changed of it.
        """
        share, cap = (1.0, np.inf) if as_written else (self.share, self.cap)
        load = self._items(share, cap, definition, rate)
        out = np.zeros(shape)
        np.add.at(out, (self.row, self.column), load)
        return out

    def load_if(self, row: int, column: int, standing: Standing, definition: Definition, rate: Floats) -> float:
        """Load of one row on one day, were it to stand so."""
        here = (self.row == row) & (self.column == column)
        share = standing.share(float(self.minutes[here].sum()))
        return float(self._items(share, standing.cap, definition, rate)[here].sum())

    def _items(self, share: Floats | float, cap: Floats | float, definition: Definition, rate: Floats) -> Floats:
        minutes = self.minutes * share
        if isinstance(definition.form, EffortMinutes):
            load = minutes * np.minimum(self.effort, cap)
        else:
            load = minutes * np.nan_to_num(rate)[self.row]
        if definition.form.places:
            load = load * definition.form.factor(self.place)
        return np.where(np.isin(self.kind, list(definition.kinds)), load, 0.0)


@dataclass(frozen=True)
class Span:
    """The days that are laid out: ``first`` to ``last``, with today's column and the last one recorded."""

    first: date
    as_of: date
    last: date

    @property
    def days(self) -> int:
        return (self.last - self.first).days + 1

    @property
    def today(self) -> int:
        return (self.as_of - self.first).days


def plan_ahead(
    db: DbSession, squad: Squad, row_of: dict[int, int], span: Span, today: date, standing: Standings
) -> Plan:
    """Work still to come from ``as_of`` (or today, if earlier) on.

    What was done on a past day and after it counts as planned there, whatever came of it.
    """
    begin = max(min(span.as_of, today), span.first)
    sessions = {
        row.id: row for row in queries.day.plan(db, squad.id, begin, span.last) if span.as_of < today or not row.done
    }
    own: dict[str, dict[int, Any]] = defaultdict(dict)
    for row in queries.day.own_plans(db, list(sessions)):
        own[row.session_id][row.athlete_id] = row
    items: list[tuple[int, int, int, float, float, str | None, str]] = []
    for session in sessions.values():
        column, kind = (session.day - span.first).days, KIND_CODES[session.kind]
        for athlete, index in row_of.items():
            minutes, effort = planned_for(session, own[session.id].get(athlete))
            items.append((index, column, kind, minutes, effort, session.place, session.id))
    columns: list[Any] = list(zip(*items, strict=True)) if items else [()] * 7
    minutes_of, days = np.array(columns[3], dtype=np.float64), np.array(columns[1], dtype=np.int64)
    nothing_said = np.ones(len(items))
    return Plan(
        row=np.array(columns[0], dtype=np.int64),
        column=days,
        kind=np.array(columns[2], dtype=np.int64),
        minutes=minutes_of,
        effort=np.array(columns[4], dtype=np.float64),
        place=list(columns[5]),
        share=nothing_said,
        cap=nothing_said,
        session=list(columns[6]),
        stands={
            (row_of[athlete], (day - span.first).days): one
            for (athlete, day), one in standing.items()
            if athlete in row_of
        },
    ).changed(minutes_of, days)
