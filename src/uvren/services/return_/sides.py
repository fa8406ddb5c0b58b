"""Sides that differ, looked into step by step: who, what was measured, where it comes from, and when it is over."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import date
from typing import Any

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.errors import CoreError
from uvren.core.returns.sides import MOST_PAIRS, SUITS, Comes, How, Pair, Walk, even_again, walk
from uvren.services.club import audit
from uvren.services.day.fitness import Sides, sides_of
from uvren.services.errors import Invalid, NotFound
from uvren.services.stamp import Stamp
from uvren.services.versions import Whatever, check_seen
from uvren.store import queries
from uvren.store.models import SideCheck, Squad
from uvren.store.types import new_ulid

LONGEST = 400


@dataclass(frozen=True)
class SideRow:
    """An athlete whose sides differ in a test, or in whose case it is looked into: ``check`` is None before that.

    ``percent`` is the last difference and ``stronger`` the stronger side. ``asks`` is what is measured next, ``comes``
    where it comes from once that is known, ``suits`` what then suits it. ``over`` says that the rule ends it.
    """

    check: str | None
    version: int
    athlete_id: int
    name: str
    test: str
    test_name: str
    percent: float | None
    stronger: str
    tested: date | None
    from_day: date | None
    ranges: list[Pair]
    strengths: list[Pair]
    asks: Comes | None
    comes: Comes | None
    suits: How | None
    how: How | None
    sets: int | None
    retest_on: date | None
    words: str
    said: str
    over: bool


@dataclass(frozen=True)
class Looked:
    """What is known of a check as it is to stand."""

    ranges: Sequence[Mapping[str, Any]]
    strengths: Sequence[Mapping[str, Any]]
    how: How | None = None
    sets: int | None = None
    retest_on: date | None = None
    words: str = ""


def read_sides(db: DbSession, squad: Squad, as_of: date) -> list[SideRow]:
    """Who has sides that differ, or a check that is not over; what is due first."""
    names = {one.athlete_id: one.name for one in queries.squad.members(db, squad.id, as_of)}
    found = sides_of(db, squad, names, as_of)
    checks = {(one.athlete_id, one.test): one for one in queries.return_.side_checks(db, squad.id, as_of)}
    keys = {key for key, one in found.items() if one.matters} | checks.keys()
    rows = [_row(checks.get(key), found.get(key), key, names) for key in keys if key[0] in names]
    return sorted(rows, key=lambda one: (one.check is not None, one.retest_on or date.max, one.name))


def _row(check: SideCheck | None, found: Sides | None, key: tuple[int, str], names: Mapping[int, str]) -> SideRow:
    ranges, strengths = ([], []) if check is None else (_pairs(check.ranges), _pairs(check.strengths))
    at = walk(ranges, strengths)
    last = float(found.percents[-1]) if found is not None and found.percents.size else None
    over = bool(check is not None and found is not None and even_again(found.percents, found.until(check.from_day)))
    return SideRow(
        check=None if check is None else check.id,
        version=0 if check is None else check.version,
        athlete_id=key[0],
        name=names[key[0]],
        test=key[1],
        test_name=key[1] if found is None else found.name,
        percent=None if last is None else abs(last),
        stronger="" if last is None else "left" if last > 0 else "right",
        tested=found.days[-1] if found is not None and found.days else None,
        from_day=None if check is None else check.from_day,
        ranges=ranges,
        strengths=strengths,
        asks=at.asks,
        comes=at.comes,
        suits=None if at.comes is None else SUITS[at.comes],
        how=None if check is None or check.how is None else How(check.how),
        sets=None if check is None else check.sets,
        retest_on=None if check is None else check.retest_on,
        words="" if check is None else check.words,
        said=_said(at, check is not None),
        over=over,
    )


def _said(at: Walk, begun: bool) -> str:
    if not begun:
        return "Look in this order: range of motion by joint, strength by joint, then use."
    if at.asks is not None:
        return f"Next: {'range of motion' if at.asks is Comes.RANGE else 'strength'} of each joint, both sides."
    if at.comes is Comes.USE or at.pair is None:
        return "Range and strength are even: the strength is there and is not used."
    what = "range" if at.comes is Comes.RANGE else "strength"
    found = at.pair.found
    return f"{at.pair.name}: {what} {say.percent(found.percent / 100)} more on the {found.stronger}."


def begin(db: DbSession, squad: Squad, athlete_id: int, test: str, *, stamp: Stamp, today: date) -> SideCheck:
    """Begin to look into it; begun twice it is one. Does not commit. Raises NotFound."""
    queries.squad.hold(db, squad.id)
    if athlete_id not in {one.athlete_id for one in queries.squad.members(db, squad.id, today)}:
        raise NotFound("This athlete is not in the squad.", field="athlete_id")
    if test not in {one.code for one in queries.squad.tests_of(db, squad.id) if one.sides}:
        raise NotFound("There is no such test of both sides.", field="test")
    standing = [one for one in queries.return_.side_checks(db, squad.id, today)
                if (one.athlete_id, one.test) == (athlete_id, test)]  # fmt: skip
    if standing:
        return standing[0]
    made = SideCheck(id=new_ulid(), squad_id=squad.id, athlete_id=athlete_id, test=test, from_day=today, ranges=[],
                     strengths=[], words="", version=1, set_by=stamp.by, set_at=stamp.now)  # fmt: skip
    db.add(made)
    audit.note(db, "side_check_begun", f"side_check:{made.id}", stamp=stamp, squad_id=squad.id, athlete_id=athlete_id)
    db.flush()
    return made


def save(
    db: DbSession, squad: Squad, name: str, looked: Looked, *, version: int | Whatever | None, stamp: Stamp, today: date
) -> SideCheck:
    """Keep what was measured and what is done about it. Does not commit. Raises Invalid, NotFound or Stale."""
    check = _find(db, squad, name)
    check_seen(
        version, check.version, "Somebody has gone on with it meanwhile.", yours={}, theirs={"words": check.words}
    )
    ranges, strengths = _checked(looked.ranges, "ranges"), _checked(looked.strengths, "strengths")
    if looked.how is not None and walk(ranges, strengths).comes is None:
        raise Invalid("First range, then strength: what suits depends on where it comes from.", field="how")
    if looked.sets is not None and not (looked.how is How.SETS and 1 <= looked.sets <= 20):
        raise Invalid("Added sets are 1 to 20, where sets are added.", field="sets")
    if looked.retest_on is not None and looked.retest_on <= today:
        raise Invalid("It is tested again on a day after today.", field="retest_on")
    if len(looked.words) > LONGEST:
        raise Invalid(f"Words are up to {LONGEST} letters.", field="words")
    check.ranges, check.strengths = [asdict(one) for one in ranges], [asdict(one) for one in strengths]
    check.how = None if looked.how is None else looked.how.value
    check.sets, check.retest_on, check.words = looked.sets, looked.retest_on, looked.words.strip()
    check.version += 1
    audit.note(db, "side_check_changed", f"side_check:{check.id}", stamp=stamp, squad_id=squad.id,
               athlete_id=check.athlete_id)  # fmt: skip
    db.flush()
    return check


def end(db: DbSession, squad: Squad, name: str, ended: bool, *, stamp: Stamp, today: date) -> SideCheck:
    """Let a check be over from today, or take that back. Does not commit. Raises NotFound."""
    check = _find(db, squad, name)
    check.ended_on = today if ended else None
    check.version += 1
    audit.note(db, "side_check_ended", f"side_check:{check.id}", stamp=stamp, squad_id=squad.id,
               athlete_id=check.athlete_id, ended=ended)  # fmt: skip
    db.flush()
    return check


def _find(db: DbSession, squad: Squad, name: str) -> SideCheck:
    found = db.get(SideCheck, name, with_for_update=True)
    if found is None or found.squad_id != squad.id:
        raise NotFound("There is no such check of sides.")
    return found


def _pairs(data: Sequence[Mapping[str, Any]]) -> list[Pair]:
    return [Pair(str(one["name"]), float(one["left"]), float(one["right"])) for one in data]


def _checked(data: Sequence[Mapping[str, Any]], field: str) -> list[Pair]:
    if len(data) > MOST_PAIRS:
        raise Invalid(f"Up to {MOST_PAIRS} joints.", field=field)
    out = []
    for i, one in enumerate(data):
        try:
            out.append(Pair(str(one["name"]).strip(), float(one["left"]), float(one["right"])))
        except CoreError as error:
            said = str(error)
            raise Invalid(f"{said[0].upper()}{said[1:]}.", field=f"{field}.{i}.{error.field}") from error
    return out
