"""What the first view sends, and how soon its first lane stands in Chromium, against the same app's sign-in page."""

import shutil
import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright
from tests.browser.chromium import launch
from tests.served import Served

from benchmarks.timing import report
from uvren.simulate.club import PASSWORD

RUNS = 5

FIRST_LANE = """
new Promise(done => {
  const look = () => document.querySelector('SELECTOR') ? done(performance.now()) : requestAnimationFrame(look);
  look();
})
"""


def until(page: Page, address: str, selector: str) -> float:
    """Seconds from the start of loading until something by the selector stands; quickest of several."""
    times = []
    for _ in range(RUNS):
        page.goto(address, wait_until="commit")
        times.append(page.evaluate(FIRST_LANE.replace("SELECTOR", selector)) / 1000)
    return min(times)


def main() -> None:
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    served = Served(folder / "var")
    served.start()
    try:
        with sync_playwright() as playwright:
            browser = launch(playwright)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            empty = until(page, served.address, "form input")
            page.goto(served.address)
            page.get_by_label("Name").fill("performance")
            page.get_by_label("Password").fill(PASSWORD)
            page.get_by_role("button", name="Sign in").click()
            page.wait_for_selector(".lane-strip svg path")
            state = page.context.storage_state()
            sent = {"script": 0, "font": 0}
            fresh = browser.new_context(storage_state=state, viewport={"width": 1280, "height": 800})
            first = fresh.new_page()
            first.on("requestfinished", lambda request: _count(sent, request))
            first.goto(served.address)
            first.wait_for_selector(".lane-strip svg path")
            lane = until(first, f"{served.address}/morning", ".lane-strip svg path")
            browser.close()
        report(
            what="time to the first lane of Morning, page reloaded",
            seconds=lane,
            baseline="the sign-in page of the same app",
            baseline_seconds=empty,
            ratio=lane / empty,
            compressed_kB={kind: round(size / 1000, 1) for kind, size in sent.items()},
            aim="under 300 kB of compressed script",
        )
    finally:
        served.stop()
        shutil.rmtree(folder)


def _count(sent: dict[str, int], request) -> None:
    path = request.url.partition("?")[0]
    kind = {"js": "script", "woff2": "font"}.get(path.rpartition(".")[2])
    if kind:
        sent[kind] += request.sizes()["responseBodySize"]


if __name__ == "__main__":
    main()
