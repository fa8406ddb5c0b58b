"""What a unit of work would come to, before it is saved: a real session and the weeks behind."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.ratings import OWN_DAYS
from uvren.services.day.loads import Definition, Done, channel_loads, definitions_of
from uvren.services.errors import NotFound
from uvren.services.squad.channels import PREVIEW_WEEKS, Draft, check, find_channel, form_of
from uvren.store import queries
from uvren.store.models import Squad


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
    """What the draft would make of one session (the last with such work unless named) and of the last eight weeks.

    Raises Invalid, and NotFound for a channel or a session that is not the squad's.
    """
    check(draft)
    if session_id is not None and not queries.session.sessions_of(db, squad.id, [session_id]):
        raise NotFound("There is no such session in this squad.", field="session_id")
    first = today - timedelta(weeks=PREVIEW_WEEKS)
    channel = None if code is None else find_channel(db, squad, code)
    done = Done(db, squad.id, first - timedelta(days=OWN_DAYS), today)
    wanted = Definition(form_of(draft), frozenset(queries.session.KIND_CODES[kind] for kind in draft.kinds), date.min)
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
    people = {member.athlete_id: member.name for member in queries.squad.members(db, squad.id, today)}
    rows = [
        PreviewRow(athlete, people[athlete], _known(loads_before[i]), _known(loads_after[i]))
        for i, (session, athlete) in enumerate(zip(done.entries.session_id, done.entries.athlete.tolist(), strict=True))
        if session == chosen and athlete in people
    ]
    session = queries.session.any_session(db, chosen) if chosen else None
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
