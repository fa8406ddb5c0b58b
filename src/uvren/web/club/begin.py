"""The beginning of a club, with the link that an empty installation prints."""

from __future__ import annotations

from apiflask import APIBlueprint

from uvren.services.club import accounts, begin
from uvren.web import context
from uvren.web.club import begin_schemas as schemas
from uvren.web.schemas import DoneOut

blueprint = APIBlueprint("begin", __name__, url_prefix="/api/begin")


@blueprint.post("/look")
@blueprint.input(schemas.BeginLookIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="lookAtBegin", summary="Whether a link that begins the club still works")
def look(json_data: schemas.BeginLookIn) -> dict[str, bool]:
    begin.look(context.db(), json_data.token, context.now())
    return {"done": True}


@blueprint.post("")
@blueprint.input(schemas.BeginIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="begin", summary="Begin the club with its first person; signs in")
def make(json_data: schemas.BeginIn) -> dict[str, bool]:
    db, now, whence = context.db(), context.now(), context.whence()
    first = begin.First(**json_data.model_dump(exclude={"token"}))
    user = begin.begin(db, json_data.token, first, whence, now)
    token = accounts.open_sign_in(db, user, now, whence)
    context.carry(token, user.id, accounts.stays(db, user.id))
    return {"done": True}
