"""Sessions made, changed and taken away, by hand."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.services.club import audit
from uvren.services.day.dates import local_day
from uvren.services.day.loads import refresh_daily_loads
from uvren.services.day.plan import followed, loads_followed
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.services.session.planning import NewSegment, NewSession, plan_sessions
from uvren.services.stamp import Stamp
from uvren.services.versions import Whatever, check_seen, keep_earlier
from uvren.store import queries
from uvren.store.models import DayMark, DayMarkKind, Entry, Segment, Session, SessionKind, Squad, Venue

LONGEST, MOST_TOGETHER, LONGEST_WHY = 600.0, 60, 200
CHANGED, DELETED = "session", "deleted"


@dataclass(frozen=True)
class Wanted:
    """A session as somebody types it, by the squad's own clock."""

    kind: SessionKind
    title: str
    day: date
    at: time
    minutes: float
    effort: float
    place: str | None = None
    opponent: str | None = None
    venue: Venue | None = None


def make_sessions(db: DbSession, squad: Squad, wanted: Wanted, *, until: date | None, stamp: Stamp) -> list[Session]:
    """A session, or one each week on the same day of the week ``until`` a day. Does not commit. Raises Invalid.

    What is there already at the same time under the same name is no second one.
    """
    queries.squad.hold(db, squad.id)
    _check(db, squad, wanted)
    new = [_planned(squad, one) for one in _weekly(wanted, until)]
    there = _there(db, squad, wanted.day, until or wanted.day)
    fresh = [one for one in new if _key(one) not in there]
    if not fresh:
        raise Invalid("This session is there already.", field="title")
    return _make(db, squad, fresh, stamp)


def _make(db: DbSession, squad: Squad, new: list[NewSession], stamp: Stamp) -> list[Session]:
    made = plan_sessions(db, squad, new)
    for one in made:
        audit.note(db, "session_made", f"session:{one.id}", stamp=stamp, squad_id=squad.id, day=str(one.day))
    db.flush()
    return made


def _there(db: DbSession, squad: Squad, first: date, last: date) -> set[tuple[datetime, SessionKind, str]]:
    """What tells sessions of some days apart."""
    found = queries.session.sessions_between(db, squad.id, first, last)
    return {(one.starts_at, one.kind, one.name) for one in found}


def _key(new: NewSession) -> tuple[datetime, SessionKind, str]:
    return new.starts_at, new.kind, f"Match against {new.opponent}" if new.opponent else new.title


def copy_week(db: DbSession, squad: Squad, of: date, into: date, *, stamp: Stamp) -> list[Session]:
    """The sessions of a day's week once more in another day's week, with their parts; the plan, not what was done.

    At the same time of the squad's clock. What is there already is left alone. Does not commit. Raises Invalid.
    """
    queries.squad.hold(db, squad.id)
    first, target = (day - timedelta(days=day.weekday()) for day in (of, into))
    if first == target:
        raise Invalid("This is the same week.", field="into")
    old = queries.session.sessions_between(db, squad.id, first, first + timedelta(days=6))
    there = _there(db, squad, target, target + timedelta(days=6))
    new = []
    for one in old:
        wanted = as_wanted(squad, one)
        planned = _planned(squad, replace(wanted, day=wanted.day + (target - first)))
        if _key(planned) not in there:
            parts = tuple(NewSegment(part.name, part.minutes, part.weight, part.grade) for part in one.segments)
            new.append(replace(planned, segments=parts, mix_aim=one.mix_aim))
    if not new:
        raise Invalid("There is no session in that week that is not in the other one already.", field="of")
    return _make(db, squad, new, stamp)


