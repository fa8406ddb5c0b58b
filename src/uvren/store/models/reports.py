"""What athletes tell of themselves, and what clinicians say of it."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Index, String, Text
from sqlalchemy.orm import Mapped, mapped_column, relationship

from uvren.core.reports import ReportKind
from uvren.store.models.base import Availability, Base, ComplaintKind, Source
from uvren.store.models.people import User
from uvren.store.types import UlidType, new_ulid


class ReportForm(Base):
    """What a squad asks from a day on: items in order, the days of the week, and its own words for them.

    ``words`` maps an item to its question and the words at the ends, where they differ from ours.
    """

    __tablename__ = "report_form"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    kind: Mapped[ReportKind]
    items: Mapped[list[Any]]
    days: Mapped[list[Any]]
    words: Mapped[dict[str, Any]]
    from_day: Mapped[date]
    set_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]

    __table_args__ = (Index(None, "squad_id", "kind", "from_day"),)


class Report(Base):
    """One report of an athlete for a day. It is never changed: another one ``replaces`` it.

    Of all reports of a kind for a day (and session) one ``counts``. ``answers`` maps an item to its value and the good
    end of its scale. ``made_at`` is when it was filled in, maybe without a network; ``entered_at`` when it came here.
    ``told_by`` says how staff came to know it. ``rival`` is a report made without knowing of the one that counts.
    """

    __tablename__ = "report"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    kind: Mapped[ReportKind]
    day: Mapped[date]
    session_id: Mapped[str | None] = mapped_column(UlidType(), ForeignKey("session.id"))
    answers: Mapped[dict[str, Any]]
    words: Mapped[str | None] = mapped_column(Text)
    source: Mapped[Source]
    told_by: Mapped[str | None]
    replaces: Mapped[str | None] = mapped_column(UlidType())
    counts: Mapped[bool] = mapped_column(default=True)
    rival: Mapped[bool] = mapped_column(default=False)
    made_at: Mapped[datetime]
    entered_at: Mapped[datetime]
    entered_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))

    __table_args__ = (
        Index(None, "squad_id", "day", "kind"),
        Index(None, "athlete_id", "kind", "day"),
        CheckConstraint("(kind = 'session') = (session_id IS NOT NULL)", name="session_of_kind"),
        CheckConstraint("(source = 'athlete') OR (told_by IS NOT NULL)", name="told_by_someone"),
    )


class Complaint(Base):
    """A pain, illness or injury: for clinicians, and for others only as the club allows.

    ``severity`` goes from 1 to 10, the worst. It is open until someone closes it; from ``again_on`` on it waits to be
    seen again.
    """

    __tablename__ = "complaint"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    report_id: Mapped[str | None] = mapped_column(UlidType(), ForeignKey("report.id"))
    kind: Mapped[ComplaintKind]
    day: Mapped[date]
    site: Mapped[str | None] = mapped_column(String(24))
    side: Mapped[str | None] = mapped_column(String(8))
    severity: Mapped[float | None]
    words: Mapped[str | None] = mapped_column(Text)
    told_at: Mapped[datetime]
    seen_at: Mapped[datetime | None]
    seen_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    answer: Mapped[str | None] = mapped_column(Text)
    again_on: Mapped[date | None]
    closed_on: Mapped[date | None]
    version: Mapped[int] = mapped_column(default=1)

    __table_args__ = (
        Index(None, "squad_id", "day"),
        Index(None, "athlete_id", "day"),
        CheckConstraint("severity IS NULL OR severity BETWEEN 1 AND 10", name="severity"),
    )


class Restriction(Base):
    """What a clinician allows from a day, through ``to_day`` if there is one.

    Coaches read ``availability`` and ``change``, what is to change in training; ``reason`` is for clinicians.
    ``minutes_share`` of the planned minutes (0 to 1) and ``effort_cap`` say in numbers what is left of them.
    """

    __tablename__ = "restriction"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    availability: Mapped[Availability]
    change: Mapped[str] = mapped_column(String(400))
    reason: Mapped[str] = mapped_column(String(400))
    minutes_share: Mapped[float | None]
    effort_cap: Mapped[float | None]
    from_day: Mapped[date]
    to_day: Mapped[date | None]
    set_by: Mapped[int] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]

    setter: Mapped[User] = relationship()

    __table_args__ = (
        Index(None, "squad_id", "from_day"),
        CheckConstraint("to_day IS NULL OR to_day >= from_day", name="days_in_order"),
        CheckConstraint("minutes_share IS NULL OR minutes_share BETWEEN 0 AND 1", name="minutes_share"),
        CheckConstraint("effort_cap IS NULL OR effort_cap BETWEEN 0 AND 10", name="effort_cap"),
    )
