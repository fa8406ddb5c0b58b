"""At the pitch with a tablet: parts run, throws counted by tap, a break that begins, a network that goes and comes."""

import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

FIELD = "/field?squad=tarnholm-handball&day=2026-03-12"


@pytest.fixture
def tablet(open_page, staff_state):
    page = open_page(staff_state, 800, 1280)
    page.goto(FIELD)
    expect(page.get_by_role("heading", level=1)).to_contain_text("Court, Thursday 12 March 2026 M−2")
    return page


def tile(page, name):
    return page.locator(".field-tile", has_text=name)


def test_a_session_is_run_counted_and_called_without_a_network_and_goes_out_in_order(tablet, coach):
    assert Axe().run(tablet).response["violations"] == []
    # Whoever has to be asked first is offered no minutes.
    asked = tablet.locator(".field-row", has_text="M. Vandavic")
    expect(asked).to_contain_text("ask first")
    expect(asked).not_to_contain_text(" min")
    # A spell for one: at most three, then ten minutes.
    tablet.get_by_role("button", name="Set a spell").click()
    form = tablet.locator(".field-spell")
    form.get_by_label("Whose").select_option(label="D. Elsilith")
    form.get_by_label("At most").fill("0")
    form.get_by_role("button", name="Set it").click()
    expect(form.get_by_role("alert")).to_have_text("A whole number from 1 to 1000.")
    form.get_by_label("At most").fill("3")
    form.get_by_role("button", name="Set it").click()
    expect(tile(tablet, "D. Elsilith")).to_contain_text("0 of 3, break in 3")

    tablet.context.set_offline(True)
    tablet.get_by_role("button", name="Start warm-up").click()
    clock = tablet.get_by_role("timer")
    expect(clock).to_contain_text(re.compile(r"1[23]:\d\d left"))
    tablet.get_by_role("button", name="Start throwing and finishing").click()
    expect(tablet.get_by_role("listitem").filter(has_text="Warm-up")).to_contain_text("done")
    count = tile(tablet, "D. Elsilith").get_by_role("button")
    count.click()
    count.click()
    # A hold takes one back.
    count.click(delay=800)
    expect(tile(tablet, "D. Elsilith")).to_contain_text("1 of 3, break in 2")
    count.click()
    count.click()
    expect(tile(tablet, "D. Elsilith")).to_contain_text("on a break")
    expect(count).to_have_text(re.compile(r"9:5\d"))
    call = tablet.get_by_role("region", name="After warm-up")
    expect(call.get_by_role("heading")).to_contain_text("5 to call")
    call.get_by_role("button", name="Minimum").click()
    expect(call.get_by_role("heading")).to_contain_text("4 to call")
    expect(tablet.get_by_text("changes are kept here")).to_be_visible()

    tablet.context.set_offline(False)
    tablet.evaluate("window.dispatchEvent(new Event('online'))")
    expect(tablet.get_by_text("kept here")).to_have_count(0)
    # On a second tablet everything stands, in its order.
    coach.set_viewport_size({"width": 800, "height": 1280})
    coach.goto(FIELD)
    expect(tile(coach, "D. Elsilith")).to_contain_text("on a break")
    expect(coach.get_by_role("listitem").filter(has_text="Throwing and finishing")).to_have_attribute(
        "aria-current", "step"
    )
    words = coach.get_by_role("region", name="Words")
    words.get_by_label("Words").fill("wind from the left")
    words.get_by_role("button", name="Note").click()
    expect(tablet.get_by_text("wind from the left")).to_be_visible()
    assert not re.search("shoulder|ill|pain", coach.locator(".field").inner_text())

    tablet.get_by_role("button", name="Stop").click()
    expect(clock).to_contain_text("not running")
    tablet.get_by_role("button", name="Keep the session as it was").click()
    expect(tablet.get_by_text("Kept: 2 parts, counts of 1 athlete.")).to_be_visible()
    expect(tablet.get_by_role("heading", level=1)).to_contain_text("Court")


def test_a_day_without_a_session_offers_to_make_one(coach):
    coach.goto("/field?squad=tarnholm-handball&day=2026-03-15")
    expect(coach.get_by_text("No session today")).to_be_visible()
    expect(coach.get_by_role("button", name="Make one in the calendar")).to_be_visible()
