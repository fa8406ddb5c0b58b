"""Returns with a tissue that is known: what a break costs muscle and tendon, and which way back asks too much of them.

A simulation: that tissue comes up to what is asked of it, muscle within weeks and tendon within months, and that slow
work trains a tendon for quick work, is assumed here and shown nowhere.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from uvren.core.returns import Climb, ClimbWeek, Part, School, Terms, climb, held_for, shares_after
from uvren.core.windows import Floats, rolling_sum

WEEK = 7
# What tissue bears beyond what it is used to, and what daily life alone asks of it, in usual training.
MARGIN, LIVING = 1.5, 0.25
# Days in which muscle and tendon come up to what is asked of them; each person's are drawn around these. Both lose it
# more slowly than they gain it.
MUSCLE, TENDON, LOSES = 14.0, 45.0, 2.5
FIRST = date(2026, 3, 2)
# Days of the usual training before the break, and days after it that are looked at.
BEFORE, AFTER = 140, 140
SCHOOLS = (School.FASTER, School.STANDARD, School.SLOWER)
WORKDAYS = (0, 1, 2, 4, 5)


@dataclass(frozen=True)
class Person:
    """A simulated return: days off, how quickly muscle and tendon change (days), and how the weeks are carried out.

    ``kept`` is what is done of each week as a part of what was planned, from the first week back on.
    """

    days_off: int
    muscle: float
    tendon: float
    kept: Floats


@dataclass(frozen=True)
class Outcome:
    """What became of a return: the most that muscle and tendon were asked for, as a part of what they bore then.

    ``days_to_full`` are those to the first week of 95 % of the usual one.
    """

    muscle: float
    tendon: float
    days_to_full: int


def people(n: int, random: np.random.Generator) -> list[Person]:
    """Breaks of 1 to 18 weeks; weeks are done within a sixth of the plan, but one of ten is half missed."""
    out = []
    for _ in range(n):
        kept = np.clip(random.normal(1.0, 0.07, AFTER // WEEK), 0.85, 1.15)
        kept[random.random(kept.size) < 0.1] = 0.5
        muscle, tendon = (float(mean * random.lognormal(0, 0.2)) for mean in (MUSCLE, TENDON))
        out.append(Person(int(random.integers(7, 127)), muscle, tendon, kept))
    return out


def capacity(load: Floats, days: float) -> Floats:
    """What a tissue bears on each morning, in usual weeks, when it comes up to what is asked of it within ``days``.

    ``load`` is each day's, in usual days; the first ones are those it begins used to.
    """
    bears = np.empty(load.size)
    used = 1.0
    for i, one in enumerate(np.maximum(_smooth(load), LIVING)):
        bears[i] = used * MARGIN
        used += (one - used) / (days if one > used else days * LOSES)
    return bears


def _smooth(load: Floats) -> Floats:
    """Mean of seven days, the first ones as usual: a day of rest undoes nothing."""
    before = np.concatenate([np.ones(WEEK - 1), load])
    return rolling_sum(before[None, :], WEEK)[0, WEEK - 1 :] / WEEK


def most_asked(load: Floats, trained_by: Floats, days: float, first: int) -> float:
    """The most that seven days from a day on were, as a part of what a tissue bore on the morning of the last of them.

    It is trained by all the work there is, ``trained_by``; ``load`` is the work that it has to bear.
    """
    return float((_smooth(load) / capacity(trained_by, days))[first:].max())


def no_ramp(person: Person) -> Outcome:
    """Everything at once, from the first day."""
    return _outcome(person, np.ones(AFTER // WEEK), np.ones(AFTER // WEEK), person.kept)


def by_paper(person: Person, school: School) -> Outcome:
    """The shares of a school week by week, whatever was done in the one before, and nothing held behind."""
    shares = np.ones(AFTER // WEEK)
    steps = shares_after(person.days_off, school)
    shares[: len(steps)] = np.array(steps) / 100
    return _outcome(person, shares, shares, person.kept)


def by_plan(person: Person) -> Outcome:
    """As a plan keeps it: no week above its step, one that was missed held, quick work held behind the rest."""
    shares, quick, done = (np.ones(AFTER // WEEK) for _ in range(3))
    steps = tuple(float(one) for one in shares_after(person.days_off))
    held = held_for(person.days_off, quick=True, region=False)
    terms = Terms(FIRST, person.days_off, steps, {"main": Part(1.0), "quick": Part(1.0, held)}, "main")
    done = np.minimum(person.kept, 1.0)
    for week in range(shares.size):
        at = _week_of(terms, shares, done, week)
        if at is not None:
            found, here = at
            shares[week], quick[week] = here.share / 100, found.share_in(here, "quick") / 100
    return _outcome(person, shares, quick, done)


def _week_of(terms: Terms, shares: Floats, done: Floats, week: int) -> tuple[Climb, ClimbWeek] | None:
    """The week of a plan after the weeks before it were carried out so; None once it is over."""
    loads = np.repeat(shares[:week] * done[:week] / WEEK, WEEK)
    found = climb(terms, loads, FIRST + timedelta(days=WEEK * week))
    here = found.on(FIRST + timedelta(days=WEEK * week))
    return None if here is None else (found, here)


def _outcome(person: Person, shares: Floats, quick: Floats, kept: Floats) -> Outcome:
    before = np.ones(BEFORE)
    off = np.zeros(person.days_off)
    first = BEFORE + person.days_off
    work, springs = (np.concatenate([before, off, _days(each * kept)]) for each in (shares, quick))
    full = next((i for i, one in enumerate(shares * kept) if one >= 0.95), shares.size)
    return Outcome(
        most_asked(work, work, person.muscle, first),
        most_asked(springs, work, person.tendon, first),
        WEEK * full,
    )


def _days(weeks: Floats) -> Floats:
    """Weeks as days, in usual days: all of it on five of seven."""
    week = np.zeros(WEEK)
    week[list(WORKDAYS)] = WEEK / len(WORKDAYS)
    return np.concatenate([each * week for each in weeks])


@dataclass(frozen=True)
class Row:
    """A way back over many returns: the share in whom muscle, tendon, either was asked for more than it bore.

    ``most`` is the mean of the most that either was asked for, as a part of what it bore; ``days_to_full`` the median.
    """

    name: str
    muscle: float
    tendon: float
    either: float
    most: float
    days_to_full: float


def table(found: Sequence[Person], margin: float = MARGIN) -> list[Row]:
    """Every way back over the same people, who bear ``margin`` times what they are used to."""
    ways: dict[str, Callable[[Person], Outcome]] = {
        "no ramp": no_ramp,
        **{f"{school} steps, by paper": _paper(school) for school in SCHOOLS},
        "standard steps, kept by a plan": by_plan,
    }
    return [_row(name, [way(person) for person in found], margin) for name, way in ways.items()]


def _row(name: str, outcomes: Sequence[Outcome], margin: float) -> Row:
    each = np.array([(one.muscle, one.tendon, one.days_to_full) for one in outcomes])
    each[:, :2] *= MARGIN / margin
    worst = each[:, :2].max(axis=1)
    over = np.column_stack([each[:, :2], worst]) > 1
    muscle, tendon, either = map(float, over.mean(axis=0))
    return Row(name, muscle, tendon, either, float(worst.mean()), float(np.median(each[:, 2])))


def _paper(school: School) -> Callable[[Person], Outcome]:
    return lambda person: by_paper(person, school)
