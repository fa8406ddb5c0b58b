"""Return: plans to come back."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from flask import Response
from pydantic import TypeAdapter

from uvren.core.audience import Audience
from uvren.core.returns import TEMPLATES
from uvren.files.writing import MEDIA_TYPES, TableFormat
from uvren.services.club.permissions import Action
from uvren.services.errors import NotAllowed, NotFound
from uvren.services.return_ import cases, giving, plans, reading, summary, whole
from uvren.services.return_.cases import Cases
from uvren.services.return_.plans import By, Changed, NewPlan, SquadBreak
from uvren.services.return_.reading import Returns
from uvren.services.return_.whole import ReturnWhole
from uvren.services.week import saving
from uvren.store.models import Squad
from uvren.web import context
from uvren.web.answers import looked_at, until_changed
from uvren.web.papers import pdf
from uvren.web.return_ import returns_schemas as schemas
from uvren.web.schemas import DayQuery, DoneOut

blueprint = APIBlueprint("returns", __name__, url_prefix="/api/squads/<slug>/return")


def _by(squad: Squad) -> By:
    person = context.person()
    return By(
        clinician=person.may(Action.EDIT_CLINICAL, squad.id),
        plans=person.may(Action.PLAN_RETURNS, squad.id),
        stamp=context.stamp(),
        today=context.today(squad),
    )


@blueprint.get("")
@until_changed(Action.READ_AVAILABILITY)
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.ReturnsOut)
@blueprint.doc(operation_id="returns", summary="Who comes back, how far they are, and whose date does not fit")
def read(slug: str, query_data: DayQuery) -> Returns:
    squad = context.squad(slug, Action.READ_AVAILABILITY)
    audiences = context.audiences(squad)
    day = context.sane(query_data.day)
    found = reading.read_returns(context.db(), squad, day, context.today(squad), audiences)
    if Audience.CLINICAL in audiences:
        looked_at(squad, {one.athlete_id for one in found.rows})
    return found


@blueprint.get("/cases")
@until_changed(Action.READ_CLINICAL)
@blueprint.input(schemas.CasesQuery, location="query")
@blueprint.output(schemas.CasesOut)
@blueprint.doc(operation_id="cases", summary="Injuries and illnesses, with exposure and how often they come")
def read_cases(slug: str, query_data: schemas.CasesQuery) -> Cases:
    squad = context.squad(slug, Action.READ_CLINICAL)
    found = cases.read_cases(context.db(), squad, context.sane(query_data.day), query_data.days)
    looked_at(squad, {one.athlete_id for one in found.rows})
    return found


@blueprint.get("/templates")
@blueprint.output(schemas.ReturnTemplatesOut)
@blueprint.doc(operation_id="returnTemplates", summary="Templates of stages to begin a plan from")
def templates(slug: str) -> dict[str, Any]:
    context.squad(slug, Action.PLAN_RETURNS)
    return {
        "templates": [
            {"code": one.code, "name": one.name, "stages": len(one.stages), "refers": one.refers}
            for one in TEMPLATES.values()
        ]
    }


@blueprint.get("/<what>.<ending>")
@blueprint.input(DayQuery, location="query")
@blueprint.doc(operation_id="returnsAsFile", summary="Plans as json; their weeks, criteria or log as a table")
def as_file(slug: str, what: str, ending: str, query_data: DayQuery) -> Response:
    squad = context.squad(slug, Action.PLAN_RETURNS)
    day, audiences = context.sane(query_data.day), context.audiences(squad)
    if (what, ending) != ("plans", "json") and (what not in giving.TABLES or ending not in list(TableFormat)):
        raise NotFound(f"There is plans.json, and {', '.join(giving.TABLES)} as {', '.join(TableFormat)}.")
    found = giving.wholes(context.db(), squad, day, context.today(squad), audiences, stamp=context.stamp())
    if Audience.CLINICAL in audiences:
        looked_at(squad, {one.row.athlete_id for one in found})
    context.db().commit()
    if ending == "json":
        answer = Response(TypeAdapter(list[ReturnWhole]).dump_json(found, indent=1), mimetype="application/json")
    else:
        format = TableFormat(ending)
        answer = Response(b"".join(giving.TABLES[what](found, format)), mimetype=MEDIA_TYPES[format])
    answer.headers["Content-Disposition"] = f'attachment; filename="{squad.slug}-return-{what}-{day}.{ending}"'
    return answer


@blueprint.get("/<plan_id>")
@until_changed(Action.READ_AVAILABILITY)
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.ReturnWholeOut)
@blueprint.doc(operation_id="wholeReturn", summary="One plan to come back: climb, stage, evidence, ways to its date")
def read_one(slug: str, plan_id: str, query_data: DayQuery) -> ReturnWhole:
    squad = context.squad(slug, Action.READ_AVAILABILITY)
    audiences = context.audiences(squad)
    day = context.sane(query_data.day)
    found = whole.read_whole(context.db(), squad, plan_id, day, context.today(squad), audiences)
    if Audience.CLINICAL in audiences:
        looked_at(squad, {found.row.athlete_id})
    return found


@blueprint.post("")
@blueprint.input(schemas.NewReturnIn)
@blueprint.output(schemas.BegunOut)
@blueprint.doc(operation_id="beginReturn", summary="Begin a plan to come back")
def begin(slug: str, json_data: schemas.NewReturnIn) -> dict[str, str]:
    squad = context.squad(slug, Action.PLAN_RETURNS)
    for field in ("first_off", "first_day", "target_day"):
        if (day := getattr(json_data, field)) is not None:
            context.sane(day, field)
    made = plans.begin(context.db(), squad, NewPlan(**vars(json_data)), _by(squad))
    return {"id": made.id}


@blueprint.post("/squad-break")
@blueprint.input(schemas.SquadBreakIn)
@blueprint.output(schemas.SquadBreakOut)
@blueprint.doc(operation_id="planSquadBreak", summary="Plan the way back of everybody after a break of the squad")
def squad_break(slug: str, json_data: schemas.SquadBreakIn) -> dict[str, list[str]]:
    squad = context.squad(slug, Action.PLAN_RETURNS)
    for field in ("first_off", "first_day", "target_day"):
        if (day := getattr(json_data, field)) is not None:
            context.sane(day, field)
    made, left = plans.begin_for_all(context.db(), squad, SquadBreak(**vars(json_data)), _by(squad))
    return {"made": [one.id for one in made], "left": left}


@blueprint.post("/squad-break/take-back")
@blueprint.input(schemas.TakePlansBackIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="takeBackSquadBreak", summary="Take back plans that were begun today")
def take_break_back(slug: str, json_data: schemas.TakePlansBackIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.PLAN_RETURNS)
    for name in json_data.plans:
        plans.take_back(context.db(), squad, name, _by(squad))
    return {"done": True}


@blueprint.post("/<plan_id>/stage")
@blueprint.input(schemas.StageIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="moveStage", summary="Move somebody to a stage: on one at a time, back to any")
def move(slug: str, plan_id: str, json_data: schemas.StageIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.READ_AVAILABILITY)
    plans.move(context.db(), squad, plan_id, json_data.to, json_data.words, _by(squad), version=json_data.version)
    return {"done": True}


@blueprint.post("/<plan_id>/keep")
@blueprint.input(schemas.SaidIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="keepStage", summary="Keep a stage although one back is proposed")
def keep(slug: str, plan_id: str, json_data: schemas.SaidIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_CLINICAL)
    plans.keep(context.db(), squad, plan_id, json_data.words, _by(squad))
    return {"done": True}


@blueprint.post("/<plan_id>/word")
@blueprint.input(schemas.SaidIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="giveWord", summary="Give a clinician's word for a stage")
def word(slug: str, plan_id: str, json_data: schemas.SaidIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_CLINICAL)
    plans.give_word(context.db(), squad, plan_id, json_data.words, _by(squad))
    return {"done": True}


@blueprint.post("/<plan_id>/measured")
@blueprint.input(schemas.MeasuredIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="measureForReturn", summary="Enter what was measured for a criterion of a stage")
def measured(slug: str, plan_id: str, json_data: schemas.MeasuredIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_CLINICAL)
    plans.measure(context.db(), squad, plan_id, json_data.criterion, json_data.value, json_data.other, _by(squad))
    return {"done": True}


@blueprint.post("/<plan_id>/summary")
@blueprint.input(schemas.SummaryIn)
@blueprint.doc(operation_id="giveSummary", summary="A plan as PDF for another clinic, with the athlete's consent noted")
def give_summary(slug: str, plan_id: str, json_data: schemas.SummaryIn) -> Response:
    squad = context.squad(slug, Action.EDIT_CLINICAL)
    db, by, given = context.db(), _by(squad), json_data
    paper = summary.give_summary(db, squad, plan_id, context.sane(given.day), given.to, given.consent, by)
    return pdf(paper, f"way-back-{given.day}")


@blueprint.put("/<plan_id>")
@blueprint.input(schemas.ReturnChangeIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="changeReturn", summary="Change the date or the steps of a plan to come back")
def change(slug: str, plan_id: str, json_data: schemas.ReturnChangeIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.PLAN_RETURNS)
    if json_data.target_day is not None:
        context.sane(json_data.target_day, "target_day")
    given = vars(json_data) | {}
    words, version = given.pop("words"), given.pop("version")
    plans.change(context.db(), squad, plan_id, Changed(**given), words, _by(squad), version=version)
    return {"done": True}


@blueprint.put("/<plan_id>/stages")
@blueprint.input(schemas.StagesIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="changeStages", summary="Change what the stages of a plan hold, allow and ask for")
def change_stages(slug: str, plan_id: str, json_data: schemas.StagesIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_CLINICAL)
    stages = [one.model_dump() for one in json_data.stages]
    plans.change_stages(context.db(), squad, plan_id, stages, json_data.words, _by(squad), version=json_data.version)
    return {"done": True}


@blueprint.put("/<plan_id>/minutes")
@blueprint.input(schemas.PartOfMatchesIn)
@blueprint.output(schemas.PartOfMatchesIn)
@blueprint.doc(operation_id="planMatchMinutes", summary="Plan part of matches for somebody; gives what stood before")
def minutes(slug: str, plan_id: str, json_data: schemas.PartOfMatchesIn) -> dict[str, Any]:
    squad, db = context.squad(slug, Action.PLAN), context.db()
    plan = plans.find(db, squad, plan_id)
    ids = [one.session_id for one in json_data.matches]
    stood = saving.own_plans(db, ids)
    own = {(plan.athlete_id, one.session_id): one.minutes for one in json_data.matches}
    saving.plan_own(db, squad, own, stamp=context.stamp())
    return {"matches": [{"session_id": one, "minutes": stood.get((plan.athlete_id, one))} for one in ids]}


@blueprint.put("/<plan_id>/beside")
@blueprint.input(schemas.BesideIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="planBeside", summary="Plan that somebody takes part in a session to come without load")
def beside(slug: str, plan_id: str, json_data: schemas.BesideIn) -> dict[str, bool]:
    squad, db = context.squad(slug, Action.READ_AVAILABILITY), context.db()
    if not any(context.person().may(action, squad.id) for action in (Action.PLAN, Action.PLAN_RETURNS)):
        raise NotAllowed("What somebody takes part in is planned by coaches, performance staff and clinicians.")
    plan = plans.find(db, squad, plan_id)
    saving.plan_beside(db, squad, plan.athlete_id, json_data.session_id, json_data.how, stamp=context.stamp())
    return {"done": True}


@blueprint.post("/<plan_id>/end")
@blueprint.input(schemas.SaidIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="endReturn", summary="End a plan to come back")
def end(slug: str, plan_id: str, json_data: schemas.SaidIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.PLAN_RETURNS)
    plans.end(context.db(), squad, plan_id, json_data.words, _by(squad))
    return {"done": True}


@blueprint.post("/<plan_id>/take-back")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="takeBackReturnStep", summary="Take back the last thing that was said of a plan")
def take_back(slug: str, plan_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.READ_AVAILABILITY)
    plans.take_back(context.db(), squad, plan_id, _by(squad))
    return {"done": True}


@blueprint.put("/sign-off")
@blueprint.input(schemas.SignOffIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="returnSignOff", summary="Whether performance staff may move a stage on after a word")
def sign_off(slug: str, json_data: schemas.SignOffIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_CLINICAL)
    plans.set_sign_off(context.db(), squad, json_data.allowed, _by(squad))
    return {"done": True}
