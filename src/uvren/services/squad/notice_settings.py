"""How notices are tuned: for a squad, a position or an athlete, from a day on. The narrowest scope wins."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.errors import BadSetting
from uvren.core.notices import KINDS, Severity
from uvren.services.club import audit
from uvren.services.day.dates import local_day
from uvren.services.day.tuning import meant_by
from uvren.services.errors import Invalid, NotFound
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import NoticeSetting, Scope, Squad
from uvren.store.types import new_ulid


@dataclass(frozen=True)
class NewSetting:
    code: str
    scope: Scope
    position: str | None
    athlete_id: int | None
    off: bool
    values: Mapping[str, float]
    reason: str


def save_setting(db: DbSession, squad: Squad, new: NewSetting, *, stamp: Stamp, today: date) -> NoticeSetting:
    """Tune a kind of notice from today on; mornings before stay as they were. Does not commit. Raises Invalid."""
    kind = KINDS.get(new.code)
    if kind is None:
        raise Invalid("There is no such notice.", field="code")
    try:
        kind.check(new.values)
    except BadSetting as error:
        raise Invalid(str(error), field=error.field) from error
    for one in kind.settings:
        if one.of_squad and one.key in new.values and new.scope is not Scope.SQUAD:
            raise Invalid(f"{one.name}: this is one for the whole squad.", field=f"values.{one.key}")
    if new.scope is Scope.ATHLETE and new.athlete_id not in queries.squad.members_ever(db, squad.id):
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
        set_by=stamp.by,
        set_at=stamp.now,
        withdrawn_at=None,
    )
    db.add(row)
    audit.note(db, "notice_tuned", f"notice:{new.code}", stamp=stamp, squad_id=squad.id, athlete_id=row.athlete_id,
               off=new.off, values=dict(new.values))  # fmt: skip
    db.flush()
    return row


def take_back(db: DbSession, squad: Squad, setting_id: str, *, stamp: Stamp) -> None:
    """As if it had never been set. Does not commit. Raises NotFound."""
    row = db.get(NoticeSetting, setting_id)
    if row is None or row.squad_id != squad.id or row.withdrawn_at is not None:
        raise NotFound("There is no such setting.")
    row.withdrawn_at = stamp.now
    audit.note(db, "notice_setting_taken_back", f"notice:{row.code}", stamp=stamp, squad_id=squad.id)


@dataclass(frozen=True)
class Earlier:
    """A setting that is no longer in force, and since when: replaced on a day, or taken back as if never set."""

    row: NoticeSetting
    until: date
    taken_back: bool


def earlier_settings(db: DbSession, squad: Squad, day: date) -> list[Earlier]:
    """What was set before, as a day looks back on it, the last to end first."""
    out: list[Earlier] = []
    next_of: dict[tuple[str, Scope, str | None, int | None], date] = {}
    for row in reversed(queries.squad.notice_settings_ever(db, squad.id, day)):
        if row.withdrawn_at is not None:
            out.append(Earlier(row, local_day(squad, row.withdrawn_at), taken_back=True))
            continue
        if meant_by(row) in next_of:
            out.append(Earlier(row, next_of[meant_by(row)], taken_back=False))
        next_of[meant_by(row)] = row.from_day
    return sorted(out, key=lambda one: one.until, reverse=True)


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
