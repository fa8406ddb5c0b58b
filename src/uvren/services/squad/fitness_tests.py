"""Tests of a squad: definitions, a testing day, what changed, and sides."""

from __future__ import annotations

import re
from dataclasses import dataclass

from sqlalchemy.orm import Session as DbSession

from uvren.core.trials import Better, Combine
from uvren.services.club import audit
from uvren.services.day.fitness import definitions
from uvren.services.day.people import folded
from uvren.services.errors import Invalid, NotFound
from uvren.services.squad.anchors import MEANINGS
from uvren.services.stamp import Stamp
from uvren.services.versions import WHATEVER, Whatever, check_seen, keep_earlier
from uvren.store import queries
from uvren.store.models import AnchorKind, FitnessTest, Squad

MOST_VALUE = 100_000.0


@dataclass(frozen=True)
class Draft:
    """A test as someone wants it. Bars that are None are worked out from what was measured."""

    name: str
    unit: str
    better: Better = Better.HIGHER
    trials: int = 3
    sides: bool = False
    combine: Combine = Combine.BEST
    typical_error: float | None = None
    worthwhile: float | None = None
    protocol: str | None = None
    anchor: AnchorKind | None = None
    jump: bool = False


_STEPS = "Steps of 4 min or a ramp; the result is the athlete's anchor from that day on."

# What a squad begins with; it changes, adds and leaves out as it likes.
SHIPPED: tuple[Draft, ...] = (
    Draft(
        "Countermovement jump, height",
        "cm",
        protocol="Hands on the hips, stand still, dip and jump. Plate or mat.",
        jump=True,
    ),
    Draft("Countermovement jump, reactive index", "m/s", protocol="Height by impulse / time to take-off.", jump=True),
    Draft("Drop jump, reactive index", "m/s", protocol="From 30 cm, as short a contact as possible.", jump=True),
    Draft("Isometric squat", "N", sides=True, combine=Combine.MEAN, protocol="Five seconds against the bar, each leg."),
    Draft("Isometric shoulder rotation out", "N", sides=True, protocol="Lying, elbow at 90°."),
    Draft("Shoulder rotation in, range", "°", trials=2, sides=True, combine=Combine.MEAN),
    Draft("Ankle to the wall", "cm", trials=2, sides=True, combine=Combine.MEAN, protocol="Knee to it, heel down."),
    Draft("Sprint 5 m", "s", Better.LOWER, 2),
    Draft("Sprint 30 m", "s", Better.LOWER, 2),
    Draft("Throw speed", "km/h"),
    Draft("Back squat, repetition maximum", "kg", trials=1),
    Draft("Bench press, repetition maximum", "kg", trials=1),
    Draft("Running test, second threshold", "km/h", trials=1, protocol="Steps of 4 min or a ramp."),
    Draft("Step test, first threshold", "/min", trials=1, protocol=_STEPS, anchor=AnchorKind.THRESHOLD_1),
    Draft("Step test, second threshold", "/min", trials=1, protocol=_STEPS, anchor=AnchorKind.THRESHOLD_2),
    Draft("Step test, highest heart rate", "/min", trials=1, protocol=_STEPS, anchor=AnchorKind.HR_MAX),
    Draft("Questionnaire on the knee", "points", trials=1, combine=Combine.MEAN),
)


def _check(draft: Draft) -> None:
    if not draft.name.strip():
        raise Invalid("A test has a name.", field="name")
    if not draft.unit.strip():
        raise Invalid("A test has a unit.", field="unit")
    if not 1 <= draft.trials <= 10:
        raise Invalid("A test has 1 to 10 trials.", field="trials")
    for name in ("typical_error", "worthwhile"):
        value = getattr(draft, name)
        if value is not None and not 0 <= value <= MOST_VALUE:
            raise Invalid("This is a number above 0, in the unit of the test.", field=name)
    if draft.anchor is not None:
        meaning = MEANINGS[draft.anchor]
        if meaning.words or draft.unit.strip() != meaning.unit:
            raise Invalid(f"{meaning.name} is given in {meaning.unit or 'words'}, this test in {draft.unit}.",
                          field="anchor")  # fmt: skip
        if draft.sides:
            raise Invalid("A test of two sides gives two values; an anchor is one.", field="anchor")


def find_test(db: DbSession, squad: Squad, code: str) -> FitnessTest:
    """Raises NotFound."""
    found = next((one for one in definitions(db, squad) if one.code == code), None)
    if found is None:
        raise NotFound("There is no such test in this squad.")
    return found


def _ever(db: DbSession, squad: Squad, code: str) -> FitnessTest:
    """A test, on the list or left out. Raises NotFound."""
    found = queries.squad.test_ever(db, squad.id, code)
    if found is None:
        raise NotFound("There is no such test in this squad.")
    db.refresh(found)
    return found


def save_test(
    db: DbSession,
    squad: Squad,
    draft: Draft,
    *,
    code: str | None,
    version: int | Whatever | None = WHATEVER,
    stamp: Stamp,
) -> FitnessTest:
    """Make a test or change one; one that was left out is on the list again. Does not commit.

    Unit, sides and which way is better of a test that has results stay: a different test is a new one. Raises Invalid
    with the field at fault, NotFound; Stale, with both, where somebody has changed it since ``version``.
    """
    _check(draft)
    queries.squad.hold(db, squad.id)
    there = definitions(db, squad)
    if any(folded(one.name) == folded(draft.name) and one.code != code for one in there):
        raise Invalid("There is a test of this name already.", field="name")
    if code is None:
        found = FitnessTest(squad_id=squad.id, code=_new_code(db, squad, draft.name), rank=len(there))
        db.add(found)
    else:
        found = _ever(db, squad, code)
        theirs = {name: getattr(found, name) for name in vars(draft)}
        check_seen(version, found.version, f"{found.name} was changed meanwhile.", yours=vars(draft), theirs=theirs)
        keep_earlier(db, squad.id, "test", found.code, found.version, theirs, stamp=stamp)
        found.version += 1
        found.withdrawn_at = None
        kept = queries.squad.has_results(db, found.id)
        for name in ("unit", "sides", "better"):
            if kept and getattr(found, name) != getattr(draft, name):
                raise Invalid("There are results in this already; make another test instead.", field=name)
    for name, value in vars(draft).items():
        setattr(found, name, value.strip() if name in ("name", "unit") else value)
    found.set_by, found.set_at = stamp.by, stamp.now
    audit.note(db, "test_set", f"test:{found.code}", stamp=stamp, squad_id=squad.id, name=draft.name)
    db.flush()
    return found


def _new_code(db: DbSession, squad: Squad, name: str) -> str:
    codes = queries.squad.test_codes(db, squad.id)
    stem = re.sub(r"[^a-z0-9]+", "_", name.strip().lower()).strip("_")[:36] or "test"
    return next(code for n in range(1, 1000) if (code := stem if n == 1 else f"{stem}_{n}") not in codes)


def leave_out(db: DbSession, squad: Squad, code: str, *, stamp: Stamp) -> None:
    """Take a test off the list; its results are kept. Does not commit."""
    found = find_test(db, squad, code)
    found.withdrawn_at = stamp.now
    audit.note(db, "test_left_out", f"test:{code}", stamp=stamp, squad_id=squad.id)


def set_up(db: DbSession, squad: Squad, *, stamp: Stamp) -> list[FitnessTest]:
    """Begin with the tests that are shipped; those of a name that is there already are left alone. Does not commit."""
    there = {folded(one.name) for one in definitions(db, squad)}
    return [save_test(db, squad, draft, code=None, stamp=stamp) for draft in SHIPPED if folded(draft.name) not in there]
