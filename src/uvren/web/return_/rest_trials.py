"""Trials of rest."""

from __future__ import annotations

from apiflask import APIBlueprint

from uvren.services.club.permissions import Action
from uvren.services.return_ import rest_trials
from uvren.web import context
from uvren.web.return_ import rest_trials_schemas as schemas
from uvren.web.schemas import DoneOut

blueprint = APIBlueprint("rest_trials", __name__, url_prefix="/api/squads/<slug>")


@blueprint.post("/rest-trials")
@blueprint.input(schemas.TrialIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="startRestTrial", summary="Begin days off for someone under suspicion of overtraining")
def start_trial(slug: str, json_data: schemas.TrialIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.ENTER_REPORTS)
    today = context.today(squad)
    rest_trials.start(context.db(), squad, json_data.athlete_id, context.sane(json_data.from_day), json_data.days,
                      stamp=context.stamp(), today=today)  # fmt: skip
    return {"done": True}


@blueprint.post("/rest-trials/judge")
@blueprint.input(schemas.JudgeIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="judgeRestTrial", summary="Say whether someone is better after their rest trial")
def judge_trial(slug: str, json_data: schemas.JudgeIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.ENTER_REPORTS)
    today = context.today(squad)
    rest_trials.judge(context.db(), squad, json_data.athlete_id, json_data.better, stamp=context.stamp(), today=today)
    return {"done": True}
