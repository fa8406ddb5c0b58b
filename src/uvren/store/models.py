"""The tables. Days are dates in the squad's time zone, moments are UTC."""

from __future__ import annotations

from datetime import date, datetime
from enum import StrEnum
from typing import Any

from sqlalchemy import (
    JSON,
    BigInteger,
    CheckConstraint,
    Date,
    Double,
    Enum,
    ForeignKey,
    Index,
    MetaData,
    String,
    Text,
    UniqueConstraint,
)
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship

from uvren.store.types import Instant, new_ulid, ulid_type


class Role(StrEnum):
    PERFORMANCE = "performance"
    COACH = "coach"
    CLINICIAN = "clinician"
    ATHLETE = "athlete"
    ADMIN = "admin"


class SessionKind(StrEnum):
    COURT = "court"
    GYM = "gym"
    RUN = "run"
    SKI = "ski"
    RECOVERY = "recovery"
    MATCH = "match"


class Venue(StrEnum):
    HOME = "home"
    AWAY = "away"


class Source(StrEnum):
    """Who said what stands in an entry."""

    STAFF = "staff"
    ATHLETE = "athlete"
    IMPORT = "import"


class Scope(StrEnum):
    """Whom a limit is for. The narrowest wins."""

    SQUAD = "squad"
    POSITION = "position"
    ATHLETE = "athlete"


class CallKind(StrEnum):
    """What a person decided about an athlete for a day; the order is that of the keys 1 to 6."""

    FULL = "full"
    ADAPT = "adapt"
    MINIMUM = "minimum"
    RECOVER = "recover"
    REST = "rest"
    REFER = "refer"


def _enum(kind: type[StrEnum]) -> Enum:
    return Enum(
        kind,
        values_callable=lambda members: [member.value for member in members],
        native_enum=False,
        create_constraint=True,
        length=16,
        name=kind.__name__.lower(),
    )


class Base(DeclarativeBase):
    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(table_name)s_%(column_0_N_name)s",
            "uq": "uq_%(table_name)s_%(column_0_N_name)s",
            "ck": "ck_%(table_name)s_%(constraint_name)s",
            "fk": "fk_%(table_name)s_%(column_0_N_name)s",
            "pk": "pk_%(table_name)s",
        }
    )
    type_annotation_map = {  # noqa: RUF012
        str: String(120),
        float: Double(),
        datetime: Instant(),
        date: Date(),
        dict[str, Any]: JSON(),
        Role: _enum(Role),
        SessionKind: _enum(SessionKind),
        Venue: _enum(Venue),
        Source: _enum(Source),
        Scope: _enum(Scope),
        CallKind: _enum(CallKind),
    }


class Club(Base):
    __tablename__ = "club"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(unique=True)
    # Where the clock of a demo club starts, and what to say of signing in to it; a real club has neither.
    demo_now: Mapped[datetime | None]
    demo_hint: Mapped[str | None] = mapped_column(String(400))


class Squad(Base):
    __tablename__ = "squad"

    id: Mapped[int] = mapped_column(primary_key=True)
    club_id: Mapped[int] = mapped_column(ForeignKey("club.id"))
    slug: Mapped[str] = mapped_column(String(60), unique=True)
    name: Mapped[str]
    time_zone: Mapped[str] = mapped_column(String(60))
    school: Mapped[str] = mapped_column(String(16), default="ewma")


class Athlete(Base):
    __tablename__ = "athlete"

    id: Mapped[int] = mapped_column(primary_key=True)
    club_id: Mapped[int] = mapped_column(ForeignKey("club.id"))
    name: Mapped[str]

    __table_args__ = (UniqueConstraint("club_id", "name"),)


class Membership(Base):
    """An athlete's time in a squad, with number and position; ``to_day`` is the last day."""

    __tablename__ = "membership"

    id: Mapped[int] = mapped_column(primary_key=True)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    number: Mapped[int | None]
    position: Mapped[str] = mapped_column(String(40))
    from_day: Mapped[date]
    to_day: Mapped[date | None]

    athlete: Mapped[Athlete] = relationship()

    __table_args__ = (
        UniqueConstraint("squad_id", "athlete_id", "from_day"),
        CheckConstraint("to_day IS NULL OR to_day >= from_day", name="days_in_order"),
    )


