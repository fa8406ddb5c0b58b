"""An athlete's own page: what is asked of them, and giving it. Nobody else's is ever reached from here."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.core.body import PAIRED, Site
from uvren.services import reports
from uvren.services.club import accounts, privacy
from uvren.services.club.permissions import Action
from uvren.services.errors import NotAllowed
from uvren.services.morning.own_today import OwnToday, own_today
from uvren.store import queries
from uvren.store.models import Club, Squad
from uvren.web import context
from uvren.web.answers import until_changed
from uvren.web.day import own_complaint_out
from uvren.web.reports import own_schemas as schemas
from uvren.web.reports import parts as parts
from uvren.web.schemas import DoneOut

blueprint = APIBlueprint("own", __name__, url_prefix="/api/squads/<slug>/own")


def _own(slug: str) -> tuple[Squad, int]:
    """Squad, the athlete that the signed-in person is."""
    squad = context.squad(slug, Action.OWN_PAGE)
    person = context.person()
    if person.athlete_id is None:
        raise NotAllowed("This sign-in is not tied to an athlete. Ask who invited you.")
    return squad, person.athlete_id


@blueprint.get("")
@blueprint.output(schemas.OwnOut)
@blueprint.doc(operation_id="ownDay", summary="What is asked of the athlete who is signed in")
def read(slug: str) -> dict[str, Any]:
    squad, athlete_id = _own(slug)
    db, today = context.db(), context.today(squad)
    found = reports.own_day(db, squad, athlete_id, now=context.now(), today=today)
    consent = queries.club.consent_of(db, athlete_id)
    return {
        "name": found.athlete.name,
        "squad": squad.name,
        "slug": squad.slug,
        "time_zone": squad.time_zone,
        "today": today,
        "dues": [_due_out(squad, due) for due in found.dues],
        "complaints": [own_complaint_out(one) for one in found.complaints],
        "sites": list(Site),
        "paired": [site for site in Site if site in PAIRED],
        "consent_text": db.get_one(Club, squad.club_id).consent_text,
        "consent_given": consent.given_at if consent else None,
        "links_used": accounts.links_used(db, context.person().user_id, context.now()),
    }


@blueprint.get("/today")
@until_changed(Action.OWN_PAGE)
@blueprint.output(schemas.OwnTodayOut)
@blueprint.doc(operation_id="ownToday", summary="The athlete's own plan, what was called, room and climb")
def read_today(slug: str) -> OwnToday:
    squad, athlete_id = _own(slug)
    return own_today(context.db(), squad, athlete_id, context.today(squad))


def _due_out(squad: Squad, due: reports.Due) -> dict[str, Any]:
    session = due.session
    shown = None
    if session is not None:
        shown = {
            "id": session.id,
            "title": session.name,
            "kind": session.kind,
            "starts_at": session.starts_at,
            "planned_minutes": due.planned_minutes,
        }
    return {
        "kind": due.kind,
        "day": due.day,
        "session": shown,
        "form": parts.form_out(due.form),
        "given": parts.report_out(squad, due.given, session) if due.given else None,
        "rivals": [parts.report_out(squad, one, session) for one in due.rivals],
    }


@blueprint.put("/reports/<report_id>")
@blueprint.input(schemas.ReportIn)
@blueprint.output(schemas.GivenOut)
@blueprint.doc(operation_id="giveReport", summary="Give a report; the same one sent again changes nothing")
def give(slug: str, report_id: str, json_data: schemas.ReportIn) -> dict[str, Any]:
    squad, athlete_id = _own(slug)
    told = parts.told(json_data, report_id, athlete_id, None)
    given = reports.give(context.db(), squad, told, stamp=context.stamp(), today=context.today(squad))
    return parts.given_out(squad, given, parts.session_of(given.report))


@blueprint.post("/reports/<report_id>/choose")
@blueprint.output(schemas.ReportOut)
@blueprint.doc(operation_id="chooseReport", summary="Of two reports for one thing, let this one count")
def choose(slug: str, report_id: str) -> dict[str, Any]:
    squad, athlete_id = _own(slug)
    db = context.db()
    today = context.today(squad)
    report = reports.choose(db, squad, athlete_id, report_id, stamp=context.stamp(), today=today)
    return parts.report_out(squad, report, parts.session_of(report))


@blueprint.put("/consent")
@blueprint.input(schemas.ConsentIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="consent", summary="Agree to what the club does with one's data, or take that back")
def consent(slug: str, json_data: schemas.ConsentIn) -> dict[str, bool]:
    squad, athlete_id = _own(slug)
    db = context.db()
    privacy.set_consent(db, squad, athlete_id, json_data.given, json_data.text, stamp=context.stamp())
    return {"done": True}
