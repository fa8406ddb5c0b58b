"""A small squad for tests: four athletes, sixty days of one court session a day but Sundays, limits, two people."""

from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from uvren.services.session import planning
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.squad import squads
from uvren.services.squad.limits import NewLimit, set_limit
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import DailyLoad, Entry, Role, Scope, Session, SessionKind, Squad, User
from uvren.store.types import new_ulid

PASSWORD = "a-long-password"
DAYS = 60


@dataclass
class SmallSquad:
    squad: Squad
    staff: User
    athletes: list[int]
    sessions: list[Session]
    today: date

    def on(self, day: date) -> Session:
        return next(session for session in self.sessions if session.day == day)

    def daily(self, db: DbSession, athlete: int, day: date) -> DailyLoad | None:
        db.expire_all()
        return db.scalar(select(DailyLoad).where(DailyLoad.athlete_id == athlete, DailyLoad.day == day))

    def entry(self, db: DbSession, athlete: int, day: date) -> Entry:
        return db.scalars(select(Entry).where(Entry.athlete_id == athlete, Entry.session_id == self.on(day).id)).one()


def noon(day: date) -> datetime:
    return datetime.combine(day, time(11), UTC)


def limit(rule, value, first, **more):
    given = {"hard": True, "scope": Scope.SQUAD, "position": None, "athlete_id": None, "settings": {}} | more
    return NewLimit(rule=rule, value=value, from_day=first, source="test", reason="agreed", **given)


def make_small_squad(db: DbSession, today: date) -> SmallSquad:
    mark = new_ulid()[-12:].lower()
    first = today - timedelta(days=DAYS)
    club = squads.create_club(db, f"Club {mark}")
    squad = squads.create_squad(db, club, f"squad-{mark}", f"Squad {mark}", "Europe/Oslo", noon(first))
    staff = squads.create_user(db, club, f"staff-{mark}", "S. Taff", PASSWORD, {squad.id: Role.PERFORMANCE})
    people = [squads.NewMember(name, i + 1, "back" if i % 2 else "wing", first) for i, name in enumerate("ABCD")]
    athletes = squads.add_members(db, squad, people)
    days = [first + timedelta(days=i) for i in range(DAYS + 8)]
    wanted = [planning.NewSession(noon(day), SessionKind.COURT, "Court", 60, 5) for day in days if day.weekday() != 6]
    sessions = planning.plan_sessions(db, squad, wanted)
    changes = [
        EntryChange(session.id, athlete, 60.0, 5.0)
        for session in sessions
        if session.day < today
        for athlete in athletes
    ]
    record_entries(db, squad.id, changes, stamp=Stamp(staff.id, noon(today)), today=today)
    for rule, value in (("ratio_ceiling", 1.3), ("week_change_cap", 0.25), ("day_cap", 900)):
        set_limit(db, squad, limit(rule, value, first), stamp=Stamp(staff.id, noon(first)), today=first)
    db.flush()
    return SmallSquad(squad, staff, athletes, sessions, today)


def load_small_squad(db: DbSession, squad_id: int, staff_id: int, today: date) -> SmallSquad:
    squad, staff = db.get_one(Squad, squad_id), db.get_one(User, staff_id)
    athletes = sorted(queries.squad.members_ever(db, squad_id))
    sessions = list(db.scalars(select(Session).where(Session.squad_id == squad_id).order_by(Session.day)))
    return SmallSquad(squad, staff, athletes, sessions, today)
