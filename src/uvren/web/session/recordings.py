"""A session's recordings: their figures, their traces, the clock times of segments, and which of two counts."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.services.club.permissions import Action
from uvren.services.session import traces
from uvren.services.session.recordings import choose_recording
from uvren.store.models import Squad
from uvren.web import context
from uvren.web.schemas import DoneOut
from uvren.web.session import recordings_schemas as schemas

blueprint = APIBlueprint("recordings", __name__, url_prefix="/api/squads/<slug>")


def recordings_out(squad: Squad, session_id: str) -> dict[str, Any]:
    session, found = traces.read_recordings(context.db(), squad, session_id)
    fields = ("id", "athlete_id", "kind", "device", "starts_at", "seconds", "offset_seconds", "samples", "dropped")
    return {
        "session_id": session.id,
        "starts_at": session.starts_at,
        "segments": session.segments,
        "version": session.version,
        "recordings": [
            {name: getattr(recording, name) for name in (*fields, "coverage", "counts")} | {"metrics": metrics}
            for recording, metrics in found
        ],
    }


@blueprint.get("/sessions/<session_id>/recordings")
@blueprint.output(schemas.RecordingsOut)
@blueprint.doc(operation_id="recordings", summary="What was recorded in a session, and what it comes to")
def read(slug: str, session_id: str) -> dict[str, Any]:
    return recordings_out(context.squad(slug, Action.READ_ANCHORS), session_id)


@blueprint.get("/sessions/<session_id>/traces/<int:athlete_id>")
@blueprint.output(schemas.TracesOut)
@blueprint.doc(operation_id="traces", summary="One athlete's heart rate, speed and impacts over the session")
def read_traces(slug: str, session_id: str, athlete_id: int) -> dict[str, Any]:
    squad = context.squad(slug, Action.READ_ANCHORS)
    return traces.read_traces(context.db(), squad, session_id, athlete_id)


@blueprint.put("/sessions/<session_id>/segments")
@blueprint.input(schemas.SegmentsIn)
@blueprint.output(schemas.RecordingsOut)
@blueprint.doc(operation_id="setSegments", summary="Set when each part of a session began and how long it was")
def set_segments(slug: str, session_id: str, json_data: schemas.SegmentsIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_ENTRIES)
    spans = [traces.Span(each.name, each.begins, each.minutes, each.weight, each.grade) for each in json_data.segments]
    traces.set_segments(context.db(), squad, session_id, spans, version=json_data.version, stamp=context.stamp())
    return recordings_out(squad, session_id)


@blueprint.post("/recordings/<recording_id>/count")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="countRecording", summary="Let this recording count instead of another at the same time")
def count(slug: str, recording_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.IMPORT)
    choose_recording(context.db(), squad, recording_id)
    return {"done": True}
