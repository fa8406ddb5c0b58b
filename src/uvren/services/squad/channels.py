"""Channels: a squad's units of work, how each is worked out, and what a changed definition would move."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.errors import CoreError
from uvren.core.units import FORMS, Form, Region, make_form
from uvren.services.club import audit
from uvren.services.day.loads import refresh_daily_loads
from uvren.services.day.people import folded
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.services.stamp import Stamp
from uvren.services.versions import WHATEVER, Whatever, check_seen, keep_earlier
from uvren.store import queries
from uvren.store.models import Audit, Channel, ChannelDefinition, SessionKind, Squad
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
    channel = queries.squad.channel_coded(db, squad.id, code)
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


def check(draft: Draft) -> None:
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
    version: int | Whatever | None = WHATEVER,
    stamp: Stamp,
    today: date,
) -> Channel:
    """Make a channel, or give one another definition from a day on. Does not commit.

    Loads of days before today are worked out anew only with ``recompute``: a definition that begins in the past is
    refused without it. Raises Invalid with the field at fault; Stale, with both, where somebody has changed it since
    ``version``.
    """
    check(draft)
    queries.squad.hold(db, squad.id)
    if code is None:
        channel = _new_channel(db, squad, draft)
    else:
        channel = find_channel(db, squad, code)
        db.refresh(channel)
        _check_unseen(channel, draft, version)
        _check_name(db, squad, draft, channel)
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
    if not first:
        keep_earlier(db, squad.id, "unit", channel.code, channel.version, _shown(channel), stamp=stamp)
        channel.version += 1
    channel.name, channel.unit, channel.mark = draft.name.strip(), draft.unit.strip(), draft.mark
    channel.regions = list(draft.regions)
    if not same:
        _define(db, channel, draft, stamp, today)
    audit.note(db, "channel_set", f"channel:{channel.id}", stamp=stamp, squad_id=squad.id, name=channel.name,
               form=draft.form, reason=draft.reason, from_day=str(draft.from_day))  # fmt: skip
    db.flush()
    db.refresh(channel, ["definitions"])
    if not same and draft.from_day <= today:
        recompute_channel(db, squad, channel, draft.from_day, today)
    return channel


def _define(db: DbSession, channel: Channel, draft: Draft, stamp: Stamp, today: date) -> None:
    """Another definition from a day on. What began later is replaced too: it holds until another one is set."""
    db.add(
        ChannelDefinition(
            id=new_ulid(),
            channel_id=channel.id,
            form=draft.form,
            settings=draft.settings,
            kinds=[kind.value for kind in draft.kinds],
            from_day=draft.from_day,
            reason=draft.reason.strip() or "From the beginning",
            set_by=stamp.by,
            set_at=stamp.now,
            withdrawn_at=None,
        )
    )
    if draft.from_day < today:
        for row in channel.definitions:
            if row.from_day >= draft.from_day and row.withdrawn_at is None:
                row.withdrawn_at = stamp.now


def take_back_definition(
    db: DbSession, squad: Squad, code: str, definition_id: str, *, stamp: Stamp, today: date
) -> Channel:
    """Take back the definition that was set last, with what it replaced standing again. Does not commit.

    Raises NotFound, and Stale for a definition that is not the last one, or the only one.
    """
    queries.squad.hold(db, squad.id)
    channel = find_channel(db, squad, code)
    db.refresh(channel, ["definitions"])
    row = next((one for one in channel.definitions if one.id == definition_id and one.withdrawn_at is None), None)
    if row is None:
        raise NotFound("There is no such definition.")
    # Identifiers grow with time, also between two moments that the clock does not tell apart.
    replaced = [one for one in channel.definitions if one.withdrawn_at == row.set_at and one.id < row.id]
    left = [one for one in channel.definitions if one.withdrawn_at is None and one is not row] + replaced
    if not left or any(one.id > row.id and one.withdrawn_at is None for one in channel.definitions):
        raise Stale("Only the definition that was set last can be taken back, and not the only one.")
    keep_earlier(db, squad.id, "unit", channel.code, channel.version, _shown(channel), stamp=stamp)
    channel.version += 1
    row.withdrawn_at = stamp.now
    for one in replaced:
        one.withdrawn_at = None
    details = {"name": channel.name, "from": str(row.from_day)}
    subject = f"channel:{channel.id}"
    db.add(
        Audit(
            at=stamp.now, user_id=stamp.by, squad_id=squad.id, action="channel_back", subject=subject, details=details
        )
    )
    db.flush()
    db.refresh(channel, ["definitions"])
    if row.from_day <= today:
        recompute_channel(db, squad, channel, row.from_day, today)
    return channel


def _shown(channel: Channel) -> dict[str, Any]:
    return {"name": channel.name, "unit": channel.unit, "mark": channel.mark, "regions": channel.regions}


def _check_unseen(channel: Channel, draft: Draft, version: int | Whatever | None) -> None:
    last = next(row for row in reversed(channel.definitions) if row.withdrawn_at is None)
    mine = {"name": draft.name, "unit": draft.unit, "mark": draft.mark, "regions": list(draft.regions),
            "form": draft.form, "settings": draft.settings}  # fmt: skip
    theirs = _shown(channel) | {"form": last.form, "settings": last.settings}
    check_seen(version, channel.version, f"{channel.name} was changed meanwhile.", yours=mine, theirs=theirs)


def _check_name(db: DbSession, squad: Squad, draft: Draft, but: Channel | None) -> None:
    there = queries.squad.channels(db, squad.id)
    if any(folded(channel.name) == folded(draft.name) for channel in there if channel is not but):
        raise Invalid("There is a channel of this name already.", field="name")


def _new_channel(db: DbSession, squad: Squad, draft: Draft) -> Channel:
    _check_name(db, squad, draft, None)
    there = queries.squad.channels(db, squad.id)
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
    refresh_daily_loads(db, squad.id, queries.session.days_trained(db, squad.id, first, last), {channel.id})
