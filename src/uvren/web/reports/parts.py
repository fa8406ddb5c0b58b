"""Reports and forms as they go out, for who gives them and for who reads them."""

from __future__ import annotations

import re
from typing import Any
from zoneinfo import ZoneInfo

from uvren.core import reports as rules
from uvren.core.reports import ReportKind
from uvren.services import reports
from uvren.services.errors import Invalid
from uvren.store.models import Report, Session, Squad
from uvren.web import context
from uvren.web.day import pain_of
from uvren.web.reports.own_schemas import ReportIn
from uvren.web.schemas import ULID


def asked_out(asked: reports.Asked) -> dict[str, Any]:
    item = asked.item
    return {
        "code": item.code,
        "question": asked.question,
        "low": asked.low,
        "high": asked.high,
        "least": item.least,
        "most": item.most,
        "step": item.step,
        "unit": item.unit,
        "good": item.good,
        "choices": list(item.choices),
    }


def form_out(form: reports.Form) -> dict[str, Any]:
    asked = [asked_out(one) for one in form.asked]
    return {
        "id": form.id,
        "kind": form.kind,
        "asked": asked,
        "days": sorted(form.days),
        "from_day": form.from_day,
    }


def report_out(squad: Squad, report: Report, session: Session | None = None) -> dict[str, Any]:
    zone = ZoneInfo(squad.time_zone)
    end = None
    if report.kind is ReportKind.SESSION and session is not None:
        end = reports.end_of(session).astimezone(zone)
    return {
        "id": report.id,
        "kind": report.kind,
        "day": report.day,
        "session_id": report.session_id,
        "answers": reports.plain(report),
        "words": report.words,
        "made_at": report.made_at,
        "entered_at": report.entered_at,
        "timing": rules.timing(report.kind, report.day, report.made_at.astimezone(zone), end),
        "told_by": report.told_by,
    }


def told(given: ReportIn, report_id: str, athlete_id: int, told_by: str | None) -> reports.Told:
    """Raises Invalid for what is no ULID, for a moment without its zone, and with the path of the pain at fault."""
    if not re.fullmatch(ULID, report_id):
        raise Invalid("A report is named by a ULID.", field="id")
    if given.made_at.tzinfo is None:
        raise Invalid("A moment needs its time zone.", field="made_at")
    return reports.Told(
        id=report_id,
        athlete_id=athlete_id,
        kind=given.kind,
        day=given.day,
        answers=given.answers,
        made_at=given.made_at,
        session_id=given.session_id,
        words=given.words,
        pains=[pain_of(pain, f"pains.{i}") for i, pain in enumerate(given.pains)],
        ill=given.ill,
        clinical_words=given.clinical_words,
        replaces=given.replaces,
        told_by=told_by,
    )


def given_out(squad: Squad, given: reports.Given, session: Session | None) -> dict[str, Any]:
    return {
        "report": report_out(squad, given.report, session),
        "rival": given.report.rival,
        "disagrees": given.disagrees,
    }


def session_of(report: Report) -> Session | None:
    return context.db().get(Session, report.session_id) if report.session_id else None
