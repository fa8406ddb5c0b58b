"""Takes the pictures in docs/screenshots from the demo club: ``.venv/bin/python scripts/screenshots.py``."""

import shutil
import sys
import tempfile
from datetime import timedelta
from pathlib import Path
from threading import Event, Thread

import numpy as np
from playwright.sync_api import Browser, Page, sync_playwright

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))

from tests.browser.chromium import launch  # noqa: E402
from tests.served import Served  # noqa: E402
from tests.visitor import Visitor  # noqa: E402

from uvren.simulate.club import PASSWORD  # noqa: E402
from uvren.simulate.hub import Sender, catch_up, straps  # noqa: E402
from uvren.store.types import new_ulid  # noqa: E402

PICTURES = ROOT / "docs" / "screenshots"
# So long has the session at the pitch been running.
MINUTES = 10
DAY = "squad=tarnholm-handball&day=2026-03-12"


def take(page: Page, name: str) -> None:
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(400)
    page.screenshot(path=PICTURES / f"{name}.png")
    print(name)


def morning(page: Page) -> None:
    page.goto(f"/morning?{DAY}")
    page.wait_for_selector(".lane-strip svg")
    take(page, "morning")
    page.keyboard.press("j")
    page.keyboard.press("j")
    page.wait_for_selector(".figures-table")
    page.keyboard.press("2")
    page.keyboard.type("First half of court only, no finishing block")
    take(page, "morning-call")
    page.goto(f"/morning?{DAY}&order=name")
    page.get_by_role("button", name="L. Balmund").click()
    page.keyboard.press("2")
    page.keyboard.type("Heart rate and rating high since Tuesday")
    page.get_by_role("button", name="Record adapt").click()
    page.locator(".standing-call").wait_for()
    page.goto(f"/morning/sheet?{DAY}")
    page.get_by_role("button", name="Give it out").click()
    page.get_by_text("Version 1, ").wait_for()
    page.wait_for_timeout(7000)
    take(page, "sheet")
    page.goto(f"/morning?{DAY}")
    page.get_by_role("button", name="M. Zanotis").click()
    page.get_by_role("link", name="Whole picture").click()
    page.wait_for_selector(".athlete-axis svg")
    page.get_by_label("Figure", exact=True).select_option("ratio_ewma")
    page.get_by_text("Williams et al. 2017").last.wait_for()
    take(page, "athlete")


def session(page: Page) -> None:
    page.goto(f"/session?{DAY}")
    page.wait_for_selector(".entry-grid tbody tr")
    cell = page.locator("td.estimated input").first
    cell.fill("11")
    cell.press("Enter")
    take(page, "session")
    page.goto(f"/session/everybody?{DAY}")
    page.wait_for_selector(".heat-table")
    take(page, "everybody")


def limits(page: Page) -> None:
    page.goto(f"/squad/limits?{DAY}")
    row = page.get_by_role("row", name="Week-on-week cap").first
    row.get_by_role("button", name="For one athlete").click()
    take(page, "limits")


def session_parts(page: Page) -> None:
    page.goto(f"/session?{DAY}&show=recordings")
    page.wait_for_selector(".u-over")
    take(page, "recordings")


def ahead(page: Page) -> None:
    page.goto(f"/week?{DAY}")
    page.get_by_role("region", name="Proposal").wait_for()
    take(page, "week")
    page.goto(f"/week/block?{DAY}")
    page.wait_for_selector(".block-table")
    take(page, "block")
    page.goto(f"/season?{DAY}")
    page.wait_for_selector(".season-band")
    take(page, "season")


def squad(page: Page) -> None:
    page.goto(f"/squad/files?{DAY}")
    page.wait_for_selector(".files-table")
    page.get_by_label("Files to bring in").set_input_files(
        {"name": "ratings.csv", "mimeType": "text/csv", "buffer": RATINGS.encode()}
    )
    page.wait_for_selector(".file-look")
    take(page, "files")


def squad_of_staff(page: Page) -> None:
    page.goto(f"/squad/tests?{DAY.replace('03-12', '03-05')}&test=isometric_squat")
    page.wait_for_selector(".test-grid tbody tr")
    page.locator("tr", has_text="three tests running").get_by_role("button").first.click()
    page.wait_for_selector(".test-series")
    take(page, "tests")


