"""Channels: a squad's units of work, how each is worked out, and what a changed definition would move."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.errors import CoreError
from uvren.core.ratings import OWN_DAYS
from uvren.core.units import FORMS, Form, Region, make_form
from uvren.services.day.loads import Definition, Done, channel_loads, definitions_of, refresh_daily_loads
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.store import queries
from uvren.store.models import Audit, Channel, ChannelDefinition, Entry, Place, Session, SessionKind, Squad
from uvren.store.types import new_ulid

MARKS = ("ring", "bar", "wedge", "cross", "square", "wave", "dots", "fork")
PREVIEW_WEEKS = 8


@dataclass(frozen=True)
class Draft:
    """A channel and its definition as someone wants them."""

    name: str
    unit: str
    form: str
    settings: dict[str, Any]
    kinds: Sequence[SessionKind]
    regions: Sequence[str]
    mark: str
    from_day: date
    reason: str


def find_channel(db: DbSession, squad: Squad, code: str) -> Channel:
    """Raises NotFound."""
    channel = db.scalar(select(Channel).where(Channel.squad_id == squad.id, Channel.code == code))
    if channel is None:
        raise NotFound("There is no such channel in this squad.", field="channel")
    return channel


def standing(channel: Channel, day: date) -> ChannelDefinition | None:
    """The definition in force on a day; before the first one, the first."""
    rows = [row for row in channel.definitions if row.withdrawn_at is None]
    return next((row for row in reversed(rows) if row.from_day <= day), rows[0] if rows else None)


def form_of(draft: Draft) -> Form:
    """Raises Invalid with the path of the setting at fault."""
    try:
        return make_form(draft.form, draft.settings)
    except CoreError as error:
        field = "form" if error.field == "form" else f"settings.{error.field}"
        raise Invalid(str(error), field=field) from error


def _check(draft: Draft) -> None:
    if not draft.name.strip():
        raise Invalid("A channel has a name.", field="name")
    if not draft.unit.strip():
        raise Invalid("A channel has a unit.", field="unit")
    if draft.mark not in MARKS:
        raise Invalid(f"A mark is one of {', '.join(MARKS)}.", field="mark")
    if not draft.kinds:
        raise Invalid("Choose the kinds of session that have such work.", field="kinds")
    unknown = [region for region in draft.regions if region not in list(Region)]
    if unknown:
        raise Invalid(f"{unknown[0]} is none of: {', '.join(Region)}.", field="regions")
    form_of(draft)


def save_channel(
    db: DbSession,
    squad: Squad,
    draft: Draft,
    *,
    code: str | None,
    recompute: bool,
    by: int | None,
    now: datetime,
    today: date,
) -> Channel:
    """Make a channel, or give one another definition from a day on. Does not commit.

    Loads of days before today are worked out anew only with ``recompute``: a definition that begins in the past is
    refused without it. Raises Invalid with the field at fault.
    """
    _check(draft)
    if code is None:
        channel = _new_channel(db, squad, draft)
    else:
        channel = find_channel(db, squad, code)
        if channel.is_main and FORMS[draft.form].source != FORMS["effort_minutes"].source:
            raise Invalid("The main channel takes effort × minutes, so that every kind of work fits in.", field="form")
    first = not channel.definitions
    if not first and not draft.reason.strip():
        raise Invalid("Say why: the reason stands beside the change.", field="reason")
    same = _is_same(channel, draft)
    if not same and draft.from_day < today and not recompute:
        raise Invalid(
            f"From {say.day(draft.from_day)} on, past loads would move. Look at what moves, then choose to work them "
            "out anew; or let it hold from today.",
            field="from_day",
        )
    channel.name, channel.unit, channel.mark = draft.name.strip(), draft.unit.strip(), draft.mark
    channel.regions = list(draft.regions)
    if not same:
        db.add(
            ChannelDefinition(
                id=new_ulid(),
                channel_id=channel.id,
                form=draft.form,
                settings=draft.settings,
                kinds=[kind.value for kind in draft.kinds],
                from_day=draft.from_day,
                reason=draft.reason.strip() or "From the beginning",
                set_by=by,
                set_at=now,
                withdrawn_at=None,
            )
        )
        if draft.from_day < today:
            for row in channel.definitions:
                # What began later is replaced too: the new definition holds from its day until another one is set.
                if row.from_day >= draft.from_day and row.withdrawn_at is None:
                    row.withdrawn_at = now
    db.add(
        Audit(
            at=now,
            user_id=by,
            squad_id=squad.id,
            action="channel_set",
            subject=f"channel:{channel.id}",
            details={"name": channel.name, "form": draft.form, "from": str(draft.from_day), "reason": draft.reason},
        )
    )
    db.flush()
    db.refresh(channel, ["definitions"])
    if not same and draft.from_day <= today:
        recompute_channel(db, squad, channel, draft.from_day, today)
    return channel


def take_back_definition(
    db: DbSession, squad: Squad, code: str, definition_id: str, *, by: int | None, now: datetime, today: date
) -> Channel:
    """Take back the definition that was set last, with what it replaced standing again. Does not commit.

    Raises NotFound, and Stale for a definition that is not the last one, or the only one.
    """
    channel = find_channel(db, squad, code)
    row = next((one for one in channel.definitions if one.id == definition_id and one.withdrawn_at is None), None)
    if row is None:
        raise NotFound("There is no such definition.")
    # Identifiers grow with time, also between two moments that the clock does not tell apart.
    replaced = [one for one in channel.definitions if one.withdrawn_at == row.set_at and one.id < row.id]
    left = [one for one in channel.definitions if one.withdrawn_at is None and one is not row] + replaced
    if not left or any(one.id > row.id and one.withdrawn_at is None for one in channel.definitions):
        raise Stale("Only the definition that was set last can be taken back, and not the only one.")
    row.withdrawn_at = now
    for one in replaced:
        one.withdrawn_at = None
    details = {"name": channel.name, "from": str(row.from_day)}
    subject = f"channel:{channel.id}"
    db.add(Audit(at=now, user_id=by, squad_id=squad.id, action="channel_back", subject=subject, details=details))
    db.flush()
    db.refresh(channel, ["definitions"])
    if row.from_day <= today:
        recompute_channel(db, squad, channel, row.from_day, today)
    return channel


def _new_channel(db: DbSession, squad: Squad, draft: Draft) -> Channel:
    there = queries.channels(db, squad.id)
    if any(channel.name.lower() == draft.name.strip().lower() for channel in there):
        raise Invalid("There is a channel of this name already.", field="name")
    stem = re.sub(r"[^a-z0-9]+", "_", draft.name.strip().lower()).strip("_")[:36] or "channel"
    codes, code, n = {channel.code for channel in there}, stem, 1
    while code in codes:
        n += 1
        code = f"{stem}_{n}"
    channel = Channel(
        squad_id=squad.id,
        code=code,
        name=draft.name.strip(),
        unit=draft.unit.strip(),
        is_main=False,
        regions=list(draft.regions),
        mark=draft.mark,
        rank=len(there),
    )
    db.add(channel)
    db.flush()
    return channel


def _is_same(channel: Channel, draft: Draft) -> bool:
    row = standing(channel, draft.from_day)
    return row is not None and (
        (row.form, row.settings, sorted(row.kinds)) == (draft.form, draft.settings, sorted(draft.kinds))
    )


def recompute_channel(db: DbSession, squad: Squad, channel: Channel, first: date, last: date) -> None:
    """Work out a channel's daily loads of a span of days anew."""
    rows = db.execute(
        select(Entry.athlete_id, Session.day)
        .join(Session, Session.id == Entry.session_id)
        .where(Session.squad_id == squad.id, Session.day.between(first, last), Session.done)
        .distinct()
    )
    refresh_daily_loads(db, squad.id, {(athlete, day) for athlete, day in rows}, {channel.id})