class User(Base):
    __tablename__ = "user"

    id: Mapped[int] = mapped_column(primary_key=True)
    club_id: Mapped[int] = mapped_column(ForeignKey("club.id"))
    login: Mapped[str] = mapped_column(String(80), unique=True)
    name: Mapped[str]
    password_hash: Mapped[str] = mapped_column(String(255))
    athlete_id: Mapped[int | None] = mapped_column(ForeignKey("athlete.id"))
    active: Mapped[bool] = mapped_column(default=True)


class RoleGrant(Base):
    """What a user is in a squad."""

    __tablename__ = "role_grant"

    id: Mapped[int] = mapped_column(primary_key=True)
    user_id: Mapped[int] = mapped_column(ForeignKey("user.id"))
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    role: Mapped[Role]

    __table_args__ = (UniqueConstraint("user_id", "squad_id", "role"),)


class SignIn(Base):
    """A signed-in browser. Only a digest of its token is kept."""

    __tablename__ = "sign_in"

    token_digest: Mapped[str] = mapped_column(String(64), primary_key=True)
    user_id: Mapped[int] = mapped_column(ForeignKey("user.id"))
    created_at: Mapped[datetime]
    expires_at: Mapped[datetime]

    user: Mapped[User] = relationship()


class SignInTry(Base):
    """A failed try to sign in, counted across all workers."""

    __tablename__ = "sign_in_try"

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    login: Mapped[str] = mapped_column(String(80))
    address: Mapped[str] = mapped_column(String(64))
    at: Mapped[datetime]

    __table_args__ = (Index(None, "login", "at"), Index(None, "address", "at"))


class Channel(Base):
    """One kind of load of a squad."""

    __tablename__ = "channel"

    id: Mapped[int] = mapped_column(primary_key=True)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    code: Mapped[str] = mapped_column(String(40))
    name: Mapped[str]
    unit: Mapped[str] = mapped_column(String(24))
    is_main: Mapped[bool] = mapped_column(default=False)

    __table_args__ = (UniqueConstraint("squad_id", "code"),)


