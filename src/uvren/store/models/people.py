"""Who there is: the club, its squads and athletes, those who sign in, and what they did."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Index, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from uvren.store.models.base import Base, Role


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
