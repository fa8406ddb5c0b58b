"""Solves a plan: the nearest to the coach's with every limit held, or with the fewest that give way."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field, replace
from datetime import date, datetime

import numpy as np

from uvren.core.plan.course import JUDGED, Course, set_out
from uvren.core.plan.judge import ON, Given, Standing, binding, broken, coaches, looked_at, value_of
from uvren.core.plan.milp import NoneHolds, OutOfTime, Solved, Terms
from uvren.core.plan.model import Model
from uvren.core.plan.problem import Level, PlanAthlete, PlanSession, Problem
from uvren.core.plan.rows import Row, rows_of
from uvren.core.plan.spread import improve
from uvren.core.series import LoadRow
from uvren.core.windows import Floats
from uvren.core.workload import Settings

# How far a later level may leave the best of an earlier one.
KEPT = 1e-6
# Minutes this close to a planned or whole figure are that figure.
SAME = 1e-5
# People who are apart are solved so many at once.
AT_ONCE = 2


Left = Callable[[], float]


def endless() -> float:
    return np.inf


@dataclass(frozen=True)
class LevelFound:
    """A level's value in the plan that was found, and the bound that is proven for it."""

    level: Level
    value: float
    bound: float

    @property
    def gap(self) -> float:
        """How far the value may be from the best, as a share of it."""
        return max(0.0, self.value - self.bound) / max(1.0, abs(self.value))


@dataclass(frozen=True)
class Binding:
    """Limits on load that an athlete stands at on a day."""

    athlete: str
    day: date
    limits: tuple[str, ...]


@dataclass(frozen=True)
class Plan:
    """The answer: where sessions stand, everybody's minutes, and what it rests on.

    ``start`` has the sessions that stand, ``minutes`` theirs, ``own`` each athlete's by athlete and session.
    ``give_way`` is by how much, in shares of the scale, limits are broken that cannot hold.
    """

    holds: bool
    optimal: bool
    levels: tuple[LevelFound, ...]
    start: Mapping[str, datetime]
    minutes: Mapping[str, float]
    own: Mapping[tuple[str, str], float]
    give_way: Mapping[tuple[str, str], float]
    binding: tuple[Binding, ...]
    after: tuple[Given, ...]


def solve(
    problem: Problem, history: Iterable[LoadRow] = (), *, left: Left = endless, settings: Settings = JUDGED
) -> Plan:
    """The plan nearest to the coach's; the same whatever the order of athletes, sessions and limits.

    Parameters
    ----------
    problem : Problem
    history : lines of work, as :func:`uvren.core.series.tabulate` takes them
    left : callable
        How many seconds are left; once there are none the best that was found is given, with its bound.
    settings : Settings
        When figures are withheld.

    Raises
    ------
    BadPlan, UnknownRule, BadLimit
    """
    return solve_course(set_out(problem, history, settings), left=left)


def solve_course(course: Course, *, left: Left = endless) -> Plan:
    """:func:`solve` for a problem whose history is laid out already. Raises BadPlan, UnknownRule, BadLimit."""
    rows = rows_of(course)
    found = _solved(course, rows, left)
    standing = improve(course, rows, found.standing, lambda more: _solved(course, rows, left, more).standing)
    return _told(course, rows, found, standing)


@dataclass(frozen=True)
class _Found:
    standing: Standing
    holds: bool
    optimal: bool
    levels: tuple[tuple[Level, float | None], ...]


def _solved(course: Course, rows: Sequence[Row], left: Left, more: Sequence[Row] = ()) -> _Found:
    """The plan with every limit held, or else with the fewest that give way, through all levels."""
    if not more and (found := _held(course, rows, left)) is not None:
        return found
    kept = course.problem.levels
    model = Model(course, [*rows, *more])
    try:
        return _through(model, [model.objective(level) for level in kept], left, holds=True)
    except NoneHolds:
        if more:
            raise
    model = Model(course, rows, elastic=True)
    return _through(model, [*_giving(model), *map(model.objective, kept)], left, holds=False)


def _giving(model: Model) -> list[Terms]:
    """What comes first where not everything can hold: firm limits that give way, all that do, and by how much."""
    firm = {limit.id for limit in model.course.problem.limits if limit.firm}
    return [
        {gives: 1.0 for (limit, _), (gives, _) in model.gives.items() if limit in firm},
        {gives: 1.0 for gives, _ in model.gives.values()},
        {amount: 1.0 for _, amount in model.gives.values()},
    ]


