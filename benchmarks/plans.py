"""Simulated seasons of a squad whose weeks are as a coach planned them, or as the solver changed them each Monday.

Writes docs/plans-measured.md. Everybody lives the same season each time: the same days, nights and chance. Beside the
coach's weeks stand those weeks with every session cut alike, to as many minutes in all as the solver left: what comes
of less work alone. *Worn* is a morning on which true strain is above the highest tenth of that athlete's mornings in
the season as the coach planned it.
"""

from __future__ import annotations

import argparse
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

import numpy as np

from uvren.core.limits import make_rule
from uvren.core.loads import DailyLoads
from uvren.core.plan import Own, PlanAthlete, PlanLimit, PlanSession, Problem, Split, lay_out, solve_course
from uvren.core.windows import Floats
from uvren.core.workload import APP, Workload
from uvren.simulate.athletes import Body, Truth, to_half
from uvren.simulate.seasons import ONE_MATCH, PRESEASON, TWO_MATCHES, Slot
from uvren.simulate.strain import TRUTHS, live
from uvren.simulate.strain import Truth as Family
from uvren.store.models import SessionKind

PAGE = Path(__file__).parents[1] / "docs" / "plans-measured.md"
FIRST = date(2025, 8, 4)
PEOPLE, WEEKS, SEASONS, WEEK = 14, 34, 20, 7
# So many weeks are the coach's whoever plans, so that there is a base to compare with.
BEFORE = 8
LIMITS = (("ratio_ceiling", 1.3, {"school": "ewma"}), ("week_change_cap", 0.25, {}), ("day_cap", 1100.0, {}))
SECONDS = 5.0


@dataclass(frozen=True)
class Planned:
    """A session of a season: its day, and its minutes for everybody."""

    id: str
    day: int
    slot: Slot
    minutes: float


def coach(random: np.random.Generator) -> list[Planned]:
    """Weeks as they are planned by hand: one or two matches, a lighter one now and then, some that jump."""
    found = []
    for week in range(WEEKS):
        slots = PRESEASON if week < BEFORE else TWO_MATCHES if random.random() < 0.5 else ONE_MATCH
        factor = float(random.choice([0.6, 0.9, 1.0, 1.1, 1.3], p=[0.12, 0.23, 0.35, 0.2, 0.1]))
        for i, slot in enumerate(slots):
            match = slot.kind is SessionKind.MATCH
            minutes = slot.minutes if match else 5.0 * round(slot.minutes * factor / 5)
            found.append(Planned(f"{week:02}-{i}", WEEK * week + slot.weekday, slot, minutes))
    return found


@dataclass
class Squad:
    """Bodies that live a season, and what they have done of it: loads as they rated them, shape (people, days)."""

    seed: int
    bodies: list[Body]
    loads: Floats
    minutes: float = 0.0

    def do(self, session: Planned, row: int, minutes: float) -> None:
        """A session done by one; its chance is its own, whatever was done before."""
        if minutes <= 0:
            return
        chance = np.random.default_rng([self.seed, row, session.day, int(session.id[-1])])
        felt = self.bodies[row].perform(FIRST + timedelta(days=session.day), minutes, session.slot.effort, chance)
        self.loads[row, session.day] += minutes * to_half(felt)
        self.minutes += minutes

    def strain(self) -> Floats:
        """True strain of each morning after the first weeks, shape (people, days)."""
        first, last = FIRST + timedelta(days=WEEK * BEFORE), FIRST + timedelta(days=WEEK * WEEKS - 1)
        return np.array([list(body.strains(first, last).values()) for body in self.bodies])

    def broken(self) -> Floats:
        """Days on which each limit was broken by what was done, shape (limits, people)."""
        work = Workload(DailyLoads(FIRST, self.loads, np.zeros(PEOPLE, dtype=np.int64)), APP)
        since = WEEK * BEFORE
        return np.array([make_rule(*one).broken(work)[:, since:].sum(axis=1) for one in LIMITS], dtype=np.float64)


