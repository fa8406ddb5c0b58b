"""Calls: making one, taking one back."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.services.club.permissions import Action
from uvren.services.day.told import CallSaid, call_said
from uvren.services.morning import calls
from uvren.web import context
from uvren.web.morning import calls_schemas as schemas
from uvren.web.schemas import DoneOut

blueprint = APIBlueprint("calls", __name__, url_prefix="/api/squads/<slug>/calls")


@blueprint.post("")
@blueprint.input(schemas.CallIn)
@blueprint.output(schemas.CallOut)
@blueprint.doc(operation_id="makeCall", summary="Record what was decided about an athlete for a day")
def make(slug: str, json_data: schemas.CallIn) -> CallSaid:
    squad = context.squad(slug, Action.MAKE_CALLS)
    person = context.person()
    new = calls.NewCall(**json_data.model_dump())
    today = context.today(squad)
    call = calls.make_call(context.db(), squad, new, stamp=context.stamp(), today=today)
    return call_said(call, person.name, context.audiences(squad))


@blueprint.post("/several")
@blueprint.input(schemas.CallsIn)
@blueprint.output(schemas.CallsOut)
@blueprint.doc(operation_id="makeCalls", summary="Record what was decided about several athletes, all or none")
def make_several(slug: str, json_data: schemas.CallsIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.MAKE_CALLS)
    person, today = context.person(), context.today(squad)
    many = [calls.NewCall(**one.model_dump()) for one in json_data.calls]
    made = calls.make_calls(context.db(), squad, many, stamp=context.stamp(), today=today)
    return {"calls": [call_said(call, person.name, context.audiences(squad)) for call in made]}


@blueprint.post("/<call_id>/reply")
@blueprint.input(schemas.ReplyIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="replyToReferral", summary="A clinician's reply to a call that refers")
def reply(slug: str, call_id: str, json_data: schemas.ReplyIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_CLINICAL)
    calls.reply(context.db(), squad, call_id, json_data.reply, stamp=context.stamp())
    return {"done": True}


@blueprint.delete("/<call_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="withdrawCall", summary="Take a call back; the one before it stands again")
def withdraw(slug: str, call_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.MAKE_CALLS)
    calls.withdraw_call(context.db(), squad, call_id, stamp=context.stamp())
    return {"done": True}
