"""Calls: making one, taking one back."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.services import calls
from uvren.services.morning import CallSaid
from uvren.services.permissions import Action
from uvren.web import context, schemas
from uvren.web.resources.morning import call_out

blueprint = APIBlueprint("calls", __name__, url_prefix="/api/squads/<slug>/calls")


@blueprint.post("")
@blueprint.input(schemas.CallIn)
@blueprint.output(schemas.CallOut)
@blueprint.doc(operation_id="makeCall", summary="Record what was decided about an athlete for a day")
def make(slug: str, json_data: schemas.CallIn) -> dict[str, Any] | None:
    squad = context.squad(slug, Action.MAKE_CALLS)
    person = context.person()
    call = calls.make_call(
        context.db(),
        squad,
        call_id=json_data.id,
        athlete_id=json_data.athlete_id,
        day=json_data.day,
        kind=json_data.kind,
        reason=json_data.reason,
        review_on=json_data.review_on,
        by=person.user_id,
        now=context.now(),
        today=context.today(squad),
    )
    context.db().commit()
    return call_out(CallSaid(call, person.name), squad)


@blueprint.delete("/<call_id>")
@blueprint.output(schemas.DoneOut)
@blueprint.doc(operation_id="withdrawCall", summary="Take a call back; the one before it stands again")
def withdraw(slug: str, call_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.MAKE_CALLS)
    calls.withdraw_call(context.db(), squad, call_id, by=context.person().user_id, now=context.now())
    context.db().commit()
    return {"done": True}