def change_session(
    db: DbSession, squad: Squad, session_id: str, wanted: Wanted, *, version: int | Whatever | None, stamp: Stamp
) -> Session:
    """Change a session, or move it with all that was entered; plans of everybody follow. Does not commit.

    Raises NotFound; Stale, with both, where it was changed since ``version``; Invalid, also where somebody who took
    part was not in the squad on the day it moves to.
    """
    queries.squad.hold(db, squad.id)
    session = find(db, squad, session_id)
    _check(db, squad, wanted, session.place)
    yours = vars(wanted)
    check_seen(version, session.version, f"{session.name} was changed meanwhile.", yours=yours,
               theirs=shown(squad, session))  # fmt: skip
    if session.done and wanted.day > max(session.day, local_day(squad, stamp.now)):
        raise Invalid("What was done cannot be moved to a day that is still to come.", field="day")
    new, before = _planned(squad, wanted), session.day
    people = queries.session.people_in(db, session.id)
    if wanted.day != before and people:
        names = {one.athlete_id: one.name for one in queries.squad.members(db, squad.id, before)}
        there = {one.athlete_id for one in queries.squad.members(db, squad.id, wanted.day)}
        missing = sorted(names.get(one, "somebody who took part") for one in people if one not in there)
        if missing:
            raise Invalid(f"Not in the squad on {say.day(wanted.day)}: {say.listed(missing)}.", field="day")
    entries = queries.session.entries_of(db, [session.id])
    stood = shown(squad, session) | {"plans": _plans(entries)}
    keep_earlier(db, squad.id, CHANGED, session.id, session.version, stood, stamp=stamp)
    for entry in entries:
        after = followed(entry.planned_minutes, session.planned_minutes, new.planned_minutes)
        entry.planned_loads = loads_followed(entry.planned_loads, entry.planned_minutes, after)
        entry.planned_minutes = after
        entry.planned_effort = followed(entry.planned_effort, session.planned_effort, new.planned_effort)
    session.version += 1
    session.kind, session.title, session.place = new.kind, new.title, new.place
    session.opponent, session.venue = new.opponent, new.venue
    session.planned_minutes, session.planned_effort = new.planned_minutes, new.planned_effort
    session.starts_at, session.day = new.starts_at, wanted.day
    audit.note(db, "session_changed", f"session:{session.id}", stamp=stamp, squad_id=squad.id, day=str(session.day))
    db.flush()
    if session.done and people:
        refresh_daily_loads(db, squad.id, {(one, day) for one in people for day in (before, session.day)})
    return session


def take_back(db: DbSession, squad: Squad, session_id: str, *, version: int, stamp: Stamp) -> Session:
    """Let a session be again what it was before its last change, with everybody's own plan. Does not commit.

    Raises as :func:`change_session`, and Stale where nothing was changed.
    """
    queries.squad.hold(db, squad.id)
    session = find(db, squad, session_id)
    kept = queries.squad.last_earlier(db, squad.id, CHANGED, session_id)
    if kept is None or kept.version != session.version - 1:
        raise Stale(f"{session.name} was not changed.")
    was = dict(kept.data)
    plans, _ = {one["athlete_id"]: one for one in was.pop("plans")}, was.pop("version")
    at, day = time.fromisoformat(was["at"]), date.fromisoformat(was["day"])
    wanted = Wanted(**(was | {"at": at, "day": day, "kind": SessionKind(was["kind"])}))
    change_session(db, squad, session_id, wanted, version=version, stamp=stamp)
    for entry in queries.session.entries_of(db, [session_id]):
        if entry.athlete_id in plans:
            plan = plans[entry.athlete_id]
            entry.planned_minutes, entry.planned_effort = plan["planned_minutes"], plan["planned_effort"]
            # What was kept before loads could be planned has none.
            entry.planned_loads = plan.get("planned_loads")
    db.flush()
    return session


def delete_session(
    db: DbSession, squad: Squad, session_id: str, *, version: int | Whatever | None, stamp: Stamp
) -> None:
    """Take a session away of which nothing is kept but its plan; :func:`restore_session` brings it back.

    Does not commit. Raises NotFound, Stale where it was changed since ``version`` or where something was entered in it.
    """
    queries.squad.hold(db, squad.id)
    session = find(db, squad, session_id)
    check_seen(version, session.version, f"{session.name} was changed meanwhile.", yours={},
               theirs=shown(squad, session))  # fmt: skip
    if queries.session.is_written_in(db, session.id):
        raise Stale(
            f"Something was entered in {session.name} on {say.day(session.day)}: take that out first, or move it. "
            "Nothing that was entered is lost silently."
        )
    keep_earlier(db, squad.id, DELETED, session.id, session.version, _whole(db, session), stamp=stamp)
    audit.note(db, "session_deleted", f"session:{session.id}", stamp=stamp, squad_id=squad.id, day=str(session.day))
    queries.session.drop_session(db, session)


