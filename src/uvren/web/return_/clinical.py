"""For clinicians: answering complaints, entering injuries, and saying how much someone may train."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.services.club.permissions import Action
from uvren.services.return_ import clinical
from uvren.store import queries
from uvren.web import context
from uvren.web.day import availability_out, complaint_out, pain_of
from uvren.web.return_ import clinical_schemas as schemas
from uvren.web.schemas import AvailabilityOut, ComplaintOut

blueprint = APIBlueprint("clinical", __name__, url_prefix="/api/squads/<slug>")


@blueprint.put("/complaints/<complaint_id>")
@blueprint.input(schemas.ComplaintAnswerIn)
@blueprint.output(ComplaintOut)
@blueprint.doc(operation_id="answerComplaint", summary="Say that it was seen, what to do, and whether it is over")
def answer(slug: str, complaint_id: str, json_data: schemas.ComplaintAnswerIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_CLINICAL)
    db = context.db()
    today = context.today(squad)
    found = clinical.answer(
        db,
        squad,
        complaint_id,
        json_data.answer,
        json_data.closed,
        json_data.again_on,
        version=json_data.version,
        stamp=context.stamp(),
        today=today,
    )
    if json_data.allowed is not None:
        new = clinical.NewRestriction(found.athlete_id, from_day=today, **json_data.allowed.model_dump())
        clinical.restrict(db, squad, new, stamp=context.stamp(), today=today)
    return complaint_out(found, squad, queries.club.user_names(db, squad.club_id))


@blueprint.post("/complaints")
@blueprint.input(schemas.InjuryIn)
@blueprint.output(ComplaintOut)
@blueprint.doc(operation_id="recordInjury", summary="Enter an injury that was found")
def injury(slug: str, json_data: schemas.InjuryIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_CLINICAL)
    db = context.db()
    made = clinical.record_injury(
        db, squad, json_data.athlete_id, pain_of(json_data.pain, "pain"), json_data.words, stamp=context.stamp(),
        today=context.today(squad),
    )  # fmt: skip
    return complaint_out(made, squad, queries.club.user_names(db, squad.club_id))


@blueprint.post("/restrictions")
@blueprint.input(schemas.RestrictionIn)
@blueprint.output(AvailabilityOut)
@blueprint.doc(operation_id="restrict", summary="Say how much an athlete may train")
def restrict(slug: str, json_data: schemas.RestrictionIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_CLINICAL)
    db = context.db()
    new = clinical.NewRestriction(**json_data.model_dump())
    made = clinical.restrict(db, squad, new, stamp=context.stamp(), today=context.today(squad))
    return availability_out(made, queries.club.user_names(db, squad.club_id), may_clinical=True)
