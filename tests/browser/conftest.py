import contextlib
import re
import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Error as PlaywrightError
from playwright.sync_api import Page, expect, sync_playwright

from tests.browser.chromium import Renewed
from tests.conftest import serving
from tests.served import Served
from uvren.simulate.club import PASSWORD

expect.set_options(timeout=30_000)


@pytest.fixture(scope="session")
def browser() -> Iterator[Renewed]:
    with sync_playwright() as playwright:
        made = Renewed(playwright)
        yield made
        made.end()


@pytest.fixture(scope="module", autouse=True)
def _fresh(browser) -> Iterator[None]:
    """The pages of a file's tests go with it."""
    yield
    browser.renew()


def sign_in(page: Page, login: str, heading: str | re.Pattern[str] = "in the squad") -> None:
    page.get_by_label("Name").fill(login)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("heading", name=heading)).to_be_visible()


def signed_in(browser: Renewed, address: str, login: str, heading: str = "in the squad") -> dict:
    context = browser.new_context(base_url=address)
    page = context.new_page()
    page.goto("/")
    sign_in(page, login, heading)
    state = context.storage_state()
    context.close()
    return state


HEADINGS = {"athlete": "Asked of you", "admin": "athletes can sign in"}


@pytest.fixture(scope="session")
def signed(browser, demo_folder, tmp_path_factory) -> tuple[Path, dict[str, dict]]:
    """A folder of the application in which each of the demo's people signed in once, and what their browsers keep."""
    with serving(demo_folder) as running:
        states = {
            login: signed_in(browser, running.address, login, HEADINGS.get(login, "in the squad"))
            for login in ("performance", "coach", "clinician", "athlete", "admin")
        }
        running.stop()
        folder = tmp_path_factory.mktemp("signed") / "var"
        shutil.copytree(running.folder, folder)
    return folder, states


@pytest.fixture(scope="module")
def served(signed) -> Iterator[Served]:
    """The demo club as it opens, shared by the tests of one file."""
    with serving(signed[0]) as running:
        yield running


@pytest.fixture
def staff_state(signed) -> dict:
    return signed[1]["performance"]


@pytest.fixture
def athlete_state(signed) -> dict:
    return signed[1]["athlete"]


@pytest.fixture
def open_page(browser, served):
    """Opens pages that fail the test when a script of theirs fails or a policy is broken."""
    contexts, complaints = [], []

    def make(state=None, width=1280, height=800, offline_too=False) -> Page:
        # The pages are kept in the browser only where a test is about that: installing them takes its time.
        context = browser.new_context(
            base_url=served.address, storage_state=state, viewport={"width": width, "height": height}, locale="en-GB",
            service_workers="allow" if offline_too else "block", permissions=["clipboard-read", "clipboard-write"],
        )  # fmt: skip
        context.set_default_timeout(45_000)
        contexts.append(context)
        page = context.new_page()
        page.on("pageerror", lambda error: complaints.append(str(error)))
        page.on(
            "console",
            lambda line: complaints.append(line.text) if "Content Security Policy" in line.text else None,
        )
        return page

    yield make
    # They are emptied, and go as the browser is begun anew.
    for page in [page for context in contexts for page in context.pages]:
        with contextlib.suppress(PlaywrightError):
            page.goto("about:blank", timeout=5_000)
    assert complaints == []


@pytest.fixture
def staff(open_page, staff_state) -> Page:
    return open_page(staff_state)


@pytest.fixture
def clinician(open_page, signed) -> Page:
    return open_page(signed[1]["clinician"])


@pytest.fixture
def phone(open_page, athlete_state) -> Page:
    return open_page(athlete_state, 390, 844)


@pytest.fixture
def admin(open_page, signed) -> Page:
    return open_page(signed[1]["admin"])


@pytest.fixture
def coach(open_page, signed) -> Page:
    return open_page(signed[1]["coach"])
