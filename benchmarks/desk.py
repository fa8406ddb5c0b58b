"""Morning of 60 athletes with three seasons: the resource, many clients at once, and the screen in Chromium.

The baseline of the resource is every row it rests on, fetched by bare queries in the same run.
"""

import shutil
import tempfile
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, date, datetime, timedelta
from datetime import time as clock
from pathlib import Path

import numpy as np
from playwright.sync_api import Page, sync_playwright
from sqlalchemy import select, text
from tests.browser.chromium import launch
from tests.conftest import TODAY
from tests.served import Served
from tests.visitor import Visitor

from benchmarks.timing import best, report
from uvren.core.reports import ReportKind
from uvren.services.reports import Told, give_many
from uvren.services.session import planning
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.squad import squads
from uvren.services.squad.limits import NewLimit, set_limit
from uvren.simulate.club import PASSWORD
from uvren.store.database import connect, sessions
from uvren.store.models import Club, Role, RoleGrant, Scope, SessionKind, Source, User
from uvren.store.types import new_ulid

ATHLETES, DAYS, CLIENTS, SECONDS = 60, 1095, 20, 20
PATH = f"/api/squads/sixty/morning?day={TODAY}"
LIMITS = (("ratio_ceiling", 1.3, {"school": "ewma"}), ("week_change_cap", 0.25, {}), ("day_cap", 1100.0, {}))


def noon(day: date) -> datetime:
    return datetime.combine(day, clock(11), UTC)


def fill(url: str) -> None:
    """A squad of its own in the demo club."""
    random = np.random.default_rng(5)
    first = TODAY - timedelta(days=DAYS)
    engine = connect(url)
    with sessions(engine)() as db:
        club = db.scalars(select(Club)).one()
        squad = squads.create_squad(db, club, "sixty", "Sixty", "Europe/Oslo", noon(first))
        staff = db.scalars(select(User).where(User.login == "performance")).one()
        db.add(RoleGrant(user_id=staff.id, squad_id=squad.id, role=Role.PERFORMANCE))
        people = [squads.NewMember(f"Athlete {i:02}", i, "back", first) for i in range(ATHLETES)]
        athletes = squads.add_members(db, squad, people)
        days = [first + timedelta(days=i) for i in range(DAYS + 8)]
        wanted = [
            planning.NewSession(noon(day), SessionKind.COURT, "Court", 60, 5)
            for day in days
            if day.weekday() not in (2, 6)
        ]
        planned = planning.plan_sessions(db, squad, wanted)
        done = [session for session in planned if session.day < TODAY]
        changes = [
            EntryChange(session.id, athlete, 60.0, float(random.integers(6, 16)) / 2, source=Source.ATHLETE)
            for session in done
            for athlete in athletes
        ]
        record_entries(db, squad.id, changes, by=staff.id, now=noon(TODAY), today=TODAY)
        for rule, value, settings in LIMITS:
            wanted_limit = NewLimit(rule, value, settings, True, Scope.SQUAD, None, None, first, "benchmark", "agreed")
            set_limit(db, squad, wanted_limit, by=staff.id, now=noon(first), today=first)
        told = []
        for back in range(70):
            day = TODAY - timedelta(days=back)
            for athlete in athletes:
                answers = {
                    code: float(random.integers(4, 10)) for code in ("energy", "mood", "soreness", "drive", "stress")
                }
                told.append(Told(new_ulid(), athlete, ReportKind.DAILY, day, answers, noon(day)))
        give_many(db, squad, told)
        db.commit()
    engine.dispose()


BARE = (
    "SELECT athlete_id, TO_DAYS(day), `load`, estimated FROM daily_load JOIN channel ON channel.id = channel_id "
    "WHERE channel.squad_id = :squad AND is_main",
    "SELECT athlete_id, kind, day, answers FROM report WHERE squad_id = :squad AND day > :since AND counts",
    "SELECT e.athlete_id, s.day, s.kind, s.planned_effort, e.effort, e.minutes FROM entry e "
    "JOIN session s ON s.id = e.session_id WHERE s.squad_id = :squad AND s.day > :since AND s.done",
    "SELECT * FROM load_limit WHERE squad_id = :squad",
    "SELECT * FROM athlete_call WHERE squad_id = :squad AND day > :since",
)


