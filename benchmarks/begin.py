"""From an empty database to a first Morning: steps on the screen and seconds of the machine, with 22 people and the two
seasons that they have in one wide workbook of about 9,600 rows.

A step is a field that is filled, a choice, or a button; what a person thinks in between is not measured.
"""

import re
import shutil
import tempfile
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path
from random import Random

from playwright.sync_api import Locator, Page, sync_playwright
from tests.browser.chromium import launch
from tests.served import Served

from benchmarks.old_seasons import PEOPLE, names, workbook
from benchmarks.timing import report
from uvren.store.private_server import PrivateServer

LONG = 120_000


class Steps:
    """Does what a person would, and counts it."""

    def __init__(self, page: Page) -> None:
        self.page, self.count = page, 0

    def fill(self, label: str, text: str) -> None:
        self.count += 1
        self.page.get_by_label(label).first.fill(text)

    def press(self, name: str | re.Pattern[str], role: str = "button") -> None:
        self.count += 1
        self.page.get_by_role(role, name=name).first.click(timeout=LONG)  # type: ignore[arg-type]

    def choose(self, what: Locator, value: str | None = None) -> None:
        self.count += 1
        if value is None:
            what.check(timeout=LONG)
        else:
            what.select_option(value)


def walk(page: Page, link: str, book: bytes) -> tuple[int, dict[str, float]]:
    """Steps, and seconds at the end of each part of the way."""
    do, began, at = Steps(page), time.perf_counter(), dict[str, float]()
    page.goto(link)
    do.fill("Name of the club", "Nordel")
    do.fill("Your name", "V. Tarn")
    do.fill("Name to sign in with", "tarn")
    do.fill("Password", "nobody guesses this")
    do.press("Begin")
    do.choose(page.get_by_label("What is its work?"), "court")
    do.fill("Name of the squad", "First team")
    do.press("Make the squad")
    at["squad"] = time.perf_counter() - began
    do.press("Say who is in the squad", "link")
    do.fill("Paste the list", "\n".join(f"{i + 1}\t{name}\tback" for i, name in enumerate(names())))
    do.press("Look at them")
    do.press(f"Add the {PEOPLE}")
    page.get_by_text(f"{PEOPLE} athletes are in the squad.").wait_for()
    at["people"] = time.perf_counter() - began
    do.press("Files", "link")
    do.count += 1
    page.get_by_label("Files to bring in").set_input_files({"name": "season.xlsx", "mimeType": "", "buffer": book})
    do.choose(page.get_by_label("they were in the squad by then"))
    do.choose(page.get_by_label(re.compile("make them from the file")))
    page.get_by_role("button", name="Bring it in").and_(page.locator(":enabled")).wait_for(timeout=LONG)
    do.press("Bring it in")
    page.get_by_role("complementary").get_by_text(re.compile(r"9.592 entries")).wait_for(timeout=LONG)
    at["seasons"] = time.perf_counter() - began
    do.press("Morning", "link")
    page.locator(".lane").nth(PEOPLE - 1).wait_for(timeout=LONG)
    at["morning"] = time.perf_counter() - began
    return do.count, at


def main() -> None:
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    served = Served(folder / "var")
    try:
        served.start("--no-demo")
        found = re.search(r"Begin it here, once, within 7 days: (\S+)", served.log.read_text())
        assert found
        last = datetime.now(UTC).date() - timedelta(days=1)
        book = workbook(Random(4), last)
        with sync_playwright() as playwright:
            browser = launch(playwright)
            steps, at = walk(browser.new_page(locale="en-GB"), found[1], book)
            browser.close()
        report(steps=steps, **{f"seconds_to_{name}": value for name, value in at.items()})
    finally:
        if served.process and served.process.poll() is None:
            served.stop()
        PrivateServer(served.folder / "db").stop()
        shutil.rmtree(folder)


if __name__ == "__main__":
    main()
