"""Work still to come: what the plan asks of each, and what stands of it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
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
    by row and column, where anything was said. ``given`` is the load of all the minutes by channel, where the plan
    itself says it, nan elsewhere.
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
    given: Mapping[str, Floats] = field(default_factory=dict)

    def changed(self, minutes: Floats, column: np.ndarray) -> Plan:
        """The same plan with other minutes on other days, shapes (items,); what stands of them follows."""
        total: dict[tuple[int, int], float] = defaultdict(float)
        keys = list(zip(self.row.tolist(), column.tolist(), strict=True))
        for key, each in zip(keys, minutes.tolist(), strict=True):
            total[key] += each
        stands = [self.stands.get(key, PLANNED) for key in keys]
        share = [one.share(total[key]) for one, key in zip(stands, keys, strict=True)]
        longer = np.divide(minutes, self.minutes, out=np.ones_like(minutes), where=self.minutes > 0)
        return replace(self, minutes=minutes, column=column, share=np.array(share, dtype=np.float64),
                       cap=np.array([one.cap for one in stands], dtype=np.float64),
                       given={channel: load * longer for channel, load in self.given.items()})  # fmt: skip

    def loads(
        self, shape: tuple[int, int], channel: str, definition: Definition, rate: Floats, *, as_written: bool = False
    ) -> Floats:
        """Load that the plan asks for, rows x days; by rating on a rated channel, else at the usual rate.

        ``as_written`` leaves out what calls and clinicians have changed of it.
        """
        share, cap = (1.0, np.inf) if as_written else (self.share, self.cap)
        load = self._items(share, cap, channel, definition, rate)
        out = np.zeros(shape)
        np.add.at(out, (self.row, self.column), load)
        return out

    def load_if(
        self, row: int, column: int, standing: Standing, channel: str, definition: Definition, rate: Floats
    ) -> float:
        """Load of one row on one day, were it to stand so."""
        here = (self.row == row) & (self.column == column)
        share = standing.share(float(self.minutes[here].sum()))
        return float(self._items(share, standing.cap, channel, definition, rate)[here].sum())

    def items(self, channel: str, definition: Definition, rate: Floats) -> Floats:
        """Load of each item as it stands, shape (items,)."""
        return self._items(self.share, self.cap, channel, definition, rate)

    def _items(
        self, share: Floats | float, cap: Floats | float, channel: str, definition: Definition, rate: Floats
    ) -> Floats:
        return self.minutes * share * self.a_minute(channel, definition, rate, cap)

    def a_minute(self, channel: str, definition: Definition, rate: Floats, cap: Floats | float) -> Floats:
        """Load of a minute of each item, at an effort of ``cap`` at most."""
        effort = np.minimum(self.effort, cap)
        load = effort if isinstance(definition.form, EffortMinutes) else np.nan_to_num(rate)[self.row]
        if definition.form.places:
            load = load * definition.form.factor(self.place)
        load = np.where(np.isin(self.kind, list(definition.kinds)), load, 0.0)
        given = self.given.get(channel)
        if given is None:
            return load
        # An effort that is capped takes as much off what was planned in so many words.
        easier = np.divide(effort, self.effort, out=np.ones_like(effort), where=self.effort > 0)
        said = np.divide(given, self.minutes, out=np.zeros_like(given), where=self.minutes > 0) * easier
        return np.where(np.isnan(given), load, said)


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
    given: dict[str, dict[int, float]] = defaultdict(dict)
    for session in sessions.values():
        column, kind = (session.day - span.first).days, KIND_CODES[session.kind]
        for athlete, index in row_of.items():
            mine = own[session.id].get(athlete)
            minutes, effort = planned_for(session, mine)
            for channel, load in ((mine and mine.planned_loads) or {}).items():
                given[channel][len(items)] = float(load)
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
        given={
            channel: np.array([of.get(i, np.nan) for i in range(len(items))], dtype=np.float64)
            for channel, of in given.items()
        },
    ).changed(minutes_of, days)
