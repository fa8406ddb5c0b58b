"""The coach’s sheet."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from flask import Response

from uvren.services.club.permissions import Action
from uvren.services.morning import sheet
from uvren.store.models import Squad
from uvren.web import context
from uvren.web.answers import until_changed
from uvren.web.morning import sheet_schemas as schemas
from uvren.web.papers import pdf
from uvren.web.schemas import DayQuery

blueprint = APIBlueprint("sheet", __name__, url_prefix="/api/squads/<slug>")


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
@until_changed()
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.SheetOut)
@blueprint.doc(operation_id="sheet", summary="The sheet for the coach as it stands, and what changed since the last")
def read_sheet(slug: str, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug)
    found = sheet.read_sheet(context.db(), squad, context.sane(query_data.day), context.today(squad))
    return sheet_out(found, squad)


@blueprint.get("/sheet.pdf")
@blueprint.input(DayQuery, location="query")
@blueprint.doc(operation_id="sheetAsPdf", summary="The sheet for the coach as PDF")
def print_sheet(slug: str, query_data: DayQuery) -> Response:
    squad = context.squad(slug)
    found = sheet.read_sheet(context.db(), squad, context.sane(query_data.day), context.today(squad))
    return pdf(sheet.as_paper(squad, found), f"{squad.slug}-sheet-{found.day}")


@blueprint.post("/sheet")
@blueprint.input(schemas.SheetIn)
@blueprint.output(schemas.SheetOut)
@blueprint.doc(operation_id="makeSheet", summary="Give the sheet out as a version of its own")
def make_sheet(slug: str, json_data: schemas.SheetIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.MAKE_CALLS)
    today = context.today(squad)
    found = sheet.make_sheet(context.db(), squad, context.sane(json_data.day), stamp=context.stamp(), today=today)
    return sheet_out(found, squad)
