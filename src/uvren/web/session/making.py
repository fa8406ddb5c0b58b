"""Sessions made, changed and taken away."""

from __future__ import annotations

from datetime import time, timedelta
from typing import Any

from apiflask import APIBlueprint

from uvren.services.club.permissions import Action
from uvren.services.session import making
from uvren.services.squad.kinds import kinds_of
from uvren.services.squad.places import place_factors
from uvren.store import queries
from uvren.store.models import Session, Squad
from uvren.web import context
from uvren.web.schemas import DoneOut
from uvren.web.session import making_schemas as schemas

blueprint = APIBlueprint("making", __name__, url_prefix="/api/squads/<slug>/sessions")


def _wanted(data: schemas.SessionIn) -> making.Wanted:
    typed = data.model_dump(exclude={"version", "until"})
    context.sane(data.day)
    return making.Wanted(**(typed | {"at": time.fromisoformat(data.at)}))


def _out(squad: Squad, session: Session) -> dict[str, Any]:
    shown = making.shown(squad, session)
    return shown | {"id": session.id, "at": shown["at"].isoformat("minutes")}


@blueprint.post("")
@blueprint.input(schemas.NewSessionIn)
@blueprint.output(schemas.MadeOut)
@blueprint.doc(operation_id="makeSessions", summary="Make a session, or one each week until a day")
def make(slug: str, json_data: schemas.NewSessionIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_ENTRIES)
    until = None if json_data.until is None else context.sane(json_data.until)
    made = making.make_sessions(context.db(), squad, _wanted(json_data), until=until, stamp=context.stamp())
    return {"sessions": [_out(squad, one) for one in made]}


@blueprint.get("")
@blueprint.input(schemas.SpanQuery, location="query")
@blueprint.output(schemas.PlannedOut)
@blueprint.doc(operation_id="sessionsPlanned", summary="Every session of some days, as it is planned")
def read_all(slug: str, query_data: schemas.SpanQuery) -> dict[str, Any]:
    squad, db = context.squad(slug), context.db()
    first = context.sane(query_data.day)
    last = first + timedelta(days=query_data.days - 1)
    found = queries.session.planned_between(db, squad.id, first, last)
    marks = queries.session.day_marks(db, squad.id, first, last)
    factors = place_factors(db, squad, first)
    return {
        "sessions": [_out(squad, one) | {"done": one.done, "called_off": one.called_off} for one in found],
        "marks": [{"day": day, "mark": one.mark} for day, one in marks.items()],
        "kinds": kinds_of(squad),
        "places": list(factors),
        "place_factors": factors,
    }


@blueprint.post("/copy-week")
@blueprint.input(schemas.CopyWeekIn)
@blueprint.output(schemas.MadeOut)
@blueprint.doc(operation_id="copyWeek", summary="The sessions of a week once more in another week")
def copy_week(slug: str, json_data: schemas.CopyWeekIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_ENTRIES)
    of, into = context.sane(json_data.of), context.sane(json_data.into)
    made = making.copy_week(context.db(), squad, of, into, stamp=context.stamp())
    return {"sessions": [_out(squad, one) for one in made]}


@blueprint.get("/<session_id>/plan")
@blueprint.output(schemas.SessionPlanOut)
@blueprint.doc(operation_id="sessionPlan", summary="A session as it is planned, to be changed")
def read(slug: str, session_id: str) -> dict[str, Any]:
    squad = context.squad(slug)
    return _out(squad, making.find(context.db(), squad, session_id))


@blueprint.put("/<session_id>/plan")
@blueprint.input(schemas.ChangedSessionIn)
@blueprint.output(schemas.SessionPlanOut)
@blueprint.doc(operation_id="changeSession", summary="Change a session, or move it with what was entered")
def change(slug: str, session_id: str, json_data: schemas.ChangedSessionIn) -> dict[str, Any]:
    squad, version = context.squad(slug, Action.EDIT_ENTRIES), json_data.version
    wanted = _wanted(json_data)
    return _out(squad, making.change_session(context.db(), squad, session_id, wanted, version=version,
                                             stamp=context.stamp()))  # fmt: skip


@blueprint.post("/<session_id>/take-back")
@blueprint.input(schemas.VersionIn)
@blueprint.output(schemas.SessionPlanOut)
@blueprint.doc(operation_id="takeBackSession", summary="Let a session be again what it was before its last change")
def take_back(slug: str, session_id: str, json_data: schemas.VersionIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_ENTRIES)
    back = making.take_back(context.db(), squad, session_id, version=json_data.version, stamp=context.stamp())
    return _out(squad, back)


@blueprint.post("/<session_id>/call-off")
@blueprint.input(schemas.CallOffIn)
@blueprint.output(schemas.SessionPlanOut)
@blueprint.doc(operation_id="callOffSession", summary="A session does not take place; it is kept, with why")
def call_off(slug: str, session_id: str, json_data: schemas.CallOffIn) -> dict[str, Any]:
    squad, version = context.squad(slug, Action.EDIT_ENTRIES), json_data.version
    found = making.call_off(context.db(), squad, session_id, json_data.why, version=version, stamp=context.stamp())
    return _out(squad, found)


@blueprint.post("/<session_id>/put-on")
@blueprint.input(schemas.VersionIn)
@blueprint.output(schemas.SessionPlanOut)
@blueprint.doc(operation_id="putOnSession", summary="A session that was called off takes place after all")
def put_on(slug: str, session_id: str, json_data: schemas.VersionIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_ENTRIES)
    found = making.put_on(context.db(), squad, session_id, version=json_data.version, stamp=context.stamp())
    return _out(squad, found)


@blueprint.put("/marks")
@blueprint.input(schemas.DayMarkIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="markDay", summary="Say that a day without a session was off, or is not known")
def mark_day(slug: str, json_data: schemas.DayMarkIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_ENTRIES)
    making.mark_day(context.db(), squad, context.sane(json_data.day), json_data.mark, stamp=context.stamp())
    return {"done": True}


@blueprint.delete("/<session_id>")
@blueprint.input(schemas.VersionQuery, location="query")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="deleteSession", summary="Take a session away in which nothing was entered")
def delete(slug: str, session_id: str, query_data: schemas.VersionQuery) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_ENTRIES)
    making.delete_session(context.db(), squad, session_id, version=query_data.version, stamp=context.stamp())
    return {"done": True}


@blueprint.post("/<session_id>/restore")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="restoreSession", summary="Bring a deleted session back as it was")
def restore(slug: str, session_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_ENTRIES)
    making.restore_session(context.db(), squad, session_id, stamp=context.stamp())
    return {"done": True}