def restore_session(db: DbSession, squad: Squad, session_id: str, *, stamp: Stamp) -> Session:
    """Bring a session back that was deleted, with its parts and everybody's own plan. Does not commit. Raises NotFound.

    Where it is back already nothing happens.
    """
    queries.squad.hold(db, squad.id)
    there = queries.session.any_session(db, session_id)
    if there is not None and there.squad_id == squad.id:
        return there
    kept = queries.squad.last_earlier(db, squad.id, DELETED, session_id)
    if there is not None or kept is None:
        raise NotFound("There is no such session in this squad.")
    data = kept.data
    starts_at, day = datetime.fromisoformat(data["starts_at"]), date.fromisoformat(data["day"])
    session = Session(
        **(data["session"] | {"id": session_id, "squad_id": squad.id, "starts_at": starts_at, "day": day}),
        version=kept.version + 1, segments=[Segment(**one) for one in data["segments"]],
    )  # fmt: skip
    db.add(session)
    db.flush()
    people = queries.squad.members_ever(db, squad.id)
    plans = [one for one in data["plans"] if one["athlete_id"] in people]
    db.add_all(Entry(**one, session_id=session_id, entered_at=stamp.now) for one in plans)
    audit.note(db, "session_restored", f"session:{session_id}", stamp=stamp, squad_id=squad.id, day=str(day))
    db.flush()
    return session


def _whole(db: DbSession, session: Session) -> dict[str, Any]:
    """Everything that there is of a session in which nothing was entered."""
    fields = ("kind", "title", "planned_minutes", "planned_effort", "opponent", "venue", "place", "done", "called_off",
              "calendar_uid", "mix_aim")  # fmt: skip
    parts = ("place", "name", "begins", "minutes", "weight", "grade")
    return {
        "session": {name: getattr(session, name) for name in fields},
        "starts_at": session.starts_at.isoformat(),
        "day": session.day,
        "segments": [{name: getattr(one, name) for name in parts} for one in session.segments],
        "plans": _plans(queries.session.entries_of(db, [session.id])),
    }


def _plans(entries: Sequence[Entry]) -> list[dict[str, Any]]:
    fields = ("athlete_id", "planned_minutes", "planned_effort", "planned_loads", "beside", "source", "entered_by")
    return [{name: getattr(one, name) for name in fields} for one in entries]


def shown(squad: Squad, session: Session) -> dict[str, Any]:
    """As forms have it."""
    return vars(as_wanted(squad, session)) | {"version": session.version}


def as_wanted(squad: Squad, session: Session) -> Wanted:
    """A session as somebody would have typed it."""
    at = session.starts_at.astimezone(ZoneInfo(squad.time_zone)).time().replace(tzinfo=None)
    return Wanted(
        session.kind, session.title, session.day, at, session.planned_minutes, session.planned_effort, session.place,
        session.opponent, session.venue,
    )  # fmt: skip


def call_off(
    db: DbSession, squad: Squad, session_id: str, why: str, *, version: int | Whatever | None, stamp: Stamp
) -> Session:
    """A session does not take place; it is kept, with why, and nothing of it is planned or asked. Does not commit.

    Raises NotFound, Invalid; Stale where it was changed since ``version`` or where something was entered in it.
    """
    queries.squad.hold(db, squad.id)
    session, why = find(db, squad, session_id), why.strip()
    if not why or len(why) > LONGEST_WHY:
        raise Invalid(f"Say why, in up to {LONGEST_WHY} letters.", field="why")
    check_seen(version, session.version, f"{session.name} was changed meanwhile.", yours={"called_off": why},
               theirs=shown(squad, session))  # fmt: skip
    if queries.session.is_written_in(db, session.id):
        raise Stale(f"Something was entered in {session.name} on {say.day(session.day)}: it took place.")
    session.called_off = why
    session.version += 1
    audit.note(db, "session_called_off", f"session:{session.id}", stamp=stamp, squad_id=squad.id, day=str(session.day))
    db.flush()
    return session


