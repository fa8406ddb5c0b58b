"""How notices are tuned: for a squad, a position or an athlete, from a day on. The narrowest scope wins."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.day import Tuning
from uvren.core.errors import BadSetting
from uvren.core.notices import KINDS, Severity
from uvren.services import audit
from uvren.services.errors import Invalid, NotFound
from uvren.store import queries
from uvren.store.models import NoticeSetting, Scope, Squad
from uvren.store.queries import Member
from uvren.store.types import new_ulid

_WIDER = {Scope.SQUAD: 0, Scope.POSITION: 1, Scope.ATHLETE: 2}


@dataclass(frozen=True)
class NewSetting:
    code: str
    scope: Scope
    position: str | None
    athlete_id: int | None
    off: bool
    values: Mapping[str, float]
    reason: str


def settings_on(db: DbSession, squad_id: int, day: date) -> list[NoticeSetting]:
    """The settings in force on a day: of one kind and one scope the one set last."""
    rows = db.scalars(
        select(NoticeSetting)
        .where(NoticeSetting.squad_id == squad_id, NoticeSetting.from_day <= day, NoticeSetting.withdrawn_at.is_(None))
        .order_by(NoticeSetting.from_day, NoticeSetting.set_at, NoticeSetting.id)
    )
    return list({(row.code, row.scope, row.position, row.athlete_id): row for row in rows}.values())


def tuning(db: DbSession, squad: Squad, members: Sequence[Member], day: date) -> Tuning:
    """The settings in force on a day, by row."""
    off: dict[str, np.ndarray] = {}
    values: dict[tuple[str, str], np.ndarray] = {}
    for row in sorted(settings_on(db, squad.id, day), key=lambda one: _WIDER[one.scope]):
        kind = KINDS.get(row.code)
        if kind is None:
            continue
        mine = np.array([_meant(row, member) for member in members], dtype=bool)
        off[row.code] = np.where(mine, row.off, off.get(row.code, np.zeros(len(members), dtype=bool)))
        for setting in kind.settings:
            if setting.key in row.values:
                before = values.get((row.code, setting.key), np.full(len(members), setting.default))
                values[row.code, setting.key] = np.where(mine, float(row.values[setting.key]), before)
    return Tuning(off, values)


def _meant(row: NoticeSetting, member: Member) -> bool:
    if row.scope is Scope.ATHLETE:
        return row.athlete_id == member.athlete_id
    return row.scope is Scope.SQUAD or row.position == member.position


def save_setting(db: DbSession, squad: Squad, new: NewSetting, *, by: int, now: datetime, today: date) -> NoticeSetting:
    """Tune a kind of notice from today on; mornings before stay as they were. Does not commit. Raises Invalid."""
    kind = KINDS.get(new.code)
    if kind is None:
        raise Invalid("There is no such notice.", field="code")
    try:
        kind.check(new.values)
    except BadSetting as error:
        raise Invalid(str(error), field=error.field) from error
    if new.scope is Scope.ATHLETE and new.athlete_id not in queries.members_ever(db, squad.id):
        raise Invalid("Choose an athlete of this squad.", field="athlete_id")
    if new.scope is Scope.POSITION and not (new.position or "").strip():
        raise Invalid("Say which position.", field="position")
    if new.off and Severity.ACT in kind.severities and not new.reason.strip():
        raise Invalid("This notice can ask for a call; say why it is turned off.", field="reason")
    row = NoticeSetting(
        id=new_ulid(),
        squad_id=squad.id,
        code=new.code,
        scope=new.scope,
        position=new.position if new.scope is Scope.POSITION else None,
        athlete_id=new.athlete_id if new.scope is Scope.ATHLETE else None,
        off=new.off,
        values=dict(new.values),
        reason=new.reason.strip(),
        from_day=today,
        set_by=by,
        set_at=now,
        withdrawn_at=None,
    )
    db.add(row)
    audit.note(db, "notice_tuned", f"notice:{new.code}", by=by, now=now, squad_id=squad.id, athlete_id=row.athlete_id,
               off=new.off, values=dict(new.values))  # fmt: skip
    db.flush()
    return row


def take_back(db: DbSession, squad: Squad, setting_id: str, *, by: int, now: datetime) -> None:
    """As if it had never been set. Does not commit. Raises NotFound."""
    row = db.get(NoticeSetting, setting_id)
    if row is None or row.squad_id != squad.id or row.withdrawn_at is not None:
        raise NotFound("There is no such setting.")
    row.withdrawn_at = now
    audit.note(db, "notice_setting_taken_back", f"notice:{row.code}", by=by, now=now, squad_id=squad.id)


def said_of(row: NoticeSetting) -> str:
    """Such as "off" or "change from 2 SD"."""
    if row.off:
        return "off"
    kind = KINDS[row.code]
    parts = [
        f"{one.name.lower()} {row.values[one.key]:g}{' ' + one.unit if one.unit else ''}"
        for one in kind.settings
        if one.key in row.values
    ]
    return say.listed(parts) or "as usual"
