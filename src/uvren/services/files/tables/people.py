"""People from a table, as a list of them is kept."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.files.days import Order, life, read_days
from uvren.files.errors import Problem
from uvren.files.roster import SIDES, year_of
from uvren.services.day.people import folded
from uvren.services.errors import Invalid
from uvren.services.files.asked import days_read
from uvren.services.files.mappings import Role, Spec
from uvren.services.files.matching import Matched
from uvren.services.files.read_samples import Told
from uvren.services.files.tables.table import Report, Table, Undo
from uvren.services.squad import roster
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Squad

# In squads that know no positions.
NO_POSITION = "Athlete"


def _from_days(told: Sequence[Told], spec: Spec, today: date, matched: Matched | None = None) -> list[date | None]:
    """From which day each is in the squad, None where it is not said or cannot be read; what is open is asked."""
    said = [one.words.get(Role.FROM_DAY, "").strip() for one in told]
    use = spec.of(Role.FROM_DAY)
    if use is None or not any(said):
        return [None] * len(told)
    order, year = spec.answer("order"), spec.answer("year")
    read = days_read(use.name, said, spec.writing, order, year, "", today, past=False)
    if matched is not None:
        matched.questions.extend(read.questions)
        matched.notes.extend(read.notes)
    if read.writing is None:
        return [None] * len(told)
    moments = read_days(said, Order(read.writing.value), read.year)
    return [None if at is None else at.date() for at in moments]


def _check(db: DbSession, squad: Squad, matched: Matched, spec: Spec, today: date) -> None:
    there = {folded(one.athlete.name) for one in queries.squad.memberships_of(db, squad.id, None)}
    seen: dict[str, int] = {}
    kept: list[tuple[Told, int | None]] = []
    days = _from_days([one for one, _ in matched.told], spec, today, matched)
    for (one, _), day in zip(matched.told, days, strict=True):
        name = folded(one.said)
        if not name:
            continue
        wrong = _wrong(one, day, spec, today)
        if name in there:
            wrong = "", "Somebody of this name is in the squad already."
        elif name in seen:
            wrong = "", f"Row {seen[name]} has the same name. Two people are told apart where a list is pasted."
        seen.setdefault(name, one.row)
        if wrong is not None:
            matched.problems.append(Problem(one.row, wrong[0], one.said, wrong[1]))
        else:
            kept.append((one, None))
    matched.told = kept


def _wrong(one: Told, day: date | None, spec: Spec, today: date) -> tuple[str, str] | None:
    """(column, why) of what keeps somebody out: nothing that a row says is left out without a word."""
    first, last = life(today)

    def column(role: Role) -> str:
        use = spec.of(role)
        return use.name if use else ""

    since, born = one.words.get(Role.FROM_DAY, ""), one.words.get(Role.BIRTH_YEAR, "")
    number, side = one.number.strip(), one.words.get(Role.SIDE, "")
    if since and day is None:
        return column(Role.FROM_DAY), f"{since} is not written as the other days are."
    if day is not None and not first <= day <= last:
        return column(Role.FROM_DAY), f"{day.day} {day:%B} {day.year} is too far off to be meant."
    if spec.of(Role.POSITION) is not None and not one.words.get(Role.POSITION, "").strip():
        return column(Role.POSITION), "It says no position; limits can hold for one."
    if born and year_of(born) is None:
        return column(Role.BIRTH_YEAR), f"{born} is no year of birth."
    if number and not re.fullmatch(r"#?\d{1,3}", number):
        return column(Role.NUMBER), f"{number} is no number of 0 to 999."
    if side and side.casefold() not in SIDES:
        return column(Role.SIDE), f"{side} is neither left nor right."
    return None


def comers(matched: Matched, spec: Spec, today: date) -> list[roster.Comer]:
    """Who would come in, as they would."""
    told = [one for one, _ in matched.told]
    out = []
    for one, day in zip(told, _from_days(told, spec, today), strict=True):
        number = one.number.strip().removeprefix("#")
        out.append(roster.Comer(
            _name(one.said), int(number) if number else None,
            one.words.get(Role.POSITION, "").strip()[:40] or NO_POSITION, day or today,
            SIDES.get(one.words.get(Role.SIDE, "").casefold()),
            birth_year=year_of(one.words.get(Role.BIRTH_YEAR, "")),
        ))  # fmt: skip
    return out


def _name(said: str) -> str:
    last, comma, first = said.partition(",")
    return " ".join((f"{first} {last}" if comma and first.strip() else said).split())


def _found(squad: Squad, matched: Matched, spec: Spec, today: date) -> list[str]:
    out = []
    for one in comers(matched, spec, today):
        number = "" if one.number is None else f", {one.number}"
        born = "" if one.birth_year is None else f", born {one.birth_year}"
        out.append(f"{one.name}{number}, {one.position}{born}, from {say.day(one.from_day)} {one.from_day.year}")
    return out


def _write(
    db: DbSession, squad: Squad, matched: Matched, spec: Spec, undo: Undo, *, stamp: Stamp, today: date
) -> Report:
    new = comers(matched, spec, today)
    if not new:
        raise Invalid("Nobody in this file is new in the squad.", field="file")
    made = roster.bring_in(db, squad, new, sides=False, stamp=stamp, today=today)
    undo["people"] = [one.id for one in made]
    return {"people": len(made), "kept_apart": []}


def _take_away(db: DbSession, squad: Squad, undo: Undo, kept: list[str], *, stamp: Stamp, today: date) -> None:
    for membership_id in undo.get("people", []):
        name = queries.squad.drop_unused_member(db, squad.id, membership_id)
        if name:
            kept.append(f"{name} has entries or reports by now and stays in the squad.")


PEOPLE = Table(_check, _found, _write, _take_away)
