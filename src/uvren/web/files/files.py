"""Files: put down, looked at, fixed, brought in by the worker, taken back; and the mappings kept for them."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from flask import Response, current_app, request

from uvren.background import uploads_folder
from uvren.files.moments import Writing
from uvren.files.safety import MOST_BYTES
from uvren.services import files as imports
from uvren.services.club.permissions import Action
from uvren.services.day.people import remember
from uvren.services.errors import TooLarge
from uvren.services.files import mappings
from uvren.services.files.mappings import UNITS, FileKind, Spec
from uvren.store import queries
from uvren.store.models import FileImport, ImportState, Squad
from uvren.web import context
from uvren.web.files import schemas
from uvren.web.schemas import DoneOut

blueprint = APIBlueprint("files", __name__, url_prefix="/api/squads/<slug>/files")


def import_out(found: FileImport, names: dict[int, str]) -> dict[str, Any]:
    fields = ("id", "file_name", "size", "state", "step", "share", "report", "created_at", "finished_at", "undone_at")
    return {name: getattr(found, name) for name in fields} | {"created_by": names.get(found.created_by or 0, "")}


def _names(squad: Squad) -> dict[int, str]:
    return queries.club.user_names(context.db(), squad.club_id)


def preview_out(squad: Squad, found: FileImport, given: Spec | None) -> dict[str, Any]:
    today = context.today(squad)
    seen = imports.preview(context.db(), squad, uploads_folder() / found.id, found.file_name, given, today=today)
    spec = seen.spec.to_json()
    known = imports.about(context.db(), squad, today)
    zones = [f"zone:{n}" for n in range(1, 6)]
    channels, tests = ([f"{kind}:{code}" for code in dict.fromkeys(codes.values())]
                       for kind, codes in (("channel", known.channels), ("test", known.tests)))  # fmt: skip
    return {
        "id": found.id,
        "file_name": found.file_name,
        "size": found.size,
        "columns": seen.look.columns,
        "rows": seen.look.rows[:12],
        "sheets": seen.look.sheets,
        "hidden": seen.look.hidden,
        "spec": spec,
        "mapping": seen.mapping,
        "people": [{"said": said, "athlete_id": who, "known": known} for said, who, known in seen.people],
        "sessions": seen.sessions,
        "unplaced": seen.unplaced,
        "wrong": seen.wrong,
        "problems": seen.problems,
        "rows_read": seen.rows_read,
        "dropped": seen.dropped,
        "notes": seen.notes,
        "questions": seen.questions,
        "making": [{name: getattr(one, name) for name in schemas.MadeOut.model_fields} for one in seen.making],
        "found": seen.found,
        "roles": {kind: imports.roles_of(kind, channels, zones, tests) for kind in FileKind},
        "tests": {code: name for name, code in known.tests.items()},
        "units": {role.value: list(units) for role, units in UNITS.items()},
        "writings": list(Writing),
    }


def spec_of(given: schemas.SpecIn) -> Spec:
    return Spec.from_json(given.model_dump(mode="json"))


@blueprint.get("")
@blueprint.output(schemas.FilesOut)
@blueprint.doc(operation_id="files", summary="The latest files, what came of them, and the mappings that are kept")
def read(slug: str) -> dict[str, Any]:
    squad = context.squad(slug, Action.IMPORT, writes=False)
    names = _names(squad)
    return {
        "imports": [import_out(each, names) for each in imports.imports_of(context.db(), squad)],
        "mappings": [
            {"id": each.id, "name": each.name, "spec": each.spec, "set_at": each.set_at}
            | {"set_by": names.get(each.set_by or 0, "")}
            for each in queries.files.mappings(context.db(), squad.id)
        ],
    }


def make_way_for_files() -> None:
    """Let a file be larger than other bodies. Asked before the body is touched: what is too large is never read."""
    if request.endpoint == "files.put_down":
        if (request.content_length or 0) > MOST_BYTES:
            raise TooLarge("The file is too large: 400 MB is the most. Split it by session.", field="file")
        request.max_content_length = MOST_BYTES


@blueprint.post("")
@blueprint.input(schemas.FileQuery, location="query")
@blueprint.output(schemas.PutDownOut)
@blueprint.doc(operation_id="putDownFile", summary="Send a file as the body; content sent twice is recognised")
def put_down(slug: str, query_data: schemas.FileQuery) -> dict[str, Any]:
    squad = context.squad(slug, Action.IMPORT, writes=False)
    found = imports.put_down(
        context.db(),
        squad,
        uploads_folder(),
        query_data.name,
        request.stream,
        stamp=context.stamp(),
    )
    again = found.state is not ImportState.LOOKED_AT
    by_itself = imports.take_by_itself(context.db(), squad, found, uploads_folder(), today=context.today(squad))
    context.db().commit()
    if by_itself:
        current_app.extensions["uvren_background"].import_file(found.id)
    return {"file": import_out(found, _names(squad)), "again": again}


@blueprint.get("/squad.zip")
@blueprint.doc(operation_id="takeSquadOut", summary="Everything that is kept of the squad, as a data package in a ZIP")
def take_out(slug: str) -> Response:
    squad = context.squad(slug, Action.EXPORT)
    clinical = context.person().may(Action.READ_CLINICAL, squad.id)
    reader = imports.Reader(clinical, context.audiences(squad))
    today = context.today(squad)
    content = imports.take_out(context.db(), squad, reader, stamp=context.stamp(), today=today)
    response = Response(content, mimetype="application/zip")
    response.headers["Content-Disposition"] = f'attachment; filename="{squad.slug}-{today}.zip"'
    return response


@blueprint.get("/<import_id>")
@blueprint.output(schemas.ImportOut)
@blueprint.doc(operation_id="file", summary="Where one file stands, and its report")
def one(slug: str, import_id: str) -> dict[str, Any]:
    squad = context.squad(slug, Action.IMPORT, writes=False)
    return import_out(imports.find_import(context.db(), squad, import_id), _names(squad))


@blueprint.post("/<import_id>/preview")
@blueprint.input(schemas.PreviewFileIn)
@blueprint.output(schemas.FilePreviewOut)
@blueprint.doc(operation_id="previewFile", summary="How a file begins and how it would be read; nothing comes in")
def preview(slug: str, import_id: str, json_data: schemas.PreviewFileIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.IMPORT, writes=False)
    db = context.db()
    found = imports.find_import(db, squad, import_id)
    if json_data.people:
        remember(db, squad, {alias.said: alias.athlete_id for alias in json_data.people})
        db.commit()
    given = spec_of_unchecked(json_data.spec) if json_data.spec else None
    if given is None and found.spec:
        given = Spec.from_json(found.spec)
    return preview_out(squad, found, given)


def spec_of_unchecked(given: schemas.SpecIn) -> Spec:
    """A mapping as it is being put together: what it still lacks is said by the preview."""
    return Spec.from_json(given.model_dump(mode="json"), check=False)


@blueprint.post("/<import_id>/bring-in")
@blueprint.input(schemas.BringIn)
@blueprint.output(schemas.ImportOut)
@blueprint.doc(operation_id="bringFileIn", summary="Have a file brought in with a mapping, and keep the mapping")
def bring_in(slug: str, import_id: str, json_data: schemas.BringIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.IMPORT, writes=False)
    db = context.db()
    spec = spec_of(json_data.spec)
    found = imports.queue(db, squad, import_id, spec)
    if json_data.save_as.strip():
        names = [column.name for column in spec.columns]
        found.mapping_id = mappings.save_mapping(db, squad, json_data.save_as, names, spec, stamp=context.stamp()).id
    db.commit()
    current_app.extensions["uvren_background"].import_file(import_id)
    return import_out(found, _names(squad))


@blueprint.post("/<import_id>/undo")
@blueprint.output(schemas.ImportOut)
@blueprint.doc(operation_id="undoImport", summary="Take a whole file back")
def undo(slug: str, import_id: str) -> dict[str, Any]:
    squad = context.squad(slug, Action.IMPORT)
    found = imports.undo(context.db(), squad, import_id, stamp=context.stamp(), today=context.today(squad))
    return import_out(found, _names(squad))


@blueprint.delete("/<import_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="discardFile", summary="Put away a file that is not in")
def discard(slug: str, import_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.IMPORT, writes=False)
    imports.discard(context.db(), squad, import_id, uploads_folder())
    return {"done": True}


@blueprint.delete("/mappings/<int:mapping_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="removeMapping", summary="Forget a mapping; what came in by it stays")
def remove_mapping(slug: str, mapping_id: int) -> dict[str, bool]:
    squad = context.squad(slug, Action.IMPORT, writes=False)
    mappings.remove_mapping(context.db(), squad, mapping_id)
    return {"done": True}
