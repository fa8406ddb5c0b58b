"""Results of fitness tests from a table."""

from __future__ import annotations

from collections import defaultdict
from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.files.errors import Problem
from uvren.services.day.fitness import SIDES
from uvren.services.files.asked import Choice, Question
from uvren.services.files.mappings import ColumnUse, Role, Spec
from uvren.services.files.matching import Matched
from uvren.services.files.read_samples import Told
from uvren.services.files.tables.reports import counted
from uvren.services.files.tables.table import Report, Table, Undo, stood
from uvren.services.squad import fitness_results
from uvren.services.squad.fitness_results import NewResult
from uvren.services.squad.fitness_tests import find_test
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Source, Squad

_UNLIKELY = Choice("keep", "they are right"), Choice("leave", "leave them out")


def _test_of(role: str) -> tuple[str, str]:
    """(code, side) of a column of results."""
    _, code, *side = role.split(":")
    return code, side[0] if side else ""


def _uses(spec: Spec) -> list[ColumnUse]:
    return [use for _, use in spec.others("test:")]


def _side_of(one: Told, side: str) -> str:
    """The side of a value: that of its column, else what its row says."""
    said = one.words.get(Role.SIDE, "").casefold().strip()
    return side or next((each for each in SIDES if said and each.startswith(said[0])), "")


def _check(db: DbSession, squad: Squad, matched: Matched, spec: Spec, today: date) -> None:
    tests = {code: find_test(db, squad, code) for code in {_test_of(use.role)[0] for use in _uses(spec)}}
    seen: dict[tuple[int | None, date | None, str, str], int] = {}
    for one, athlete in matched.told:
        for role in list(one.numbers):
            code, side = _test_of(role)
            side = _side_of(one, side)
            key = (athlete, one.day, code, side)
            why = ""
            if tests[code].sides and not side:
                # Without a side there is no telling which leg it was.
                why = f"{tests[code].name} is measured on each side, and no column says which it was."
            elif key in seen:
                why = f"Row {seen[key]} has a result of the same test, day and athlete."
            if why:
                matched.problems.append(Problem(one.row, "", one.said, why))
                del one.numbers[role]
                continue
            seen[key] = one.row
    _ask_about_unlikely(db, squad, matched, spec)


def _ask_about_unlikely(db: DbSession, squad: Squad, matched: Matched, spec: Spec) -> None:
    """Values far from an athlete's own are asked about, as they are where somebody types them."""
    answer = spec.answer("unlikely")
    if answer == "keep":
        return
    doubtful = []
    for (code, day), results in _groups(matched).items():
        test = find_test(db, squad, code)
        values = [(one.athlete_id, one.side, one.trials[0]) for _, _, one in results]
        far = fitness_results.unlikely(db, test, day, values)
        for (told, role, _), said in zip(results, far, strict=True):
            if said:
                doubtful.append(f"{told.said}: {said}")
                if answer == "leave":
                    del told.numbers[role]
    if doubtful and not answer:
        more = f", and {len(doubtful) - 1} more" if len(doubtful) > 1 else ""
        matched.questions.append(Question("unlikely", f"{doubtful[0]}{more}", _UNLIKELY))


def _groups(matched: Matched) -> dict[tuple[str, date], list[tuple[Told, str, NewResult]]]:
    """Results by test and day, each with the row and the column that it comes from."""
    groups: dict[tuple[str, date], list[tuple[Told, str, NewResult]]] = defaultdict(list)
    for one, athlete in matched.told:
        if athlete is None or one.day is None:
            continue
        for role, value in one.numbers.items():
            code, side = _test_of(role)
            # Whoever looked at the file has answered whether what is unlikely is right.
            result = NewResult(athlete, [value], _side_of(one, side), sure=True)
            groups[code, one.day].append((one, role, result))
    return groups


def _found(squad: Squad, matched: Matched, spec: Spec, today: date) -> list[str]:
    return counted("result", [day for (_, day), results in _groups(matched).items() for _ in results])


def _write(
    db: DbSession, squad: Squad, matched: Matched, spec: Spec, undo: Undo, *, stamp: Stamp, today: date
) -> Report:
    undo["results"], count, stands = [], 0, 0
    for (code, day), results in _groups(matched).items():
        test = find_test(db, squad, code)
        there = {(row.athlete_id, row.side) for row in queries.squad.results_for_update(db, test.id, day)}
        fresh = [one for _, _, one in results if (one.athlete_id, one.side) not in there]
        stands += len(results) - len(fresh)
        fitness_results.record(db, squad, test, day, fresh, stamp=stamp, today=today, source=Source.IMPORT)
        undo["results"] += [[code, day.isoformat(), one.athlete_id, one.side] for one in fresh]
        count += len(fresh)
    return {
        "results": count,
        "kept_apart": stood(stands, "result"),
    }


def _take_away(db: DbSession, squad: Squad, undo: Undo, kept: list[str], *, stamp: Stamp, today: date) -> None:
    for code, day, athlete, side in undo.get("results", []):
        test, on = find_test(db, squad, code), date.fromisoformat(day)
        there = next((row for row in queries.squad.results_for_update(db, test.id, on)
                      if (row.athlete_id, row.side) == (athlete, side)), None)  # fmt: skip
        if there is None:
            continue
        if there.source is not Source.IMPORT:
            kept.append(f"{test.name} on {say.day(on)} {on.year} was changed since and stays.")
            continue
        gone = NewResult(athlete, [], side, there.version, sure=True)
        fitness_results.record(db, squad, test, on, [gone], stamp=stamp, today=today)


RESULTS = Table(_check, _found, _write, _take_away)
