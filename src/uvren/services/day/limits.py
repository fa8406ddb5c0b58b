"""Limits in force: for whom, on which day, laid out over athletes and days."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import date

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.limits import CATALOGUE, Rule, make_rule
from uvren.core.limits.days import DaysInSeven
from uvren.core.windows import Bools
from uvren.store import queries
from uvren.store.models import Limit, NoticeSetting, Scope, Squad
from uvren.store.queries.squad import Member

_NARROWER = {Scope.SQUAD: 0, Scope.POSITION: 1, Scope.ATHLETE: 2}


@dataclass(frozen=True)
class LimitsInForce:
    """Limits laid out over athletes x days.

    ``rules`` has every rule once, with the values of whoever is under it and nan elsewhere; ``hard`` says where its
    limit is hard; ``who`` holds, athletes x days, the index in ``limits`` of the limit behind the value (-1: none).
    """

    limits: list[tuple[Limit, str]]
    rules: tuple[Rule, ...]
    hard: tuple[Bools, ...]
    who: tuple[np.ndarray, ...]

    def split(self) -> tuple[tuple[Rule, ...], tuple[Rule, ...]]:
        """The hard rules and the advisory ones, each only where it is so."""
        hard: list[Rule] = []
        advisory: list[Rule] = []
        for rule, is_hard in zip(self.rules, self.hard, strict=True):
            for wanted, chosen in ((is_hard, hard), (~is_hard, advisory)):
                values = np.where(wanted, rule.value, np.nan)
                if not np.isnan(values).all():
                    chosen.append(rule.with_value(values))
        return tuple(hard), tuple(advisory)

    def behind(self, key: str, row: int, column: int) -> tuple[Limit, str] | None:
        """The limit of a rule for a row on a column, with who set it."""
        for rule, who in zip(self.rules, self.who, strict=True):
            if rule.key == key and who[row, column] >= 0:
                return self.limits[who[row, column]]
        return None


def lay_out(
    limits: Iterable[tuple[Limit, str]], athletes: Sequence[Member], first_day: date, days: int
) -> LimitsInForce:
    """Put each limit where it holds; of several the narrowest scope wins, then the one set last."""
    ordered = sorted(limits, key=lambda pair: _NARROWER[pair[0].scope])
    shape = (len(athletes), days)
    values: dict[str, np.ndarray] = {}
    hard: dict[str, Bools] = {}
    who: dict[str, np.ndarray] = {}
    rules: dict[str, Rule] = {}
    overs: dict[str, np.ndarray] = {}
    for index, (limit, _) in enumerate(ordered):
        rule = make_rule(limit.rule, limit.value, limit.settings)
        key = rule.key
        if key not in rules:
            rules[key] = rule
            values[key] = np.full(shape, np.nan)
            overs[key] = np.ones(shape)
            hard[key] = np.zeros(shape, dtype=bool)
            who[key] = np.full(shape, -1)
        rows = [i for i, member in enumerate(athletes) if concerns(limit, member)]
        begin = max((limit.from_day - first_day).days, 0)
        end = days if limit.to_day is None else (limit.to_day - first_day).days + 1
        if not rows or end <= begin:
            continue
        where = np.ix_(rows, range(begin, min(end, days)))
        values[key][where] = limit.value
        overs[key][where] = float(limit.settings.get("over", 1))
        hard[key][where] = limit.hard
        who[key][where] = index
    return LimitsInForce(
        limits=ordered,
        rules=tuple(_laid_out(rules[key], values[key], overs[key]) for key in rules),
        hard=tuple(hard.values()),
        who=tuple(who.values()),
    )


def _laid_out(rule: Rule, values: np.ndarray, over: np.ndarray) -> Rule:
    return replace(rule, value=values, over=over) if isinstance(rule, DaysInSeven) else rule.with_value(values)


def concerns(limit: Limit, member: Member) -> bool:
    if limit.scope is Scope.ATHLETE:
        return limit.athlete_id == member.athlete_id
    return limit.scope is Scope.SQUAD or limit.position == member.position


def in_force_on(db: DbSession, squad: Squad, day: date) -> list[tuple[Limit, str]]:
    """Limits in force on the day, broadest first; one that a later one of the same scope replaced is left out."""
    newest: dict[tuple[object, ...], tuple[Limit, str]] = {}
    for limit, name in queries.squad.limits_until(db, squad.id, day):
        if limit.to_day is not None and limit.to_day < day:
            continue
        key = make_rule(limit.rule, limit.value, limit.settings).key
        newest[limit.channel_id, key, limit.scope, limit.position, limit.athlete_id] = (limit, name)
    order = list(CATALOGUE)
    rank = {channel.id: i for i, channel in enumerate(queries.squad.channels(db, squad.id))}
    return sorted(newest.values(), key=lambda p: (rank[p[0].channel_id], order.index(p[0].rule), _NARROWER[p[0].scope]))


def scope_words(limit: Limit | NoticeSetting, names: dict[int, str]) -> str:
    """For whom a limit or a setting is, in words."""
    if limit.scope is Scope.ATHLETE:
        return names.get(limit.athlete_id or 0, "one athlete")
    return "squad" if limit.scope is Scope.SQUAD else f"position {limit.position}"