def _held(course: Course, rows: Sequence[Row], left: Left) -> _Found | None:
    """The plan with the squad's sessions as they are; None where that is not proven to be the best.

    Where the first level weighs the squad alone its best is then 0, and people are apart: each one's best is the best
    of all. Only those whose plan breaks something, or who have a target, are solved at all.
    """
    problem = course.problem
    first, *others = problem.levels
    if set(first) != {"squad"} or not all(map(_dear, course.sessions)):
        return None
    planned = coaches(course)
    over_any = broken(course, rows, planned)
    busy = {athlete for (_, athlete), amount in over_any.items() if amount > ON}
    if any(level.get("target") for level in others):
        busy |= {one.id for one in course.athletes}
    # Who is planned for less than they can take part in cannot stay as planned.
    busy |= {
        athlete.id
        for athlete in course.athletes
        for one in course.sessions
        if one.split and one.splits_for(athlete) and 0 < planned.own.get((athlete.id, one.id), 0.0) < one.split.least
    }
    # The solver lets others work while it works; the answer is the same in whatever order they come.
    with ThreadPoolExecutor(AT_ONCE) as pool:
        try:
            asked = [(i, one) for i, one in enumerate(course.athletes) if one.id in busy]
            mine = {i: [row for row in rows if row.athlete == i] for i, _ in asked}
            each = list(pool.map(lambda one: _Alone.of(course, mine[one[0]], one[1]), asked))
            # A level for everybody before the next: what weighs most is proven first where time is short.
            for _ in problem.levels:
                list(pool.map(lambda one: one.climb(left), each))
            found = list(pool.map(lambda one: one.found(), each))
        except NoneHolds:
            pool.shutdown(cancel_futures=True)
            return None
    own = {pair: minutes for pair, minutes in planned.own.items() if pair[0] not in busy}
    for one in found:
        own |= one.standing.own
    bounds = [sum(one.levels[i][1] or 0.0 for one in found) for i in range(len(problem.levels))]
    optimal, holds = all(one.optimal for one in found), all(one.holds for one in found)
    return _Found(replace(planned, own=own), holds, optimal, tuple(zip(problem.levels, bounds, strict=True)))


@dataclass
class _Alone:
    """One athlete's plan beside the squad's sessions as they are; where that cannot hold, with the least giving way."""

    course: Course
    rows: Sequence[Row]
    athlete: PlanAthlete
    ladder: _Ladder
    holds: bool = True

    @classmethod
    def of(cls, course: Course, rows: Sequence[Row], athlete: PlanAthlete) -> _Alone:
        model = Model(course, rows, held=True, people=[athlete])
        return cls(course, rows, athlete, _Ladder(model, [{}, *map(model.objective, course.problem.levels[1:])]))

    def climb(self, left: Left) -> None:
        """Solve the next level. Raises NoneHolds where other sessions of the squad's might let less give way."""
        try:
            self.ladder.climb(left)
        except NoneHolds:
            if not self.holds:
                raise
            self.holds = False
            self._give_way(left)
            self.ladder.climb(left)

    def found(self) -> _Found:
        return self.ladder.found(holds=self.holds)

    def _give_way(self, left: Left) -> None:
        """What gives way with the sessions as they are is the least if it is with any sessions at all."""
        given = []
        for held in (False, True):
            model = Model(self.course, self.rows, elastic=True, held=held, people=[self.athlete])
            giving = _giving(model)
            kept = [{}, *map(model.objective, self.course.problem.levels[1:])] if held else []
            self.ladder = _Ladder(model, [*giving, *kept])
            values = []
            for terms in giving:
                self.ladder.climb(left)
                values.append(self.ladder.value if terms else 0.0)
            given.append(values)
        least, here = given
        if not np.allclose(least, here, rtol=KEPT, atol=KEPT):
            raise NoneHolds
        self.ladder.climb(left)


def _dear(session: PlanSession) -> bool:
    """Whether any change of a session costs something, and it can stand as planned."""
    planned = session.minutes
    stands = planned == 0 or session.shortest <= planned <= session.longest
    steps = session.step is None or abs(planned / session.step - round(planned / session.step)) < 1e-9
    return stands and steps and session.weight > 0 and (not session.moves or session.move_minutes > 0)


