"""An athlete's phone: a normal day in ten taps, nothing lost without a network, and only what is theirs.

The athlete of the demo has not answered today, nor rated the last sessions; each test takes something else of that.
"""

import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

from tests.browser.conftest import sign_in
from uvren.simulate.club import PASSWORD

OWN = "/api/squads/tarnholm-handball/own"


def due(page, name):
    return page.get_by_role("button", name=re.compile(f"^{name}"))


def taps(page):
    """Counts taps from now on; returns what says how many there were."""
    page.evaluate("window.taps = 0; addEventListener('click', () => window.taps++, true)")
    return lambda: page.evaluate("window.taps")


def answer(page, *rungs):
    for rung in rungs:
        page.get_by_role("button", name=re.compile(rf"^{rung}(,|$)")).click()


def given(page, kind, day):
    dues = page.request.get(OWN).json()["dues"]
    return next((one["given"] for one in dues if (one["kind"], one["day"]) == (kind, day)), None)


def to_the_right_size(page):
    """Every button that is seen, narrower or lower than 48 pixels."""
    return page.evaluate(
        """() => [...document.querySelectorAll('.ask button, .due')].filter(b => {
            const r = b.getBoundingClientRect(); return r.height > 0 && (r.height < 48 || r.width < 48); })
            .map(b => b.textContent)"""
    )


def test_a_normal_morning_takes_ten_taps_at_most(phone):
    phone.goto("/")
    expect(due(phone, "This morning")).to_be_visible()
    sent = phone.get_by_text(re.compile(r"^sent \d\d:\d\d"))
    before = sent.count()
    counted = taps(phone)
    due(phone, "This morning").click()
    phone.get_by_role("button", name="7.5 hours").click()
    assert to_the_right_size(phone) == []
    answer(phone, 8, 7, 6, 9, 8, 7)
    phone.get_by_role("button", name="No, nothing").click()
    phone.get_by_role("button", name="Send").click()
    assert counted() <= 10
    expect(sent).to_have_count(before + 1)
    kept = given(phone, "daily", "2026-03-12")["answers"]
    assert kept == {
        "sleep_hours": 7.5,
        "sleep_quality": 8,
        "energy": 7,
        "soreness": 6,
        "mood": 9,
        "stress": 8,
        "drive": 7,
    }


def test_the_body_map_has_the_athletes_own_sides_and_keys_and_a_list(phone):
    phone.goto("/")
    due(phone, "The morning of").click()
    for _ in range(7):
        phone.get_by_role("button", name="I would rather not say").click()
    phone.get_by_role("button", name="Something hurts").click()
    front = {side: phone.get_by_role("button", name=f"{side} knee").bounding_box() for side in ("left", "right")}
    assert front["left"]["x"] > front["right"]["x"]
    phone.get_by_role("button", name="Back", exact=True).last.click()
    back = {side: phone.get_by_role("button", name=f"{side} calf").bounding_box() for side in ("left", "right")}
    assert back["left"]["x"] < back["right"]["x"]
    phone.get_by_role("button", name="left calf").focus()
    phone.keyboard.press("Enter")
    answer(phone, 3)
    phone.get_by_label("Or choose from the list").select_option("lower back")
    answer(phone, 2)
    expect(phone.get_by_text("left calf, 3 of 10")).to_be_visible()
    phone.get_by_role("button", name="Remove lower back").click()
    phone.get_by_label("Words for the clinician").fill("since the stairs")
    phone.get_by_role("button", name="Next").click()
    phone.get_by_role("button", name="Send").click()
    expect(phone.get_by_role("listitem").filter(has_text="The morning of")).to_contain_text(re.compile(r"sent \d\d:"))
    complaints = phone.request.get(OWN).json()["complaints"]
    assert [one["said"] for one in complaints] == ["left calf, 3 of 10"]


def test_a_clinician_sees_a_pain_at_once_and_staff_and_coach_do_not(phone, clinician, staff, coach):
    """The calf of the test before."""
    clinician.goto("/morning/reports")
    told = (
        clinician.get_by_role("region", name="For the clinician").get_by_role("listitem").filter(has_text="left calf")
    )
    expect(told).to_contain_text("since the stairs")
    expect(clinician.get_by_role("navigation", name="Morning")).to_contain_text(re.compile(r"\d new"))
    told.get_by_role("button", name="Answer").click()
    told.get_by_label("Note on").fill("Rest from running today")
    told.get_by_role("button", name="Save").click()
    expect(told).to_contain_text("seen by Dr. A. Fenwold")
    for page in (staff, coach):
        page.goto("/morning/reports")
        expect(page.locator(".reports-table tbody tr")).to_have_count(22)
        assert "calf" not in page.content()


