"""How notices stand to truths that a simulation knows, and how much they would ask of somebody's morning.

In two parts. The worn notice is held, on seasons of arrays, against several truths and habits of answering, beside the
base rate, two simple baselines that speak as often, and a limit: a filter that knows how the season was made. Every
kind of notice is counted on the demo's own history, as the desk shows it.

*Worn* is true strain in the highest tenth of the athlete's own season. A hit is such a day on which the rule speaks.
Seeds 1 and 2 were for settings; what is reported comes from others.
"""

import argparse
import shutil
import tempfile
from collections import Counter
from collections.abc import Iterator, Set
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import date, timedelta
from pathlib import Path

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from benchmarks import truths
from uvren.core.audience import ALL
from uvren.core.day import CallKind
from uvren.core.notices import KINDS, Severity, Strand
from uvren.core.windows import Bools, Floats
from uvren.core.worn import (
    DRIFT_LEVEL,
    LEVEL_DAYS,
    SILENT_DAYS,
    USUAL_LEVEL,
    USUAL_RATE,
    Sources,
    level_for,
    sources,
    speaks,
    squad_variance,
)
from uvren.services.day.worn_basis import keep_in
from uvren.services.morning import read_morning
from uvren.simulate.athletes import Body
from uvren.simulate.club import load_demo
from uvren.simulate.seasons import TODAY
from uvren.simulate.strain import MIXTURE, TRUTHS, Habit, Truth
from uvren.store.database import connect, migrate, sessions
from uvren.store.models import Call, Squad
from uvren.store.private_server import PrivateServer

FIRST = date(2025, 10, 1)
WORN = 0.9
# Of the array seasons: days in all, and those that are counted, as of the demo's autumn and winter.
DAYS, FROM = 585, 422
ITEMS = 6


# The worn notice, on several truths -------------------------------------------------------------------------


def sources_of(of: truths.Season) -> Sources:
    floors = np.full(ITEMS, 0.5)
    variance = squad_variance(of.daily[..., :180], floors)
    return sources(of.daily, np.full(ITEMS, -1.0), floors, variance, of.row, of.day, of.kind, of.planned, of.effort,
                   of.loads)  # fmt: skip


def weekly_levels(of: Sources, rate: float) -> Floats:
    """The level of each day, as set on its Monday by the eight weeks before."""
    rows, days = of.reports.shape
    out = np.full((rows, days), USUAL_LEVEL)
    for monday in range(SILENT_DAYS + 7, days, 7):
        begin = max(monday - LEVEL_DAYS, 0)
        there = np.ones((rows, monday - begin), dtype=bool)
        there[:, : max(SILENT_DAYS - begin, 0)] = False
        out[:, monday : monday + 7] = level_for(of.part(begin, monday), rate, there)
    return out


def as_often(score: Floats, often: float) -> Bools:
    """The highest scores, so many that it speaks as often."""
    return score > np.quantile(score, 1 - often)


@dataclass
class Held:
    """Days on which something spoke, and on how many of them somebody was worn, of how many worn days and days."""

    spoke: int = 0
    hits: int = 0
    worn: int = 0
    days: int = 0

    def add(self, spoke: Bools, worn: Bools) -> None:
        self.spoke += int(spoke.sum())
        self.hits += int((spoke & worn).sum())
        self.worn += int(worn.sum())
        self.days += worn.size

    @property
    def right(self) -> float:
        return self.hits / max(self.spoke, 1)

    @property
    def found(self) -> float:
        return self.hits / max(self.worn, 1)

    @property
    def base(self) -> float:
        return self.worn / max(self.days, 1)


def held_against(truth: Truth, habit: Habit | None, seeds: list[int], rate: float) -> dict[str, Held]:
    out = {name: Held() for name in ("worn", "ratio", "item", "limit")}
    for seed in seeds:
        of = truths.season(truth, seed, DAYS, habit)
        found = sources_of(of)
        worn = truths.worn(of)[:, FROM:]
        spoke = speaks(found, weekly_levels(found, rate))[:, FROM:]
        often = float(spoke.mean())
        out["worn"].add(spoke, worn)
        out["ratio"].add(as_often(_ratio(of.loads)[:, FROM:], often), worn)
        out["item"].add(as_often(_worst_item(of.daily)[:, FROM:], often), worn)
        out["limit"].add(as_often(truths.limit(of)[:, FROM:], often), worn)
    return out


def _ratio(loads: Floats) -> Floats:
    """Load of 7 days over that of 28, before each morning."""
    total = np.pad(np.cumsum(loads, axis=1), [(0, 0), (29, 0)])
    days = loads.shape[1]
    week = total[:, 28 : 28 + days] - total[:, 21 : 21 + days]
    month = total[:, 28 : 28 + days] - total[:, :days]
    return np.asarray(week / 7 / np.maximum(month / 28, 1.0))


