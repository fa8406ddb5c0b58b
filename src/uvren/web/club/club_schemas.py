"""What comes in and goes out: club."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.services.club.audit import AuditRow
from uvren.web.schemas import In, Out


class ClubOut(Out):
    name: str
    performance_reads_clinical: bool
    retention_days: int | None
    consent_text: str | None


class ClubIn(In):
    """``name`` is the club's name, typed where what is decided removes something."""

    performance_reads_clinical: bool
    retention_days: Annotated[int, Field(ge=30, le=36500)] | None
    consent_text: Annotated[str, Field(max_length=20000)] | None
    name: Annotated[str, Field(max_length=120)] = ""


class AuditQuery(In):
    first: date | None = None
    last: date | None = None
    athlete_id: int | None = None
    action: Annotated[str, Field(max_length=40)] = ""
    before: int | None = None


class AuditOut(Out):
    rows: list[AuditRow]


class SquadNameIn(In):
    """The squad's name, typed once more."""

    name: Annotated[str, Field(max_length=120)]
