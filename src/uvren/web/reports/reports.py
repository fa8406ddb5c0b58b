"""The squad's reports as staff see them: who is missing, what was said, and what is asked."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.core.audience import Audience
from uvren.core.day import Standing
from uvren.core.reports import ITEMS, ReportKind
from uvren.services import reports
from uvren.services.club.permissions import Action
from uvren.services.day.kept import standing_on
from uvren.services.day.standing import PLANNED
from uvren.services.morning import calls
from uvren.services.return_ import clinical
from uvren.store import queries
from uvren.store.models import Restriction, Squad
from uvren.web import context
from uvren.web.day import availability_out, complaint_out
from uvren.web.reports import parts as parts
from uvren.web.reports import reports_schemas as schemas
from uvren.web.reports.own_schemas import FormOut, GivenOut
from uvren.web.schemas import DayQuery, DoneOut

blueprint = APIBlueprint("reports", __name__, url_prefix="/api/squads/<slug>")


@blueprint.get("/reports")
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.ReportsOut)
@blueprint.doc(operation_id="reports", summary="Everyone's reports for a day, as far as one may read them")
def read(slug: str, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug, Action.READ_AVAILABILITY)
    db, person = context.db(), context.person()
    day, now = context.sane(query_data.day), context.now()
    may_read = person.may(Action.READ_REPORTS, squad.id)
    may_clinical = person.may(Action.READ_CLINICAL, squad.id)
    names = queries.club.user_names(db, squad.club_id)
    standing = {one.athlete_id: one for one in queries.return_.restrictions_on(db, squad.id, day)}
    found = reports.day_of_reports(db, squad, day, now)
    stands = standing_on(db, squad, day, context.today(squad))
    rows = [
        _row(squad, row, standing.get(row.member.athlete_id), names, may_read, may_clinical)
        | _stands(stands.get(row.member.athlete_id, PLANNED), context.audiences(squad))
        for row in found
    ]
    complaints = None
    if may_clinical:
        complaints = [
            complaint_out(one, squad, names) for one in clinical.complaints(db, squad, day, stamp=context.stamp())
        ]
        db.commit()
    people = {row.member.athlete_id: row.member.name for row in found}
    return {
        "day": day,
        "form": parts.form_out(reports.Forms(db, squad.id).on(ReportKind.DAILY, day)) if may_read else None,
        "rows": rows,
        "disagreements": [
            _disagreement(*one, people) for one in reports.disagreements(db, squad.id, day)
        ] if may_read else [],
        "complaints": complaints,
        "unseen": queries.return_.unseen(db, squad.id, context.today(squad)) if may_clinical else None,
        "referrals": [
            {
                "id": one.id,
                "athlete_id": one.athlete_id,
                "name": people.get(one.athlete_id, ""),
                "day": one.day,
                "reason": one.reason,
                "made_by": names.get(one.made_by, ""),
                "reply": one.reply,
            }
            for one in (calls.referrals(db, squad.id, day) if may_clinical else [])
        ],
    }  # fmt: skip


def _row(
    squad: Squad, row: reports.SquadReport, standing: Restriction | None, names: dict[int, str], may_read: bool,
    may_clinical: bool,
) -> dict[str, Any]:  # fmt: skip
    member = row.member
    state = "in" if row.daily else "missing" if row.asked else "not asked"
    missing = [reports.said_of(session) for session in row.unrated]
    if state == "missing":
        missing.insert(0, "your report of this morning")
    return {
        "athlete_id": member.athlete_id,
        "name": member.name,
        "number": member.number,
        "position": member.position,
        "state": state if may_read else "hidden",
        "daily": parts.report_out(squad, row.daily) if row.daily and may_read else None,
        "weekly": parts.report_out(squad, row.weekly) if row.weekly and may_read else None,
        "week_of": row.week_of if may_read else None,
        "rivals": row.rivals if may_read else 0,
        "missing_since": row.missing_since if may_read else None,
        "unrated": row.unrated if may_read else [],
        "reminder": reports.reminder(member.name, missing) if missing and may_read else None,
        "availability": availability_out(standing, names, may_clinical) if standing else None,
    }


def _stands(standing: Standing, audiences: frozenset[Audience]) -> dict[str, Any]:
    return {"stands": standing.told(audiences), "said": standing.said(audiences)}


def _disagreement(report: Any, entry: Any, session: Any, people: dict[int, str]) -> dict[str, Any]:
    said = reports.plain(report)
    return {
        "athlete_id": report.athlete_id,
        "name": people.get(report.athlete_id, ""),
        "session": reports.said_of(session),
        "session_id": session.id,
        "athlete_minutes": said.get("minutes"),
        "athlete_effort": said.get("effort"),
        "staff_minutes": entry.minutes,
        "staff_effort": entry.effort,
        "report_id": report.id,
    }


@blueprint.put("/reports/<report_id>")
@blueprint.input(schemas.ToldReportIn)
@blueprint.output(GivenOut)
@blueprint.doc(operation_id="enterReport", summary="Enter a report for an athlete, with how one knows")
def enter(slug: str, report_id: str, json_data: schemas.ToldReportIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.ENTER_REPORTS)
    told = parts.told(json_data, report_id, json_data.athlete_id, json_data.told_by)
    given = reports.give(context.db(), squad, told, stamp=context.stamp(), today=context.today(squad))
    return parts.given_out(squad, given, parts.session_of(given.report))


@blueprint.post("/reports/<report_id>/settle")
@blueprint.input(schemas.SettleIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="settleRating", summary="Say whose rating of a session stands")
def settle(slug: str, report_id: str, json_data: schemas.SettleIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_ENTRIES)
    today = context.today(squad)
    reports.settle(context.db(), squad, report_id, json_data.athletes_own, stamp=context.stamp(), today=today)
    return {"done": True}


@blueprint.get("/forms")
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.FormsOut)
@blueprint.doc(operation_id="forms", summary="What is asked on a day, and everything that can be")
def forms(slug: str, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug, Action.READ_REPORTS)
    standing = reports.Forms(context.db(), squad.id)
    return {
        "forms": [parts.form_out(standing.on(kind, context.sane(query_data.day))) for kind in ReportKind],
        "items": {
            kind: [
                parts.asked_out(reports.Asked(item, item.question, item.low, item.high))
                for item in ITEMS.values()
                if item.kind is kind
            ]
            for kind in ReportKind
        },
    }


@blueprint.post("/forms")
@blueprint.input(schemas.FormIn)
@blueprint.output(FormOut)
@blueprint.doc(operation_id="saveForm", summary="Ask something else from a day on")
def save_form(slug: str, json_data: schemas.FormIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_FORMS)
    new = reports.NewForm(
        kind=json_data.kind,
        items=json_data.items,
        days=json_data.days,
        words={code: own.model_dump() for code, own in json_data.words.items()},
        from_day=json_data.from_day,
        replaces=json_data.replaces,
    )
    db = context.db()
    form = reports.save_form(db, squad, new, stamp=context.stamp(), today=context.today(squad))
    return parts.form_out(form)
