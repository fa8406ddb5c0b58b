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
from sqlalchemy.dialects.mysql import LONGBLOB
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


def _enum(kind: type[StrEnum], length: int = 16) -> Enum:
    return Enum(
        kind,
        values_callable=lambda members: [member.value for member in members],
        native_enum=False,
        create_constraint=True,
        length=length,
        name=kind.__name__.lower(),
    )


class AnchorKind(StrEnum):
    """What an athlete's work is judged by. Speeds in m/s, heart rates a minute, mass in kg."""

    HR_MAX = "hr_max"
    HR_REST = "hr_rest"
    THRESHOLD_1 = "threshold_1"
    THRESHOLD_2 = "threshold_2"
    SEX = "sex"
    SPEED_MAX = "speed_max"
    BODY_MASS = "body_mass"
    DOMINANT_SIDE = "dominant_side"
    EXPERIENCE_YEARS = "experience_years"
    USUAL_WEEK_LOAD = "usual_week_load"


class RecordingKind(StrEnum):
    """What a recording holds."""

    HEART_RATE = "heart_rate"
    POSITION = "position"
    IMPACTS = "impacts"


class ImportState(StrEnum):
    """Where a file stands on its way in."""

    LOOKED_AT = "looked_at"
    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    UNDONE = "undone"


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
        list[Any]: JSON(),
        Role: _enum(Role),
        SessionKind: _enum(SessionKind),
        Venue: _enum(Venue),
        Source: _enum(Source),
        Scope: _enum(Scope),
        CallKind: _enum(CallKind),
        AnchorKind: _enum(AnchorKind, 24),
        RecordingKind: _enum(RecordingKind),
        ImportState: _enum(ImportState),
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
    regions: Mapped[list[Any]] = mapped_column(default=list)
    mark: Mapped[str] = mapped_column(String(16), default="ring")
    rank: Mapped[int] = mapped_column(default=0)

    definitions: Mapped[list[ChannelDefinition]] = relationship(
        order_by="(ChannelDefinition.from_day, ChannelDefinition.set_at)"
    )

    __table_args__ = (UniqueConstraint("squad_id", "code"),)


class ChannelDefinition(Base):
    """How a channel's load is worked out, from a day on until the next definition.

    ``kinds`` are the kinds of session that have such work: one of them without it is unknown, not 0.
    """

    __tablename__ = "channel_definition"

    id: Mapped[str] = mapped_column(ulid_type(), primary_key=True, default=new_ulid)
    channel_id: Mapped[int] = mapped_column(ForeignKey("channel.id"))
    form: Mapped[str] = mapped_column(String(24))
    settings: Mapped[dict[str, Any]]
    kinds: Mapped[list[Any]]
    from_day: Mapped[date]
    reason: Mapped[str] = mapped_column(String(400))
    set_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]

    __table_args__ = (Index(None, "channel_id", "from_day"),)


class Place(Base):
    """Where or in what conditions a squad works: a surface, water, snow, heat."""

    __tablename__ = "place"

    id: Mapped[int] = mapped_column(primary_key=True)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    name: Mapped[str] = mapped_column(String(60))

    __table_args__ = (UniqueConstraint("squad_id", "name"),)


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
    place: Mapped[str | None] = mapped_column(String(60))
    done: Mapped[bool] = mapped_column(default=False)

    segments: Mapped[list[Segment]] = relationship(order_by="Segment.place", cascade="all, delete-orphan")

    __table_args__ = (
        Index(None, "squad_id", "day"),
        CheckConstraint("planned_minutes BETWEEN 0 AND 600", name="planned_minutes"),
        CheckConstraint("planned_effort BETWEEN 0 AND 10", name="planned_effort"),
    )


