"""The base of all tables, and the words they choose from. Days are dates in the squad's time zone, moments are UTC."""

from __future__ import annotations

from datetime import date, datetime
from enum import StrEnum
from typing import Any

from sqlalchemy import JSON, Date, Double, Enum, MetaData, String
from sqlalchemy.orm import DeclarativeBase

from uvren.core.audience import Audience
from uvren.core.day import CallKind
from uvren.core.field import FieldKind
from uvren.core.reports import ReportKind
from uvren.core.season import PhaseKind
from uvren.core.trials import Better, Combine
from uvren.store.types import Instant


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
    FIELD = "field"
    RIDE = "ride"
    SWIM = "swim"
    ROUNDS = "rounds"
    SKILLS = "skills"
    THROWING = "throwing"
    SWINGS = "swings"


class Venue(StrEnum):
    HOME = "home"
    AWAY = "away"


class DayMarkKind(StrEnum):
    """What is said of a day on which there is no session: nobody worked, or nobody wrote it down."""

    OFF = "off"
    UNKNOWN = "unknown"


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


class Availability(StrEnum):
    """What a clinician says of an athlete's training: all of it, some of it, none."""

    FULL = "full"
    LIMITED = "limited"
    OUT = "out"


class ComplaintKind(StrEnum):
    PAIN = "pain"
    ILLNESS = "illness"
    INJURY = "injury"


class ReturnKind(StrEnum):
    """What somebody comes back from; ``NEW`` has no history to come back to."""

    INJURY = "injury"
    ILLNESS = "illness"
    LAYOFF = "layoff"
    NEW = "new"


class Onset(StrEnum):
    SUDDEN = "sudden"
    GRADUAL = "gradual"


class Mechanism(StrEnum):
    """How it came about, in few words."""

    CONTACT = "contact"
    LANDING = "landing"
    TURN = "turn"
    SPRINT = "sprint"
    THROW = "throw"
    OVERUSE = "overuse"
    INFECTION = "infection"
    OTHER = "other"


class ReturnStep(StrEnum):
    """What happened on the way back. ``KEPT`` says that a stage stays although something spoke for one back, ``GIVEN``
    that a summary went to another clinic.
    """

    BEGUN = "begun"
    STAGE = "stage"
    KEPT = "kept"
    WORD = "word"
    MEASURED = "measured"
    STEPS = "steps"
    DATE = "date"
    ENDED = "ended"
    GIVEN = "given"


class Besides(StrEnum):
    """How somebody takes part in a session without load: watching, in its tactics, walking through it."""

    WATCH = "watch"
    TACTICS = "tactics"
    WALK = "walk"


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


def _enum(kind: type[StrEnum], length: int = 16) -> Enum:
    return Enum(
        kind,
        values_callable=lambda members: [member.value for member in members],
        native_enum=False,
        create_constraint=True,
        length=length,
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
        list[Any]: JSON(),
        Role: _enum(Role),
        SessionKind: _enum(SessionKind),
        Venue: _enum(Venue),
        DayMarkKind: _enum(DayMarkKind),
        PhaseKind: _enum(PhaseKind),
        Source: _enum(Source),
        Besides: _enum(Besides),
        Scope: _enum(Scope),
        CallKind: _enum(CallKind),
        AnchorKind: _enum(AnchorKind, 24),
        RecordingKind: _enum(RecordingKind),
        ImportState: _enum(ImportState),
        Availability: _enum(Availability),
        ComplaintKind: _enum(ComplaintKind),
        ReportKind: _enum(ReportKind),
        Onset: _enum(Onset),
        FieldKind: _enum(FieldKind),
        Mechanism: _enum(Mechanism),
        ReturnKind: _enum(ReturnKind),
        ReturnStep: _enum(ReturnStep),
        Better: _enum(Better),
        Combine: _enum(Combine),
        Audience: _enum(Audience),
    }