@dataclass(frozen=True)
class PreviewRow:
    """An athlete's load in one session, as it is and as it would be; None where it is unknown."""

    athlete_id: int
    name: str
    before: float | None
    after: float | None


@dataclass(frozen=True)
class PreviewWeek:
    """A week of the squad: mean week load of those who have one."""

    until: date
    before: float | None
    after: float | None


@dataclass(frozen=True)
class Preview:
    """What a definition would do: to one session, and to the last eight weeks."""

    sentence: str
    session_id: str | None
    session_said: str
    rows: list[PreviewRow]
    weeks: list[PreviewWeek]
    days_moved: int
    days: int


def preview(
    db: DbSession, squad: Squad, draft: Draft, *, code: str | None, session_id: str | None, today: date
) -> Preview:
    """What the draft would make of one session (the last with such work unless named) and of the last eight weeks."""
    _check(draft)
    first = today - timedelta(weeks=PREVIEW_WEEKS)
    channel = None if code is None else find_channel(db, squad, code)
    done = Done(db, squad.id, first - timedelta(days=OWN_DAYS), today)
    wanted = Definition(form_of(draft), frozenset(queries.KIND_CODES[kind] for kind in draft.kinds), date.min)
    name = channel.code if channel else "\0"
    # The whole span under the new definition: what it would mean for the past, whether or not it is to hold there.
    after = channel_loads(done, name, [wanted])
    now = definitions_of(channel) if channel else []
    before = channel_loads(done, name, now) if now else None
    shown = done.entries.day >= first.toordinal()
    loads_after = np.where(after.expected & shown, after.filled.load, np.nan)
    loads_before = np.full(done.count, np.nan)
    if before is not None:
        loads_before = np.where(before.expected & shown, before.filled.load, np.nan)
    chosen = session_id or _last_with_work(done, np.where(np.isnan(loads_after), loads_before, loads_after))
    people = {member.athlete_id: member.name for member in queries.members(db, squad.id, today)}
    rows = [
        PreviewRow(athlete, people[athlete], _known(loads_before[i]), _known(loads_after[i]))
        for i, (session, athlete) in enumerate(zip(done.entries.session_id, done.entries.athlete.tolist(), strict=True))
        if session == chosen and athlete in people
    ]
    session = db.get(Session, chosen) if chosen else None
    differs = shown & ~((loads_before == loads_after) | (np.isnan(loads_before) & np.isnan(loads_after)))
    keys = done.entries.athlete << 24 | done.entries.day
    return Preview(
        sentence=wanted.form.sentence(),
        session_id=chosen,
        session_said=f"{session.title}, {say.day(session.day)}" if session else "",
        rows=sorted(rows, key=lambda row: row.name),
        weeks=_weeks(done, loads_before, loads_after, today),
        days_moved=int(np.unique(keys[differs]).size),
        days=int(np.unique(keys[shown & (after.expected | differs)]).size),
    )


