"""Limits in force, setting one, ending one."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.core.limits import CATALOGUE, make_rule
from uvren.core.limits.days import DaysInSeven
from uvren.core.limits.ratio import RatioCeiling, RatioFloor
from uvren.services.club import audit
from uvren.services.club.permissions import Action
from uvren.services.day.desk import name_of
from uvren.services.day.limits import in_force_on, scope_words
from uvren.services.squad import limits
from uvren.store import queries
from uvren.store.models import Channel, Limit, Squad
from uvren.web import context
from uvren.web.schemas import DayQuery, DoneOut
from uvren.web.squad import limits_schemas as schemas

blueprint = APIBlueprint("limits", __name__, url_prefix="/api/squads/<slug>/limits")

RULES = [
    {
        "code": rule.code,
        "title": rule.title,
        "unit": rule.unit,
        "lowest": rule.lowest,
        "highest": rule.highest,
        "source": rule.source,
        "floor": rule.floor,
        "has_school": issubclass(rule, RatioCeiling | RatioFloor),
        "has_over": issubclass(rule, DaysInSeven),
    }
    for rule in CATALOGUE.values()
    if not rule.of_plan
]


def limit_out(
    limit: Limit, set_by: str, names: dict[int, str], channels: dict[int, Channel], squad: Squad
) -> dict[str, Any]:
    rule = make_rule(limit.rule, limit.value, limit.settings)
    return {
        "id": limit.id,
        "channel": channels[limit.channel_id].code,
        "rule": limit.rule,
        "key": rule.key,
        "title": rule.title,
        "value": limit.value,
        "said": rule.said(limit.value),
        "school": limit.settings.get("school"),
        "over": limit.settings.get("over"),
        "hard": limit.hard,
        "scope": limit.scope,
        "position": limit.position,
        "athlete_id": limit.athlete_id,
        "whom": scope_words(limit, names),
        "from_day": limit.from_day,
        "to_day": limit.to_day,
        "source": limit.source,
        "reason": limit.reason if context.person().may(Action.READ_REASONS, squad.id) else "",
        "set_by": set_by,
        "set_at": limit.set_at,
    }


@blueprint.get("")
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.LimitsOut)
@blueprint.doc(operation_id="limits", summary="The limits in force on a day, and the rules there are")
def read(slug: str, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug)
    day = context.sane(query_data.day)
    db = context.db()
    names, channels = queries.club.athlete_names(db, squad.club_id), limits.channels_by_id(db, squad)
    standing = in_force_on(db, squad, day)
    own = {limit.athlete_id for limit, _ in standing if limit.athlete_id is not None}
    audit.saw(db, "limits_seen", own, stamp=context.stamp(), squad_id=squad.id)
    return {
        "day": day,
        "rules": RULES,
        "limits": [limit_out(limit, by, names, channels, squad) for limit, by in standing],
        "channels": [name_of(channel) for channel in channels.values()],
    }


@blueprint.post("")
@blueprint.input(schemas.LimitIn)
@blueprint.output(schemas.LimitOut)
@blueprint.doc(operation_id="setLimit", summary="Put a limit in force from a day")
def create(slug: str, json_data: schemas.LimitIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_LIMITS)
    db = context.db()
    wanted = limits.NewLimit(
        rule=json_data.rule,
        value=json_data.value,
        settings={key: value for key in ("school", "over") if (value := getattr(json_data, key)) is not None},
        hard=json_data.hard,
        scope=json_data.scope,
        position=json_data.position,
        athlete_id=json_data.athlete_id,
        from_day=context.sane(json_data.from_day),
        source=json_data.source,
        reason=json_data.reason,
        channel=json_data.channel,
        replaces=json_data.replaces,
    )
    person = context.person()
    limit = limits.set_limit(
        db,
        squad,
        wanted,
        limit_id=json_data.id,
        stamp=context.stamp(),
        today=context.today(squad),
    )
    return limit_out(
        limit, person.name, queries.club.athlete_names(db, squad.club_id), limits.channels_by_id(db, squad), squad
    )


@blueprint.delete("/<limit_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="endLimit", summary="Take a limit out of force from today")
def end(slug: str, limit_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_LIMITS)
    limits.end_limit(context.db(), squad, limit_id, stamp=context.stamp(), today=context.today(squad))
    return {"done": True}
