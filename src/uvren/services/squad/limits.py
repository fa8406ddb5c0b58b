"""Limits: which are in force for whom on which day, setting one, ending one."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.errors import CoreError
from uvren.core.limits import make_rule
from uvren.services.day.limits import in_force_on
from uvren.services.errors import Invalid, NotFound
from uvren.services.stamp import Stamp
from uvren.services.versions import WHATEVER, Whatever, check_seen
from uvren.store import queries
from uvren.store.models import Audit, Channel, Limit, Scope, Squad
from uvren.store.types import new_ulid


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
    #: The limit that stood when this was typed, None for none.
    replaces: str | Whatever | None = WHATEVER


def set_limit(
    db: DbSession, squad: Squad, wanted: NewLimit, *, limit_id: str | None = None, stamp: Stamp, today: date
) -> Limit:
    """Put a limit in force from a day. Raises Invalid with the field at fault; does not commit.

    A limit may not begin before today unless its channel has no history of limits yet: the past stays as it was
    judged. The same ``limit_id`` sent twice sets one limit. Raises Stale, with both, where another limit of the same
    kind for the same people stands on its first day than it ``replaces``.
    """
    queries.squad.hold(db, squad.id)
    if limit_id is not None:
        standing = db.get(Limit, limit_id)
        if standing is not None:
            if standing.squad_id != squad.id:
                raise Invalid("This limit belongs to another squad.", field="id")
            return standing
    try:
        rule = make_rule(wanted.rule, wanted.value, wanted.settings)
    except CoreError as error:
        raise Invalid(str(error), field=error.field) from error
    if rule.of_plan:
        raise Invalid("This limit comes with a plan to come back; it is not set by itself.", field="rule")
    channels = {channel.code: channel for channel in queries.squad.channels(db, squad.id)}
    channel = next(iter(channels.values())) if wanted.channel is None else channels.get(wanted.channel)
    if channel is None:
        raise Invalid("There is no such channel in this squad.", field="channel")
    _check_scope(db, squad, wanted)
    if not wanted.reason.strip():
        raise Invalid("Say why: the reason stands beside the limit.", field="reason")
    if wanted.from_day < today and queries.squad.has_limits(db, channel.id):
        raise Invalid(
            f"A limit begins on {say.day(today)} or later; days before stay judged as they were.", field="from_day"
        )
    _check_standing(db, squad, channel, wanted)
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
        set_by=stamp.by,
        set_at=stamp.now,
        withdrawn_at=None,
    )
    db.add(limit)
    db.add(_audit(limit, "limit_set", stamp))
    db.flush()
    return limit


def end_limit(db: DbSession, squad: Squad, limit_id: str, *, stamp: Stamp, today: date) -> Limit:
    """Take a limit out of force from today. One that began today or later is as if it had never been set."""
    queries.squad.hold(db, squad.id)
    limit = db.get(Limit, limit_id, populate_existing=True)
    if limit is None or limit.squad_id != squad.id or limit.withdrawn_at is not None:
        raise NotFound("There is no such limit in force.")
    if limit.from_day >= today:
        limit.withdrawn_at = stamp.now
    elif limit.to_day is None or limit.to_day >= today:
        limit.to_day = today - timedelta(days=1)
    else:
        return limit
    db.add(_audit(limit, "limit_ended", stamp))
    db.flush()
    return limit


def _check_standing(db: DbSession, squad: Squad, channel: Channel, wanted: NewLimit) -> None:
    rule = make_rule(wanted.rule, wanted.value, wanted.settings)
    whom = (channel.id, rule.key, wanted.scope, wanted.position, wanted.athlete_id)
    standing = {
        (one.channel_id, make_rule(one.rule, one.value, one.settings).key, one.scope, one.position, one.athlete_id): one
        for one, _by in in_force_on(db, squad, wanted.from_day)
    }
    stands = standing.get(whom)
    said = (
        "There is no such limit any more: somebody has ended it."
        if stands is None
        else f"{stands.setter.name} has set {rule.title} meanwhile: {rule.said(stands.value)}."
    )
    terms = ("value", "settings", "hard", "from_day", "reason")
    check_seen(
        wanted.replaces,
        stands.id if stands else None,
        said,
        yours={name: getattr(wanted, name) for name in terms},
        theirs={name: getattr(stands, name) for name in terms} if stands else {},
    )


def _check_scope(db: DbSession, squad: Squad, wanted: NewLimit) -> None:
    if wanted.scope is Scope.ATHLETE:
        if wanted.athlete_id not in queries.squad.members_ever(db, squad.id):
            raise Invalid("Choose an athlete of this squad.", field="athlete_id")
        if wanted.position is not None:
            raise Invalid("A limit is for a position or for an athlete, not both.", field="position")
    elif wanted.athlete_id is not None:
        raise Invalid("Only a limit for one athlete names an athlete.", field="athlete_id")
    elif wanted.scope is Scope.POSITION and not (wanted.position or "").strip():
        raise Invalid("Say which position.", field="position")
    elif wanted.scope is Scope.SQUAD and wanted.position is not None:
        raise Invalid("A limit for the squad names no position.", field="position")


def _audit(limit: Limit, action: str, stamp: Stamp) -> Audit:
    return Audit(
        at=stamp.now,
        user_id=stamp.by,
        squad_id=limit.squad_id,
        athlete_id=limit.athlete_id,
        action=action,
        subject=f"limit:{limit.id}",
        details={"rule": limit.rule, "value": limit.value, "from": str(limit.from_day), "reason": limit.reason},
    )


def channels_by_id(db: DbSession, squad: Squad) -> dict[int, Channel]:
    """The squad's channels, the main one first."""
    return {channel.id: channel for channel in queries.squad.channels(db, squad.id)}
