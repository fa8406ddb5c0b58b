"""Limits: which are in force for whom on which day, setting one, ending one."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.errors import CoreError
from uvren.core.limits import CATALOGUE, Rule, make_rule
from uvren.core.limits.days import DaysInSeven
from uvren.core.windows import Bools
from uvren.services.errors import Invalid, NotFound
from uvren.store import queries
from uvren.store.models import Athlete, Audit, Channel, Limit, NoticeSetting, Scope, Squad
from uvren.store.queries import Member
from uvren.store.types import new_ulid

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
    for limit, name in queries.limits_until(db, squad.id, day):
        if limit.to_day is not None and limit.to_day < day:
            continue
        key = make_rule(limit.rule, limit.value, limit.settings).key
        newest[limit.channel_id, key, limit.scope, limit.position, limit.athlete_id] = (limit, name)
    order = list(CATALOGUE)
    rank = {channel.id: i for i, channel in enumerate(queries.channels(db, squad.id))}
    return sorted(newest.values(), key=lambda p: (rank[p[0].channel_id], order.index(p[0].rule), _NARROWER[p[0].scope]))


@dataclass(frozen=True)
class NewLimit:
    rule: str
    value: float
    settings: dict[str, object]
    hard: bool
    scope: Scope
    position: str | None
    athlete_id: int | None
    from_day: date
    source: str
    reason: str
    channel: str | None = None


def set_limit(
    db: DbSession, squad: Squad, wanted: NewLimit, *, limit_id: str | None = None, by: int, now: datetime, today: date
) -> Limit:
    """Put a limit in force from a day. Raises Invalid with the field at fault; does not commit.

    A limit may not begin before today unless its channel has no history of limits yet: the past stays as it was
    judged. The same ``limit_id`` sent twice sets one limit.
    """
    if limit_id is not None:
        standing = db.get(Limit, limit_id)
        if standing is not None:
            if standing.squad_id != squad.id:
                raise Invalid("This limit belongs to another squad.", field="id")
            return standing
    try:
        make_rule(wanted.rule, wanted.value, wanted.settings)
    except CoreError as error:
        raise Invalid(str(error), field=error.field) from error
    channels = {channel.code: channel for channel in queries.channels(db, squad.id)}
    channel = next(iter(channels.values())) if wanted.channel is None else channels.get(wanted.channel)
    if channel is None:
        raise Invalid("There is no such channel in this squad.", field="channel")
    _check_scope(db, squad, wanted)
    if not wanted.reason.strip():
        raise Invalid("Say why: the reason stands beside the limit.", field="reason")
    if wanted.from_day < today and _has_limits(db, channel.id):
        raise Invalid(
            f"A limit begins on {say.day(today)} or later; days before stay judged as they were.", field="from_day"
        )
    limit = Limit(
        id=limit_id or new_ulid(),
        squad_id=squad.id,
        channel_id=channel.id,
        rule=wanted.rule,
        value=wanted.value,
        settings=wanted.settings,
        hard=wanted.hard,
        scope=wanted.scope,
        position=wanted.position,
        athlete_id=wanted.athlete_id,
        from_day=wanted.from_day,
        to_day=None,
        source=wanted.source.strip() or "Own choice",
        reason=wanted.reason.strip(),
        set_by=by,
        set_at=now,
        withdrawn_at=None,
    )
    db.add(limit)
    db.add(_audit(limit, "limit_set", by, now))
    db.flush()
    return limit


def end_limit(db: DbSession, squad: Squad, limit_id: str, *, by: int, now: datetime, today: date) -> Limit:
    """Take a limit out of force from today. One that began today or later is as if it had never been set."""
    limit = db.get(Limit, limit_id)
    if limit is None or limit.squad_id != squad.id or limit.withdrawn_at is not None:
        raise NotFound("There is no such limit in force.")
    if limit.from_day >= today:
        limit.withdrawn_at = now
    elif limit.to_day is None or limit.to_day >= today:
        limit.to_day = today - timedelta(days=1)
    db.add(_audit(limit, "limit_ended", by, now))
    db.flush()
    return limit


def _has_limits(db: DbSession, channel_id: int) -> bool:
    return db.scalar(select(Limit.id).where(Limit.channel_id == channel_id).limit(1)) is not None


def _check_scope(db: DbSession, squad: Squad, wanted: NewLimit) -> None:
    if wanted.scope is Scope.ATHLETE:
        if wanted.athlete_id not in queries.members_ever(db, squad.id):
            raise Invalid("Choose an athlete of this squad.", field="athlete_id")
        if wanted.position is not None:
            raise Invalid("A limit is for a position or for an athlete, not both.", field="position")
    elif wanted.athlete_id is not None:
        raise Invalid("Only a limit for one athlete names an athlete.", field="athlete_id")
    elif wanted.scope is Scope.POSITION and not (wanted.position or "").strip():
        raise Invalid("Say which position.", field="position")
    elif wanted.scope is Scope.SQUAD and wanted.position is not None:
        raise Invalid("A limit for the squad names no position.", field="position")


def _audit(limit: Limit, action: str, by: int, now: datetime) -> Audit:
    return Audit(
        at=now,
        user_id=by,
        squad_id=limit.squad_id,
        athlete_id=limit.athlete_id,
        action=action,
        subject=f"limit:{limit.id}",
        details={"rule": limit.rule, "value": limit.value, "from": str(limit.from_day), "reason": limit.reason},
    )


def scope_words(limit: Limit | NoticeSetting, names: dict[int, str]) -> str:
    """For whom a limit or a setting is, in words."""
    if limit.scope is Scope.ATHLETE:
        return names.get(limit.athlete_id or 0, "one athlete")
    return "squad" if limit.scope is Scope.SQUAD else f"position {limit.position}"


def athlete_names(db: DbSession, squad: Squad) -> dict[int, str]:
    rows = db.execute(select(Athlete.id, Athlete.name).where(Athlete.club_id == squad.club_id))
    return {row[0]: row[1] for row in rows}


def channels_by_id(db: DbSession, squad: Squad) -> dict[int, Channel]:
    """The squad's channels, the main one first."""
    return {channel.id: channel for channel in queries.channels(db, squad.id)}
