"""A problem as a mixed-integer linear program: where sessions stand, how long they are, and everybody's own minutes."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from functools import cached_property
from itertools import combinations

from uvren.core.plan.course import Course
from uvren.core.plan.milp import Milp, Terms
from uvren.core.plan.problem import Heavy, PlanAthlete, PlanLimit, PlanSession, Target
from uvren.core.plan.rows import Row


@dataclass(frozen=True)
class Stand:
    """A session at one of its starts: whether it stands there, and its minutes, 0 where it does not."""

    session: PlanSession
    at: int
    here: int
    minutes: int

    @property
    def start(self) -> datetime:
        return self.session.starts[self.at]


@dataclass(frozen=True)
class Part:
    """An athlete's part in a session at one of its starts.

    ``minutes`` are theirs as terms; ``taking`` is a variable that is 1 where they take part, and they are then at least
    ``least`` minutes in it. ``own`` is set where they may have minutes of their own.
    """

    athlete: PlanAthlete
    stand: Stand
    minutes: Mapping[int, float]
    taking: int
    least: float
    most: float
    own: bool


Pair = tuple[str, str]


@dataclass
class Model:
    """The program of a course, with every limit held; ``elastic`` lets limits give way.

    With ``held`` sessions stand as the coach has them, and nothing ties one athlete to another: a program may then be
    of some ``people`` only. Rows of limits are told in shares of their scale, so that they are alike to the solver.
    """

    course: Course
    rows: Sequence[Row]
    elastic: bool = False
    held: bool = False
    people: Sequence[PlanAthlete] | None = None
    milp: Milp = field(default_factory=Milp)
    stands: dict[str, list[Stand]] = field(default_factory=dict)
    parts: dict[tuple[str, str], list[Part]] = field(default_factory=dict)
    gives: dict[Pair, tuple[int, int]] = field(default_factory=dict)
    _loads: dict[tuple[str, str, int], Terms] = field(default_factory=dict)
    _widest: dict[Pair, float] = field(default_factory=lambda: defaultdict(float))

    def __post_init__(self) -> None:
        for session in self.course.sessions:
            self.stands[session.id] = self._stand(session)
        for athlete in self.athletes:
            for session in self.course.sessions:
                self.parts[athlete.id, session.id] = list(self._take_part(athlete, session))
        self._hold()
        self._keep_apart()
        self._space()
        for pair, (gives, amount) in self.gives.items():
            self.milp.at_most({amount: 1.0, gives: -self._widest[pair]}, 0.0)

    @property
    def athletes(self) -> Sequence[PlanAthlete]:
        return self.course.athletes if self.people is None else self.people

    # Where sessions stand, and for how long -------------------------------------------------------------------

    def _stand(self, session: PlanSession) -> list[Stand]:
        milp = self.milp
        if self.held:
            here, off = float(session.minutes > 0), 0.0
            stands = [Stand(session, 0, milp.variable(here, here), milp.variable(session.minutes, session.minutes))]
            moves = range(1, len(session.starts))
            return stands + [Stand(session, at, milp.variable(off, off), milp.variable(off, off)) for at in moves]
        stands = []
        fixed = not session.may_fall_out and not session.moves
        for at in range(len(session.starts)):
            here = milp.variable(1.0, 1.0) if fixed else milp.yes_or_no()
            minutes = milp.variable(0.0, session.longest)
            milp.at_most({minutes: 1.0, here: -session.longest}, 0.0)
            milp.at_most({minutes: -1.0, here: session.shortest}, 0.0)
            if session.step is not None:
                steps = milp.variable(0.0, session.longest / session.step + 1, integral=True)
                milp.equal({minutes: 1.0, steps: -session.step}, 0.0)
            stands.append(Stand(session, at, here, minutes))
        if not fixed:
            milp.at_most({one.here: 1.0 for one in stands}, 1.0)
            if not session.may_fall_out:
                milp.at_most({one.here: -1.0 for one in stands}, -1.0)
        return stands

    # Who takes part, and for how long --------------------------------------------------------------------------

    def _take_part(self, athlete: PlanAthlete, session: PlanSession) -> Iterator[Part]:
        share = session.share_of(athlete.id)
        own = session.splits_for(athlete)
        for stand, may in zip(self.stands[session.id], self.course.may[athlete.id, session.id], strict=True):
            if not may or share <= 0:
                continue
            if own:
                yield self._own_part(athlete, stand, share)
            else:
                least, most = share * session.shortest, share * session.longest
                taking = self._works(stand) if session.shortest == 0 else stand.here
                yield Part(athlete, stand, {stand.minutes: share}, taking, least, most, own=False)

    def _works(self, stand: Stand) -> int:
        """Whether a session that may have no minutes has any."""
        works = self.milp.yes_or_no()
        self.milp.at_most({stand.minutes: 1.0, works: -stand.session.longest}, 0.0)
        return works

    def _own_part(self, athlete: PlanAthlete, stand: Stand, share: float) -> Part:
        milp, split = self.milp, stand.session.split
        assert split is not None
        most = share * (milp.high[stand.minutes])
        taking = milp.yes_or_no()
        if split.step is None or not self._in_steps(stand, share, split.step):
            minutes = milp.variable(0.0, most)
            terms = {minutes: 1.0}
            if split.step is not None:
                steps, whole = milp.variable(0.0, most // split.step, integral=True), milp.yes_or_no()
                # Either so many steps, or all of it.
                milp.at_most({minutes: 1.0, steps: -split.step, whole: -most}, 0.0)
                milp.at_most({minutes: -1.0, steps: split.step, whole: -most}, 0.0)
                milp.at_most({stand.minutes: share, minutes: -1.0, whole: most}, most)
        else:
            terms = {milp.variable(0.0, round(most / split.step), integral=True): split.step}
        milp.at_most({**terms, stand.minutes: -share}, 0.0)
        milp.at_most({**terms, taking: -most}, 0.0)
        milp.at_most({**{column: -factor for column, factor in terms.items()}, taking: split.least}, 0.0)
        return Part(athlete, stand, terms, taking, split.least, most, own=True)

    def _in_steps(self, stand: Stand, share: float, step: float) -> bool:
        """Whether all of a session's minutes are so many steps, whatever it comes to."""
        fixed = self.milp.low[stand.minutes] == self.milp.high[stand.minutes]
        each = self.milp.high[stand.minutes] if fixed else stand.session.step
        return each is not None and abs(share * each / step - round(share * each / step)) < 1e-9

    @cached_property
    def by_day(self) -> dict[tuple[str, int], list[Part]]:
        """Parts by athlete and day of the horizon."""
        found: dict[tuple[str, int], list[Part]] = defaultdict(list)
        for (athlete, _), parts in self.parts.items():
            for part in parts:
                found[athlete, self.course.problem.day(part.stand.start)].append(part)
        return found

    def loads(self, athlete: str, channel: str, day: int) -> Terms:
        """An athlete's load of a day as terms."""
        key = athlete, channel, day
        if key not in self._loads:
            self._loads[key] = self._load_of(athlete, channel, day)
        return self._loads[key]

    def _load_of(self, athlete: str, channel: str, day: int) -> Terms:
        terms: dict[int, float] = defaultdict(float)
        for part in self.by_day.get((athlete, day), ()):
            factor = part.stand.session.load_of(athlete, channel)
            for column, share in part.minutes.items():
                if factor:
                    terms[column] += factor * share
        return terms

    # Limits --------------------------------------------------------------------------------------------------------

    def _hold(self) -> None:
        works: dict[tuple[str, str, int], int] = {}
        ids = {one.id for one in self.athletes}
        for row in self.rows:
            athlete = self.course.athletes[row.athlete].id
            if athlete not in ids:
                continue
            terms: dict[int, float] = defaultdict(float)
            for day, weight in enumerate(row.weights.tolist()):
                if not weight:
                    continue
                if row.counts:
                    terms[self._works_on(works, athlete, row.channel, day)] += weight / row.scale
                    continue
                for column, load in self.loads(athlete, row.channel, day).items():
                    terms[column] += weight * load / row.scale
            self._limit(row.limit, athlete, terms, row.bound / row.scale)

    def _works_on(self, works: dict[tuple[str, str, int], int], athlete: str, channel: str, day: int) -> int:
        """Whether a day has work: at least 1 as soon as somebody takes part in any."""
        key = (athlete, channel, day)
        if key not in works:
            works[key] = self.milp.variable(0.0, 1.0)
            for part in self.by_day.get((athlete, day), ()):
                if part.stand.session.load_of(athlete, channel) > 0:
                    self.milp.at_most({part.taking: 1.0, works[key]: -1.0}, 0.0)
        return works[key]

    def _limit(self, limit: PlanLimit, athlete: str, terms: Mapping[int, float], bound: float) -> None:
        """A row of a limit, in shares of its scale; where limits may give way, by no more than this one does."""
        widest = self.milp.most(terms) - bound
        if widest <= 0:
            return
        if self.elastic:
            key = (limit.id, athlete)
            if key not in self.gives:
                self.gives[key] = (self.milp.yes_or_no(), self.milp.variable())
            self._widest[key] = max(self._widest[key], widest)
            terms = {**terms, self.gives[key][1]: -1.0}
        self.milp.at_most(terms, bound)

    # Sessions beside each other -----------------------------------------------------------------------------------

    def _keep_apart(self) -> None:
        """What is moved overlaps nothing that the same athlete takes part in."""
        for athlete in self.athletes:
            for one, two in self._pairs(athlete.id):
                if one.stand.at or two.stand.at:
                    self._apart(one, two)

    def _pairs(self, athlete: str) -> Iterator[tuple[Part, Part]]:
        """Parts of different sessions that can be at once, the earlier first."""
        mine = [part for session in self.course.sessions for part in self.parts[athlete, session.id]]
        for one, two in combinations(mine, 2):
            if one.stand.session is not two.stand.session:
                yield (one, two) if one.stand.start <= two.stand.start else (two, one)

    def _apart(self, one: Part, two: Part, hours: float = 0.0, limit: PlanLimit | None = None) -> None:
        """The second begins at least so long after the first has ended, if somebody takes part in both."""
        free = (two.stand.start - one.stand.start).total_seconds() / 60 - hours * 60
        if one.most <= free:
            return
        longest = one.most - free
        # In hours' shares, as every limit is; without hours in minutes.
        unit = hours * 60 if hours else 1.0
        terms = {column: share / unit for column, share in one.minutes.items()}
        terms[one.taking] = terms.get(one.taking, 0.0) + longest / unit
        terms[two.taking] = terms.get(two.taking, 0.0) + longest / unit
        bound = (free + 2 * longest) / unit
        if limit is not None:
            self._limit(limit, one.athlete.id, terms, bound)
        else:
            self.milp.at_most(terms, bound)
        if one.least > free and (limit is None or not self.elastic):
            self.milp.at_most({one.taking: 1.0, two.taking: 1.0}, 1.0)

    def _space(self) -> None:
        for limit in sorted(self.course.problem.limits, key=lambda each: each.id):
            if limit.rule != "spacing" or not limit.hard or not limit.value:
                continue
            system = str(limit.settings.get("system", ""))
            for athlete in self.athletes:
                if limit.is_for(athlete.id):
                    self._space_of(limit, athlete.id, system, limit.value)

    def _space_of(self, limit: PlanLimit, athlete: str, system: str, hours: float) -> None:
        for one, two in self._pairs(athlete):
            both = system in one.stand.session.heavy and system in two.stand.session.heavy
            if both and limit.judges(two.stand.start.date()):
                self._apart(one, two, hours, limit)
        for heavy in self.course.problem.done:
            if system in heavy.systems and (heavy.who is None or athlete in heavy.who):
                self._after(limit, athlete, heavy, system, hours)

    def _after(self, limit: PlanLimit, athlete: str, done: Heavy, system: str, hours: float) -> None:
        for session in self.course.sessions:
            for part in self.parts[athlete, session.id]:
                start = part.stand.start
                lacks = hours - (start - done.end).total_seconds() / 3600
                if system in session.heavy and lacks > 1e-9 and limit.judges(start.date()):
                    self._limit(limit, athlete, {part.taking: lacks / hours}, 0.0)

    # What is weighed ------------------------------------------------------------------------------------------------

    def objective(self, level: Mapping[str, float]) -> Terms:
        """A level as terms; what is off by a constant is the same for every plan."""
        terms: dict[int, float] = defaultdict(float)
        for part, weight in level.items():
            if weight:
                for column, factor in self._weighed[part].items():
                    terms[column] += weight * factor
        return terms

    @cached_property
    def _weighed(self) -> Mapping[str, Terms]:
        return _Weighed(self)


