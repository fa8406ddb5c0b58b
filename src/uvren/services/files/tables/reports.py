"""Morning reports from a table: answers on whatever scale, brought onto ours."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, date, datetime, time

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.errors import BadReport
from uvren.core.reports import ITEMS, Good, ReportKind
from uvren.files.errors import Problem
from uvren.services.files.asked import Choice, Question
from uvren.services.files.mappings import Role, Spec
from uvren.services.files.matching import Matched
from uvren.services.files.read_samples import Told
from uvren.services.files.tables.table import Report, Table, Undo, stood
from uvren.services.reports import giving
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Squad
from uvren.store.types import new_ulid

FROM_A_FILE = "from a file"
# Kept as they are given; the others are scales, which files have with other ends than ours.
_AS_GIVEN = frozenset(
    {"sleep_hours", "resting_heart_rate", *(code for code, item in ITEMS.items() if item.unit)}
)  # fmt: skip
_BAD_WHEN_HIGH = re.compile(r"fatigue|tired|sore|stress|doms|strain", re.IGNORECASE)
# A scale is that of nearly all its answers; what lies off it is a slip, told row by row.
_NEARLY_ALL = 0.9
_ENDS = ((1.0, 5.0), (1.0, 7.0), (1.0, 10.0), (0.0, 10.0), (0.0, 100.0))


def scale_of(values: Sequence[float]) -> tuple[float, float]:
    """The ends of the scale that answers seem to be on."""
    for least, most in _ENDS:
        if sum(least <= value <= most for value in values) >= _NEARLY_ALL * len(values):
            return least, most
    return _ENDS[-1]


def _scales(spec: Spec) -> list[tuple[str, str]]:
    """(role, name of its column) of the questions that are scales."""
    return [(use.role, use.name) for code, use in spec.others("question:") if code not in _AS_GIVEN]


def _check(db: DbSession, squad: Squad, matched: Matched, spec: Spec, today: date) -> None:
    scales = _scales(spec)
    values = [one.numbers[role] for one, _ in matched.told for role, _ in scales if role in one.numbers]
    ends = scale_of(values) if values else (0.0, 10.0)
    answer = spec.answer("scale")
    turned = any(_BAD_WHEN_HIGH.search(name) for _, name in scales)
    if values and not answer and (ends != (0.0, 10.0) or turned):
        matched.questions.append(_question(scales, *ends))
    seen: dict[tuple[int | None, date | None], int] = {}
    kept: list[tuple[Told, int | None]] = []
    for one, athlete in matched.told:
        if (athlete, one.day) in seen:
            why = f"Row {seen[athlete, one.day]} is a report of the same athlete and day."
            matched.problems.append(Problem(one.row, "", one.said, why))
            continue
        seen[athlete, one.day] = one.row
        try:
            read = replace(one, numbers=answers(one, spec, ends, answer))
            for code, value in read.numbers.items():
                ITEMS[code].check(value)
        except BadReport as error:
            matched.problems.append(Problem(one.row, "", one.said, str(error)))
            continue
        kept.append((read, athlete))
    matched.told = kept


def _question(scales: Sequence[tuple[str, str]], least: float, most: float) -> Question:
    ends = f"{least:g} to {most:g}"
    bad = [name for _, name in scales if _BAD_WHEN_HIGH.search(name)]
    choices = [Choice("high", f"{ends}, and {most:g} is good in every column")]
    if bad and len(bad) < len(scales):
        choices.append(Choice("mixed", f"{ends}; {most:g} is bad for {say.listed(bad)}, good for the others"))
    choices.append(Choice("low", f"{ends}, and {most:g} is bad in every column"))
    said = f"Answers in this file go from {ends}; ours from 0 to 10, with 10 as the good end. How are they meant?"
    return Question("scale", said, tuple(choices))


def answers(one: Told, spec: Spec, ends: tuple[float, float], answer: str) -> dict[str, float]:
    """A row's answers on our scales, by code. Raises BadReport for one off the scale of its file, or off any."""
    least, most = ends
    out: dict[str, float] = {}
    for code, use in spec.others("question:"):
        if use.role not in one.numbers:
            continue
        value = one.numbers[use.role]
        if code not in ITEMS:
            raise BadReport(f"There is no question {code!r}.")
        if code in _AS_GIVEN:
            step = ITEMS[code].step
            out[code] = round(value / step) * step
            continue
        if not least <= value <= most:
            raise BadReport(f"{use.name}: {value:g} is off the scale of this file, {least:g} to {most:g}.")
        share = (value - least) / (most - least)
        turned = answer == "low" or (answer == "mixed" and bool(_BAD_WHEN_HIGH.search(use.name)))
        good = 1 - share if turned else share
        good = good if ITEMS[code].good is not Good.LOW else 1 - good
        # Half a point is rounded up, as people do.
        out[code] = float(int(good * 10 + 0.5))
    return out


def _found(squad: Squad, matched: Matched, spec: Spec, today: date) -> list[str]:
    return counted("report", [one.day for one, _ in matched.told if one.day is not None])


def counted(noun: str, days: Sequence[date]) -> list[str]:
    """How many, and from when to when."""
    if not days:
        return []
    first, last = min(days), max(days)
    when = f"{say.day(first)} {first.year}"
    span = f"of {when}" if first == last else f"from {when} to {say.day(last)} {last.year}"
    return [f"{say.count(len(days), noun)} {span}"]


def _write(
    db: DbSession, squad: Squad, matched: Matched, spec: Spec, undo: Undo, *, stamp: Stamp, today: date
) -> Report:
    days = [one.day for one, _ in matched.told if one.day is not None]
    there = queries.reports.days_reported(db, squad.id, min(days), max(days)) if days else set()
    many: list[giving.Told] = []
    stands = 0
    for one, athlete in matched.told:
        if athlete is None or one.day is None or not (one.numbers or one.words.get(Role.WORDS)):
            continue
        if (athlete, one.day) in there:
            stands += 1
            continue
        at = datetime.combine(one.day, time(8), spec.tz).astimezone(UTC)
        many.append(giving.Told(
            new_ulid(), athlete, ReportKind.DAILY, one.day, one.numbers, min(at, stamp.now),
            words=one.words.get(Role.WORDS), told_by=FROM_A_FILE,
        ))  # fmt: skip
    giving.give_many(db, squad, many)
    undo["reports"] = [one.id for one in many]
    return {
        "reports": len(many),
        "kept_apart": stood(stands, "report"),
    }


def _take_away(db: DbSession, squad: Squad, undo: Undo, kept: list[str], *, stamp: Stamp, today: date) -> None:
    queries.reports.drop_reports(db, squad.id, undo.get("reports", []))


REPORTS = Table(_check, _found, _write, _take_away)
