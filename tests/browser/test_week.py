"""The week ahead as staff and a coach plan it: seen against room, tried out, solved, saved, undone."""

import re

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

WEEK = "/week?squad=tarnholm-handball&day=2026-03-12"


def count(page):
    said = page.get_by_role("heading", level=1)
    expect(said).to_contain_text("goes over a limit in")
    return int(re.search(r"in (\d+) cells", said.inner_text())[1])


def test_the_week_is_tried_out_solved_saved_and_undone(staff):
    staff.goto("/morning?squad=tarnholm-handball&day=2026-03-12")
    staff.get_by_role("link", name="Week").click()
    before = count(staff)
    panel = staff.get_by_role("region", name="Proposal")
    expect(panel.get_by_role("heading", level=2)).to_contain_text("cannot hold")
    expect(panel).to_contain_text("Week-on-week cap (Throws) for M. Vandavic: by")
    assert Axe().run(staff).response["violations"] == []

    # A longer session redraws everybody's day at once, and is taken back with Escape's like.
    court = staff.get_by_label("Minutes of Court at 18:00").nth(1)
    court.fill("90")
    court.press("Enter")
    expect(staff.get_by_text("+ 40 min")).to_be_visible()
    expect(staff.get_by_role("heading", level=1)).to_contain_text("Tried out")
    expect(staff.locator("td.changed").first).to_be_visible()
    assert count(staff) > before
    court.fill("an hour")
    court.press("Enter")
    expect(staff.get_by_role("alert")).to_have_text("a number of minutes")
    expect(court).to_have_value("an hour")
    court.fill("700")
    court.press("Enter")
    expect(staff.get_by_role("alert")).to_contain_text("Minutes are 0 to 600.")
    staff.get_by_role("button", name="Back to the plan").click()
    expect(court).to_have_value("50")
    assert count(staff) == before

    staff.get_by_role("button", name="Try on the grid").click()
    expect(staff.get_by_role("heading", level=1)).to_contain_text("Tried out")
    assert count(staff) < before
    staff.get_by_role("region", name="Tried out").get_by_role("button", name="Apply to the plan").click()
    expect(staff.get_by_text("The week is planned so.")).to_be_visible()
    expect(staff.get_by_role("heading", level=1)).not_to_contain_text("Tried out")
    assert count(staff) < before
    staff.reload()
    assert count(staff) < before
    staff.goto("/morning?squad=tarnholm-handball&day=2026-03-12")
    expect(staff.locator(".lane").first).to_be_visible()
    staff.goto(WEEK)


def test_what_was_planned_is_undone(staff):
    staff.goto(WEEK)
    court = staff.get_by_label("Minutes of Court at 18:00").nth(2)
    expect(court).to_have_value("45")
    court.fill("60")
    court.press("Enter")
    staff.get_by_role("region", name="Tried out").get_by_role("button", name="Apply to the plan").click()
    expect(staff.get_by_text("The week is planned so.")).to_be_visible()
    expect(court).to_have_value("60")
    staff.get_by_role("button", name="Undo").click()
    expect(court).to_have_value("45")


def test_a_match_is_moved_with_keys_and_the_week_is_solved_again(staff):
    staff.goto(WEEK)
    before = count(staff)
    match = staff.get_by_role("button", name="Lindhav at 18:30")
    match.focus()
    staff.keyboard.press("Alt+ArrowLeft")
    expect(staff.get_by_text("from Sat 14")).to_be_visible()
    expect(staff.get_by_role("region", name="Proposal")).to_be_visible()
    # Over the edge of the week it does not go.
    for _ in range(3):
        staff.get_by_role("button", name="Lindhav at 18:30").focus()
        staff.keyboard.press("Alt+ArrowLeft")
    first = staff.get_by_role("columnheader", name=re.compile("Thu 12"))
    expect(first).to_contain_text("Lindhav")
    assert count(staff) != before
    staff.get_by_role("button", name="Back to the plan").click()
    expect(staff.get_by_role("columnheader", name=re.compile("Sat 14"))).to_contain_text("Lindhav")
    assert count(staff) == before


def test_a_coach_plans_the_week_and_learns_no_reason(coach):
    coach.goto(WEEK)
    count(coach)
    expect(coach.get_by_role("region", name="Proposal")).to_be_visible()
    expect(coach.get_by_text("ask staff first")).to_be_visible()
    expect(coach.get_by_text("clinician")).to_have_count(0)


def test_a_group_opens_by_key_and_shows_everybody_in_it(staff):
    staff.goto(WEEK)
    count(staff)
    group = staff.get_by_role("button", name="keeper")
    rows = staff.get_by_role("row")
    before = rows.count()
    group.focus()
    staff.keyboard.press("Enter")
    expect(group).to_have_attribute("aria-expanded", "true")
    assert rows.count() > before
