"""Clubs, squads and people: finding them, and setting them up."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, datetime
from zoneinfo import ZoneInfo

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from uvren.core.units import Region
from uvren.services.accounts import hash_password
from uvren.services.errors import NotFound
from uvren.services.permissions import Action, Person
from uvren.store import queries
from uvren.store.database import batches
from uvren.store.models import (
    Athlete,
    Channel,
    ChannelDefinition,
    Club,
    Membership,
    Role,
    RoleGrant,
    Segment,
    Session,
    SessionKind,
    Squad,
    User,
    Venue,
)

# A day before any that a club knows: what has always held.
EVER = date(2000, 1, 1)


def squads_of(db: DbSession, person: Person) -> list[Squad]:
    """Squads the person has a role in, by name."""
    ids = list(person.roles)
    return list(db.scalars(select(Squad).where(Squad.id.in_(ids)).order_by(Squad.name)))


def squad_for(db: DbSession, person: Person, slug: str, action: Action) -> Squad:
    """The squad, if the person may do this in it. Raises NotFound or NotAllowed."""
    squad = db.scalar(select(Squad).where(Squad.slug == slug))
    if squad is None:
        raise NotFound("There is no such squad, or you are not part of it.")
    person.must(action, squad.id)
    return squad


def local_day(squad: Squad, now: datetime) -> date:
    """Today's date where the squad is."""
    return now.astimezone(ZoneInfo(squad.time_zone)).date()


def known_days(db: DbSession, squad: Squad) -> tuple[date | None, date | None]:
    """First and last day with a session."""
    return queries.first_day(db, squad.id), queries.last_day(db, squad.id)


# Setting up ------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class NewMember:
    name: str
    number: int | None
    position: str
    from_day: date


@dataclass(frozen=True)
class NewSegment:
    name: str
    minutes: float
    weight: float


@dataclass(frozen=True)
class NewSession:
    starts_at: datetime
    kind: SessionKind
    title: str
    planned_minutes: float
    planned_effort: float
    opponent: str | None = None
    venue: Venue | None = None
    place: str | None = None
    segments: tuple[NewSegment, ...] = field(default=())


def create_club(db: DbSession, name: str, demo_now: datetime | None = None, demo_hint: str | None = None) -> Club:
    """A club; a demo club says where its clock starts and how to sign in."""
    club = Club(name=name, demo_now=demo_now, demo_hint=demo_hint)
    db.add(club)
    db.flush()
    return club


def create_squad(db: DbSession, club: Club, slug: str, name: str, time_zone: str, now: datetime) -> Squad:
    """A squad with session-RPE load as its main channel."""
    squad = Squad(club_id=club.id, slug=slug, name=name, time_zone=time_zone, school="ewma")
    db.add(squad)
    db.flush()
    main = Channel(
        squad_id=squad.id,
        code="session_rpe",
        name="Session load",
        unit="effort × min",
        is_main=True,
        regions=[Region.WHOLE],
        mark="ring",
        rank=0,
    )
    db.add(main)
    db.flush()
    db.add(
        ChannelDefinition(
            channel_id=main.id,
            form="effort_minutes",
            settings={},
            kinds=[kind.value for kind in SessionKind],
            from_day=EVER,
            reason="From the beginning",
            set_at=now,
        )
    )
    db.flush()
    return squad


def create_user(db: DbSession, club: Club, login: str, name: str, password: str, roles: dict[int, Role]) -> User:
    user = User(club_id=club.id, login=login.lower(), name=name, password_hash=hash_password(password))
    db.add(user)
    db.flush()
    db.add_all(RoleGrant(user_id=user.id, squad_id=squad, role=role) for squad, role in roles.items())
    db.flush()
    return user


def add_members(db: DbSession, squad: Squad, people: list[NewMember]) -> list[int]:
    """Add athletes to the squad, each from their day on. Returns their ids in order."""
    athletes = [Athlete(club_id=squad.club_id, name=person.name) for person in people]
    db.add_all(athletes)
    db.flush()
    for athlete, person in zip(athletes, people, strict=True):
        db.add(
            Membership(
                squad_id=squad.id,
                athlete_id=athlete.id,
                number=person.number,
                position=person.position,
                from_day=person.from_day,
                to_day=None,
            )
        )
    db.flush()
    return [athlete.id for athlete in athletes]


def plan_sessions(db: DbSession, squad: Squad, wanted: list[NewSession]) -> list[Session]:
    """Put planned sessions into the squad's calendar; each belongs to the local day on which it starts."""
    sessions = [
        Session(
            squad_id=squad.id,
            day=local_day(squad, new.starts_at),
            starts_at=new.starts_at,
            kind=new.kind,
            title=new.title,
            planned_minutes=new.planned_minutes,
            planned_effort=new.planned_effort,
            opponent=new.opponent,
            venue=new.venue,
            place=new.place,
            segments=_segments(new.segments),
        )
        for new in wanted
    ]
    for batch in batches(sessions):
        db.add_all(batch)
        db.flush()
    return sessions


def _segments(wanted: tuple[NewSegment, ...]) -> list[Segment]:
    """Segments one after the other from the start of the session."""
    out: list[Segment] = []
    begins = 0.0
    for place, segment in enumerate(wanted):
        out.append(
            Segment(place=place, name=segment.name, begins=begins, minutes=segment.minutes, weight=segment.weight)
        )
        begins += segment.minutes
    return out
