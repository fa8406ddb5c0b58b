"""What comes in and goes out: club."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Any

from pydantic import Field

from uvren.web.schemas import In, Out


class ClubOut(Out):
    name: str
    performance_reads_clinical: bool
    retention_days: int | None
    consent_text: str | None


class ClubIn(In):
    performance_reads_clinical: bool
    retention_days: Annotated[int, Field(ge=30, le=36500)] | None
    consent_text: Annotated[str, Field(max_length=20000)] | None


class AuditQuery(In):
    first: date | None = None
    last: date | None = None
    athlete_id: int | None = None
    action: Annotated[str, Field(max_length=40)] = ""
    before: int | None = None


class AuditRowOut(Out):
    id: int
    at: datetime
    who: str | None
    athlete: str | None
    action: str
    subject: str
    details: dict[str, Any]


class AuditOut(Out):
    rows: list[AuditRowOut]
