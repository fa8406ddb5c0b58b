"""How a squad begins: with what its kind of work usually needs, or with another squad's set-up."""

from __future__ import annotations

import re
from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session as DbSession

from uvren.core.notices import KINDS
from uvren.services.club import audit
from uvren.services.club.begin import LONGEST_NAME, check_zone, own_roles
from uvren.services.club.permissions import Person
from uvren.services.day.dates import local_day
from uvren.services.day.people import folded
from uvren.services.day.tuning import settings_on
from uvren.services.errors import Invalid, NotFound
from uvren.services.squad import fitness_tests
from uvren.services.squad.channels import Draft, save_channel, standing
from uvren.services.squad.kinds import BY_CODE, WorkKind
from uvren.services.squad.limits import NewLimit, set_limit
from uvren.services.squad.places import add_place
from uvren.services.squad.squads import EVER, create_squad
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.database import row_again
from uvren.store.models import (
    Club,
    Place,
    Role,
    RoleGrant,
    Scope,
    SessionKind,
    Squad,
    User,
)
from uvren.store.types import new_ulid


@dataclass(frozen=True)
class NewSquad:
    """A squad as somebody wants it: by its kind of work, or with the set-up of another. ``roles`` are their own."""

    name: str
    time_zone: str
    work: str | None
    copy_of: str | None
    roles: Collection[Role]


def make_squad(db: DbSession, person: Person, new: NewSquad, now: datetime) -> Squad:
    """Make a squad of the person's club, who acts for it. Does not commit. Raises NotAllowed, NotFound, Invalid."""
    person.must_for_club()
    club = queries.club.club_for_update(db, person.club_id)
    name = new.name.strip()
    if not name or len(name) > LONGEST_NAME:
        raise Invalid(f"A squad has a name of up to {LONGEST_NAME} characters.", field="name")
    if folded(name) in {folded(one.name) for one in queries.club.squads(db, club_id=club.id)}:
        raise Invalid("The club has a squad of this name.", field="name")
    check_zone(new.time_zone)
    roles = own_roles(new.roles)
    begins_with = _begins_with(db, club, new)
    squad = create_squad(db, club, _slug(db, name), name, new.time_zone, now)
    user, stamp = db.get_one(User, person.user_id), Stamp(person.user_id, now)
    db.add_all(RoleGrant(user_id=user.id, squad_id=squad.id, role=Role(role)) for role in roles)
    user.begins_as = roles
    db.flush()
    if isinstance(begins_with, Squad):
        squad.work = begins_with.work
        _copy(db, begins_with, squad, stamp)
    else:
        squad.work = begins_with.code
        _set_up(db, squad, begins_with, stamp)
    audit.note(db, "squad_made", f"squad:{squad.id}", stamp=stamp, squad_id=squad.id, name=name, work=squad.work)
    db.flush()
    return squad


def _begins_with(db: DbSession, club: Club, new: NewSquad) -> WorkKind | Squad:
    if new.copy_of is not None:
        other = queries.club.squad_named(db, new.copy_of)
        if other is None or other.club_id != club.id:
            raise NotFound("There is no such squad.", field="copy_of")
        return other
    if new.work not in BY_CODE:
        raise Invalid("Choose what kind of work the squad does.", field="work")
    return BY_CODE[new.work]


def _slug(db: DbSession, name: str) -> str:
    """How addresses call it: what is left of the name in plain letters, and a number where that is taken."""
    base = re.sub(r"[^a-z0-9]+", "-", folded(name)).strip("-")[:50] or "squad"
    slug, number = base, 1
    while queries.club.squad_named(db, slug) is not None:
        number += 1
        slug = f"{base}-{number}"
    return slug


def _set_up(db: DbSession, squad: Squad, work: WorkKind, stamp: Stamp) -> None:
    """All of it holds from ever, so that seasons that come in later are judged by it too."""
    for unit in work.units:
        save_channel(db, squad, unit, code=None, recompute=True, stamp=stamp, today=EVER)
    codes = {channel.name: channel.code for channel in queries.squad.channels(db, squad.id)}
    for limit in work.limits:
        wanted = NewLimit(
            rule=limit.rule, value=limit.value, settings=limit.settings, hard=limit.hard, scope=Scope.SQUAD,
            position=None, athlete_id=None, from_day=EVER, source=limit.source,
            reason="Begun with; to be agreed", channel=None if limit.channel is None else codes[limit.channel],
        )  # fmt: skip
        set_limit(db, squad, wanted, stamp=stamp, today=EVER)
    fitness_tests.set_up(db, squad, stamp=stamp)
    for place in work.places:
        add_place(db, squad, place)


def _copy(db: DbSession, other: Squad, squad: Squad, stamp: Stamp) -> None:
    """Units, the squad's limits, tests, forms, places, phases and tuned notices as they stand; nothing of anybody."""
    today = local_day(other, stamp.now)
    channels = {}
    for channel in queries.squad.channels(db, other.id):
        definition = standing(channel, today)
        if definition is None:
            continue
        draft = Draft(
            channel.name, channel.unit, definition.form, dict(definition.settings),
            [SessionKind(kind) for kind in definition.kinds], channel.regions, channel.mark, EVER, f"As {other.name}",
        )  # fmt: skip
        code = "session_rpe" if channel.is_main else None
        channels[channel.id] = save_channel(db, squad, draft, code=code, recompute=True, stamp=stamp, today=EVER).id
    by = {"squad_id": squad.id, "set_by": stamp.by, "set_at": stamp.now}
    for limit, _ in queries.squad.limits_until(db, other.id, today):
        in_force = limit.to_day is None or limit.to_day >= today
        if in_force and limit.scope is Scope.SQUAD and limit.channel_id in channels:
            db.add(row_again(limit, **by, id=new_ulid(), channel_id=channels[limit.channel_id], from_day=EVER))
    for test in queries.squad.tests_of(db, other.id):
        db.add(row_again(test, **by, id=None, version=1))
    forms = {form.kind: form for form in queries.squad.report_forms(db, other.id) if form.from_day <= today}
    for form in forms.values():
        db.add(row_again(form, **by, id=new_ulid(), from_day=EVER))
    for setting in settings_on(db, other.id, today):
        if setting.scope is Scope.SQUAD and setting.code in KINDS:
            db.add(row_again(setting, **by, id=new_ulid(), from_day=EVER))
    for place in queries.squad.places(db, other.id):
        db.add(Place(squad_id=squad.id, name=place.name))
    edition = new_ulid()
    for phase in queries.season.phases(db, other.id):
        db.add(row_again(phase, **by, id=new_ulid(), edition=edition))