@dataclass
class _Ladder:
    """A program solved level by level, each kept at its best for the next; an empty level asks nothing."""

    model: Model
    objectives: Sequence[Terms]
    bounds: list[float | None] = field(default_factory=list)
    last: Solved | None = None
    stopped: bool = False

    def climb(self, left: Left) -> None:
        """Solve the next level, if time is left. Raises NoneHolds where no plan holds."""
        if self.stopped or len(self.bounds) == len(self.objectives):
            return
        terms = self.objectives[len(self.bounds)]
        if not terms:
            self.bounds.append(0.0)
            return
        try:
            found = self.model.milp.solve(terms, left())
        except (OutOfTime, NoneHolds) as why:
            if self.last is None and isinstance(why, NoneHolds):
                raise
            self.stopped = True
            return
        self.last, self.stopped = found, not found.optimal
        self.bounds.append(found.bound)
        self.model.milp.at_most(terms, found.value + KEPT * max(1.0, abs(found.value)))

    @property
    def value(self) -> float:
        """Of the level that was solved last."""
        return np.nan if self.last is None else self.last.value

    def found(self, *, holds: bool) -> _Found:
        """Where it stands; without any level solved, some plan that holds. Raises NoneHolds where there is none."""
        kept = self.model.course.problem.levels
        done = not self.stopped and len(self.bounds) == len(self.objectives)
        last = self.last or self.model.milp.solve({})
        own = [*self.bounds, *[None] * (len(self.objectives) - len(self.bounds))][-len(kept) :]
        return _Found(_standing(self.model, last.values), holds, done, tuple(zip(kept, own, strict=True)))


def _through(model: Model, objectives: Sequence[Terms], left: Left, *, holds: bool) -> _Found:
    """All levels, one after the other. Raises NoneHolds."""
    ladder = _Ladder(model, objectives)
    for _ in objectives:
        ladder.climb(left)
    return ladder.found(holds=holds)


def _standing(model: Model, values: Floats) -> Standing:
    """The minutes of a solution, cleared of the solver's tolerance."""
    start: dict[str, datetime] = {}
    minutes: dict[str, float] = {}
    for name, stands in model.stands.items():
        for stand in stands:
            if values[stand.here] > 0.5 and (values[stand.minutes] > SAME or stand.session.shortest > 0):
                session = stand.session
                marks = [session.minutes, session.shortest, session.longest]
                start[name] = stand.start
                minutes[name] = _cleared(float(values[stand.minutes]), marks, session.step)
    own: dict[tuple[str, str], float] = {}
    for (athlete, name), parts in model.parts.items():
        for part in parts:
            session = part.stand.session
            if start.get(name) != part.stand.start:
                continue
            full = session.share_of(athlete) * minutes[name]
            if not part.own:
                own[athlete, name] = full
            elif values[part.taking] > 0.5:
                assert session.split is not None
                found = sum(share * float(values[column]) for column, share in part.minutes.items())
                own[athlete, name] = min(full, _cleared(found, [full, session.split.least], session.split.step))
    return Standing(start, minutes, {pair: found for pair, found in own.items() if found > 0})


def _cleared(found: float, marks: Sequence[float], step: float | None) -> float:
    near = [mark for mark in marks if abs(found - mark) < SAME]
    if near:
        return near[0]
    if step is not None and abs(found - round(found / step) * step) < SAME:
        return round(found / step) * step
    return float(np.round(found, 7))


def _told(course: Course, rows: Sequence[Row], found: _Found, standing: Standing) -> Plan:
    levels = tuple(
        LevelFound(level, value := value_of(course, standing, level), value if bound is None else min(bound, value))
        for level, bound in found.levels
    )
    gaps = {pair: amount for pair, amount in broken(course, rows, standing).items() if amount > SAME / 10}
    return Plan(
        holds=found.holds,
        optimal=found.optimal,
        levels=levels,
        start=standing.start,
        minutes=standing.minutes,
        own=standing.own,
        give_way=gaps,
        binding=tuple(Binding(athlete, day, limits) for (athlete, day), limits in binding(course, rows, standing)),
        after=looked_at(course, standing),
    )