def test_what_is_half_filled_in_is_there_after_a_reload(phone):
    phone.goto("/")
    due(phone, "Strength").click()
    phone.get_by_role("button", name=re.compile("as planned")).click()
    answer(phone, 6)
    expect(phone.get_by_role("heading", name="How much energy")).to_be_visible()
    phone.reload()
    due(phone, "Strength").click()
    phone.get_by_role("button", name=re.compile("as planned")).click()
    expect(phone.get_by_role("button", name="6", exact=True)).to_have_attribute("aria-pressed", "true")
    answer(phone, 6, 5)
    phone.get_by_role("button", name="Send").click()
    expect(due(phone, "Strength")).to_have_count(0)


def kept_in_the_browser(page):
    page.wait_for_function(
        "navigator.serviceWorker.controller !== null || navigator.serviceWorker.ready.then(() => true)"
    )
    page.reload()
    page.wait_for_function("navigator.serviceWorker.controller !== null")


def test_a_report_made_without_a_network_goes_out_once_also_after_closing_the_page(open_page, athlete_state):
    page = open_page(athlete_state, 390, 844, offline_too=True)
    page.goto("/")
    expect(page.get_by_role("heading", name="Asked of you")).to_be_visible()
    kept_in_the_browser(page)
    session = page.get_by_role("button", name=re.compile("^Court")).first
    expect(session).to_be_visible()
    context = page.context
    context.set_offline(True)
    session.click()
    page.get_by_role("button", name=re.compile("as planned")).click()
    page.get_by_role("button", name="7 and a half").click()
    answer(page, 4)
    page.get_by_role("button", name="Send").click()
    expect(page.get_by_text("waits to be sent")).to_be_visible()
    page.close()
    again = context.new_page()
    again.goto("/")
    expect(again.get_by_text("1 to be sent.")).to_be_visible()
    context.set_offline(False)
    expect(again.get_by_text("waits to be sent")).to_have_count(0)
    given_now = [one["given"] for one in again.request.get(OWN).json()["dues"] if one["kind"] == "session"]
    assert [one["answers"]["effort"] for one in given_now if one and one["answers"]["effort"] == 7.5] == [7.5]


def test_of_two_phones_that_changed_the_same_report_both_are_kept_and_one_is_asked_for(open_page, athlete_state):
    first, second = open_page(athlete_state, 390, 844), open_page(athlete_state, 390, 844)
    for page in (first, second):
        page.goto("/")
        expect(page.get_by_role("button", name="Change").first).to_be_visible()
    for page, mood in ((first, 3), (second, 5)):
        row = page.get_by_role("listitem").filter(has_text="The last week")
        row.get_by_role("button", name="Change").click()
        word = "some days" if mood == 3 else "most days"
        page.get_by_role("group", name="Did you have headaches?").get_by_role("button", name=word).click()
        page.get_by_role("button", name="Next").click()
        # Which of the two is first to arrive is not left to chance.
        with page.expect_response(lambda one: one.request.method in ("POST", "PUT") and "/own" in one.url):
            page.get_by_role("button", name="Send").click()
        expect(page.get_by_role("heading", name=re.compile("Asked of you|Nothing is asked"))).to_be_visible()
    asked = second.get_by_role("region", name="Which one counts?")
    expect(asked.get_by_role("button")).to_have_count(2)
    asked.get_by_role("button").last.click()
    expect(asked).to_have_count(0)
    weekly = next(one for one in second.request.get(OWN).json()["dues"] if one["kind"] == "weekly")
    assert (weekly["given"]["answers"]["headaches"], weekly["rivals"]) == (2, [])


@pytest.mark.parametrize("path", ["/morning", "/session", "/squad/people", "/"])
def test_an_athlete_has_no_other_screen_than_their_own(phone, path):
    phone.goto(path)
    expect(phone.get_by_role("heading", name=re.compile("Asked of you|Nothing is asked"))).to_be_visible()
    expect(phone.get_by_role("navigation")).to_have_count(0)


def test_the_phones_pages_can_be_used_by_everyone(phone):
    phone.goto("/")
    expect(phone.get_by_role("heading", level=1)).to_be_visible()
    assert Axe().run(phone).response["violations"] == []
    phone.get_by_role("listitem").filter(has_text="This morning").get_by_role("button").click()
    phone.get_by_role("button", name="7 hours", exact=True).click()
    assert Axe().run(phone).response["violations"] == []


def test_ratings_typed_at_the_pitch_without_a_network_survive_closing_and_go_out(open_page, staff_state):
    page = open_page(staff_state, 1024, 768, offline_too=True)
    address = "/session?squad=tarnholm-handball&day=2026-02-03"
    page.goto(address)
    page.wait_for_selector(".entry-grid tbody tr")
    kept_in_the_browser(page)
    page.wait_for_selector(".entry-grid tbody tr")
    name = page.locator(".entry-grid th b").first.inner_text()
    cell = page.get_by_role("textbox", name=f"Effort, {name}", exact=True)
    context = page.context
    context.set_offline(True)
    cell.fill("9.5")
    cell.press("Enter")
    expect(page.get_by_text("Waiting to be saved").first).to_be_visible()
    page.close()
    again = context.new_page()
    again.goto(address)
    cell = again.get_by_role("textbox", name=f"Effort, {name}", exact=True)
    expect(cell).to_have_value("9.5")
    expect(again.get_by_text("1 change is kept here")).to_be_visible()
    context.set_offline(False)
    expect(again.get_by_text("1 change is kept here")).to_have_count(0)
    again.reload()
    expect(cell).to_have_value("9.5")


