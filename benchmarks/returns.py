"""Returns: what the ways back ask of a simulated tissue, and the resource of a squad of 60 against its bare queries.

Writes docs/returns-measured.md, and prints the figures of the resource.
"""

from __future__ import annotations

import shutil
import tempfile
import time
from datetime import timedelta
from pathlib import Path

import numpy as np
from sqlalchemy import select, text
from tests.conftest import TODAY
from tests.served import Served
from tests.visitor import Visitor

from benchmarks.desk import ATHLETES, fill, noon
from benchmarks.timing import best, report
from uvren.services.return_ import plans
from uvren.services.return_.plans import By, NewPlan
from uvren.services.stamp import Stamp
from uvren.simulate.tissue import LIVING, LOSES, MARGIN, MUSCLE, TENDON, Row, people, table
from uvren.store import queries
from uvren.store.database import connect, sessions
from uvren.store.models import ReturnKind, Squad, User

PAGE = Path(__file__).parents[1] / "docs" / "returns-measured.md"
RETURNS, SEED, COMING = 200, 11, 12
SPANS = ((7, 28), (28, 56), (56, 127))

HEAD = f"""# Returns, measured

Written by `python -m benchmarks.returns`. {RETURNS} simulated returns after breaks of 7 to 126 days, the same people
for every way back. **A simulation is no evidence about people**, least of all about tissue. What is assumed
(`uvren.simulate.tissue`): a tissue bears {MARGIN:g} times what it is used to in seven days; it comes up to what is
asked of it within {MUSCLE:g} days (muscle) or {TENDON:g} (tendon), differently for each person, and loses it {LOSES:g}
times more slowly; daily life is {LIVING:g} of usual training. All work trains a tendon, quick work (sprints, jumps,
full throws) is what it has to bear. Weeks are done within a sixth of what was planned, and one of ten is half missed.

*By paper* goes up with the calendar whatever was done, and holds nothing behind; *kept by a plan* is what Uvren does:
no week above its step, a week under 70 % of it held for another one, quick work held behind after a long break. A
longer break that is climbed more slowly leaves a tendon less used to work by the time quick work is back: slower is not
safer for everything.

"""


def pages() -> str:
    found = people(RETURNS, np.random.default_rng(SEED))
    out = [HEAD]
    for first, last in ((7, 127), *SPANS):
        some = [one for one in found if first <= one.days_off < last]
        out.append(f"## {first} to {last - 1} days off ({len(some)} returns)\n\n")
        out.append(_table([(row, MARGIN) for row in table(some)]))
    out.append("## What the margin does\n\nAll returns, had the tissue borne less or more of what it is used to.\n\n")
    out.append(_table([(row, margin) for margin in (1.3, 1.7) for row in table(found, margin)], margins=True))
    return "".join(out)


def _table(rows: list[tuple[Row, float]], margins: bool = False) -> str:
    head = [
        "way back",
        "muscle asked too much",
        "tendon",
        "either",
        "most asked, of what it bore",
        "days to a full week",
    ]
    lines = [["bears", *head] if margins else head]
    lines.append(["---"] * len(lines[0]))
    for row, margin in rows:
        cells = [row.name, *(f"{share:.0%}" for share in (row.muscle, row.tendon, row.either)), f"{row.most:.2f}",
                 f"{row.days_to_full:g}"]  # fmt: skip
        lines.append([f"{margin:g}", *cells] if margins else cells)
    return "\n".join(f"| {' | '.join(line)} |" for line in lines) + "\n\n"


BARE = (
    "SELECT * FROM return_plan WHERE squad_id = :squad",
    "SELECT * FROM return_event WHERE squad_id = :squad",
    "SELECT athlete_id, TO_DAYS(day), `load`, estimated FROM daily_load JOIN channel ON channel.id = channel_id "
    "WHERE channel.squad_id = :squad",
    "SELECT athlete_id, kind, day, answers FROM report WHERE squad_id = :squad AND day > :since AND counts",
    "SELECT e.athlete_id, s.day, s.kind, s.planned_effort, e.effort, e.minutes FROM entry e "
    "JOIN session s ON s.id = e.session_id WHERE s.squad_id = :squad AND s.day > :since AND s.done",
)


def coming_back(url: str) -> None:
    """A plan for some of the squad."""
    engine = connect(url)
    with sessions(engine)() as db:
        squad = db.scalars(select(Squad).where(Squad.slug == "sixty")).one()
        staff = db.scalars(select(User).where(User.login == "performance")).one()
        stamp = Stamp(staff.id, noon(TODAY))
        by = By(clinician=True, plans=True, stamp=stamp, today=TODAY)
        for i, member in enumerate(queries.squad.members(db, squad.id, TODAY)[:COMING]):
            first, off = TODAY - timedelta(days=7 + i), TODAY - timedelta(days=70)
            new = NewPlan(member.athlete_id, ReturnKind.INJURY, first, off, "shoulder",
                          target_day=TODAY + timedelta(days=14))  # fmt: skip
            plans.begin(db, squad, new, by)
        db.commit()
    engine.dispose()


def resource(served: Served) -> None:
    engine = connect(served.database_url)
    with engine.connect() as connection:
        squad = connection.execute(text("SELECT id FROM squad WHERE slug = 'sixty'")).scalar_one()
        given = {"squad": squad, "since": TODAY - timedelta(days=63)}

        def bare() -> int:
            return sum(len(connection.execute(text(query), given).all()) for query in BARE)

        rows, baseline = bare(), best(bare, runs=9)
    engine.dispose()
    visitor = Visitor(served.address, "performance")
    path = f"/api/squads/sixty/return?day={TODAY}"
    plan = visitor.ask("GET", path)["rows"][0]["plan_id"]
    # Once in a while the day itself is there already, as somebody has looked at Morning; what Return adds is told.
    visitor.look(f"/api/squads/sixty/morning?day={TODAY}")
    days = iter(range(1, 40))

    def anew() -> object:
        # Another day each time: nothing of it is kept.
        return visitor.look(f"/api/squads/sixty/return?day={TODAY - timedelta(days=next(days))}")

    def beside_morning() -> float:
        """Seconds of Return on a day that Morning has worked out, in whichever process."""
        day = TODAY - timedelta(days=next(days))
        for _ in range(8):
            visitor.look(f"/api/squads/sixty/morning?day={day}")
        began = time.perf_counter()
        visitor.look(f"/api/squads/sixty/return?day={day}")
        return time.perf_counter() - began

    for what, seconds, aim in (
        ("the list on a day nobody has looked at", best(anew, runs=3), "at most 2"),
        ("the list on a day that Morning has shown", min(beside_morning() for _ in range(5)), "at most 2"),
        ("the list when nothing has changed", best(lambda: visitor.look(path), runs=15), "at most 0.05"),
        ("one plan when nothing has changed",
         best(lambda: visitor.look(f"/api/squads/sixty/return/{plan}?day={TODAY}"), runs=15), "at most 0.05"),
    ):  # fmt: skip
        report(what=f"Return of {ATHLETES} athletes, {COMING} of them coming back: {what}", seconds=seconds, rows=rows,
               baseline="the rows it rests on, fetched", baseline_seconds=baseline, ratio=seconds / baseline,
               aim=aim)  # fmt: skip


def main() -> None:
    PAGE.write_text(pages().rstrip() + "\n")
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    served = Served(folder / "var")
    served.start()
    try:
        fill(served.database_url)
        coming_back(served.database_url)
        resource(served)
    finally:
        served.stop()
        shutil.rmtree(folder)


if __name__ == "__main__":
    main()