class _Weighed(dict[str, Terms]):
    """Parts of an objective, written down when they are first asked for."""

    def __init__(self, model: Model) -> None:
        super().__init__()
        self.model = model

    def __missing__(self, part: str) -> Terms:
        found = {
            "squad": self._squad, "own": self._own, "touched": self._touched, "own_touched": self._own_touched,
            "target": self._target,
        }[part]()  # fmt: skip
        self[part] = found
        return found

    def _squad(self) -> Terms:
        terms: dict[int, float] = {}
        for stands in self.model.stands.values():
            session = stands[0].session
            if session.shortest == session.longest == session.minutes and len(stands) == 1 and not session.drop:
                continue
            terms[self._off(stands)] = session.weight
            for stand in stands[1:]:
                terms[stand.here] = session.weight * session.move_minutes
        return terms

    def _off(self, stands: Sequence[Stand]) -> int:
        """Minutes by which a session is off its plan."""
        off = self.model.milp.variable()
        planned = stands[0].session.minutes
        terms = {stand.minutes: 1.0 for stand in stands}
        self.model.milp.at_most({**terms, off: -1.0}, planned)
        self.model.milp.at_most({**dict.fromkeys(terms, -1.0), off: -1.0}, -planned)
        return off

    def _own(self) -> Terms:
        terms: dict[int, float] = defaultdict(float)
        for part in self._own_parts():
            weight = part.athlete.weight * part.stand.session.weight
            terms[part.stand.minutes] += weight * part.stand.session.share_of(part.athlete.id)
            for column, share in part.minutes.items():
                terms[column] -= weight * share
        return terms

    def _own_parts(self) -> Iterator[Part]:
        for parts in self.model.parts.values():
            yield from (part for part in parts if part.own)

    def _touched(self) -> Terms:
        terms: dict[int, float] = {}
        for stands in self.model.stands.values():
            session = stands[0].session
            touched = self.model.milp.yes_or_no()
            widest = max(session.longest - session.minutes, session.minutes)
            if widest > 0:
                self.model.milp.at_most({self._off(stands): 1.0, touched: -widest}, 0.0)
            for stand in stands[1:]:
                self.model.milp.at_most({stand.here: 1.0, touched: -1.0}, 0.0)
            terms[touched] = 1.0
        return terms

    def _own_touched(self) -> Terms:
        terms: dict[int, float] = {}
        for parts in self.model.parts.values():
            mine = [part for part in parts if part.own]
            if not mine:
                continue
            touched = self.model.milp.yes_or_no()
            lacking: dict[int, float] = defaultdict(float)
            for part in mine:
                lacking[part.stand.minutes] += part.stand.session.share_of(part.athlete.id)
                for column, share in part.minutes.items():
                    lacking[column] -= share
            self.model.milp.at_most({**lacking, touched: -mine[0].most}, 0.0)
            terms[touched] = 1.0
        return terms

    def _target(self) -> Terms:
        terms: dict[int, float] = {}
        for target in self.model.course.problem.targets:
            for athlete in self.model.athletes:
                if target.athletes is None or athlete.id in target.athletes:
                    terms[self._off_target(target, athlete.id)] = target.weight
        return terms

    def _off_target(self, target: Target, athlete: str) -> int:
        off = self.model.milp.variable()
        terms: dict[int, float] = defaultdict(float)
        for day, date_ in enumerate(self.model.course.problem.horizon):
            if target.first <= date_ <= target.last:
                for column, factor in self.model.loads(athlete, target.channel, day).items():
                    terms[column] += factor
        left = target.load - behind(self.model.course, target, athlete)
        self.model.milp.at_most({**terms, off: -1.0}, left)
        self.model.milp.at_most({**{column: -factor for column, factor in terms.items()}, off: -1.0}, -left)
        return off


def behind(course: Course, target: Target, athlete: str) -> float:
    """What of a target's days is history already."""
    history = course.history[target.channel]
    row = [one.id for one in course.athletes].index(athlete)
    days = [i for i in range(history.days) if target.first <= history.date_of(i) <= target.last]
    return float(history.values[row, days].sum())