class Segment(Base):
    """A part of a session, weighted by the coach from 1 (drill) to 4 (competition).

    ``begins`` counts minutes from the start of the session.
    """

    __tablename__ = "segment"

    id: Mapped[int] = mapped_column(primary_key=True)
    session_id: Mapped[str] = mapped_column(ulid_type(), ForeignKey("session.id"))
    place: Mapped[int]
    name: Mapped[str]
    begins: Mapped[float]
    minutes: Mapped[float]
    weight: Mapped[float]

    __table_args__ = (
        UniqueConstraint("session_id", "place"),
        CheckConstraint("begins BETWEEN -120 AND 600", name="begins"),
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


class Work(Base):
    """What an athlete did in a session beside minutes and effort.

    ``what`` says how ``data`` is to be read: ``counted`` and ``lifting`` hold items, ``segments`` minutes and effort by
    segment, ``zones`` minutes in heart-rate zones, ``given:CODE`` a load in the unit of a channel, as another program
    worked it out.
    """

    __tablename__ = "work"

    id: Mapped[str] = mapped_column(ulid_type(), primary_key=True, default=new_ulid)
    session_id: Mapped[str] = mapped_column(ulid_type(), ForeignKey("session.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    what: Mapped[str] = mapped_column(String(60))
    data: Mapped[dict[str, Any]]
    source: Mapped[Source]
    version: Mapped[int] = mapped_column(default=1)
    entered_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    entered_at: Mapped[datetime]

    __table_args__ = (
        UniqueConstraint("session_id", "athlete_id", "what"),
        CheckConstraint("version >= 1", name="version"),
    )


class Anchor(Base):
    """A value that an athlete's work is judged by, from a day on until the next one of its kind."""

    __tablename__ = "anchor"

    id: Mapped[str] = mapped_column(ulid_type(), primary_key=True, default=new_ulid)
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    kind: Mapped[AnchorKind]
    value: Mapped[float | None]
    word: Mapped[str | None] = mapped_column(String(24))
    from_day: Mapped[date]
    source: Mapped[str] = mapped_column(String(200))
    set_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]

    __table_args__ = (
        Index(None, "athlete_id", "kind", "from_day"),
        CheckConstraint("(value IS NULL) <> (word IS NULL)", name="value_or_word"),
    )


class Alias(Base):
    """What files call an athlete: a name, number or device, remembered once someone has said who it is.

    ``athlete_id`` null is someone who is none of the squad and is to be left out.
    """

    __tablename__ = "alias"

    id: Mapped[int] = mapped_column(primary_key=True)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    said: Mapped[str] = mapped_column(String(120))
    athlete_id: Mapped[int | None] = mapped_column(ForeignKey("athlete.id"))

    __table_args__ = (UniqueConstraint("squad_id", "said"),)


class FileMapping(Base):
    """How the columns of one kind of file are read. Files are known again by the names of their columns."""

    __tablename__ = "file_mapping"

    id: Mapped[int] = mapped_column(primary_key=True)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    name: Mapped[str]
    signature: Mapped[str] = mapped_column(String(64))
    spec: Mapped[dict[str, Any]]
    set_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]

    __table_args__ = (UniqueConstraint("squad_id", "name"), Index(None, "squad_id", "signature"))


class FileImport(Base):
    """A file on its way in, and what came of it.

    ``share`` is how far it has come, 0 to 1; ``report`` what came in, what did not and why; ``undo`` what it replaced.
    """

    __tablename__ = "file_import"

    id: Mapped[str] = mapped_column(ulid_type(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    file_name: Mapped[str] = mapped_column(String(200))
    digest: Mapped[str] = mapped_column(String(64))
    size: Mapped[int] = mapped_column(BigInteger)
    state: Mapped[ImportState]
    spec: Mapped[dict[str, Any]]
    mapping_id: Mapped[int | None] = mapped_column(ForeignKey("file_mapping.id"))
    step: Mapped[str]
    share: Mapped[float] = mapped_column(default=0.0)
    report: Mapped[dict[str, Any]]
    undo: Mapped[dict[str, Any]]
    created_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    created_at: Mapped[datetime]
    finished_at: Mapped[datetime | None]
    undone_at: Mapped[datetime | None]
    undone_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))

    __table_args__ = (Index(None, "squad_id", "digest"), Index(None, "squad_id", "created_at"))


class Recording(Base):
    """Raw samples of one athlete from one device: Parquet in ``data``, times in seconds from ``starts_at``.

    ``offset_seconds`` corrects the device's clock. Of two recordings of a kind in one session only those that
    ``counts`` make up the load. ``summary`` holds how long each value stood, from which loads can be worked out anew.
    """

    __tablename__ = "recording"

    id: Mapped[str] = mapped_column(ulid_type(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    session_id: Mapped[str | None] = mapped_column(ulid_type(), ForeignKey("session.id"))
    import_id: Mapped[str | None] = mapped_column(ulid_type(), ForeignKey("file_import.id"))
    kind: Mapped[RecordingKind]
    device: Mapped[str]
    starts_at: Mapped[datetime]
    seconds: Mapped[float]
    offset_seconds: Mapped[float] = mapped_column(default=0.0)
    samples: Mapped[int]
    dropped: Mapped[int]
    coverage: Mapped[float | None]
    counts: Mapped[bool] = mapped_column(default=True)
    summary: Mapped[dict[str, Any]]
    data: Mapped[bytes] = mapped_column(LONGBLOB(), deferred=True)

    __table_args__ = (Index(None, "squad_id", "starts_at"), Index(None, "session_id", "athlete_id", "kind"))


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
