"""Takes the pictures in docs/screenshots from the demo club: ``.venv/bin/python scripts/screenshots.py``."""

import shutil
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))

from tests.browser.chromium import launch  # noqa: E402
from tests.served import Served  # noqa: E402

from uvren.simulate.club import PASSWORD  # noqa: E402

PICTURES = ROOT / "docs" / "screenshots"
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


def session(page: Page) -> None:
    page.goto(f"/session?{DAY}")
    page.wait_for_selector(".entry-grid tbody tr")
    cell = page.locator("td.estimated input").first
    cell.fill("11")
    cell.press("Enter")
    take(page, "session")


def limits(page: Page) -> None:
    page.goto(f"/squad/limits?{DAY}")
    row = page.get_by_role("row", name="Week-on-week cap")
    row.get_by_role("button", name="For one athlete").click()
    take(page, "limits")


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
            page.goto("/")
            page.get_by_label("Name").fill("performance")
            take(page, "sign-in")
            page.get_by_label("Password").fill(PASSWORD)
            page.get_by_role("button", name="Sign in").click()
            page.wait_for_selector(".lane-strip svg")
            for screen in (morning, session, limits):
                screen(page)
            page.set_viewport_size({"width": 820, "height": 1180})
            page.goto(f"/morning?{DAY}")
            page.wait_for_selector(".lane-strip svg")
            take(page, "morning-tablet")
            browser.close()
    finally:
        served.stop()
        shutil.rmtree(folder)


if __name__ == "__main__":
    main()
