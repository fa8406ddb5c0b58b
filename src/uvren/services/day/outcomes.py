"""How calls turned out: what was done against what was called, and how the next mornings were."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.audience import LEAST, Audience
from uvren.core.day import Facts, Given, weighed
from uvren.core.norms import CHANGE
from uvren.core.reports import ITEM_NAMES
from uvren.services.day.facts import DAYS, read_facts
from uvren.services.day.plan import planned_for
from uvren.services.day.standing import called_of
from uvren.services.day.told import CallSaid, call_said
from uvren.store import queries
from uvren.store.models import Squad
from uvren.store.queries.squad import Member

# Minutes within this of what was called are as called: it is what a session varies by.
KEPT_SHARE, KEPT_MINUTES = 0.15, 5.0
# Minutes as called that were felt by so much more effort than called, on average, were harder.
HARDER = 1.5
# The morning on which it is looked at how things went on.
AFTER_DAYS = 2


Kept = Literal["kept", "more", "less", "harder", ""]


@dataclass(frozen=True)
class Turned:
    """A call and what came of it. Loads are effort x minutes, None where nothing is known (yet).

    ``kept`` is kept, more or less by minutes, harder where the minutes were as called and the effort was not, or empty;
    ``after`` says in words how what was worse stood two mornings later.
    """

    athlete_id: int
    name: str
    day: date
    call: CallSaid
    called: float | None
    done: float | None
    kept: Kept
    after: str


def outcomes(
    db: DbSession,
    squad: Squad,
    first: date,
    last: date,
    today: date,
    only: int | None = None,
    most: int | None = None,
    audiences: Set[Audience] = LEAST,
) -> list[Turned]:
    """Every call that stands from ``first`` through ``last``, newest first.

    With ``only`` those of one athlete, with ``most`` so many of the newest. How reports stood afterwards is for who
    may read them.
    """
    calls = queries.morning.calls_between(db, squad.id, first, last)
    if only is not None:
        calls = {key: call for key, call in calls.items() if key[0] == only}
    if most is not None:
        calls = dict(sorted(calls.items(), key=lambda item: item[0][1], reverse=True)[:most])
    if not calls:
        return []
    people = [member for member in queries.squad.members(db, squad.id, last) if only in (None, member.athlete_id)]
    names = queries.club.user_names(db, squad.club_id)
    athletes = {member.athlete_id: member for member in people}
    planned = _planned(db, squad, min(day for _, day in calls), last)
    done = _done(db, squad, first, last)
    facts = _facts(db, squad, people, sorted({day for _, day in calls}), today)
    reads, out = Audience.REPORTS in audiences, []
    for (athlete, day), call in calls.items():
        if athlete not in athletes:
            continue
        minutes, efforts = planned.get((athlete, day), planned.get((0, day), ((), ())))
        standing = weighed(Given(call=called_of(call)))
        share = standing.share(sum(minutes))
        called = sum(m * share * min(e, standing.cap) for m, e in zip(minutes, efforts, strict=True))
        minutes_called = sum(minutes) * share
        did_minutes, did = done.get((athlete, day), (0.0, 0.0)) if day < today else (None, None)
        out.append(
            Turned(
                athlete_id=athlete,
                name=athletes[athlete].name,
                day=day,
                call=call_said(call, names.get(call.made_by, ""), audiences),
                called=called if minutes else None,
                done=did,
                kept=_kept(minutes_called, called, did_minutes, did) if minutes else "",
                after=_after(facts.get(day), athletes[athlete], people, day) if reads else "",
            )
        )
    return sorted(out, key=lambda one: (one.day, one.call.made_at), reverse=True)


def _kept(minutes: float, called: float, done_minutes: float | None, done: float | None) -> Kept:
    """How a day stands to its call. Without ratings the minutes alone are held against each other."""
    if done_minutes is None:
        return ""
    slack = max(minutes * KEPT_SHARE, KEPT_MINUTES)
    if done_minutes > minutes + slack:
        return "more"
    if done_minutes < minutes - slack:
        return "less"
    if done is not None and minutes > 0 and done_minutes > 0 and done / done_minutes >= called / minutes + HARDER:
        return "harder"
    return "kept"


Plans = Mapping[tuple[int, date], tuple[Sequence[float], Sequence[float]]]


def _planned(db: DbSession, squad: Squad, first: date, last: date) -> Plans:
    """Minutes and efforts of each (athlete, day) as planned; athlete 0 is the plan of the squad."""
    sessions = queries.session.sessions_between(db, squad.id, first, last)
    own = {(row.session_id, row.athlete_id): row for row in queries.day.own_plans(db, [one.id for one in sessions])}
    athletes = {athlete for _, athlete in own}
    out: dict[tuple[int, date], tuple[list[float], list[float]]] = defaultdict(lambda: ([], []))
    for session in sessions:
        for athlete in (0, *athletes):
            minutes, effort = planned_for(session, own.get((session.id, athlete)))
            out[athlete, session.day][0].append(minutes)
            out[athlete, session.day][1].append(effort)
    return out


def _done(db: DbSession, squad: Squad, first: date, last: date) -> dict[tuple[int, date], tuple[float, float | None]]:
    """Minutes and effort x minutes of each (athlete, day) with anything done; no load where a rating is missing."""
    out: dict[tuple[int, date], tuple[float, float | None]] = {}
    for athlete, day, _, minutes, effort, _ in queries.day.done_minutes(db, squad.id, first, last):
        if not minutes:
            continue
        so_far, load = out.get((athlete, day), (0.0, 0.0))
        more = None if effort is None or load is None else load + minutes * effort
        out[athlete, day] = so_far + minutes, more
    return out


def _facts(
    db: DbSession, squad: Squad, people: Sequence[Member], days: Sequence[date], today: date
) -> dict[date, Facts]:
    """What was reported around each of these days, as of two mornings after it. One reading serves many days."""
    ready = [day for day in days if day + timedelta(days=AFTER_DAYS) <= today]
    out: dict[date, Facts] = {}
    newest: Facts | None = None
    for day in sorted(ready, reverse=True):
        if newest is None or (newest.as_of - day).days > DAYS // 3:
            newest = read_facts(db, squad, people, day + timedelta(days=AFTER_DAYS), today)
        out[day] = newest
    return out


def _after(facts: Facts | None, member: Member, people: Sequence[Member], day: date) -> str:
    """How what was worse on the morning of a call stood two mornings later."""
    if facts is None:
        return ""
    row = next(i for i, one in enumerate(people) if one.athlete_id == member.athlete_id)
    then = facts.daily.shape[2] - 1 - (facts.as_of - day).days
    later = then + AFTER_DAYS
    worse = np.flatnonzero(np.nan_to_num(facts.badness[row, :, then]) >= CHANGE)
    if np.isnan(facts.daily[row, :, later]).all():
        return "no report two mornings later"
    if worse.size == 0:
        new = np.flatnonzero(np.nan_to_num(facts.badness[row, :, later]) >= CHANGE)
        if new.size == 0:
            return "reports as usual before and after"
        return f"two mornings later worse than usual: {say.listed([ITEM_NAMES[facts.items[i]] for i in new])}"
    back = [i for i in worse if np.nan_to_num(facts.badness[row, i, later]) < CHANGE]
    still = [i for i in worse if i not in back]
    parts = []
    if back:
        parts.append(f"back to usual: {say.listed([ITEM_NAMES[facts.items[i]] for i in back])}")
    if still:
        parts.append(f"still worse: {say.listed([ITEM_NAMES[facts.items[i]] for i in still])}")
    return "; ".join(parts)
