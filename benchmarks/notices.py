"""How notices stand to the truth that the simulation knows, and how much they would ask of somebody's morning.

The truth of an athlete-day is what the simulation says, which the rules never see: *worn* is true fatigue in the
highest tenth of the athlete's own season; *ill-adapted* the five weeks in which somebody loses capacity while training
goes on; *overtraining picture* the last two of them. A hit is such a day on which the rule speaks, a miss one on which
it does not, a false notice one on any other day.

``--tune`` tries settings on seeds of their own instead; the usual settings were chosen from that table.
"""

import argparse
import shutil
import tempfile
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from pathlib import Path

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from uvren.core.audience import ALL
from uvren.core.day import Tuning
from uvren.core.notices import KINDS, Severity
from uvren.core.workload import School
from uvren.services.day.desk import open_desks
from uvren.services.morning import read_morning
from uvren.simulate.athletes import Body
from uvren.simulate.club import load_demo
from uvren.simulate.reports import strain_by_day
from uvren.simulate.seasons import TODAY
from uvren.store import queries
from uvren.store.database import connect, migrate, sessions
from uvren.store.models import Squad
from uvren.store.private_server import PrivateServer

FIRST = date(2025, 10, 1)
WORN = 0.9
TRUTHS = ("worn", "ill-adapted", "overtraining picture")
BASELINES = {"baseline_ratio": "Only: ratio above 1.5", "baseline_report": "Only: any item 1 SD down"}
TOGETHER = {"any_watch": "Any: watch or act", "any_act": "Any: act"}
# A call on the day or the two after it is taken to be led to.
LED_DAYS = 3
TRIED = {
    ("report_changed", "size"): (1.0, 1.5, 2.0, 2.5),
    ("report_changed", "least"): (1, 2, 3),
    ("soreness_stays", "size"): (1.0, 1.5, 2.0),
    ("index_off", "size"): (0.5, 1.0, 1.5),
    ("effort_far", "points"): (1.5, 2.0, 2.5),
    ("heavy_close", "heavy"): (1.0, 1.5, 2.0),
    ("spread_high", "monotony"): (1.25, 1.5, 2.0),
    ("spread_high", "strain"): (0.5, 1.0, 1.5, 2.0),
    ("base_rising", "rise"): (1, 3, 5),
    ("limit_near", "near"): (2, 5, 10),
    ("planned_break", "ahead"): (2, 4, 7),
    ("test_down", "days"): (5, 10, 20),
}


@dataclass(frozen=True)
class Season:
    """A demo history with what is true of everybody in it."""

    db: DbSession
    squad: Squad
    bodies: dict[int, Body]
    strains: dict[int, dict[date, float]]
    worst: dict[int, float]

    def truths(self, athlete: int, day: date) -> set[str]:
        body = self.bodies[athlete].truth
        out = set()
        if self.strains[athlete][day] > self.worst[athlete]:
            out.add("worn")
        if body.decline > 0 and day > TODAY - timedelta(weeks=5):
            out.add("ill-adapted")
            if day > TODAY - timedelta(weeks=2):
                out.add("overtraining picture")
        return out


@contextmanager
def season(seed: int) -> Iterator[Season]:
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    server = PrivateServer(folder / "db")
    try:
        url = server.start()
        migrate(url)
        engine = connect(url)
        with sessions(engine)() as db:
            bodies = load_demo(db, seed)
            squad = db.scalars(select(Squad).where(Squad.slug == "tarnholm-handball")).one()
            strains = {athlete: strain_by_day(body, FIRST, TODAY) for athlete, body in bodies.items()}
            worst = {athlete: float(np.quantile(list(own.values()), WORN)) for athlete, own in strains.items()}
            yield Season(db, squad, bodies, strains, worst)
        engine.dispose()
    finally:
        server.stop()
        shutil.rmtree(folder)


def mornings(every: int) -> Iterator[date]:
    for i in range(0, (TODAY - FIRST).days + 1, every):
        yield FIRST + timedelta(days=i)