def put_on(db: DbSession, squad: Squad, session_id: str, *, version: int | Whatever | None, stamp: Stamp) -> Session:
    """A session takes place after all. Does not commit. Raises NotFound, Stale."""
    queries.squad.hold(db, squad.id)
    session = find(db, squad, session_id)
    check_seen(version, session.version, f"{session.name} was changed meanwhile.", yours={},
               theirs=shown(squad, session))  # fmt: skip
    if session.called_off is not None:
        session.called_off = None
        session.version += 1
        audit.note(db, "session_put_on", f"session:{session.id}", stamp=stamp, squad_id=squad.id, day=str(session.day))
        db.flush()
    return session


def mark_day(db: DbSession, squad: Squad, day: date, mark: DayMarkKind | None, *, stamp: Stamp) -> None:
    """Say of a day without a session that it was off, or that it is not known what was done; or take that back.

    Does not commit. Raises Invalid for a day with a session.
    """
    queries.squad.hold(db, squad.id)
    if mark is not None and queries.session.sessions_between(db, squad.id, day, day):
        raise Invalid(f"There is a session on {say.day(day)}.", field="mark")
    if mark is DayMarkKind.UNKNOWN and day > local_day(squad, stamp.now):
        raise Invalid("What is still to come is not known of any day.", field="mark")
    there = queries.session.day_marks(db, squad.id, day, day).get(day)
    if there is not None:
        db.delete(there)
        db.flush()
    if mark is not None:
        db.add(DayMark(squad_id=squad.id, day=day, mark=mark, set_by=stamp.by, set_at=stamp.now))
    audit.note(db, "day_marked", f"day:{day}", stamp=stamp, squad_id=squad.id, mark=mark)
    db.flush()


def find(db: DbSession, squad: Squad, session_id: str) -> Session:
    session = queries.session.any_session(db, session_id)
    if session is None or session.squad_id != squad.id:
        raise NotFound("There is no such session in this squad.")
    return session


def _weekly(wanted: Wanted, until: date | None) -> Iterator[Wanted]:
    if until is None:
        yield wanted
        return
    if until < wanted.day:
        raise Invalid("The last week is before the first.", field="until")
    weeks = (until - wanted.day).days // 7 + 1
    if weeks > MOST_TOGETHER:
        raise Invalid(f"At most {MOST_TOGETHER} weeks at once.", field="until")
    for week in range(weeks):
        yield replace(wanted, day=wanted.day + timedelta(weeks=week))


def _planned(squad: Squad, wanted: Wanted) -> NewSession:
    """Of a time that the clock has twice the first. Raises Invalid for one that it skips."""
    zone = ZoneInfo(squad.time_zone)
    # In UTC, as it is kept: times of a zone are equal to no other in an hour that the clock has twice.
    starts_at = datetime.combine(wanted.day, wanted.at, zone).astimezone(UTC)
    if starts_at.astimezone(zone).time() != wanted.at:
        raise Invalid(f"On {say.day(wanted.day)} the clock skips {wanted.at:%H:%M}.", field="at")
    opponent = (wanted.opponent or "").strip() or None
    match = wanted.kind is SessionKind.MATCH and opponent is not None
    return NewSession(
        starts_at, wanted.kind, wanted.title.strip() or "Match", wanted.minutes, wanted.effort,
        opponent=opponent if match else None, venue=wanted.venue if match else None, place=wanted.place,
    )  # fmt: skip


def _check(db: DbSession, squad: Squad, wanted: Wanted, place: str | None = None) -> None:
    """Raises Invalid with the field. ``place`` is where the session is already, also where that left the list."""
    if not wanted.title.strip() and wanted.kind is not SessionKind.MATCH:
        raise Invalid("A session has a title.", field="title")
    if not 1 <= wanted.minutes <= LONGEST:
        raise Invalid(f"A session takes 1 to {LONGEST:g} minutes.", field="minutes")
    if not 0 <= wanted.effort <= 10:
        raise Invalid("Planned effort is 0 to 10.", field="effort")
    places = {one.name for one in queries.squad.places(db, squad.id)} | {place}
    if wanted.place is not None and wanted.place not in places:
        raise Invalid("This place is not on the squad's list.", field="place")