def _known(load: float) -> float | None:
    return None if np.isnan(load) else round(float(load), 6)


def _last_with_work(done: Done, load: np.ndarray) -> str | None:
    there = np.flatnonzero(np.nan_to_num(load) > 0)
    if there.size == 0:
        return None
    return done.entries.session_id[int(there[np.argmax(done.entries.day[there])])]


def _weeks(done: Done, before: np.ndarray, after: np.ndarray, today: date) -> list[PreviewWeek]:
    out = []
    for back in range(PREVIEW_WEEKS - 1, -1, -1):
        until = today - timedelta(days=7 * back + 1)
        inside = (done.entries.day > until.toordinal() - 7) & (done.entries.day <= until.toordinal())
        out.append(PreviewWeek(until, _mean_week(done, before, inside), _mean_week(done, after, inside)))
    return out


def _mean_week(done: Done, load: np.ndarray, inside: np.ndarray) -> float | None:
    there = inside & ~np.isnan(load)
    people = np.unique(done.entries.athlete[there])
    return float(load[there].sum() / people.size) if people.size else None


# Places -----------------------------------------------------------------------------------------------------


def places_of(db: DbSession, squad: Squad) -> list[Place]:
    return list(db.scalars(select(Place).where(Place.squad_id == squad.id).order_by(Place.name)))


def add_place(db: DbSession, squad: Squad, name: str) -> Place:
    """Raises Invalid for a name that is empty or taken."""
    name = name.strip()
    if not name:
        raise Invalid("A place has a name.", field="name")
    if any(place.name.lower() == name.lower() for place in places_of(db, squad)):
        raise Invalid("This place is there already.", field="name")
    place = Place(squad_id=squad.id, name=name)
    db.add(place)
    db.flush()
    return place


def remove_place(db: DbSession, squad: Squad, place_id: int) -> None:
    """Take a place off the list; sessions that were there keep its name, and factors keep theirs."""
    place = db.get(Place, place_id)
    if place is None or place.squad_id != squad.id:
        raise NotFound("There is no such place.")
    db.delete(place)
    db.flush()


def set_place(db: DbSession, squad: Squad, session: Session, name: str | None) -> None:
    """Say where a session was; the loads of channels with place factors follow. Does not commit. Raises Invalid."""
    if name is not None and name not in {place.name for place in places_of(db, squad)}:
        raise Invalid("This place is not on the squad's list.", field="place")
    session.place = name
    db.flush()
    if session.done:
        people = db.scalars(select(Entry.athlete_id).where(Entry.session_id == session.id))
        refresh_daily_loads(db, squad.id, {(athlete, session.day) for athlete in people})
