"""What the notices find on demo histories whose truth is known, beside two simple baselines.

    python -m benchmarks.notices [--seeds 3 4] [--every 3] [--out docs/notices-measured.md]

Defaults were tuned on other seeds than those reported here. Truth: an athlete-day is *worn* when true fatigue is among
the highest tenth of the athlete's own season, and every day of the last five weeks of who is losing capacity
(*ill-adapted*). A hit is a worn athlete-day on which the rule speaks; a miss one on which it does not; a false notice
is one on any other day.
"""

import argparse
import shutil
import tempfile
from collections import Counter, defaultdict
from dataclasses import dataclass, field
from datetime import date, timedelta
from pathlib import Path

import numpy as np
from sqlalchemy import select

from uvren.core.notices import KINDS, Severity, notices_for
from uvren.core.workload import School
from uvren.services.desk import open_desks
from uvren.simulate.club import load_demo
from uvren.simulate.reports import strain_by_day
from uvren.simulate.seasons import TODAY
from uvren.store import queries
from uvren.store.database import connect, migrate, sessions
from uvren.store.models import Squad
from uvren.store.private_server import PrivateServer

FIRST = date(2025, 10, 1)
WORN = 0.9
BASELINES = {"baseline_ratio": "Only: ratio above 1.5", "baseline_report": "Only: any item 1 SD down"}


@dataclass
class Tally:
    """Athlete-days on which a rule spoke, by whether they were worn."""

    hits: Counter[str] = field(default_factory=Counter)
    false: Counter[str] = field(default_factory=Counter)
    called: Counter[str] = field(default_factory=Counter)
    days: int = 0
    worn: int = 0
    ill_found: dict[str, set[date]] = field(default_factory=lambda: defaultdict(set))
    ill_days: int = 0

    def add(self, codes: set[str], day: date, *, worn: bool, ill: bool, called: bool) -> None:
        self.days += 1
        self.worn += worn
        self.ill_days += ill
        for code in codes:
            (self.hits if worn else self.false)[code] += 1
            self.called[code] += called
            if ill:
                self.ill_found[code].add(day)


def run(seed: int, every: int, tally: Tally) -> None:
    """Go through the mornings of one demo season."""
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    server = PrivateServer(folder / "db")
    try:
        url = server.start()
        migrate(url)
        engine = connect(url)
        with sessions(engine)() as db:
            truth = load_demo(db, seed)
            squad = db.scalars(select(Squad).where(Squad.slug == "tarnholm-handball")).one()
            strains = {athlete: strain_by_day(body, FIRST, TODAY) for athlete, body in truth.items()}
            worst = {athlete: float(np.quantile(list(own.values()), WORN)) for athlete, own in strains.items()}
            calls = queries.calls_between(db, squad.id, FIRST, TODAY)
            for i in range(0, (TODAY - FIRST).days, every):
                day = FIRST + timedelta(days=i)
                desks = open_desks(db, squad, day, TODAY, with_facts=True)
                found = [notices_for(opened.desk) for opened in desks]
                main = desks[0].desk
                assert main.facts is not None
                ratio = main.at_judged(main.now.shown_ratio(School.EWMA))
                down = (np.nan_to_num(main.facts.badness[..., -1]) >= 1).any(axis=1)
                for row, member in enumerate(desks[0].members):
                    body = truth[member.athlete_id].truth
                    ill = body.decline > 0 and day > TODAY - timedelta(weeks=5)
                    worn = strains[member.athlete_id][day] > worst[member.athlete_id] or ill
                    codes = {notice.code for of_channel in found for notice in of_channel[row]}
                    pressing = {
                        notice.severity for of_channel in found for notice in of_channel[row]
                        if notice.severity is not Severity.NOTE
                    }  # fmt: skip
                    codes |= {"any: watch or act"} if pressing else set()
                    codes |= {"any: act"} if Severity.ACT in pressing else set()
                    codes |= {"baseline_ratio"} if ratio[row] > 1.5 else set()
                    codes |= {"baseline_report"} if down[row] else set()
                    tally.add(codes, day, worn=worn, ill=ill, called=(member.athlete_id, day) in calls)
        engine.dispose()
    finally:
        server.stop()
        shutil.rmtree(folder)


def table(tally: Tally) -> list[str]:
    weeks = tally.days / 7
    lines = [
        f"{tally.days} athlete-days, {tally.worn} of them worn ({tally.worn / tally.days:.0%}), "
        f"{tally.ill_days} of an athlete who is losing capacity.",
        "",
        "| rule | notices per athlete-week | hits | misses | false | of its notices worn | of worn days found | called "
        "that day |",
        "| --- | --- | --- | --- | --- | --- | --- | --- |",
    ]
    codes = [*BASELINES, "any: watch or act", "any: act", *KINDS]
    for code in codes:
        hits, false = tally.hits[code], tally.false[code]
        spoke = hits + false
        name = BASELINES.get(code) or (KINDS[code].name if code in KINDS else code)
        share = f"{hits / spoke:.0%}" if spoke else "–"
        called = f"{tally.called[code] / spoke:.0%}" if spoke else "–"
        lines.append(
            f"| {name} | {spoke / weeks:.2f} | {hits} | {tally.worn - hits} | {false} | {share} "
            f"| {hits / max(tally.worn, 1):.0%} | {called} |"
        )
    return lines


PREAMBLE = """# Notices, measured

Demo histories of {seeds} (seeds the defaults were not tuned on), every {every} days from {first} to {last}; written by
`python -m benchmarks.notices`. The simulation knows who is worn (true fatigue in the highest tenth of their own
season, or losing capacity); the rules do not. Most rules are not about being worn at all: a limit, a missing rating
or a newcomer is worth a notice whatever the fatigue. The columns say how each stands to it, no more. A simulated truth
is no evidence about people.
"""


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--seeds", type=int, nargs="+", default=[3, 4])
    parser.add_argument("--every", type=int, default=3)
    parser.add_argument("--out", type=Path)
    given = parser.parse_args()
    tally = Tally()
    for seed in given.seeds:
        run(seed, given.every, tally)
    seeds = "seeds " + " and ".join(map(str, given.seeds))
    head = PREAMBLE.format(seeds=seeds, every=given.every, first=FIRST, last=TODAY)
    page = "\n".join([head, *table(tally), ""])
    print(page)
    if given.out:
        given.out.write_text(page, encoding="utf-8")


if __name__ == "__main__":
    main()
