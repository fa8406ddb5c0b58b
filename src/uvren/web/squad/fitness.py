"""Tests: what is tested and how, testing days, an athlete's series, and jumps from a plate."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Any

from apiflask import APIBlueprint

from uvren.core.jumps import CountermovementJump, DropJump, countermovement_jump, drop_jump
from uvren.files.apart import LOOK_SECONDS, apart
from uvren.files.errors import BadFile
from uvren.files.force import read_force
from uvren.services.club.permissions import Action
from uvren.services.day import fitness
from uvren.services.errors import Invalid
from uvren.services.squad import fitness_day, fitness_results, fitness_tests, members
from uvren.web import context
from uvren.web.schemas import DayQuery, DoneOut
from uvren.web.squad import fitness_schemas as schemas

blueprint = APIBlueprint("tests", __name__, url_prefix="/api/squads/<slug>/tests")


@blueprint.get("")
@blueprint.output(schemas.TestsOut)
@blueprint.doc(operation_id="tests", summary="The squad's tests")
def read(slug: str) -> dict[str, Any]:
    return {"tests": fitness.definitions(context.db(), context.squad(slug, Action.READ_REPORTS))}


@blueprint.post("/shipped")
@blueprint.output(schemas.TestsOut)
@blueprint.doc(operation_id="shippedTests", summary="Begin with the tests that come with the program")
def shipped(slug: str) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_FORMS)
    db = context.db()
    fitness_tests.set_up(db, squad, stamp=context.stamp())
    return {"tests": fitness.definitions(db, squad)}


def _save(slug: str, code: str | None, given: schemas.TestIn) -> Any:
    squad = context.squad(slug, Action.EDIT_FORMS)
    draft = fitness_tests.Draft(**given.model_dump(exclude={"version"}))
    return fitness_tests.save_test(context.db(), squad, draft, code=code, version=given.version, stamp=context.stamp())


@blueprint.post("")
@blueprint.input(schemas.TestIn)
@blueprint.output(schemas.TestOut)
@blueprint.doc(operation_id="newTest", summary="Make a test")
def create(slug: str, json_data: schemas.TestIn) -> Any:
    return _save(slug, None, json_data)


@blueprint.put("/<code>")
@blueprint.input(schemas.TestIn)
@blueprint.output(schemas.TestOut)
@blueprint.doc(operation_id="changeTest", summary="Change a test")
def change(slug: str, code: str, json_data: schemas.TestIn) -> Any:
    return _save(slug, code, json_data)


@blueprint.delete("/<code>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="leaveOutTest", summary="Take a test off the list; its results are kept")
def leave_out(slug: str, code: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_FORMS)
    fitness_tests.leave_out(context.db(), squad, code, stamp=context.stamp())
    return {"done": True}


def day_out(found: fitness_day.TestingDay) -> dict[str, Any]:
    return {
        "test": found.test,
        "day": found.day,
        "typical_error": found.typical_error,
        "error_basis": found.error_basis,
        "worthwhile": found.worthwhile,
        "days": list(found.days),
        "rows": [
            {
                "athlete_id": row.member.athlete_id,
                "name": row.member.name,
                "position": row.member.position,
                "sides": [
                    {
                        "side": side.side,
                        "trials": side.result.trials if side.result else [],
                        "value": side.result.value if side.result else None,
                        "version": side.result.version if side.result else None,
                        "last": side.last,
                        "last_day": side.last_day,
                        "change": side.change,
                    }
                    for side in row.sides
                ],
                "rank": row.rank,
                "asymmetry": row.asymmetry,
                "matters": row.matters,
            }
            for row in found.rows
        ],
    }


@blueprint.get("/<code>/day")
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.TestingDayOut)
@blueprint.doc(operation_id="testingDay", summary="Everyone's trials of a test on a day")
def day(slug: str, code: str, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug, Action.READ_REPORTS)
    db = context.db()
    return day_out(
        fitness_day.testing_day(db, squad, fitness_tests.find_test(db, squad, code), context.sane(query_data.day))
    )


@blueprint.put("/<code>/results")
@blueprint.input(schemas.ResultsIn)
@blueprint.output(schemas.TestingDayOut)
@blueprint.doc(operation_id="recordResults", summary="Write trials of a day, all or nothing")
def record(slug: str, code: str, json_data: schemas.ResultsIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_ENTRIES)
    db = context.db()
    test, when = fitness_tests.find_test(db, squad, code), context.sane(json_data.day)
    results = [fitness_results.NewResult(**one.model_dump()) for one in json_data.results]
    if test.anchor is not None:
        for one in results:
            members.must_everywhere(db, squad, one.athlete_id, context.person(), Action.EDIT_ANCHORS, when)
    fitness_results.record(db, squad, test, when, results, stamp=context.stamp(), today=context.today(squad))
    return day_out(fitness_day.testing_day(db, squad, test, when))


@blueprint.get("/<code>/athletes/<int:athlete_id>")
@blueprint.output(schemas.SeriesOut)
@blueprint.doc(operation_id="testSeries", summary="All results of an athlete in a test")
def series(slug: str, code: str, athlete_id: int) -> dict[str, Any]:
    squad = context.squad(slug, Action.READ_REPORTS)
    db = context.db()
    test = fitness_tests.find_test(db, squad, code)
    points = fitness_results.series(db, squad, test, athlete_id)
    return {"typical_error": fitness_results.bars_on(db, test, context.today(squad))[0], "points": points}


_METRICS = {
    CountermovementJump: (
        ("Height by impulse", "height_impulse", "cm", 100), ("Height by flight time", "height_flight", "cm", 100),
        ("Reactive index", "reactive_index", "m/s", 1), ("Peak power", "peak_power", "W", 1),
        ("Time to take-off", "take_off_seconds", "s", 1), ("Left share", "left_share", "%", 100),
        ("Body mass", "mass", "kg", 1),
    ),
    DropJump: (
        ("Height by flight time", "height_flight", "cm", 100), ("Contact time", "contact_seconds", "s", 1),
        ("Reactive index", "reactive_index", "m/s", 1), ("Left share", "left_share", "%", 100),
    ),
}  # fmt: skip


@blueprint.post("/trace")
@blueprint.input(schemas.TraceIn)
@blueprint.output(schemas.JumpOut)
@blueprint.doc(operation_id="readJump", summary="What a jump plate's file comes to; nothing is kept")
def trace(slug: str, json_data: schemas.TraceIn) -> dict[str, Any]:
    context.squad(slug, Action.EDIT_ENTRIES, writes=False)
    with tempfile.TemporaryDirectory(prefix="uvren-") as folder:
        path = Path(folder) / "plate.csv"
        path.write_text(json_data.content, encoding="utf-8")
        try:
            force = apart(LOOK_SECONDS, read_force, path)
        except BadFile as error:
            raise Invalid(str(error), field="content") from error
    jump = (drop_jump if json_data.drop else countermovement_jump)(force.left, force.right, force.rate)
    return {
        "metrics": [
            {"name": name, "value": getattr(jump, field) * scale, "unit": unit}
            for name, field, unit, scale in _METRICS[type(jump)]
        ]
    }