def test_counts_at_the_pitch_wait_for_the_network_too(open_page, staff_state):
    page = open_page(staff_state, 1024, 768, offline_too=True)
    page.goto("/session?squad=tarnholm-handball&day=2026-02-04&show=counts")
    count = page.get_by_label("Count of Full throw")
    expect(count).to_be_visible()
    before = int(count.input_value())
    context = page.context
    context.set_offline(True)
    tap = page.get_by_role("button", name="One more Full throw")
    tap.click()
    expect(page.get_by_text("Kept here until there is a network")).to_be_visible()
    tap.click()
    expect(count).to_have_value(str(before + 2))
    page.wait_for_timeout(1500)
    context.set_offline(False)
    expect(page.get_by_role("status").filter(has_text=re.compile("^Saved$"))).to_be_visible()
    page.reload()
    expect(page.get_by_label("Count of Full throw")).to_have_value(str(before + 2))


def test_a_link_makes_an_account_once_and_says_so_after(admin, open_page):
    admin.goto("/squad/accounts?squad=tarnholm-handball")
    admin.get_by_role("button", name="Link for A. Orrin").click()
    sheet = admin.get_by_role("region", name="One-time links")
    expect(sheet.get_by_role("img", name="QR code for A. Orrin")).to_be_visible()
    sheet.get_by_role("button", name="Copy the link for A. Orrin").click()
    link = admin.evaluate("navigator.clipboard.readText()")
    phone = open_page(width=390, height=844)
    phone.goto(link)
    expect(phone.get_by_role("heading", name="Welcome, A. Orrin")).to_be_visible()
    phone.get_by_label("Name to sign in with").fill("athlete")
    phone.get_by_label("Password").fill("short")
    phone.get_by_role("button", name="Make my account").click()
    expect(phone.get_by_text("This sign-in name is taken")).to_be_visible()
    phone.get_by_label("Name to sign in with").fill("orrin")
    phone.get_by_label("Password").fill(PASSWORD)
    phone.get_by_role("button", name="Make my account").click()
    expect(phone.get_by_text("A. Orrin")).to_be_visible()
    other = open_page(width=390, height=844)
    other.goto(link)
    expect(other.get_by_text("This link works no more")).to_be_visible()


# What is kept in the browser, by name; ["?"] where that cannot be told just now.
KEPT = """async () => (await indexedDB.databases()).every(one => one.name !== 'uvren') ? ['?'] : new Promise(done => {
  // Opening what is not there would make it, before the application does and without what belongs in it.
  const unknown = () => done(['?']);
  setTimeout(unknown, 2000);
  const open = indexedDB.open('uvren');
  open.onerror = open.onblocked = unknown;
  open.onsuccess = () => {
    try {
      const all = open.result.transaction('copies').objectStore('copies').getAllKeys();
      all.onsuccess = () => { open.result.close(); done(all.result); };
      all.onerror = unknown;
    } catch { open.result.close(); unknown(); }
  };
})"""


def test_signing_out_or_somebody_elses_sign_in_leaves_nothing_of_the_athlete_in_the_browser(open_page):
    page = open_page(width=390, height=844)
    page.goto("/")
    sign_in(page, "athlete", re.compile("Asked of you|Nothing is asked"))
    page.wait_for_function(f"async () => (await ({KEPT})()).includes('own tarnholm-handball')")
    page.context.clear_cookies()
    page.reload()
    sign_in(page, "coach")
    gone = "!['?', 'own tarnholm-handball'].some(of => kept.includes(of))"
    page.wait_for_function(f"async () => {{ const kept = await ({KEPT})(); return {gone}; }}")
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_label("Password")).to_be_visible()
    page.wait_for_function(f"async () => ['', 'me'].includes((await ({KEPT})()).join())")


def test_consent_is_given_after_reading_it_and_can_be_taken_back(phone):
    phone.goto("/")
    phone.get_by_text("What happens with what you say").click()
    expect(phone.get_by_text("coaches learn only how much you may train")).to_be_visible()
    phone.get_by_role("button", name="I agree").click()
    # It moves to the foot of the page, closed.
    expect(phone.get_by_role("button", name="I agree")).to_have_count(0)
    expect(phone.locator(".consent.given")).to_have_count(1)
    phone.get_by_text("What happens with what you say").click()
    expect(phone.get_by_text("You agreed on Thursday 12 March 2026")).to_be_visible()
    phone.get_by_role("button", name="Take it back").click()
    expect(phone.locator(".consent.given")).to_have_count(0)
    phone.get_by_text("What happens with what you say").click()
    expect(phone.get_by_role("button", name="I agree")).to_be_visible()