def resource(served: Served, visitor: Visitor) -> None:
    engine = connect(served.database_url)
    with engine.connect() as connection:
        squad = connection.execute(text("SELECT id FROM squad WHERE slug = 'sixty'")).scalar_one()
        given = {"squad": squad, "since": TODAY - timedelta(days=63)}

        def bare() -> int:
            return sum(len(connection.execute(text(query), given).all()) for query in BARE)

        rows = bare()
        one = best(lambda: visitor.ask("GET", PATH), runs=7)
        baseline = best(bare, runs=7)
        again = best(lambda: visitor.ask("GET", PATH), runs=7)
    engine.dispose()
    report(
        what=f"GET morning of {ATHLETES} athletes over {DAYS} days, all notices, one client",
        seconds=min(one, again), baseline="the rows it rests on, fetched", baseline_seconds=baseline, rows=rows,
        ratio=min(one, again) / baseline, aim="at most 4 times",
    )  # fmt: skip


def at_once(served: Served) -> None:
    visitors = [Visitor(served.address, "performance") for _ in range(CLIENTS)]
    until = time.monotonic() + SECONDS
    waits: list[float] = []

    def go(visitor: Visitor) -> None:
        while time.monotonic() < until:
            began = time.perf_counter()
            visitor.ask("GET", PATH)
            waits.append(time.perf_counter() - began)

    with ThreadPoolExecutor(CLIENTS) as pool:
        list(pool.map(go, visitors))
    report(
        what=f"{CLIENTS} clients asking for that morning for {SECONDS} s", requests=len(waits),
        per_second=len(waits) / SECONDS, median=float(np.median(waits)),
        slowest_5_percent=float(np.quantile(waits, 0.95)),
    )  # fmt: skip


def shown(page: Page, path: str, selector: str) -> float:
    """Seconds until something stands on the screen."""
    began = time.perf_counter()
    page.goto(path)
    page.wait_for_selector(selector)
    return time.perf_counter() - began


# Every frame and every long task from here on.
WATCH = """() => { window.long = []; window.frames = []; let before = performance.now();
  new PerformanceObserver(list => {
    for (const one of list.getEntries()) window.long.push(one.duration) }).observe({ entryTypes: ["longtask"] });
  const frame = () => { const now = performance.now(); window.frames.push(now - before); before = now;
    requestAnimationFrame(frame); };
  requestAnimationFrame(frame); }"""
SCROLL = """async () => { const list = document.querySelector(".desk-main");
  for (let i = 0; i < 120; i++) { list?.scrollBy(0, 12); await new Promise(requestAnimationFrame); } }"""
MOVES = 30


def smooth(page: Page, what: Callable[[], object]) -> dict[str, object]:
    """Milliseconds from frame to frame and of the long tasks while something is done."""
    page.wait_for_timeout(500)
    page.evaluate("() => { window.long = []; window.frames = []; }")
    what()
    frames = sorted(page.evaluate("window.frames"))
    return {
        "frame_median": frames[len(frames) // 2],
        "frame_slowest_10_percent": frames[int(len(frames) * 0.9)],
        "frame_slowest_5_percent": frames[int(len(frames) * 0.95)],
        "long_tasks": [round(one) for one in page.evaluate("window.long")],
    }


def screen(served: Served) -> None:
    with sync_playwright() as playwright:
        browser = launch(playwright)
        context = browser.new_context(base_url=served.address, viewport={"width": 1280, "height": 800},
                                      service_workers="block")  # fmt: skip
        page = context.new_page()
        empty = min(shown(page, "/", "input") for _ in range(3))
        page.get_by_label("Name").fill("performance")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        page.wait_for_selector(".lane")
        morning = f"/morning?squad=sixty&day={TODAY}"
        first = min(shown(page, morning, ".lane .lane-strip svg") for _ in range(3))

        def move(pause: int) -> None:
            for _ in range(MOVES):
                page.keyboard.press("j")
                page.wait_for_timeout(pause)

        page.evaluate(WATCH)
        scrolled = smooth(page, lambda: page.evaluate(SCROLL))
        page.locator(".desk-main").evaluate("list => list.scrollTo(0, 0)")
        moved = smooth(page, lambda: move(400))
        held = smooth(page, lambda: move(33))
        page.goto("/account")
        page.evaluate(WATCH)
        still = smooth(page, lambda: page.evaluate(SCROLL))
        browser.close()
    report(
        what="first lanes on screen, against the sign-in page of the same app",
        seconds=first, baseline_seconds=empty, ratio=first / empty,
    )  # fmt: skip
    report(
        what=f"milliseconds of frames: scrolling {ATHLETES} lanes, and {MOVES} moves by key, each and held down",
        scrolling=scrolled, moving=moved, held_down=held,
        baseline="a page on which nothing moves", baseline_frames=still, aim="60 frames a second",
    )  # fmt: skip


def main() -> None:
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    served = Served(folder / "var")
    served.start()
    try:
        fill(served.database_url)
        resource(served, Visitor(served.address, "performance"))
        at_once(served)
        screen(served)
    finally:
        served.stop()
        shutil.rmtree(folder)


if __name__ == "__main__":
    main()