@dataclass
class Tally:
    """Athlete-days on which a rule spoke, by what was true of them."""

    days: int = 0
    true: Counter[str] = field(default_factory=Counter)
    spoke: Counter[str] = field(default_factory=Counter)
    hits: Counter[tuple[str, str]] = field(default_factory=Counter)
    new: Counter[str] = field(default_factory=Counter)
    led: Counter[str] = field(default_factory=Counter)
    stories: int = 0
    new_stories: int = 0

    def add(self, codes: set[str], truths: set[str], new: set[str] = frozenset(), *, called: bool = False) -> None:
        self.days += 1
        self.true.update(truths)
        self.spoke.update(codes)
        self.new.update(new)
        if called:
            self.led.update(codes)
        self.hits.update((code, truth) for code in codes for truth in truths)

    @property
    def weeks(self) -> float:
        return self.days / 7


def measure(of: Season, every: int, tally: Tally) -> None:
    """Go through the mornings as the desk shows them."""
    calls = queries.morning.calls_between(of.db, of.squad.id, FIRST, TODAY)
    for day in mornings(every):
        morning, found = read_morning(of.db, of.squad, day, TODAY, audiences=ALL)
        desks = found.desks if found else []
        main = next(opened.desk for opened in desks if opened.desk.main)
        assert main.facts is not None
        ratio = main.at_judged(main.now.shown_ratio(School.EWMA))
        down = (np.nan_to_num(main.facts.badness[..., -1]) >= 1).any(axis=1)
        for row, lane in enumerate(morning.lanes):
            athlete = lane.member.athlete_id
            pressing = {said.severity for said in lane.notices} - {Severity.NOTE}
            codes = {said.code for said in lane.notices}
            codes |= {"any_watch"} if pressing else set()
            codes |= {"any_act"} if Severity.ACT in pressing else set()
            codes |= {"baseline_ratio"} if ratio[row] > 1.5 else set()
            codes |= {"baseline_report"} if down[row] else set()
            new = {said.code for said in lane.notices if said.new}
            called = any((athlete, day + timedelta(days=after)) in calls for after in range(LED_DAYS))
            tally.add(codes, of.truths(athlete, day), new, called=called)
            tally.stories += len({(said.cause, said.channel) for said in lane.notices})
            tally.new_stories += len({(said.cause, said.channel) for said in lane.notices if said.new})


def share(part: int, whole: int) -> str:
    return f"{part / whole:.0%}" if whole else "–"


def table(tally: Tally) -> list[str]:
    counted = ", ".join(f"{tally.true[truth]} {truth}" for truth in TRUTHS)
    lines = [
        f"{tally.days} athlete-days: {counted}. Standing stories per athlete-week {tally.stories / tally.weeks:.1f}, "
        f"new ones {tally.new_stories / tally.weeks:.1f}.",
        "",
        "| rule | standing, days per athlete-week | new per athlete-week | led to a call | worn: hits | misses | false "
        "| found | of its notices true | ill-adapted: hits | misses | overtraining picture: hits | misses |",
        "| --- | " + " | ".join(["---"] * 12) + " |",
    ]
    for code in [*BASELINES, *TOGETHER, *KINDS]:
        spoke = tally.spoke[code]
        hits = {truth: tally.hits[code, truth] for truth in TRUTHS}
        name = BASELINES.get(code) or TOGETHER.get(code) or KINDS[code].name
        worn, ill, over = (hits[truth] for truth in TRUTHS)
        fresh = f"{tally.new[code] / tally.weeks:.2f}" if code in KINDS else "–"
        lines.append(
            f"| {name} | {spoke / tally.weeks:.2f} | {fresh} | {share(tally.led[code], spoke)} | {worn} "
            f"| {tally.true['worn'] - worn} | {spoke - worn} | {share(worn, tally.true['worn'])} "
            f"| {share(worn, spoke)} | {ill} | {tally.true['ill-adapted'] - ill} | {over} "
            f"| {tally.true['overtraining picture'] - over} |"
        )
    return lines


