"""The work of one session beside minutes and effort: counts, lifts, segments."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.services.club.permissions import Action
from uvren.services.session.work import WorkChange, record_work
from uvren.services.session.work_grid import estimate_sets, read_session_work
from uvren.store.models import Squad
from uvren.web import context
from uvren.web.session import work_schemas as schemas

blueprint = APIBlueprint("work", __name__, url_prefix="/api/squads/<slug>")


def work_out(squad: Squad, session_id: str) -> dict[str, Any]:
    found = read_session_work(context.db(), squad, session_id)
    return {
        **vars(found),
        "id": found.session.id,
        "day": found.session.day,
        "title": found.session.title,
        "segments": found.session.segments,
        "rows": [
            {
                "athlete_id": row.member.athlete_id,
                "name": row.member.name,
                "number": row.member.number,
                "position": row.member.position,
                "minutes": row.minutes,
                "works": list(row.works.values()),
                "loads": row.loads,
                "maxima": [{"exercise": exercise, "kg": kg} for exercise, kg in row.maxima.items()],
            }
            for row in found.rows
        ],
    }


@blueprint.get("/sessions/<session_id>/work")
@blueprint.output(schemas.SessionWorkOut)
@blueprint.doc(operation_id="sessionWork", summary="What was counted and lifted in a session, and what it comes to")
def read(slug: str, session_id: str) -> dict[str, Any]:
    return work_out(context.squad(slug), session_id)


@blueprint.put("/sessions/<session_id>/work")
@blueprint.input(schemas.WorksIn)
@blueprint.output(schemas.SessionWorkOut)
@blueprint.doc(operation_id="recordWork", summary="Write documents of work; the loads follow")
def record(slug: str, session_id: str, json_data: schemas.WorksIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_ENTRIES)
    changes = [
        WorkChange(session_id, change.athlete_id, change.what, change.data, change.version)
        for change in json_data.changes
    ]
    db = context.db()
    record_work(db, squad.id, changes, stamp=context.stamp(), today=context.today(squad))
    return work_out(squad, session_id)


@blueprint.post("/lifting/estimate")
@blueprint.input(schemas.LiftsIn)
@blueprint.output(schemas.EstimatesOut)
@blueprint.doc(operation_id="estimateSets", summary="What the lines of a lifting sheet come to; nothing is saved")
def estimate(slug: str, json_data: schemas.LiftsIn) -> dict[str, Any]:
    context.squad(slug, writes=False)
    return {"items": estimate_sets([item.model_dump() for item in json_data.items])}