def squad(seed: int, family: Family) -> Squad:
    random = np.random.default_rng([seed, 1])
    bodies = []
    for i in range(PEOPLE):
        truth = Truth(
            f"P{i}", i, "back", capacity=float(random.uniform(1900, 2700)), sensitivity=float(random.uniform(0.8, 2.0)),
            bias=float(random.normal(0, 0.5)), noise=0.5, match_share=float(random.choice([1.0, 0.7, 0.4, 0.15])),
            answers=1.0, delay_hours=1.0, joined=FIRST,
        )  # fmt: skip
        bodies.append(Body(truth, live(family, WEEK * WEEKS, random), FIRST))
    return Squad(seed, bodies, np.zeros((PEOPLE, WEEK * WEEKS)))


Minutes = Mapping[tuple[int, str], float]


def as_planned(squad: Squad, week: Sequence[Planned]) -> Minutes:
    out = {}
    for one in week:
        for row, body in enumerate(squad.bodies):
            share = body.truth.match_share if one.slot.kind is SessionKind.MATCH else 1.0
            out[row, one.id] = 5.0 * round(one.minutes * share / 5)
    return out


def as_solved(squad: Squad, week: Sequence[Planned]) -> Minutes:
    """The nearest plan in which every limit holds, or as many as can, by what was done until now."""
    wanted, first = as_planned(squad, week), WEEK * (week[0].day // WEEK)
    monday = FIRST + timedelta(days=first)
    athletes = tuple(PlanAthlete(f"{row:02}") for row in range(PEOPLE))
    sessions = tuple(_session(squad, one, wanted) for one in week)
    limits = tuple(PlanLimit(code, code, value, "load", settings=more) for code, value, more in LIMITS)
    problem = Problem(monday - timedelta(days=1), WEEK, ("load",), athletes, sessions, limits)
    history = DailyLoads(FIRST, squad.loads[:, :first], np.zeros(PEOPLE, dtype=np.int64))
    left = iter(np.linspace(SECONDS, 0, 10_000))
    found = solve_course(lay_out(problem, {"load": history}, APP), left=lambda: float(next(left, 0.0)))
    out = {}
    for one in week:
        for row in range(PEOPLE):
            fixed = one.slot.kind is SessionKind.MATCH
            mine = wanted[row, one.id] if fixed else found.own.get((f"{row:02}", one.id), 0.0)
            out[row, one.id] = mine
    return out


def _session(squad: Squad, one: Planned, wanted: Minutes) -> PlanSession:
    """What a minute of it is for each: the effort that is asked, as each usually rates it."""
    fixed = one.slot.kind is SessionKind.MATCH
    start = datetime.combine(FIRST + timedelta(days=one.day), one.slot.start, UTC)
    effort = one.slot.effort
    own = {
        f"{row:02}": Own({"load": effort + body.truth.bias}, wanted[row, one.id] / one.minutes if one.minutes else 0.0)
        for row, body in enumerate(squad.bodies)
    }
    return PlanSession(
        one.id, start, one.minutes, one.slot.kind.value, least=one.minutes if fixed else one.minutes / 2,
        most=one.minutes if fixed else one.minutes * 1.25, step=None if fixed else 5.0, own=own,
        split=None if fixed else Split(15.0, 5.0), effort=effort,
    )  # fmt: skip


def lived(seed: int, family: Family, plan: Callable[[Squad, Sequence[Planned]], Minutes]) -> Squad:
    """A season in which a plan is followed week by week."""
    made, season = squad(seed, family), coach(np.random.default_rng([seed, 2]))
    for week in range(WEEKS):
        mine = [one for one in season if one.day // WEEK == week]
        minutes = as_planned(made, mine) if week < BEFORE else plan(made, mine)
        for one in sorted(mine, key=lambda session: (session.day, session.slot.start)):
            for row in range(PEOPLE):
                made.do(one, row, minutes[row, one.id])
    return made


def cut(share: float) -> Callable[[Squad, Sequence[Planned]], Minutes]:
    """Every session as the coach has it, matches aside, at a share of its minutes."""

    def plan(squad: Squad, week: Sequence[Planned]) -> Minutes:
        matches = {one.id for one in week if one.slot.kind is SessionKind.MATCH}
        return {
            key: minutes if key[1] in matches else minutes * share for key, minutes in as_planned(squad, week).items()
        }

    return plan


def share_left(season: Sequence[Planned], coachs: Squad, solved: Squad) -> float:
    """By how much all sessions but matches are cut so that as many minutes are left as the solver left."""
    first = squad(0, TRUTHS[0])
    first.bodies = coachs.bodies
    after = [one for one in season if one.day >= WEEK * BEFORE]
    wanted = as_planned(first, after)
    matches = {one.id for one in after if one.slot.kind is SessionKind.MATCH}
    training = sum(minutes for key, minutes in wanted.items() if key[1] not in matches)
    return 1 - (coachs.minutes - solved.minutes) / training


ARMS = ("as the coach planned", "every session cut alike", "as solved each Monday")


def season(seed: int, family: Family) -> dict[str, tuple[Floats, float, float]]:
    """By way of planning: days over each limit a person, the share of worn mornings, minutes of those planned."""
    coachs = lived(seed, family, as_planned)
    solved = lived(seed, family, as_solved)
    share = share_left(coach(np.random.default_rng([seed, 2])), coachs, solved)
    level = np.quantile(coachs.strain(), 0.9, axis=1)[:, None]
    out = {}
    for name, one in zip(ARMS, (coachs, lived(seed, family, cut(share)), solved), strict=True):
        worn = float((one.strain() > level).mean())
        out[name] = one.broken().mean(axis=1), worn, one.minutes / coachs.minutes
    return out


def lines(seeds: range) -> Iterator[str]:
    yield "| truth | weeks | ratio | change | day | worn mornings | minutes |"
    yield "| --- | --- | --- | --- | --- | --- | --- |"
    for family in TRUTHS[:3]:
        found = [season(seed, family) for seed in seeds]
        for name in ARMS:
            broken = np.mean([one[name][0] for one in found], axis=0)
            worn = np.array([one[name][1] for one in found])
            minutes = np.mean([one[name][2] for one in found])
            error = worn.std(ddof=1) / np.sqrt(len(worn)) if len(worn) > 1 else 0.0
            figures = " | ".join(f"{each:.1f}" for each in broken)
            yield f"| {family.name} | {name} | {figures} | {worn.mean():.1%} ± {error:.1%} | {minutes:.0%} |"


HEAD = f"""# Plans, measured

Written by `python -m benchmarks.plans`. {SEASONS} simulated seasons of {PEOPLE} people under each of several truths,
{WEEKS - BEFORE} weeks each after {BEFORE} of preparation. **A simulation is no evidence about people**: what wears
somebody in it is assumed (`uvren.simulate.strain`).

A coach's weeks (one match or two, a lighter week now and then, one in ten a third longer) are lived as they are; with
every session cut alike, to as many minutes in all as the solver leaves; and as the solver changes them each Monday, by
what was done until then and each one's own usual rating of a minute. *Ratio* (1.3, weighted), *change* (week on week, a
quarter) and *day* (1 100) are days on which what was *done* was over the limit, a person and season: a plan that holds
is rated otherwise than it was planned. *Worn* is a morning with true strain above the highest tenth of that athlete's
in the coach's season, so the coach's weeks have 10 % of them.

"""
FOOT = """
What it says: with the weeks solved, days over a limit are fewer than half of the coach's, which an even cut of as many
minutes does not bring. Fewer mornings are worn than in the coach's weeks, but **not fewer than with the even cut**: in
this simulation it is the work left out that spares people, not its place. Limits held are limits held, and no promise
of fresher people.
"""


def main() -> None:
    asked = argparse.ArgumentParser()
    asked.add_argument("--seasons", type=int, default=SEASONS)
    many = asked.parse_args().seasons
    table = "\n".join(lines(range(1, many + 1)))
    print(table)
    if many == SEASONS:
        PAGE.write_text(f"{HEAD}{table}\n{FOOT}")


if __name__ == "__main__":
    main()