def tune(of: Season, every: int, tallies: dict[tuple[str, str, float], Tally]) -> None:
    """Try each setting alone, the others as usual."""
    for day in mornings(every):
        desks = open_desks(of.db, of.squad, day, TODAY, with_facts=True)
        for (code, key), values in TRIED.items():
            for value in values:
                tally = tallies.setdefault((code, key, value), Tally())
                spoken = set()
                for opened in desks:
                    if opened.desk.main or KINDS[code].every_channel:
                        tuning = Tuning(values={(code, key): np.full(opened.desk.rows, float(value))})
                        spoken |= {row for row, _ in KINDS[code].find(replace(opened.desk, tuning=tuning))}
                for row, member in enumerate(desks[0].members):
                    tally.add({code} if row in spoken else set(), of.truths(member.athlete_id, day))


def tuned_table(tallies: dict[tuple[str, str, float], Tally]) -> list[str]:
    lines = ["| rule | setting | value | days per athlete-week | of worn days found | of its notices worn |",
             "| --- | --- | --- | --- | --- | --- |"]  # fmt: skip
    for (code, key, value), tally in tallies.items():
        setting = next(one for one in KINDS[code].settings if one.key == key)
        hits, spoke = tally.hits[code, "worn"], tally.spoke[code]
        said = f"**{value:g}**" if value == setting.default else f"{value:g}"
        lines.append(
            f"| {KINDS[code].name} | {setting.name} | {said} | {spoke / tally.weeks:.2f} "
            f"| {share(hits, tally.true['worn'])} | {share(hits, spoke)} |"
        )
    return lines


PREAMBLE = """# Notices, measured

Written by `python -m benchmarks.notices` from the demo's history from {first} to {last}. The
simulation knows what is true of each athlete on each day; the rules do not. *Worn* is true fatigue in the highest tenth
of the athlete's own season; *ill-adapted* the five weeks in which somebody loses capacity while training goes on;
*overtraining picture* the last two of them. A hit is such a day on which the rule speaks, a miss one on which it does
not, a false notice one on any other day. Most rules are not about being worn: a limit, a missing rating or a newcomer
is worth a notice whatever the fatigue; the columns say how each stands to it, no more. *Led to a call* is a call of the
demo's staff, who go by the truth and not by the notices, on that day or the two after. A simulated truth is no evidence
about people.

## Settings, tried on seeds {tried}, every {tried_every} days

One setting at a time, the others as usual; the usual value in bold.

{tuned}

## The usual settings, on seeds {seeds}, every {every} days

{measured}
"""


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--tried", type=int, nargs="+", default=[1, 2])
    parser.add_argument("--seeds", type=int, nargs="+", default=[3, 4, 5, 6])
    parser.add_argument("--every", type=int, default=1)
    parser.add_argument("--tried-every", type=int, default=3)
    parser.add_argument("--tune", action="store_true", help="only try the settings")
    parser.add_argument("--out", type=Path)
    given = parser.parse_args()
    tried: dict[tuple[str, str, float], Tally] = {}
    for seed in given.tried:
        with season(seed) as of:
            tune(of, given.tried_every, tried)
    tuned = "\n".join(tuned_table(tried))
    if given.tune:
        print(tuned)
        return
    tally = Tally()
    for seed in given.seeds:
        with season(seed) as of:
            measure(of, given.every, tally)
    page = PREAMBLE.format(
        first=FIRST,
        last=TODAY,
        tried=" and ".join(map(str, given.tried)),
        tried_every=given.tried_every,
        tuned=tuned,
        seeds=", ".join(map(str, given.seeds)),
        every=given.every,
        measured="\n".join(table(tally)),
    )
    print(page)
    if given.out:
        given.out.write_text(page, encoding="utf-8")


if __name__ == "__main__":
    main()
