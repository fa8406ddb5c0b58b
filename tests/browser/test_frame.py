import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

from tests.browser.parts import choose, evidence, lane

MORNING = "/morning?squad=tarnholm-handball&day=2026-03-12"


@pytest.fixture
def morning(staff):
    staff.goto(MORNING)
    staff.wait_for_selector(".lane-strip svg")
    return staff


def test_the_whole_morning_works_by_keyboard(morning):
    names = morning.locator(".lane-name b").all_inner_texts()
    morning.keyboard.press("j")
    expect(evidence(morning).get_by_role("heading", name=names[0])).to_be_visible()
    morning.keyboard.press("j")
    expect(evidence(morning).get_by_role("heading", name=names[1])).to_be_visible()
    assert "athlete=" in morning.url
    morning.keyboard.press("k")
    expect(evidence(morning).get_by_role("heading", name=names[0])).to_be_visible()
    morning.keyboard.press("5")
    expect(evidence(morning).get_by_label("Reason")).to_be_focused()
    morning.keyboard.press("Enter")
    expect(evidence(morning).get_by_role("alert")).to_have_text("Say why, in a few words.")
    morning.keyboard.type("travelled all night")
    morning.keyboard.press("Enter")
    expect(lane(morning, names[0]).get_by_text("Rest")).to_be_visible()
    morning.get_by_role("button", name="Undo").click()
    expect(lane(morning, names[0]).get_by_text("to call")).to_be_visible()


def test_a_review_date_in_the_past_is_refused_at_its_place_and_nothing_is_lost(morning):
    morning.keyboard.press("j")
    morning.keyboard.press("4")
    evidence(morning).get_by_label("Reason").fill("heavy legs")
    evidence(morning).get_by_label("Review", exact=True).fill("2026-03-01")
    evidence(morning).get_by_role("button", name="Record recover").click()
    expect(evidence(morning).get_by_role("alert")).to_have_text("The review date is Thu 12 March or later.")
    expect(evidence(morning).get_by_label("Reason")).to_have_value("heavy legs")


def test_no_call_is_chosen_beforehand(morning):
    morning.keyboard.press("j")
    expect(evidence(morning).get_by_role("button", name=re.compile("^1 Full"))).to_be_visible()
    expect(evidence(morning).locator("[aria-pressed=true]")).to_have_count(0)


def test_a_slash_finds_an_athlete_a_screen_and_a_day(morning):
    name = morning.locator(".lane-name b").nth(12).inner_text()
    morning.keyboard.press("/")
    morning.keyboard.type(name.split()[-1].lower())
    morning.keyboard.press("Enter")
    expect(evidence(morning).get_by_role("heading", name=name)).to_be_visible()
    morning.keyboard.press("/")
    morning.keyboard.type("2026-02-14")
    morning.keyboard.press("Enter")
    expect(morning.get_by_text("Saturday 14 February 2026")).to_be_visible()
    morning.keyboard.press("g")
    morning.keyboard.press("q")
    expect(morning.get_by_role("heading", name="Units of work")).to_be_visible()


def test_the_keys_of_the_screen_are_listed(morning):
    morning.keyboard.press("?")
    expect(morning.get_by_role("dialog")).to_contain_text("choose the call")
    morning.keyboard.press("Escape")
    expect(morning.get_by_role("dialog")).to_have_count(0)


def test_a_link_shows_the_same_view_again(morning, open_page, staff_state):
    name = morning.locator(".lane-name b").nth(3).inner_text()
    choose(morning, name)
    morning.keyboard.press("[")
    expect(morning.get_by_text("Wednesday 11 March 2026")).to_be_visible()
    again = open_page(staff_state)
    again.goto(morning.url)
    expect(again.get_by_text("Wednesday 11 March 2026")).to_be_visible()
    expect(evidence(again).get_by_role("heading", name=name)).to_be_visible()
    expect(evidence(again)).to_contain_text("This morning is past")