class Session(Base):
    """A planned or done piece of work of a squad. It belongs to the day on which it starts."""

    __tablename__ = "session"

    id: Mapped[str] = mapped_column(ulid_type(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    day: Mapped[date]
    starts_at: Mapped[datetime]
    kind: Mapped[SessionKind]
    title: Mapped[str]
    planned_minutes: Mapped[float]
    planned_effort: Mapped[float]
    opponent: Mapped[str | None]
    venue: Mapped[Venue | None]
    done: Mapped[bool] = mapped_column(default=False)

    segments: Mapped[list[Segment]] = relationship(order_by="Segment.place", cascade="all, delete-orphan")

    __table_args__ = (
        Index(None, "squad_id", "day"),
        CheckConstraint("planned_minutes BETWEEN 0 AND 600", name="planned_minutes"),
        CheckConstraint("planned_effort BETWEEN 0 AND 10", name="planned_effort"),
    )


class Segment(Base):
    """A part of a session, weighted by the coach from 1 (drill) to 4 (competition)."""

    __tablename__ = "segment"

    id: Mapped[int] = mapped_column(primary_key=True)
    session_id: Mapped[str] = mapped_column(ulid_type(), ForeignKey("session.id"))
    place: Mapped[int]
    name: Mapped[str]
    minutes: Mapped[float]
    weight: Mapped[float]

    __table_args__ = (
        UniqueConstraint("session_id", "place"),
        CheckConstraint("minutes BETWEEN 0 AND 600", name="minutes"),
        CheckConstraint("weight BETWEEN 1 AND 4", name="weight"),
    )


class Entry(Base):
    """An athlete in a session: what was planned for them, and what they did.

    ``minutes`` null is not said yet, 0 is not taking part. ``effort`` null is no rating.
    """

    __tablename__ = "entry"

    id: Mapped[str] = mapped_column(ulid_type(), primary_key=True, default=new_ulid)
    session_id: Mapped[str] = mapped_column(ulid_type(), ForeignKey("session.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    planned_minutes: Mapped[float | None]
    planned_effort: Mapped[float | None]
    minutes: Mapped[float | None]
    effort: Mapped[float | None]
    words: Mapped[str | None] = mapped_column(Text)
    source: Mapped[Source]
    version: Mapped[int] = mapped_column(default=1)
    entered_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    entered_at: Mapped[datetime]

    __table_args__ = (
        UniqueConstraint("session_id", "athlete_id"),
        CheckConstraint("minutes IS NULL OR minutes BETWEEN 0 AND 600", name="minutes"),
        CheckConstraint(
            "effort IS NULL OR (effort BETWEEN 0 AND 10 AND effort * 2 = FLOOR(effort * 2))", name="effort"
        ),
        CheckConstraint("version >= 1", name="version"),
    )


class DailyLoad(Base):
    """The day's load of an athlete on a channel, kept in the transaction of the entries it comes from.

    ``load`` null is a session without a report. ``estimated`` is how much of it is an estimate.
    """

    __tablename__ = "daily_load"

    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"), primary_key=True)
    channel_id: Mapped[int] = mapped_column(ForeignKey("channel.id"), primary_key=True)
    day: Mapped[date] = mapped_column(primary_key=True)
    load: Mapped[float | None]
    estimated: Mapped[float]
    sessions: Mapped[int]

    __table_args__ = (
        CheckConstraint("`load` IS NULL OR `load` >= 0", name="load"),
        CheckConstraint("estimated >= 0", name="estimated"),
    )


class Limit(Base):
    """A limit in force from a day, through ``to_day`` if there is one.

    Its terms are never changed: it is ended, or withdrawn on the day it was set, and another one put in its place.
    """

    __tablename__ = "load_limit"

    id: Mapped[str] = mapped_column(ulid_type(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    channel_id: Mapped[int] = mapped_column(ForeignKey("channel.id"))
    rule: Mapped[str] = mapped_column(String(40))
    value: Mapped[float]
    settings: Mapped[dict[str, Any]]
    hard: Mapped[bool]
    scope: Mapped[Scope]
    position: Mapped[str | None] = mapped_column(String(40))
    athlete_id: Mapped[int | None] = mapped_column(ForeignKey("athlete.id"))
    from_day: Mapped[date]
    to_day: Mapped[date | None]
    source: Mapped[str] = mapped_column(String(200))
    reason: Mapped[str] = mapped_column(String(400))
    set_by: Mapped[int] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]

    setter: Mapped[User] = relationship()

    __table_args__ = (
        Index(None, "squad_id", "channel_id", "from_day"),
        CheckConstraint("to_day IS NULL OR to_day >= from_day", name="days_in_order"),
        CheckConstraint(
            "(scope = 'squad' AND position IS NULL AND athlete_id IS NULL)"
            " OR (scope = 'position' AND position IS NOT NULL AND athlete_id IS NULL)"
            " OR (scope = 'athlete' AND athlete_id IS NOT NULL AND position IS NULL)",
            name="scope_matches",
        ),
    )


class Call(Base):
    """A decision about an athlete for a day. The last one not withdrawn stands."""

    __tablename__ = "athlete_call"

    id: Mapped[str] = mapped_column(ulid_type(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    day: Mapped[date]
    kind: Mapped[CallKind]
    reason: Mapped[str] = mapped_column(String(400))
    review_on: Mapped[date | None]
    made_by: Mapped[int] = mapped_column(ForeignKey("user.id"))
    made_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]
    withdrawn_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))

    maker: Mapped[User] = relationship(foreign_keys=[made_by])

    __table_args__ = (
        Index(None, "squad_id", "day"),
        Index(None, "athlete_id", "day"),
        CheckConstraint("review_on IS NULL OR review_on >= day", name="review_after_day"),
    )


class Audit(Base):
    """Who changed what, when. Rows are only ever added."""

    __tablename__ = "audit"

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    at: Mapped[datetime]
    user_id: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    squad_id: Mapped[int | None] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int | None] = mapped_column(ForeignKey("athlete.id"))
    action: Mapped[str] = mapped_column(String(40))
    subject: Mapped[str] = mapped_column(String(60))
    details: Mapped[dict[str, Any]]

    __table_args__ = (Index(None, "squad_id", "at"), Index(None, "athlete_id", "at"))
