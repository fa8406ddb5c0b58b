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


def test_before_anybody_was_in_it_a_session_says_what_it_waits_for(coach):
    coach.goto("/session?squad=tarnholm-handball&day=2026-03-12")
    coach.get_by_role("link", name="Thu Court").click()
    coach.get_by_role("button", name="In match terms").click()
    expect(coach.get_by_text("As soon as somebody’s minutes are in")).to_be_visible()