def _worst_item(daily: Floats) -> Floats:
    """How many SD of 28 days the worst item of the morning's report is down; very low without a report."""
    out = np.full(daily.shape, np.nan)
    for day in range(28, daily.shape[2]):
        before = daily[..., day - 28 : day]
        with np.errstate(all="ignore"):
            out[..., day] = (np.nanmean(before, axis=-1) - daily[..., day]) / np.maximum(
                np.nanstd(before, axis=-1), 0.5
            )
    return np.asarray(np.max(np.nan_to_num(out, nan=-9.0), axis=1))


def truths_table(seeds: list[int], rate: float) -> list[str]:
    lines = [
        "| truth | answers | days a week | right | times the base rate | found | of what the limit finds "
        "| ratio as often: right | worst item as often: right | limit: right | limit: found |",
        "| --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- |",
    ]
    cases = [(truth, None) for truth in TRUTHS] + [(MIXTURE, habit) for habit in Habit]
    for truth, habit in cases:
        held = held_against(truth, habit, seeds, rate)
        worn, best = held["worn"], held["limit"]
        lines.append(
            f"| {truth.name} | {habit or 'each in turn'} | {7 * worn.spoke / worn.days:.2f} | {worn.right:.0%} "
            f"| {worn.right / worn.base:.1f} | {worn.found:.0%} | {worn.found / max(best.found, 1e-9):.0%} "
            f"| {held['ratio'].right:.0%} | {held['item'].right:.0%} | {best.right:.0%} | {best.found:.0%} |"
        )
    return lines


def declines(seeds: list[int]) -> str:
    """How often what is harder for weeks is said within five weeks of a decline, and how often without one."""
    found = said = weeks = people = 0
    for seed in seeds:
        plain = truths.season(MIXTURE, seed, DAYS)
        sinking = truths.season(MIXTURE, seed, DAYS, sinks=True)
        before = sources_of(plain).drift[:, FROM:] >= DRIFT_LEVEL
        after = sources_of(sinking).drift[:, -35:] >= DRIFT_LEVEL
        begins = before & ~np.pad(before, [(0, 0), (1, 0)])[:, :-1]
        said, weeks = said + int(begins.sum()), weeks + before.size / 7
        stood = before[:, -36]
        found += int((after.any(axis=1) & ~stood).sum())
        people += int((~stood).sum())
    return (
        f"Of {people} people who were made to lose a third of their capacity over five weeks, and of whom it was not "
        f"said already, *harder for weeks* was said within them of {found / people:.0%}; without a decline it began "
        f"{said / weeks * 4.3:.2f} times an athlete-month."
    )


# Every kind, on the demo -------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Demo:
    """A demo history with what is true of everybody in it."""

    db: DbSession
    squad: Squad
    strains: dict[int, dict[date, float]]
    worst: dict[int, float]
    calls: Set[tuple[int, date]]

    def is_worn(self, athlete: int, day: date) -> bool:
        return self.strains[athlete][day] > self.worst[athlete]


@contextmanager
def demo(seed: int) -> Iterator[Demo]:
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    server = PrivateServer(folder / "db")
    try:
        url = server.start()
        migrate(url)
        engine = connect(url)
        with sessions(engine)() as db:
            bodies: dict[int, Body] = load_demo(db, seed)
            keep_in(db, {})
            squad = db.scalars(select(Squad).where(Squad.slug == "tarnholm-handball")).one()
            strains = {athlete: body.strains(FIRST, TODAY) for athlete, body in bodies.items()}
            worst = {athlete: float(np.quantile(list(own.values()), WORN)) for athlete, own in strains.items()}
            made = select(Call.athlete_id, Call.day).where(Call.squad_id == squad.id, Call.kind != CallKind.FULL)
            yield Demo(db, squad, strains, worst, {(athlete, day) for athlete, day in db.execute(made)})
        engine.dispose()
    finally:
        server.stop()
        shutil.rmtree(folder)


ALL_DAYS = "every day"


@dataclass
class Tally:
    """Athlete-days on which a kind spoke, and on how many of them somebody was worn."""

    days: int = 0
    mornings: int = 0
    worn: int = 0
    spoke: Counter[str] = field(default_factory=Counter)
    hits: Counter[str] = field(default_factory=Counter)
    new: Counter[str] = field(default_factory=Counter)
    called: Counter[str] = field(default_factory=Counter)
    plan_stories: int = 0
    opening: Counter[str] = field(default_factory=Counter)

    @property
    def weeks(self) -> float:
        return self.days / 7


