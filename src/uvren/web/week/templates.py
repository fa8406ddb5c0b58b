"""Templates of weeks: kept, held against whoever gets them, used, taken back."""

from __future__ import annotations

from datetime import time

from apiflask import APIBlueprint

from uvren.services.club.permissions import Action
from uvren.services.session import making
from uvren.services.session.making import Wanted
from uvren.services.versions import WHATEVER
from uvren.services.week import templates
from uvren.services.week.templates import Fit, Templates
from uvren.web import context
from uvren.web.schemas import DoneOut
from uvren.web.week import templates_schemas as schemas

blueprint = APIBlueprint("templates", __name__, url_prefix="/api/squads/<slug>/week/templates")


@blueprint.get("")
@blueprint.output(schemas.TemplatesOut)
@blueprint.doc(operation_id="weekTemplates", summary="Weeks kept to be planned again, with whom they were written for")
def read(slug: str) -> Templates:
    squad = context.squad(slug, Action.PLAN, writes=False)
    return templates.read_templates(context.db(), squad)


@blueprint.post("")
@blueprint.input(schemas.NewTemplateIn)
@blueprint.output(schemas.TemplatesOut)
@blueprint.doc(operation_id="keepTemplate", summary="Keep weeks as a template")
def keep(slug: str, json_data: schemas.NewTemplateIn) -> Templates:
    squad, db = context.squad(slug, Action.PLAN), context.db()
    context.sane(json_data.of)
    templates.keep_template(db, squad, json_data.new, stamp=context.stamp())
    return templates.read_templates(db, squad)


@blueprint.delete("/<template_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="removeTemplate", summary="Take a template away; what was planned from it stays")
def remove(slug: str, template_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.PLAN)
    templates.remove_template(context.db(), squad, template_id, gone=True, stamp=context.stamp())
    return {"done": True}


@blueprint.post("/<template_id>/put-back")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="putBackTemplate", summary="Put a template back that was taken away")
def put_back(slug: str, template_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.PLAN)
    templates.remove_template(context.db(), squad, template_id, gone=False, stamp=context.stamp())
    return {"done": True}


@blueprint.post("/<template_id>/fit")
@blueprint.input(schemas.FitIn)
@blueprint.output(schemas.FitOut)
@blueprint.doc(operation_id="fitTemplate", summary="What is other for whoever gets a template, and what it comes to")
def fit(slug: str, template_id: str, json_data: schemas.FitIn) -> Fit:
    squad = context.squad(slug, Action.PLAN, writes=False)
    return templates.read_fit(context.db(), squad, template_id, context.sane(json_data.first), json_data.athlete_id,
                              json_data.sport, context.today(squad))  # fmt: skip


@blueprint.post("/<template_id>/use")
@blueprint.input(schemas.UseIn)
@blueprint.output(schemas.UsedOut)
@blueprint.doc(operation_id="useTemplate", summary="Plan a template's sessions, for the squad or for one")
def use(slug: str, template_id: str, json_data: schemas.UseIn) -> dict[str, list[str]]:
    squad, db, stamp = context.squad(slug, Action.PLAN), context.db(), context.stamp()
    athlete, sport = json_data.athlete_id, json_data.sport
    wanted = templates.to_make(db, squad, template_id, context.sane(json_data.first), athlete, sport,
                               context.today(squad), json_data.differs)  # fmt: skip
    made = []
    for day, one in wanted:
        new = Wanted(one.kind, one.title, day, time.fromisoformat(one.at), one.minutes, one.effort)
        made += making.make_sessions(db, squad, new, until=None, stamp=stamp)
    templates.used(db, squad, template_id, made, athlete, sport, stamp=stamp)
    return {"made": [one.id for one in made]}


@blueprint.post("/take-back")
@blueprint.input(schemas.TakeUsedIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="takeBackTemplate", summary="Take sessions out again that a template was planned as")
def take_back(slug: str, json_data: schemas.TakeUsedIn) -> dict[str, bool]:
    squad, db, stamp = context.squad(slug, Action.PLAN), context.db(), context.stamp()
    for name in json_data.made:
        making.delete_session(db, squad, name, version=WHATEVER, stamp=stamp)
    return {"done": True}
