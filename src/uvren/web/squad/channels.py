"""A squad's units of work: what there is, a change with its preview, and places."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.core.units import FORMS, Region, make_form
from uvren.services.club.permissions import Action
from uvren.services.session.sessions import find_session
from uvren.services.squad import channels, places, unit_preview
from uvren.services.squad.channels import Draft
from uvren.store import queries
from uvren.store.models import Channel, ChannelDefinition, SessionKind, Squad
from uvren.web import context
from uvren.web.schemas import DayQuery, DoneOut
from uvren.web.squad import channels_schemas as schemas

blueprint = APIBlueprint("channels", __name__, url_prefix="/api/squads/<slug>")


def definition_out(row: ChannelDefinition, names: dict[int, str], reasons: bool) -> dict[str, Any]:
    return {
        "id": row.id,
        "form": row.form,
        "settings": row.settings,
        "kinds": row.kinds,
        "from_day": row.from_day,
        "reason": row.reason if reasons else "",
        "set_by": names.get(row.set_by or 0, ""),
        "set_at": row.set_at,
        "sentence": make_form(row.form, row.settings).sentence(),
    }


def channel_out(channel: Channel, day: Any, names: dict[int, str], reasons: bool) -> dict[str, Any]:
    standing = channels.standing(channel, day)
    assert standing is not None
    form = FORMS[standing.form]
    return {
        "code": channel.code,
        "name": channel.name,
        "mark": channel.mark,
        "unit": channel.unit,
        "is_main": channel.is_main,
        "level": form.level,
        "regions": channel.regions,
        "version": channel.version,
        "published": form.published,
        "definition": definition_out(standing, names, reasons),
        "history": [definition_out(row, names, reasons) for row in channel.definitions if row.withdrawn_at is None],
    }


def _names(squad: Squad) -> dict[int, str]:
    return queries.club.user_names(context.db(), squad.club_id)


def _draft(given: schemas.DraftIn) -> Draft:
    return Draft(
        name=given.name,
        unit=given.unit,
        form=given.form,
        settings=given.settings,
        kinds=given.kinds,
        regions=given.regions,
        mark=given.mark,
        from_day=context.sane(given.from_day),
        reason=given.reason,
    )


@blueprint.get("/channels")
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.ChannelsOut)
@blueprint.doc(operation_id="channels", summary="The squad's units of work on a day, and the forms there are")
def read(slug: str, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug)
    db, day = context.db(), context.sane(query_data.day)
    names, reasons = _names(squad), context.person().may(Action.READ_REASONS, squad.id)
    return {
        "day": day,
        "channels": [channel_out(each, day, names, reasons) for each in queries.squad.channels(db, squad.id)],
        "forms": list(FORMS.values()),
        "marks": channels.MARKS,
        "regions": list(Region),
        "kinds": list(SessionKind),
        "places": queries.squad.places(db, squad.id),
    }


def _save(slug: str, code: str | None, given: schemas.ChannelIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_UNITS)
    today = context.today(squad)
    channel = channels.save_channel(
        context.db(),
        squad,
        _draft(given),
        code=code,
        recompute=given.recompute,
        version=given.version,
        stamp=context.stamp(),
        today=today,
    )
    return channel_out(channel, max(today, given.from_day), _names(squad), reasons=True)


@blueprint.post("/channels")
@blueprint.input(schemas.ChannelIn)
@blueprint.output(schemas.ChannelOut)
@blueprint.doc(operation_id="newChannel", summary="Make a channel")
def create(slug: str, json_data: schemas.ChannelIn) -> dict[str, Any]:
    return _save(slug, None, json_data)


@blueprint.put("/channels/<code>")
@blueprint.input(schemas.ChannelIn)
@blueprint.output(schemas.ChannelOut)
@blueprint.doc(operation_id="changeChannel", summary="Give a channel another definition from a day on")
def change(slug: str, code: str, json_data: schemas.ChannelIn) -> dict[str, Any]:
    return _save(slug, code, json_data)


@blueprint.delete("/channels/<code>/definitions/<definition_id>")
@blueprint.output(schemas.ChannelOut)
@blueprint.doc(operation_id="takeBackDefinition", summary="Take back the definition that was set last")
def take_back(slug: str, code: str, definition_id: str) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_UNITS)
    db, today = context.db(), context.today(squad)
    channel = channels.take_back_definition(db, squad, code, definition_id, stamp=context.stamp(), today=today)
    return channel_out(channel, today, _names(squad), reasons=True)


@blueprint.post("/channels/preview")
@blueprint.input(schemas.PreviewIn)
@blueprint.output(schemas.PreviewOut)
@blueprint.doc(operation_id="previewChannel", summary="What a definition would make of a session and of eight weeks")
def preview(slug: str, json_data: schemas.PreviewIn) -> unit_preview.Preview:
    squad = context.squad(slug, Action.EDIT_UNITS, writes=False)
    return unit_preview.preview(
        context.db(),
        squad,
        _draft(json_data.draft),
        code=json_data.channel,
        session_id=json_data.session_id,
        today=context.today(squad),
    )


@blueprint.post("/places")
@blueprint.input(schemas.PlaceIn)
@blueprint.output(schemas.PlaceOut)
@blueprint.doc(operation_id="addPlace", summary="Add a place or condition")
def add_place(slug: str, json_data: schemas.PlaceIn) -> Any:
    squad = context.squad(slug, Action.EDIT_UNITS)
    return places.add_place(context.db(), squad, json_data.name)


@blueprint.delete("/places/<int:place_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="removePlace", summary="Take a place off the list")
def remove_place(slug: str, place_id: int) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_UNITS)
    places.remove_place(context.db(), squad, place_id)
    return {"done": True}


@blueprint.put("/sessions/<session_id>/place")
@blueprint.input(schemas.SessionPlaceIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="setSessionPlace", summary="Say where, or in what conditions, a session was")
def set_session_place(slug: str, session_id: str, json_data: schemas.SessionPlaceIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_ENTRIES)
    db = context.db()
    places.set_place(db, squad, find_session(db, squad, session_id), json_data.place)
    return {"done": True}