@pytest.mark.parametrize(
    ("address", "said"),
    [
        ("/morning?squad=tarnholm-handball&day=2019-01-01", "Nothing was recorded yet"),
        ("/morning?squad=no-such-squad", "does not exist, or you are not part of it"),
        ("/morning?day=tomorrow", "is not a day such as 2026-03-12"),
        ("/session?squad=tarnholm-handball&day=2019-01-01", "No session has begun by then"),
        ("/nowhere", "There is no such screen"),
    ],
)
def test_a_link_to_what_is_not_there_gets_a_sentence(staff, address, said):
    staff.goto(address)
    expect(staff.get_by_text(said)).to_be_visible()


def test_a_server_that_fails_is_said_and_can_be_tried_again(staff):
    staff.route("**/morning?day=*", lambda route: route.fulfill(status=500, json={"detail": "It broke."}))
    staff.goto(MORNING)
    expect(staff.get_by_text("The morning could not be loaded")).to_be_visible()
    staff.unroute("**/morning?day=*")
    staff.get_by_role("button", name="Try again").click()
    expect(staff.locator(".lane")).to_have_count(22)


def test_a_screen_whose_code_does_not_come_says_so_and_the_frame_stays(staff):
    staff.goto(MORNING)
    staff.route("**/assets/SessionScreen*", lambda route: route.abort())
    staff.get_by_role("link", name="Session", exact=True).click()
    expect(staff.get_by_role("heading", name="This screen could not be loaded")).to_be_visible()
    expect(staff.get_by_role("navigation", name="Days")).to_be_visible()
    staff.unroute("**/assets/SessionScreen*")
    staff.get_by_role("button", name="Load the page again").click()
    expect(staff.get_by_role("heading", level=1)).to_be_visible()
    expect(staff.get_by_text("could not be loaded")).to_have_count(0)


def test_an_answer_that_makes_no_sense_breaks_one_screen_and_not_the_app(staff):
    def without_strips(route):
        answer = route.fetch().json()
        route.fulfill(json=answer | {"lanes": [lane | {"strip": None} for lane in answer["lanes"]]})

    staff.route("**/morning?day=*", without_strips)
    staff.goto(MORNING)
    broken = staff.get_by_role("alert").filter(has_text="This screen has broken")
    expect(broken).to_be_visible()
    staff.get_by_role("link", name="Session", exact=True).click()
    expect(broken).to_have_count(0)
    staff.get_by_role("link", name="Morning", exact=True).click()
    expect(broken).to_be_visible()
    staff.unroute("**/morning?day=*")
    staff.get_by_role("button", name="Try again").click()
    expect(staff.locator(".lane")).to_have_count(22)


def test_coaches_look_and_change_nothing(coach):
    coach.goto(MORNING)
    expect(coach.locator(".lane")).to_have_count(22)
    expect(coach.get_by_role("link", name="Daily loads as CSV")).to_have_count(0)
    coach.keyboard.press("j")
    expect(evidence(coach)).to_contain_text("Your role may look at this")
    expect(evidence(coach).get_by_role("button", name=re.compile("^2 Adapt"))).to_be_disabled()
    coach.get_by_role("link", name="Session", exact=True).click()
    expect(coach.get_by_text("Your role may look at this")).to_be_visible()
    expect(coach.get_by_role("textbox").first).not_to_be_editable()
    coach.get_by_role("link", name="Squad", exact=True).click()
    expect(coach.get_by_role("row", name=re.compile("Throws"))).to_be_visible()
    expect(coach.get_by_role("button", name="New unit")).to_have_count(0)
    coach.get_by_role("link", name="Limits", exact=True).click()
    expect(coach.get_by_role("heading", name="Limits in force")).to_be_visible()
    expect(coach.get_by_role("button", name="Set a limit")).to_have_count(0)
    expect(coach.get_by_label("Squad", exact=True).locator("option")).to_have_count(1)


