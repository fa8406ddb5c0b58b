"""Beside the lanes: the coach's sheet, settings of notices, saved views, rest trials."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.core import method
from uvren.core.notices import KINDS, NoticeKind
from uvren.services import limits, notice_settings, rest_trials, sheet, views
from uvren.services.accounts import user_names
from uvren.services.permissions import Action
from uvren.store.models import Squad
from uvren.web import context
from uvren.web.schemas import DayQuery, DoneOut
from uvren.web.schemas import desk as schemas

blueprint = APIBlueprint("desk", __name__, url_prefix="/api/squads/<slug>")


@blueprint.get("/method")
@blueprint.output(schemas.MethodOut)
@blueprint.doc(operation_id="method", summary="How every figure, limit and notice is worked out, with its source")
def read_method(slug: str) -> dict[str, Any]:
    context.squad(slug)
    return {"sections": list(method.sections()), "notices": [kind_out(kind) for kind in KINDS.values()]}


def sheet_out(found: sheet.Sheet, squad: Squad) -> dict[str, Any]:
    made = found.made
    return {
        "day": found.day,
        "sessions": found.sessions,
        "groups": [
            {"code": code, "name": name, "lines": [line for line in found.lines if line.group == code]}
            for code, name in sheet.GROUPS.items()
        ],
        "version": made.version if made else 0,
        "made_by": made.maker.name if made else "",
        "made_at": made.made_at if made else None,
        "changes": found.changes,
        "text": sheet.as_text(squad, found),
    }


@blueprint.get("/sheet")
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.SheetOut)
@blueprint.doc(operation_id="sheet", summary="The sheet for the coach as it stands, and what changed since the last")
def read_sheet(slug: str, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug)
    found = sheet.read_sheet(context.db(), squad, context.sane(query_data.day), context.today(squad))
    return sheet_out(found, squad)


@blueprint.post("/sheet")
@blueprint.input(schemas.SheetIn)
@blueprint.output(schemas.SheetOut)
@blueprint.doc(operation_id="makeSheet", summary="Give the sheet out as a version of its own")
def make_sheet(slug: str, json_data: schemas.SheetIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.MAKE_CALLS)
    by, now, today = context.person().user_id, context.now(), context.today(squad)
    found = sheet.make_sheet(context.db(), squad, context.sane(json_data.day), by=by, now=now, today=today)
    context.db().commit()
    return sheet_out(found, squad)


def kind_out(kind: NoticeKind) -> dict[str, Any]:
    return {
        "code": kind.code,
        "name": kind.name,
        "rule": kind.said_rule(),
        "cleared": kind.cleared,
        "source": kind.source,
        "cause": kind.cause,
        "severities": list(kind.severities),
        "audience": kind.audience,
        "settings": list(kind.settings),
    }


@blueprint.get("/notices")
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.NoticesOut)
@blueprint.doc(operation_id="noticeSettings", summary="Every kind of notice, and how it is tuned on a day")
def read_notices(slug: str, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug, Action.READ_REPORTS)
    db, day = context.db(), context.sane(query_data.day)
    athletes, users = limits.athlete_names(db, squad), user_names(db, squad.club_id)
    return {
        "kinds": [kind_out(kind) for kind in KINDS.values()],
        "tuned": [
            {
                "id": row.id,
                "code": row.code,
                "scope": row.scope,
                "whom": limits.scope_words(row, athletes),
                "off": row.off,
                "values": row.values,
                "said": notice_settings.said_of(row),
                "reason": row.reason,
                "from_day": row.from_day,
                "set_by": users.get(row.set_by or 0, ""),
            }
            for row in notice_settings.settings_on(db, squad.id, day)
            if row.code in KINDS
        ],
    }


@blueprint.post("/notices")
@blueprint.input(schemas.TuneIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="tuneNotice", summary="Tune a kind of notice from today on")
def tune(slug: str, json_data: schemas.TuneIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_LIMITS)
    new = notice_settings.NewSetting(**json_data.model_dump())
    by, now, today = context.person().user_id, context.now(), context.today(squad)
    notice_settings.save_setting(context.db(), squad, new, by=by, now=now, today=today)
    context.db().commit()
    return {"done": True}


@blueprint.delete("/notices/<setting_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="takeBackNoticeSetting", summary="Take a setting of a notice back")
def take_back(slug: str, setting_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_LIMITS)
    notice_settings.take_back(context.db(), squad, setting_id, by=context.person().user_id, now=context.now())
    context.db().commit()
    return {"done": True}


@blueprint.get("/views")
@blueprint.output(schemas.ViewsOut)
@blueprint.doc(operation_id="views", summary="One's own saved views of the desk")
def read_views(slug: str) -> dict[str, Any]:
    squad = context.squad(slug)
    return {"views": views.views_of(context.db(), squad, context.person().user_id)}


@blueprint.post("/views")
@blueprint.input(schemas.ViewIn)
@blueprint.output(schemas.ViewsOut)
@blueprint.doc(operation_id="saveView", summary="Save a view of the desk under a name")
def save_view(slug: str, json_data: schemas.ViewIn) -> dict[str, Any]:
    squad = context.squad(slug)
    user = context.person().user_id
    views.save_view(context.db(), squad, user, json_data.name, json_data.query, now=context.now())
    context.db().commit()
    return {"views": views.views_of(context.db(), squad, user)}


@blueprint.delete("/views/<view_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="removeView", summary="Take a saved view away")
def remove_view(slug: str, view_id: str) -> dict[str, bool]:
    squad = context.squad(slug)
    views.remove_view(context.db(), squad, context.person().user_id, view_id)
    context.db().commit()
    return {"done": True}


@blueprint.post("/rest-trials")
@blueprint.input(schemas.TrialIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="startRestTrial", summary="Begin days off for someone under suspicion of overtraining")
def start_trial(slug: str, json_data: schemas.TrialIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.ENTER_REPORTS)
    by, now, today = context.person().user_id, context.now(), context.today(squad)
    rest_trials.start(context.db(), squad, json_data.athlete_id, context.sane(json_data.from_day), json_data.days,
                      by=by, now=now, today=today)  # fmt: skip
    context.db().commit()
    return {"done": True}


@blueprint.post("/rest-trials/judge")
@blueprint.input(schemas.JudgeIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="judgeRestTrial", summary="Say whether someone is better after their rest trial")
def judge_trial(slug: str, json_data: schemas.JudgeIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.ENTER_REPORTS)
    by, now, today = context.person().user_id, context.now(), context.today(squad)
    rest_trials.judge(context.db(), squad, json_data.athlete_id, json_data.better, by=by, now=now, today=today)
    context.db().commit()
    return {"done": True}