def at_the_pitch(page: Page, address: str) -> None:
    """A session ten minutes in: on the tablet, on the second screen, and, of last night's, in match terms."""
    staff = Visitor(address)
    squad = "/api/squads/tarnholm-handball"
    field = staff.ask("GET", f"{squad}/field?day=2026-03-12")
    begin = staff.now() - timedelta(minutes=MINUTES)
    people = {row["name"]: row["athlete_id"] for row in field["rows"]}
    spell = {"athlete_id": people["D. Elsilith"], "what": "full throw", "most": 12, "break_minutes": 3}
    staff.ask("PUT", f"{squad}/field/spells?day=2026-03-12", spell)
    second, thrown = (begin + timedelta(minutes=minutes) for minutes in (5, 7))
    noted = [{"kind": "begin", "part": 0, "at": begin}, {"kind": "begin", "part": 1, "at": second}]
    noted += [
        {"kind": "count", "amount": 1, "what": "full throw", "athlete_id": people[name], "at": thrown}
        for name, count in (("D. Elsilith", 9), ("M. Uldrow", 7))
        for _ in range(count)
    ]
    noted.append({"kind": "note", "words": "marks and does not run", "athlete_id": people["L. Drenvan"],
                  "at": begin + timedelta(minutes=8)})  # fmt: skip
    events = [{**one, "id": new_ulid(), "at": one["at"].isoformat()} for one in noted]
    staff.ask("POST", f"{squad}/sessions/{field['session']['id']}/field", {"events": events})
    sender = Sender(address, staff.ask("POST", f"{squad}/hubs", {"name": "Pitch"})["token"])
    hard = ("M. Brisalith", "L. Balmund")
    wearing = straps(sorted(people), 3600, np.random.default_rng(1), hard)
    for strap in wearing:
        strap.drops = (MINUTES * 60 + 15, 3600) if strap.device == "T. Indnock" else None
    over = Event()
    Thread(target=catch_up, args=(sender, wearing, begin, over.is_set), daemon=True).start()
    page.set_viewport_size({"width": 800, "height": 1280})
    page.goto(f"/field?{DAY}")
    page.locator(".field-tile").first.wait_for()
    page.screenshot(path=PICTURES / "field.png")
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(f"/live?{DAY}")
    page.locator(".live-lane.act").nth(1).wait_for()
    page.get_by_text("no signal for").first.wait_for()
    page.screenshot(path=PICTURES / "live.png")
    over.set()
    page.goto(f"/session?{DAY}&show=match&session={last_session(staff)}")
    page.locator(".game-shape").wait_for()
    take(page, "match-terms")


def last_session(staff: Visitor) -> str:
    return str(staff.ask("GET", "/api/squads/tarnholm-handball/sessions/latest?day=2026-03-11")["id"])


def of_others(browser: Browser, address: str) -> None:
    """What a clinician and an athlete see."""
    desk, phone = (1280, 800), (390, 844)
    wanted = (("clinician", "/morning/reports", desk), ("athlete", "/", phone))
    for login, path, (width, height) in wanted:
        page = browser.new_page(base_url=address, viewport={"width": width, "height": height}, locale="en-GB")
        sign_in(page, login)
        page.get_by_role("button", name="Sign out").wait_for()
        page.goto(path)
        if login == "clinician":
            page.locator(".reports-table tbody tr .text-button.plain").nth(5).click()
            take(page, "reports")
            page.goto(f"/return?{DAY}")
            page.get_by_role("button", name="D. Elsilith").click()
            page.locator(".criterion").first.wait_for()
            take(page, "return")
        else:
            page.wait_for_selector(".due")
            take(page, "phone")
        page.close()


def sign_in(page: Page, login: str) -> None:
    page.goto("/")
    page.get_by_label("Name").fill(login)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()


RATINGS = """Ratings of the spring, kept by the coaches
Player;05/06;;07/06;;12/06;;Average
;Min;RPE;Min;RPE;Min;RPE;
Keldane;1:15;6,5;60;4;75;7;5,8
Zanotis;75 min;7;off;;80;6,5;6,7
New back from Ostmar;40;5;60;6;75;7;6
Average;63;6,2;60;5;77;6,8;6
"""


def main() -> None:
    PICTURES.mkdir(parents=True, exist_ok=True)
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    served = Served(folder / "var")
    served.start()
    try:
        with sync_playwright() as playwright:
            browser = launch(playwright)
            context = browser.new_context(
                base_url=served.address, viewport={"width": 1280, "height": 800}, locale="en-GB"
            )
            page = context.new_page()
            sign_in(page, "performance")
            page.wait_for_selector(".lane-strip svg")
            for screen in (morning, session, session_parts, ahead, squad, limits, squad_of_staff):
                screen(page)
            of_others(browser, served.address)
            at_the_pitch(page, served.address)
            browser.close()
    finally:
        served.stop()
        shutil.rmtree(folder)


if __name__ == "__main__":
    main()
