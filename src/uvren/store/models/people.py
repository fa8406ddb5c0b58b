"""Who there is: the club, its squads and athletes, those who sign in, and what they did."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Index, SmallInteger, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from uvren.store.models.base import Base, Role
from uvren.store.types import UlidType, new_ulid


class Club(Base):
    __tablename__ = "club"

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(unique=True)
    # Where the clock of a demo club starts, and what to say of signing in to it; a real club has neither.
    demo_now: Mapped[datetime | None]
    demo_hint: Mapped[str | None] = mapped_column(String(800))
    # What the club has decided about health data: see uvren.services.club.permissions and docs/operate.md.
    time_zone: Mapped[str] = mapped_column(String(60), default="UTC", server_default="UTC")
    performance_reads_clinical: Mapped[bool] = mapped_column(default=False, server_default="0")
    retention_days: Mapped[int | None]
    consent_text: Mapped[str | None] = mapped_column(Text)


class Squad(Base):
    __tablename__ = "squad"

    id: Mapped[int] = mapped_column(primary_key=True)
    club_id: Mapped[int] = mapped_column(ForeignKey("club.id"))
    slug: Mapped[str] = mapped_column(String(60), unique=True)
    name: Mapped[str]
    time_zone: Mapped[str] = mapped_column(String(60))
    school: Mapped[str] = mapped_column(String(16), default="ewma")
    # What kind of work it was set up for; nothing depends on it.
    work: Mapped[str | None] = mapped_column(String(16))
    # What sport it does, in its own words; templates are held against it.
    sport: Mapped[str | None] = mapped_column(String(40))
    # By position, where it is other than runs: see uvren.core.plan.topup.
    top_up_forms: Mapped[dict[str, Any] | None]
    #: Whether performance staff may move a stage of a return on, once everything and a clinician's word hold.
    stages_by_sign_off: Mapped[bool] = mapped_column(default=False)
    gone_at: Mapped[datetime | None]


class SquadLock(Base):
    """What writers of a squad lock, one after the other. No key of another table touches it, so that who only adds a
    row that names the squad waits for nobody."""

    __tablename__ = "squad_lock"

    squad_id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    # From when the last write counts: none counts from before it, also where the clock goes back.
    written_to: Mapped[datetime | None]


class SquadChange(Base):
    """When a squad last changed, as a word that is never used twice: see uvren.store.changes."""

    __tablename__ = "squad_change"

    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"), primary_key=True)
    # No key to an athlete: it can be everybody.
    athlete_id: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    mark: Mapped[str] = mapped_column(UlidType())


class Athlete(Base):
    __tablename__ = "athlete"

    id: Mapped[int] = mapped_column(primary_key=True)
    club_id: Mapped[int] = mapped_column(ForeignKey("club.id"))
    name: Mapped[str]
    birth_year: Mapped[int | None] = mapped_column(SmallInteger)

    # Not unique: namesakes are two people.
    __table_args__ = (Index(None, "club_id", "name"),)


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
    # Acts for the whole club: its choices, its people, its audit.
    club_admin: Mapped[bool] = mapped_column(default=False)
    # What they are in the squads that they make; others are invited as one thing.
    begins_as: Mapped[list[Any] | None]
    # Set once a code made from it has been given back.
    totp_secret: Mapped[str | None] = mapped_column(String(64))


class BeginLink(Base):
    """A link that begins the club of an empty installation, once. Only a digest of its token is kept."""

    __tablename__ = "begin_link"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    token_digest: Mapped[str] = mapped_column(String(64), unique=True)
    made_at: Mapped[datetime]
    expires_at: Mapped[datetime]
    used_at: Mapped[datetime | None]


class KnownDevice(Base):
    """A browser that a user has signed in from, as a digest of what it carries: a locked name stays open for it."""

    __tablename__ = "known_device"

    user_id: Mapped[int] = mapped_column(ForeignKey("user.id"), primary_key=True)
    device_digest: Mapped[str] = mapped_column(String(64), primary_key=True)
    seen_at: Mapped[datetime]


class UsedCode(Base):
    """A one-time code that was taken, as the time step it is of: it is good once, over all sign-ins."""

    __tablename__ = "used_code"

    user_id: Mapped[int] = mapped_column(ForeignKey("user.id"), primary_key=True)
    step: Mapped[int] = mapped_column(BigInteger, primary_key=True, autoincrement=False)


class RecoveryCode(Base):
    """Stands in once for a second factor that was lost. Only a digest is kept."""

    __tablename__ = "recovery_code"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    user_id: Mapped[int] = mapped_column(ForeignKey("user.id"), index=True)
    code_digest: Mapped[str] = mapped_column(String(64))
    used_at: Mapped[datetime | None]


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
    id: Mapped[str] = mapped_column(UlidType(), unique=True, default=new_ulid)
    user_id: Mapped[int] = mapped_column(ForeignKey("user.id"))
    device: Mapped[str]
    created_at: Mapped[datetime]
    seen_at: Mapped[datetime]
    expires_at: Mapped[datetime]

    user: Mapped[User] = relationship()


class Invitation(Base):
    """A link that works once: into a squad, or for ``user_id`` to a new password. Its token is kept as a digest."""

    __tablename__ = "invitation"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    token_digest: Mapped[str] = mapped_column(String(64), unique=True)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    role: Mapped[Role]
    name: Mapped[str]
    athlete_id: Mapped[int | None] = mapped_column(ForeignKey("athlete.id"))
    user_id: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    made_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    made_at: Mapped[datetime]
    expires_at: Mapped[datetime]
    used_at: Mapped[datetime | None]
    withdrawn_at: Mapped[datetime | None]
    # The browser and the address that used it.
    used_from: Mapped[str | None] = mapped_column(String(200))

    __table_args__ = (Index(None, "squad_id", "made_at"),)


class CalendarFeed(Base):
    """A link that gives a squad's sessions, or one athlete's own, to whoever has it. Only a digest of it is kept."""

    __tablename__ = "calendar_feed"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    token_digest: Mapped[str] = mapped_column(String(64), unique=True)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int | None] = mapped_column(ForeignKey("athlete.id"))
    made_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    made_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]

    __table_args__ = (Index(None, "squad_id", "made_at"),)


class Consent(Base):
    """What an athlete agreed to, in its words, and when they took it back."""

    __tablename__ = "consent"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"), index=True)
    text: Mapped[str] = mapped_column(Text)
    given_at: Mapped[datetime]
    given_by: Mapped[int] = mapped_column(ForeignKey("user.id"))
    withdrawn_at: Mapped[datetime | None]


class SignInTry(Base):
    """A failed try to sign in, counted across all workers."""

    __tablename__ = "sign_in_try"

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    login: Mapped[str] = mapped_column(String(80))
    address: Mapped[str] = mapped_column(String(64))
    at: Mapped[datetime]

    __table_args__ = (Index(None, "login", "at"), Index(None, "address", "at"))


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
