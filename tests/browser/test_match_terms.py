"""After the session, as the coach hears it: in match terms, whether it was like the game, and what to change."""

import re

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

# Last night's court session, as Thursday morning finds it.
AFTER = "/session?squad=tarnholm-handball&day=2026-03-12&show=match"


def test_a_coach_hears_what_it_came_to_and_puts_the_change_into_the_plan(coach):
    coach.goto(AFTER)
    expect(coach.locator(".match-said")).to_have_text(
        re.compile(r"The session came to \d+\s% of a match in load and \d+\s% in")
    )
    table = coach.get_by_role("table", name="In per cent of a match")
    expect(table.get_by_role("row", name=re.compile("L. Norogar"))).to_have_count(0)
    table.get_by_role("button", name="wing").click()
    row = table.get_by_role("row", name=re.compile("L. Norogar"))
    # Whose pod recorded nothing has no distance, and not none of it.
    expect(row).to_contain_text("not known")
    shape = coach.get_by_role("region", name="Is it like the game?")
    expect(shape).to_contain_text(re.compile(r"\d+\s% of the time was spent as in a match\. Too little standing"))
    expect(shape.get_by_role("row", name=re.compile("standing"))).to_have_count(1)

    beside = coach.get_by_role("complementary", name="Nearer to the game")
    change = beside.get_by_role("article").filter(has_text="Open play")
    expect(change).to_contain_text(re.compile(r"change: \d+ s on, \d+ s off"))
    put = change.get_by_role("button", name="Put into the plan of Thu 12 March")
    put.click()
    expect(change).to_contain_text("In the plan of Thu 12 March.")
    undo = coach.get_by_role("button", name="Undo")
    undo.hover()
    coach.get_by_role("link", name="Thu Court").click(modifiers=["Control"])
    later = coach.context.pages[-1] if len(coach.context.pages) > 1 else coach
    if later is not coach:
        later.goto(later.url.replace("&show=match", ""))
        expect(later.locator(".segments")).to_contain_text(re.compile(r"Open play, \d+ s on, \d+ s off"))
        later.close()
    undo.click()
    expect(put).to_be_visible()

    sheet = beside.get_by_role("region", name="For the coach")
    expect(sheet.get_by_role("paragraph")).to_have_count(5)
    assert not re.search("pain|ill|stage|shoulder", sheet.inner_text())
    expect(beside.get_by_role("row", name=re.compile("Open play"))).to_contain_text("4")
    assert Axe().run(coach).response["violations"] == []


def test_parts_are_planned_from_the_drills_and_told_as_planned(coach):
    coach.goto("/session?squad=tarnholm-handball&day=2026-03-12")
    coach.get_by_role("link", name="Thu Court").click()
    coach.get_by_role("button", name="Parts").click()
    expect(coach.get_by_role("button", name="Save the parts")).to_be_disabled()
    names = coach.locator(".parts-plan tbody input[list]")
    before = names.count()
    coach.get_by_role("button", name="Put in Open play").click()
    expect(names).to_have_count(before + 1)
    expect(names.last).to_have_value("Open play 2")
    coach.get_by_label("Minutes of Open play 2").fill("0")
    coach.get_by_role("button", name="Save the parts").click()
    expect(coach.get_by_role("alert")).to_have_text("More than 0 and at most 600 minutes.")
    coach.get_by_label("Minutes of Open play 2").fill("7,5")
    coach.get_by_role("button", name="Save the parts").click()
    expect(coach.get_by_text("The parts are planned.")).to_be_visible()
    coach.get_by_role("button", name="In match terms").click()
    expect(coach.get_by_role("heading", level=2).first).to_contain_text("As planned the session comes to about")
    expect(coach.get_by_role("row", name=re.compile("Open play 2 8 min"))).to_be_visible()
    coach.get_by_role("button", name="Undo").click()
    expect(coach.get_by_role("row", name=re.compile("Open play 2"))).to_have_count(0)


def test_everybody_by_figure_is_sorted_by_a_press(coach):
    coach.goto("/session/everybody?squad=tarnholm-handball&day=2026-03-12")
    first = coach.locator(".heat-table tbody tr").first
    expect(first).to_contain_text("A. Orrin")
    column = coach.get_by_role("columnheader", name=re.compile("Throws")).first
    column.get_by_role("button").click()
    expect(column).to_have_attribute("aria-sort", "descending")
    expect(first).to_contain_text("M. Vandavic")
    coach.reload()
    expect(first).to_contain_text("M. Vandavic")
    assert Axe().run(coach).response["violations"] == []
