"""Parts of the screens by what people call them."""

import re
import time

from playwright.sync_api import Locator, Page, expect


def lane(page: Page, name: str) -> Locator:
    return page.locator(".lane", has=page.get_by_role("button", name=name))


def room_of(page: Page, name: str) -> int:
    text = lane(page, name).locator(".lane-room b").inner_text()
    return int(re.sub(r"\D", "", text))


def wait_for_less_room(page: Page, name: str, before: int) -> None:
    """The lane is read anew after a change; what it showed before may stand for a moment."""
    until = time.monotonic() + 30
    while room_of(page, name) >= before:
        assert time.monotonic() < until, f"room of {name} stayed at {room_of(page, name)}"
        page.wait_for_timeout(50)


def cell(page: Page, what: str, name: str) -> Locator:
    return page.get_by_role("textbox", name=f"{what}, {name}", exact=True)


def saved(page: Page, name: str) -> None:
    row = page.get_by_role("row", name=re.compile(re.escape(name)))
    expect(row.locator("td.saved")).to_have_text(re.compile(r"^Saved\."))


def athletes_without_rating(page: Page) -> list[str]:
    page.wait_for_selector(".entry-grid tbody tr")
    return page.locator(".entry-grid tr:has(td.estimated) th b, .entry-grid tr:has(td.missing) th b").all_inner_texts()


def choose(page: Page, name: str) -> None:
    page.get_by_role("button", name=name).first.click()
    expect(page.get_by_role("complementary").get_by_role("heading", name=name)).to_be_visible()


def evidence(page: Page) -> Locator:
    return page.get_by_role("complementary", name="Evidence")