def measure(of: Demo, every: int, tally: Tally) -> None:
    """Go through the mornings as the desk shows them."""
    opened: dict[int, bool] = {}
    for i in range(0, (TODAY - FIRST).days + 1, every):
        day = FIRST + timedelta(days=i)
        morning, _ = read_morning(of.db, of.squad, day, TODAY, audiences=ALL)
        tally.mornings += 1
        alone = 0
        told = {athlete for story in morning.stories for athlete in story.athletes}
        for lane in morning.lanes:
            worn = of.is_worn(lane.member.athlete_id, day)
            tally.days += 1
            tally.worn += worn
            codes = {said.code for said in lane.notices}
            for strand in (Strand.STATE, Strand.PLAN):
                mine = {said.severity for said in lane.notices if said.strand is strand}
                codes |= {f"{strand}: act"} if Severity.ACT in mine else set()
                codes |= {f"{strand}: watch or act"} if mine & {Severity.ACT, Severity.WATCH} else set()
            tally.spoke.update(codes)
            tally.hits.update(codes if worn else ())
            tally.new.update({said.code for said in lane.notices if said.new})
            tally.called.update(codes | {ALL_DAYS} if (lane.member.athlete_id, day) in of.calls else ())
            asks = "state: act" in codes
            if asks and not opened.get(lane.member.athlete_id):
                tally.opening["state: act"] += 1
            opened[lane.member.athlete_id] = asks
            alone += "plan: act" in codes and lane.member.athlete_id not in told
        tally.plan_stories += alone + len(morning.stories)


def share(part: int, whole: int) -> str:
    return f"{part / whole:.0%}" if whole else "–"


def demo_table(tally: Tally) -> list[str]:
    months = tally.days / 30.4
    lines = [
        f"{tally.days} athlete-days on {tally.mornings} mornings, {share(tally.worn, tally.days)} of them worn. "
        f"*State needs a call* began {tally.opening['state: act'] / months:.2f} times an athlete-month (as far as the "
        f"mornings looked at tell), and the plan made {tally.plan_stories / tally.mornings:.1f} stories a day. Staff "
        f"stepped in on {share(tally.called[ALL_DAYS], tally.days)} of the days.",
        "",
        "| kind | strand | days an athlete-week | new an athlete-week | of worn days | of its days worn | called |",
        "| --- | --- | --- | --- | --- | --- | --- |",
    ]
    groups = [f"{strand}: {what}" for strand in ("state", "plan") for what in ("act", "watch or act")]
    for code in [*groups, *KINDS]:
        spoke, hits = tally.spoke[code], tally.hits[code]
        name, strand = (KINDS[code].name, KINDS[code].strand.value) if code in KINDS else (f"any {code}", "")
        fresh = f"{tally.new[code] / tally.weeks:.2f}" if code in KINDS else "–"
        lines.append(
            f"| {name} | {strand} | {spoke / tally.weeks:.2f} | {fresh} | {share(hits, tally.worn)} "
            f"| {share(hits, spoke)} | {share(tally.called[code], spoke)} |"
        )
    return lines


PREAMBLE = """# Notices, measured

Written by `python -m benchmarks.notices`. A simulation knows what is true of each athlete on each day; the rules do
not. *Worn* is true strain in the highest tenth of the athlete's own season. What is assumed (`uvren.simulate.strain`):
strain is fatigue from load, fading at each athlete's own pace (5 to 16 days) against a capacity that wanders, and
hidden stress from outside training that comes in spells; reports and ratings follow it with noise and habits. **A
simulated truth is no evidence about people**, and early detection is not promised.

## The worn notice, on truths it was not set by

Seeds {seeds}, {athletes} athletes each, from the {first}th day to the {last}th of a season planned as the demo's;
asked to speak on {rate:g} days an athlete-week. *Right* is the share of its days that were worn, *found* the share of
worn days on which it spoke. The baselines and the limit speak as often as it does. The limit is a filter that knows
the model and everything that was in by the morning; nobody has that. Where the load of a season changes, the eight
weeks before set the level too high or too low for some time: that is where it falls short of the rate it was given.

{truths}

{declines}

## Every kind, on the demo, seeds {demo_seeds}, every {every} days

The demo's athletes live by the first truth above, *a mixture*; six of 22 have a habit of answering, of four kinds.
*Beside* is read in the evidence and puts nobody on the list: found as often by chance, or told better by the worn
notice. *Called* is the share of its days on which staff stepped in: the demo's go by who stands as worn on the desk, on
four such mornings of ten, and now and then by their eye, so that other kinds are called on for what they share.

{demo}
"""


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--seeds", type=int, nargs="+", default=[11, 12, 13])
    parser.add_argument("--demo-seeds", type=int, nargs="*", default=[3, 4])
    parser.add_argument("--every", type=int, default=3)
    parser.add_argument("--rate", type=float, default=USUAL_RATE)
    parser.add_argument("--out", type=Path)
    given = parser.parse_args()
    tally = Tally()
    for seed in given.demo_seeds:
        with demo(seed) as of:
            measure(of, given.every, tally)
    page = PREAMBLE.format(
        seeds=", ".join(map(str, given.seeds)),
        athletes=truths.ATHLETES,
        first=FROM,
        last=DAYS,
        rate=given.rate,
        truths="\n".join(truths_table(given.seeds, given.rate)),
        declines=declines(given.seeds),
        demo_seeds=" and ".join(map(str, given.demo_seeds)),
        every=given.every,
        demo="\n".join(demo_table(tally)) if tally.days else "Not measured this time.",
    )
    print(page)
    if given.out:
        given.out.write_text(page, encoding="utf-8")


if __name__ == "__main__":
    main()
