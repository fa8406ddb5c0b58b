"""The main job, walked through as a member of performance staff does it."""

import csv
import io
import re
import subprocess
import sys

from playwright.sync_api import Page, expect

from tests.browser.conftest import sign_in
from tests.browser.parts import (
    athletes_without_rating,
    cell,
    choose,
    evidence,
    lane,
    room_of,
    saved,
    wait_for_less_room,
)


def test_last_nights_ratings_become_this_mornings_room_and_a_call(open_page, tmp_path):
    page: Page = open_page()
    page.goto("/")
    sign_in(page, "performance")
    expect(page.get_by_text("Thursday 12 March 2026")).to_be_visible()
    expect(page.get_by_label("Squad", exact=True)).to_have_value("tarnholm-handball")
    expect(page.locator(".lane")).to_have_count(22)

    # Session: the ratings that are missing, typed like in a spreadsheet.
    page.get_by_role("link", name="Session", exact=True).click()
    expect(page.get_by_role("heading", name="ratings are missing")).to_contain_text("Wed 11 March")
    forgets, second, first = athletes_without_rating(page)
    grid = page.request.get("/api/squads/tarnholm-handball/sessions/latest?day=2026-03-12").json()
    (estimate,) = (row["estimate"]["effort"] for row in grid["rows"] if row["name"] == first)
    assert 2 <= estimate <= 9
    expect(cell(page, "Effort", first)).to_have_attribute("placeholder", f"≈ {estimate:g}")
    expect(page.get_by_text("Estimated: own median of").first).to_be_visible()
    page.get_by_role("link", name="Morning", exact=True).click()
    before = room_of(page, first)
    page.get_by_role("link", name="Session", exact=True).click()
    cell(page, "Effort", first).click()
    page.keyboard.type("11")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_have_text("Effort is 0 to 10, in half points.")
    expect(cell(page, "Effort", first)).to_have_value("11")
    cell(page, "Effort", second).fill("6,5")
    page.keyboard.press("Enter")
    saved(page, second)
    expect(cell(page, "Effort", second)).to_have_value("6.5")
    expect(cell(page, "Effort", first)).to_have_value("11")
    cell(page, "Effort", first).fill("9.5")
    page.keyboard.press("Tab")
    saved(page, first)
    expect(page.get_by_role("alert")).to_have_count(0)

    # Morning: the lane has changed.
    page.get_by_role("link", name="Morning", exact=True).click()
    wait_for_less_room(page, first, before)

    # Evidence, and a call by key.
    choose(page, first)
    notice = evidence(page).get_by_role("region").filter(has_text="M. Ostrel, 5 Aug 2024").first
    expect(notice).to_contain_text(re.compile(r"Today's plan is \d+; room is \d+, so the plan is \d+ too much"))
    expect(notice).to_contain_text(re.compile(r"Clears with \d+ min at [\d.]+ off today's plan"))
    page.keyboard.press("2")
    page.keyboard.type("First half of court only")
    evidence(page).get_by_label("Review", exact=True).fill("2026-03-14")
    evidence(page).get_by_role("button", name="Record adapt").click()
    expect(lane(page, first).get_by_text("Adapt")).to_be_visible()
    page.reload()
    expect(lane(page, first).get_by_text("Adapt")).to_be_visible()
    expect(evidence(page)).to_contain_text("First half of court only · review Sat 14 March")

    # The day spine: everything as it stood that day.
    page.get_by_role("link", name="Tuesday 10 March 2026").click()
    expect(page.get_by_text("as it is known now")).to_be_visible()
    expect(lane(page, first).get_by_text("Adapt")).to_have_count(0)
    expect(page.locator(".lane-room")).to_have_count(22)
    past = page.locator(".lane-room").all_inner_texts()

    # Limits: a narrower cap for one athlete, with a reason.
    page.keyboard.press("]")
    page.keyboard.press("]")
    expect(page.get_by_text("Thursday 12 March 2026")).to_be_visible()
    calm = page.locator(".lane", has_text="plan fits").last.locator("b").first.inner_text()
    calm_before = room_of(page, calm)
    page.get_by_role("link", name="Squad", exact=True).click()
    page.get_by_role("link", name="Limits", exact=True).click()
    row = page.get_by_role("row", name="Week-on-week cap").first
    row.get_by_role("button", name="For one athlete").click()
    page.get_by_role("combobox", name="Athlete").select_option(label=calm)
    page.get_by_label("Value, %").fill("2")
    page.get_by_role("button", name="Put in force").click()
    expect(page.get_by_text("Say why")).to_be_visible()
    page.get_by_label("Reason").fill("Slept badly all week, keep it level")
    page.get_by_role("button", name="Put in force").click()
    expect(page.get_by_role("row", name="Slept badly all week")).to_contain_text(calm)
    page.get_by_role("link", name="Morning", exact=True).click()
    wait_for_less_room(page, calm, calm_before)
    choose(page, calm)
    expect(evidence(page).get_by_text("own limit · M. Ostrel, 12 Mar 2026").first).to_be_visible()
    page.get_by_role("link", name="Tuesday 10 March 2026").click()
    expect(page.get_by_text("as it is known now")).to_be_visible()
    expect(page.locator(".lane-room")).to_have_count(22)
    assert page.locator(".lane-room").all_inner_texts() == past

    # The file and the command line give the figures on screen.
    page.get_by_role("link", name="Thursday 12 March 2026").click()
    choose(page, calm)
    with page.expect_download() as download:
        page.get_by_role("link", name="Daily loads as CSV").click()
    path = tmp_path / "loads.csv"
    download.value.save_as(path)
    command = [sys.executable, "-m", "uvren.cli", "analyse", str(path)]
    out = subprocess.run(command, capture_output=True, text=True, check=True).stdout
    lines = [line for line in csv.DictReader(io.StringIO(out)) if line["channel"] == "session_rpe"]
    last = {line["athlete"]: line for line in lines}
    figures = evidence(page).get_by_role("table")

    def shown(name):
        return figures.get_by_role("row", name=name).get_by_role("cell").inner_text().replace("\u2009", "")

    assert last[calm]["date"] == "2026-03-11"
    assert shown("Ratio, weighted") == f"{float(last[calm]['ratio_ewma']):.2f}"
    assert shown("Ratio, rolling coupled") == f"{float(last[calm]['ratio_coupled']):.2f}"
    assert shown("Ratio, rolling uncoupled") == f"{float(last[calm]['ratio_uncoupled']):.2f}"
    assert shown("Spread (monotony)") == f"{float(last[calm]['monotony']):.2f}"
    assert shown("Week load") == f"{float(last[calm]['week_load']):.0f}"
    choose(page, forgets)
    assert shown("Ratio, weighted") == "too much of it is estimated"
    assert (last[forgets]["ratio_ewma"], last[forgets]["withheld"]) == ("", "estimated")
