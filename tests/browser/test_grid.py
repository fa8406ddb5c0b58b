import pytest
from playwright.sync_api import expect

from tests.browser.conftest import sign_in
from tests.browser.parts import cell, saved

PAST = "/session?squad=tarnholm-handball&day=2026-02-{day}"


@pytest.fixture
def grid(staff):
    """The grid of a past session, another one for every test, and the names in it."""
    GRIDS.append(None)
    staff.goto(PAST.format(day=f"{len(GRIDS) + 4:02}"))
    staff.wait_for_selector(".entry-grid tbody tr")
    return staff, staff.locator(".entry-grid th b").all_inner_texts()


GRIDS: list[None] = []


def test_enter_goes_down_tab_goes_right_and_arrows_move(grid):
    page, names = grid
    cell(page, "Minutes", names[0]).click()
    page.keyboard.press("Enter")
    expect(cell(page, "Minutes", names[1])).to_be_focused()
    page.keyboard.press("Tab")
    expect(cell(page, "Effort", names[1])).to_be_focused()
    page.keyboard.press("ArrowDown")
    expect(cell(page, "Effort", names[2])).to_be_focused()
    page.keyboard.press("ArrowLeft")
    expect(cell(page, "Minutes", names[2])).to_be_focused()
    page.keyboard.press("ArrowUp")
    expect(cell(page, "Minutes", names[1])).to_be_focused()


def test_a_pasted_column_goes_down_and_its_bad_cell_stays_and_says_why(grid):
    page, names = grid
    cell(page, "Effort", names[0]).click()
    page.evaluate(
        """text => { const data = new DataTransfer(); data.setData('text/plain', text);
        document.activeElement.dispatchEvent(new ClipboardEvent('paste', {clipboardData: data, bubbles: true})); }""",
        "7.5\r\n12\r\n3\r\n",
    )
    saved(page, names[0])
    expect(cell(page, "Effort", names[0])).to_have_value("7.5")
    expect(cell(page, "Effort", names[2])).to_have_value("3")
    expect(cell(page, "Effort", names[1])).to_have_value("12")
    expect(cell(page, "Effort", names[1])).to_have_attribute("aria-invalid", "true")
    cell(page, "Effort", names[1]).press("Escape")
    expect(cell(page, "Effort", names[1])).not_to_have_attribute("aria-invalid", "true")
    page.reload()
    expect(cell(page, "Effort", names[0])).to_have_value("7.5")
    expect(cell(page, "Effort", names[1])).not_to_have_value("12")


def test_undo_brings_back_what_stood_before(grid):
    page, names = grid
    before = cell(page, "Effort", names[0]).input_value()
    cell(page, "Effort", names[0]).fill("9")
    page.keyboard.press("Enter")
    saved(page, names[0])
    with page.expect_response("**/entries"):
        page.keyboard.press("Control+z")
    expect(cell(page, "Effort", names[0])).to_have_value(before)
    page.reload()
    expect(cell(page, "Effort", names[0])).to_have_value(before)


def test_a_kept_cell_goes_out_once(grid):
    page, names = grid
    sent = []
    page.on("request", lambda one: sent.append(one.post_data_json) if one.method == "PATCH" else None)
    cell(page, "Effort", names[0]).fill("6.5")
    page.keyboard.press("Enter")
    saved(page, names[0])
    cell(page, "Effort", names[1]).fill("3.5")
    page.keyboard.press("Tab")
    saved(page, names[1])
    assert [[change["effort"] for change in body["changes"]] for body in sent] == [[6.5], [3.5]]


def test_two_people_on_one_cell_get_both_versions_and_a_choice(grid, open_page, staff_state):
    page, names = grid
    other = open_page(staff_state)
    other.goto(page.url)
    cell(other, "Effort", names[0]).wait_for()
    cell(page, "Effort", names[0]).fill("8")
    page.keyboard.press("Enter")
    saved(page, names[0])
    cell(other, "Effort", names[0]).fill("2")
    other.keyboard.press("Enter")
    expect(other.get_by_role("alert")).to_contain_text("Changed by someone else")
    expect(other.get_by_role("alert")).to_contain_text("at 8")
    other.get_by_role("button", name="Keep mine").click()
    saved(other, names[0])
    page.reload()
    expect(cell(page, "Effort", names[0])).to_have_value("2")


def test_what_is_typed_while_the_server_is_away_is_kept_and_sent_when_it_is_back(grid):
    page, names = grid
    page.route("**/entries", lambda route: route.abort())
    cell(page, "Effort", names[0]).fill("1.5")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Not saved yet")
    expect(cell(page, "Effort", names[0])).to_have_value("1.5")
    cell(page, "Effort", names[1]).fill("2.5")
    page.unroute("**/entries")
    page.get_by_role("button", name="Try again now").click()
    saved(page, names[0])
    page.reload()
    expect(cell(page, "Effort", names[0])).to_have_value("1.5")


def test_taking_a_rating_away_shows_the_estimate_dotted(grid):
    page, names = grid
    cell(page, "Effort", names[0]).fill("")
    page.keyboard.press("Enter")
    expect(page.get_by_role("row", name=names[0])).to_contain_text("Estimated: own median of")
    border = cell(page, "Effort", names[0]).evaluate("input => getComputedStyle(input).borderTopStyle")
    assert border == "dotted"


def test_after_being_signed_out_what_was_typed_is_saved_once_signed_in_again(grid):
    page, names = grid
    page.context.clear_cookies()
    cell(page, "Effort", names[0]).fill("3.5")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Sign in to go on")
    with page.context.expect_page() as opened:
        page.get_by_role("link", name="Sign in in a new tab").click()
    sign_in(opened.value, "performance")
    page.get_by_role("button", name="Try again now").click()
    saved(page, names[0])
    page.reload()
    expect(cell(page, "Effort", names[0])).to_have_value("3.5")


def test_what_waits_for_the_server_is_sent_even_when_another_screen_is_shown(grid):
    page, names = grid
    session = page.url
    page.route("**/entries", lambda route: route.abort())
    cell(page, "Effort", names[0]).fill("4.5")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Not saved yet")
    page.get_by_role("link", name="Morning", exact=True).click()
    page.wait_for_selector(".lane-strip svg")
    page.unroute("**/entries")
    with page.expect_response("**/entries"):
        pass
    page.goto(session)
    expect(cell(page, "Effort", names[0])).to_have_value("4.5")


def test_on_a_morning_with_sessions_to_come_yesterdays_is_shown_and_nothing_is_said_to_be_lacking(staff):
    staff.goto("/session?squad=tarnholm-handball&day=2026-03-12")
    expect(staff.get_by_role("heading", level=1)).to_contain_text("Wed 11 March")
    expect(staff.get_by_role("link", name="Thu Court")).to_be_visible()
    expect(staff.get_by_text("There is no session on")).to_have_count(0)
    staff.goto("/session?squad=tarnholm-handball&day=2026-03-15")
    expect(staff.get_by_text("There is no session on Sun 15 March yet")).to_be_visible()
