"""How notices are tuned, and the method behind them."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.core import method
from uvren.core.notices import KINDS, NoticeKind
from uvren.services.club.permissions import Action
from uvren.services.day.facts import DAILY
from uvren.services.day.limits import scope_words
from uvren.services.day.tuning import settings_on
from uvren.services.day.worn_basis import rates_on
from uvren.services.squad import notice_settings
from uvren.store import queries
from uvren.store.models import NoticeSetting
from uvren.web import context
from uvren.web.schemas import DayQuery, DoneOut
from uvren.web.squad import notices_schemas as schemas

blueprint = APIBlueprint("notices", __name__, url_prefix="/api/squads/<slug>")


@blueprint.get("/method")
@blueprint.output(schemas.MethodOut)
@blueprint.doc(operation_id="method", summary="How every figure, limit and notice is worked out, with its source")
def read_method(slug: str) -> dict[str, Any]:
    context.squad(slug)
    return {"sections": list(method.sections()), "notices": [kind_out(kind) for kind in KINDS.values()]}


def kind_out(kind: NoticeKind) -> dict[str, Any]:
    return {
        "code": kind.code,
        "name": kind.name,
        "rule": kind.said_rule(),
        "cleared": kind.cleared,
        "source": kind.source,
        "cause": kind.cause,
        "strand": kind.strand,
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
    athletes, users = queries.club.athlete_names(db, squad.club_id), queries.club.user_names(db, squad.club_id)
    return {
        "kinds": [kind_out(kind) for kind in KINDS.values()],
        "tuned": [_tuned(row, athletes, users) for row in settings_on(db, squad.id, day) if row.code in KINDS],
        "earlier": [
            _tuned(one.row, athletes, users) | {"until": one.until, "taken_back": one.taken_back}
            for one in notice_settings.earlier_settings(db, squad, day)
            if one.row.code in KINDS
        ],
    }


def _tuned(row: NoticeSetting, athletes: dict[int, str], users: dict[int, str]) -> dict[str, Any]:
    return {
        "id": row.id,
        "code": row.code,
        "scope": row.scope,
        "whom": scope_words(row, athletes),
        "off": row.off,
        "values": row.values,
        "said": notice_settings.said_of(row),
        "reason": row.reason,
        "from_day": row.from_day,
        "set_by": users.get(row.set_by or 0, ""),
    }


@blueprint.get("/notices/worn-rates")
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.WornRatesOut)
@blueprint.doc(operation_id="wornRates", summary="What each rate of the worn notice would have said last month")
def worn_rates(slug: str, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug, Action.READ_REPORTS)
    return {"rates": rates_on(context.db(), squad, context.sane(query_data.day), DAILY)}


@blueprint.post("/notices")
@blueprint.input(schemas.TuneIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="tuneNotice", summary="Tune a kind of notice from today on")
def tune(slug: str, json_data: schemas.TuneIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_LIMITS)
    new = notice_settings.NewSetting(**json_data.model_dump())
    today = context.today(squad)
    notice_settings.save_setting(context.db(), squad, new, stamp=context.stamp(), today=today)
    return {"done": True}


@blueprint.delete("/notices/<setting_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="takeBackNoticeSetting", summary="Take a setting of a notice back")
def take_back(slug: str, setting_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_LIMITS)
    notice_settings.take_back(context.db(), squad, setting_id, stamp=context.stamp())
    return {"done": True}
