"""Who belongs to a squad, and a person’s own data."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from flask import Response

from uvren.services.club import accounts, privacy
from uvren.services.club.permissions import Action
from uvren.services.errors import Invalid
from uvren.services.squad import members, roster
from uvren.store import queries
from uvren.store.models import Athlete
from uvren.web import context
from uvren.web.schemas import DayQuery, DoneOut
from uvren.web.squad import members_schemas as schemas

blueprint = APIBlueprint("members", __name__, url_prefix="/api/squads/<slug>")


@blueprint.get("/people")
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.SquadPeopleOut)
@blueprint.doc(operation_id="people", summary="Who is in the squad on a day, and its staff: names, and nothing else")
def read_people(slug: str, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug)
    athletes = queries.squad.members(context.db(), squad.id, context.sane(query_data.day))
    return {"athletes": athletes, "staff": accounts.staff_of(context.db(), squad)}


@blueprint.post("/members")
@blueprint.input(schemas.MemberIn)
@blueprint.output(schemas.NewAthleteOut)
@blueprint.doc(operation_id="addMember", summary="A new athlete in the squad")
def add_member(slug: str, json_data: schemas.MemberIn) -> dict[str, int]:
    squad = context.squad(slug, Action.INVITE)
    given = json_data.model_dump() | {"from_day": context.sane(json_data.from_day)}
    made = members.join(context.db(), squad, **given, stamp=context.stamp())
    return {"athlete_id": made.athlete_id}


@blueprint.post("/members/pasted")
@blueprint.input(schemas.PastedIn)
@blueprint.output(schemas.PastedOut)
@blueprint.doc(operation_id="lookAtPeople", summary="What a pasted list of people would bring in")
def look_at_people(slug: str, json_data: schemas.PastedIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.INVITE)
    found = roster.look(context.db(), squad, json_data.text, context.today(squad))
    return {"people": [vars(one.pasted) | {"there": one.there, "repeated": one.repeated} for one in found]}


@blueprint.post("/members/many")
@blueprint.input(schemas.ManyIn)
@blueprint.output(schemas.ManyOut)
@blueprint.doc(operation_id="addMembers", summary="Many new athletes at once, all or nobody")
def add_members(slug: str, json_data: schemas.ManyIn) -> dict[str, int]:
    squad = context.squad(slug, Action.INVITE)
    comers = [roster.Comer(**one.model_dump()) for one in json_data.people]
    for one in comers:
        context.sane(one.from_day)
    sides = context.person().may(Action.EDIT_ANCHORS, squad.id)
    made = roster.bring_in(context.db(), squad, comers, sides=sides, stamp=context.stamp(), today=context.today(squad))
    return {"count": len(made)}


@blueprint.get("/members/known")
@blueprint.output(schemas.KnownPeopleOut)
@blueprint.doc(operation_id="knownPeople", summary="Who can be taken into the squad: those who left it, or of the club")
def known_people(slug: str) -> dict[str, Any]:
    squad = context.squad(slug, Action.INVITE)
    return {"people": members.known(context.db(), squad, context.person(), context.today(squad))}


@blueprint.post("/members/known")
@blueprint.input(schemas.KnownMemberIn)
@blueprint.output(schemas.NewAthleteOut)
@blueprint.doc(operation_id="addKnownMember", summary="Take somebody who is known into the squad")
def add_known_member(slug: str, json_data: schemas.KnownMemberIn) -> dict[str, int]:
    squad = context.squad(slug, Action.INVITE)
    given = json_data.model_dump() | {"from_day": context.sane(json_data.from_day)}
    made = members.join_known(context.db(), squad, **given, person=context.person(), now=context.now())
    return {"athlete_id": made.athlete_id}


@blueprint.put("/members/<int:athlete_id>")
@blueprint.input(schemas.PositionIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="changeMember", summary="Another position or number from a day on")
def change_member(slug: str, athlete_id: int, json_data: schemas.PositionIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.INVITE)
    given = json_data.model_dump() | {"from_day": context.sane(json_data.from_day)}
    members.change(context.db(), squad, athlete_id, **given, stamp=context.stamp())
    return {"done": True}


@blueprint.put("/members/<int:athlete_id>/correction")
@blueprint.input(schemas.CorrectIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="correctMember", summary="Correct an athlete's name, or the first day in the squad")
def correct_member(slug: str, athlete_id: int, json_data: schemas.CorrectIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.INVITE)
    from_day = context.sane(json_data.from_day)
    members.correct(context.db(), squad, athlete_id, json_data.name, from_day, person=context.person(),
                    now=context.now())  # fmt: skip
    return {"done": True}


@blueprint.put("/members/<int:athlete_id>/last-day")
@blueprint.input(schemas.LeaveIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="leaveSquad", summary="Let a day be the athlete's last one in the squad")
def leave(slug: str, athlete_id: int, json_data: schemas.LeaveIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.INVITE)
    to_day = context.sane(json_data.to_day)
    members.leave(context.db(), squad, athlete_id, to_day, stamp=context.stamp())
    return {"done": True}


@blueprint.get("/members/<int:athlete_id>/copy.zip")
@blueprint.doc(operation_id="copyOfAthlete", summary="All that is kept of an athlete, as JSON and CSV in a ZIP")
def copy_of(slug: str, athlete_id: int) -> Response:
    squad = context.squad(slug, Action.MANAGE_PEOPLE)
    db = context.db()
    members.must_everywhere(db, squad, athlete_id, context.person(), Action.MANAGE_PEOPLE)
    content = privacy.copy_of(db, squad, athlete_id, stamp=context.stamp())
    db.commit()
    headers = {"Content-Disposition": f'attachment; filename="athlete-{athlete_id}.zip"'}
    return Response(content, mimetype="application/zip", headers=headers)


@blueprint.post("/members/<int:athlete_id>/forget")
@blueprint.input(schemas.ForgetIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="forgetAthlete", summary="Make an athlete nameless, or erase all of it, at their request")
def forget(slug: str, athlete_id: int, json_data: schemas.ForgetIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.MANAGE_PEOPLE)
    db = context.db()
    members.must_everywhere(db, squad, athlete_id, context.person(), Action.MANAGE_PEOPLE)
    athlete = db.get(Athlete, athlete_id)
    if athlete is not None and athlete.name != json_data.name.strip():
        raise Invalid("This is not the athlete's name as it stands here.", field="name")
    privacy.forget(db, squad, athlete_id, everything=json_data.everything, stamp=context.stamp())
    return {"done": True}
