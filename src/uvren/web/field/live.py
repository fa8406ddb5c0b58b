"""A session live: what hubs send, and what everybody sees of it."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from apiflask import APIBlueprint
from flask import Response, current_app, request
from pydantic import ValidationError

from uvren.core import words as say
from uvren.core.calendar import match_offset
from uvren.core.live import aim
from uvren.services.club.permissions import Action
from uvren.services.errors import Invalid, NotFound, TooMany
from uvren.services.field import hubs
from uvren.services.field.live import LiveLane, Person, Setting, Stream, lanes, setting
from uvren.services.field.noting import state_of
from uvren.services.morning import read_morning
from uvren.services.morning.sheet import read_sheet
from uvren.store import queries
from uvren.store.database import DbSession
from uvren.store.models import FieldEvent, FieldKind, RecordingKind, Session, SessionKind, Squad
from uvren.web import context
from uvren.web.field import live_schemas as schemas
from uvren.web.field.broadcast import Work
from uvren.web.schemas import DoneOut

blueprint = APIBlueprint("live", __name__, url_prefix="/api")
# The setting is read anew after so many seconds: room and calls may have changed.
SETTING_SECONDS = 30.0
NEAR, WORDS = timedelta(days=10), 6


@blueprint.get("/live/clock")
@blueprint.output(schemas.ClockOut)
@blueprint.doc(operation_id="liveClock", summary="What time it is here, for who sends samples")
def clock() -> dict[str, Any]:
    return {"now": context.now()}


@blueprint.post("/live/samples")
@blueprint.output(schemas.ReceivedOut)
@blueprint.doc(
    operation_id="sendSamples",
    summary="Samples of a squad's devices as JSON lines, each a PieceIn, with the hub's secret as a bearer token",
)
def samples() -> dict[str, Any]:
    token = request.headers.get("Authorization", "").removeprefix("Bearer ").strip()
    hub = hubs.hub_of(context.db(), token)
    lines = [(i, line) for i, line in enumerate(request.get_data().splitlines()) if line.strip()]
    if not lines:
        raise Invalid("There is no line in what was sent.")
    found = hubs.receive(context.db(), hub, [_piece(i, line) for i, line in lines], now=context.now())
    return {
        "session_id": found.session_id,
        "kept": [lines[at][0] for at in found.kept],
        "refused": [{"line": lines[at][0], "said": said} for at, said in found.refused],
    }


def _piece(i: int, line: bytes) -> hubs.Piece:
    try:
        one = schemas.PieceIn.model_validate_json(line)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"]) or "the line"
        raise Invalid(f"Line {i + 1} cannot be read: {place}: {first['msg']}.", field=f"lines.{i}") from error
    if one.at.tzinfo is None:
        raise Invalid(f"Line {i + 1} cannot be read: the moment has no time zone.", field=f"lines.{i}.at")
    return hubs.Piece(one.device, RecordingKind(one.kind), one.number, one.at, one.t, one.value)


@blueprint.get("/squads/<slug>/hubs")
@blueprint.output(schemas.HubsOut)
@blueprint.doc(operation_id="hubs", summary="What may send samples for a squad")
def read_hubs(slug: str) -> dict[str, Any]:
    squad = context.squad(slug, Action.IMPORT)
    return {"hubs": queries.field.hubs(context.db(), squad.id)}


@blueprint.post("/squads/<slug>/hubs")
@blueprint.input(schemas.HubIn)
@blueprint.output(schemas.NewHubOut)
@blueprint.doc(operation_id="makeHub", summary="Let a bridge to devices send samples; its secret is told only now")
def make_hub(slug: str, json_data: schemas.HubIn) -> dict[str, str]:
    squad = context.squad(slug, Action.IMPORT)
    hub, token = hubs.make_hub(context.db(), squad, json_data.name, stamp=context.stamp())
    return {"id": hub.id, "token": token}


@blueprint.delete("/squads/<slug>/hubs/<hub_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="withdrawHub", summary="Let a hub send nothing more")
def withdraw_hub(slug: str, hub_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.IMPORT)
    hubs.withdraw_hub(context.db(), squad, hub_id, stamp=context.stamp())
    return {"done": True}


@blueprint.get("/squads/<slug>/sessions/<session_id>/live")
@blueprint.output(schemas.LiveOut)
@blueprint.doc(operation_id="live", summary="Everybody's lane in a session as it is now")
def read(slug: str, session_id: str) -> dict[str, Any]:
    squad = context.squad(slug, Action.RUN_SESSIONS)
    session = _session(context.db(), squad, session_id)
    stream = Stream(session)
    stream.advance(context.db())
    return _live(context.db(), squad, _setting(context.db(), squad, session), stream)


@blueprint.post("/squads/<slug>/sessions/<session_id>/live/strap")
@blueprint.input(schemas.StrapIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="sendStrap", summary="Samples of a strap that a browser reads; twice sent is once kept")
def strap(slug: str, session_id: str, json_data: schemas.StrapIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.RUN_SESSIONS)
    session = _session(context.db(), squad, session_id)
    one = json_data
    piece = hubs.Piece(one.device, RecordingKind.HEART_RATE, one.number, one.at, one.t, one.value)
    hubs.receive_here(context.db(), squad, session, one.athlete_id, [piece], now=context.now())
    return {"done": True}


@blueprint.get("/squads/<slug>/sessions/<session_id>/live/stream")
@blueprint.doc(operation_id="liveStream", summary="The same as server-sent events, each a LiveOut", hide=True)
def stream(slug: str, session_id: str) -> Response:
    squad = context.squad(slug, Action.RUN_SESSIONS)
    session = _session(context.db(), squad, session_id)
    key = (squad.id, session.id)
    application = current_app._get_current_object()  # type: ignore[attr-defined]
    seat = application.extensions["uvren_live"].join(session_id, lambda: _work(application, *key))
    if seat is None:
        raise TooMany("Too many people watch sessions live just now. Close another one, or try again in a while.")
    answer = Response(seat.events, mimetype="text/event-stream")
    # A connection that is cut before the first event never asks for one: the seat is given back all the same.
    answer.call_on_close(seat.leave)
    answer.headers["X-Accel-Buffering"] = "no"
    return answer


def _work(application: Any, squad_id: int, session_id: str) -> Work:
    """Works a session out in a thread of its own, with a database session of its own each time."""
    kept: dict[str, Any] = {}

    def go(due: bool) -> str | None:
        db = application.extensions["uvren_sessions"]()
        try:
            if (days := application.extensions["uvren_days"]) is not None:
                days.lend(db)
            squad, session = db.get_one(Squad, squad_id), db.get_one(Session, session_id)
            running = kept.setdefault("stream", Stream(session))
            noted = queries.field.last_noted(db, [session_id])
            came = running.advance(db) or noted != kept.get("noted")
            kept["noted"] = noted
            if not came and not due:
                return None
            with application.app_context():
                now = context.now().timestamp()
                if now - kept.get("setting_at", 0.0) > SETTING_SECONDS:
                    kept["setting"], kept["setting_at"] = _setting(db, squad, session), now
                found = schemas.LiveOut.model_validate(_live(db, squad, kept["setting"], running))
            return found.model_dump_json()
        finally:
            db.close()

    return go


def _session(db: DbSession, squad: Squad, session_id: str) -> Session:
    session = queries.session.any_session(db, session_id)
    if session is None or session.squad_id != squad.id or session.called_off is not None:
        raise NotFound("There is no such session in this squad.")
    return session


def _setting(db: DbSession, squad: Squad, session: Session) -> Setting:
    """Who is in it, as this morning left them: the same room and the same groups as on every other look."""
    today = context.today(squad)
    sheet = {line.athlete_id: line for line in read_sheet(db, squad, session.day, today).lines}
    morning = read_morning(db, squad, session.day, today)[0]
    planned = {one.athlete_id: one.planned_minutes for one in queries.session.entries_of(db, [session.id])}
    people = []
    for lane in morning.lanes:
        mine = planned.get(lane.athlete_id)
        whole = session.planned_minutes if mine is None else mine
        people.append(
            Person(
                lane.athlete_id, lane.name, lane.number, lane.position, sheet[lane.athlete_id].group,
                lane.standing.cap, lane.room.load, lane.standing.share(lane.minutes) * whole,
            )
        )  # fmt: skip
    return setting(db, squad, session, people, _offset(db, squad, session) == -1)


def _offset(db: DbSession, squad: Squad, session: Session) -> int | None:
    near = queries.session.sessions_between(db, squad.id, session.day - NEAR, session.day + NEAR)
    return match_offset(session.day, {one.day for one in near if one.kind is SessionKind.MATCH})


def _live(db: DbSession, squad: Squad, found: Setting, stream: Stream) -> dict[str, Any]:
    session = _session(db, squad, found.session.id)
    events = queries.field.field_events(db, session.id)
    state = state_of(events)
    now = context.now().timestamp()
    shown = lanes(found, stream, state, now)
    targets = {place: aim(effort, before_match=found.before_match) for place, effort in found.efforts.items()}
    return {
        "now": now,
        "session": session,
        "offset": _offset(db, squad, session),
        "parts": [
            {name: getattr(one, name) for name in ("place", "name", "minutes", "weight")}
            | {"low": targets[one.place].low, "high": targets[one.place].high}
            for one in session.segments
        ],
        "runs": state.runs,
        "lanes": shown,
        "words": [_word(one) for one in reversed(events) if one.kind is FieldKind.NOTE][:WORDS],
        "said": _said(shown),
    }


def _word(one: FieldEvent) -> dict[str, Any]:
    names = ("id", "kind", "at", "athlete_id", "part", "amount", "what", "words")
    return {name: getattr(one, name) for name in names} | {"by": one.maker.name if one.maker else ""}


def _said(shown: list[LiveLane]) -> str:
    """``2 need you now. 3 to look at, 17 as they should be.``"""
    act, look = (sum(one.height == height for one in shown) for height in (2, 1))
    worn = sum(1 for one in shown if one.devices)
    rest = worn - act - look
    if not worn:
        return "No device has sent anything yet."
    first = f"{say.count(act, 'needs', 'need')} you now." if act else "Nobody needs you now."
    return f"{first} {look} to look at, {rest} as they should be."