def test_a_wrong_password_is_said_at_its_field(open_page):
    page = open_page()
    page.goto("/")
    page.get_by_label("Name").fill("performance")
    page.get_by_label("Password").fill("not-the-password")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_text("Name or password is wrong.")).to_be_visible()
    expect(page.get_by_label("Name")).to_have_value("performance")


@pytest.mark.parametrize("size", [(1280, 800), (820, 1180), (390, 844)])
def test_nothing_sticks_out_sideways(open_page, staff_state, size):
    page = open_page(staff_state, *size)
    session = "/session?squad=tarnholm-handball&day=2026-03-12"
    calendar = "/session/calendar"
    for address in (
        MORNING,
        session,
        calendar,
        f"{session}&show=counts",
        "/squad/limits",
        "/squad/units",
        "/squad/files",
    ):
        page.goto(address)
        page.wait_for_selector(".summary h1 b")
        if size[0] < 1000:
            # What lies beside the desk waits until it is asked for.
            expect(page.get_by_role("complementary")).to_have_count(0)
        width = page.evaluate("document.documentElement.scrollWidth")
        assert width <= size[0], address


AXE = [
    MORNING,
    "/session",
    "/squad/limits",
    "/squad/units",
    "/squad/people",
    "/session?show=counts",
    "/session/calendar",
]


@pytest.mark.parametrize("address", AXE)
def test_axe_finds_nothing_serious(staff, address):
    staff.goto(address)
    staff.wait_for_selector("tbody tr, .lane-strip svg, .pad-cell")
    if address == MORNING:
        staff.keyboard.press("j")
        staff.keyboard.press("2")
        evidence(staff).get_by_label("Reason").wait_for()
    found = Axe().run(staff).response["violations"]
    serious = [
        (one["id"], [node["html"][:120] for node in one["nodes"]][:3])
        for one in found
        if one["impact"] in ("serious", "critical")
    ]
    assert serious == []


def test_the_spine_shows_what_each_day_held_and_leads_to_it(morning):
    spine = morning.get_by_role("navigation", name="Days").get_by_role("link")
    expect(spine).to_have_count(21)
    expect(morning.get_by_role("link", name="Wednesday 11 March 2026; Court 75 min")).to_contain_text("M−3")
    match = morning.get_by_role("link", name=re.compile("Saturday 14 March 2026; match against .* 60 min, planned"))
    expect(match).to_contain_text("M")
    match.click()
    expect(morning.get_by_text("Saturday 14 March 2026")).to_be_visible()
    expect(morning.get_by_text("as planned", exact=False).first).to_be_visible()
    expect(morning.get_by_text("today", exact=True)).to_be_visible()


def test_a_coming_session_can_be_looked_at_but_not_recorded_yet(staff):
    staff.goto(MORNING.replace("morning", "session"))
    staff.get_by_role("navigation", name="Sessions near this one").get_by_role("link", name="Thu Court").click()
    expect(staff.get_by_role("heading", name="Planned.")).to_be_visible()
    staff.keyboard.press("]")
    staff.goto(staff.url.replace("2026-03-12", "2026-03-13").split("&session")[0])
    staff.get_by_role("navigation", name="Sessions near this one").get_by_role("link", name="Fri Court").click()
    expect(staff.get_by_text("Still to come: it is recorded when it is done.")).to_be_visible()
    expect(staff.get_by_role("textbox").first).not_to_be_editable()


def test_another_squad_is_one_choice_away(morning):
    morning.get_by_label("Squad", exact=True).select_option("tarnholm-ski")
    expect(morning.locator(".lane")).to_have_count(8)
    assert "squad=tarnholm-ski" in morning.url


def test_signing_out_closes_everything(open_page, served):
    from tests.browser.conftest import sign_in

    page = open_page()
    page.goto("/")
    sign_in(page, "coach")
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_role("button", name="Sign in")).to_be_visible()
    page.goto(MORNING)
    expect(page.get_by_role("button", name="Sign in")).to_be_visible()
