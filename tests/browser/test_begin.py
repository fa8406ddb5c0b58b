"""A club of one's own: from an empty start, as somebody who has never seen it, to the first morning."""

import re
import shutil
import tempfile
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

from tests.browser.test_files import drop
from tests.served import Served
from uvren.store.private_server import PrivateServer

PASSWORD = "nobody guesses this"
NAMES = ("A. Tarnvik", "B. Ostrelik", "C. Fenwald", "D. Quillon", "E. Marrow")


@pytest.fixture(scope="module")
def served():
    """The application as it starts where nothing is."""
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    running = Served(folder / "var")
    running.start("--no-demo")
    yield running
    if running.process and running.process.poll() is None:
        running.stop()
    assert isinstance(running.folder, Path)
    PrivateServer(running.folder / "db").stop()
    shutil.rmtree(folder)


@pytest.fixture(scope="module")
def link(served):
    found = re.search(r"Begin it here, once, within 7 days: (\S+)", served.log.read_text())
    assert found, served.log.read_text()
    return found[1]


@pytest.fixture
def page(open_page):
    return open_page()


def weeks_before_today(days=84):
    """A season as a coach keeps it: a line for each person and day, trained on four days a week."""
    today = datetime.now(UTC).date()
    lines = ["Name;Date;Minutes;RPE"]
    for back in range(days, 0, -1):
        day = today - timedelta(days=back)
        if day.weekday() in (0, 1, 3, 5):
            lines += [f"{name};{day};{75 - 5 * (i % 3)};{4 + (day.weekday() + i) % 3}" for i, name in enumerate(NAMES)]
    return "\n".join(lines) + "\n"


def test_without_the_link_nobody_begins_a_club(page, link):
    page.goto("/")
    expect(page.get_by_role("heading", name="There is no club here yet")).to_be_visible()
    expect(page.get_by_role("button", name="Sign in")).to_have_count(0)
    page.goto("/begin#" + "x" * 32)
    expect(page.get_by_role("heading", name="This link works no more")).to_be_visible()


def test_from_an_empty_start_to_the_first_morning(page, link, open_page):
    # 1. The club and the first person.
    page.goto(link)
    page.get_by_label("Name of the club").fill("Nordel")
    page.get_by_label("Your name").fill("V. Tarn")
    page.get_by_label("Name to sign in with").fill("tarn")
    page.get_by_label("Password").fill("short")
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_text("10 characters or more.", exact=True)).to_be_visible()
    expect(page.get_by_label("Name of the club")).to_have_value("Nordel")
    page.get_by_label("clinician").check()
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Begin").click()

    # 2. What is your work?
    expect(page.get_by_role("heading", name="The first squad")).to_be_visible()
    expect(page.get_by_label("clinician")).to_be_checked()
    page.get_by_label("What is its work?").select_option("swings")
    begins = page.get_by_role("region", name="What it begins with")
    expect(begins).to_contain_text("Swings: Ceiling on the weighted ratio 1.5")
    expect(begins).to_contain_text("Starting points, none of them known to be right for you")
    page.get_by_label("Name of the squad").fill("First team")
    assert Axe().run(page).response["violations"] == []
    page.get_by_role("button", name="Make the squad").click()

    # 3. People, pasted.
    expect(page.get_by_role("region", name="First steps")).to_be_visible()
    page.goto("/athlete")
    expect(page.get_by_role("heading", name="Nobody is in this squad on that day")).to_be_visible()
    page.get_by_role("button", name="See what comes first").click()
    steps = page.get_by_role("region", name="First steps")
    assert Axe().run(page).response["violations"] == []
    steps.get_by_role("link", name="Say who is in the squad").click()
    people = [f"{i + 1}\t{name}\t{'singles' if i % 2 else 'doubles'}\t2025-07-01" for i, name in enumerate(NAMES)]
    page.get_by_label("Paste the list").fill("\n".join([*people, people[0]]))
    page.get_by_role("button", name="Look at them").click()
    expect(page.get_by_text("Stands twice in the list.")).to_be_visible()
    assert Axe().run(page).response["violations"] == []
    page.get_by_role("button", name="Add the 5").click()
    expect(page.get_by_text("5 athletes are in the squad.")).to_be_visible()
    expect(page.get_by_role("heading", level=1)).to_contain_text("0 of 5 athletes can sign in")

    # 4. The week.
    page.get_by_role("link", name="Session", exact=True).click()
    page.get_by_role("button", name="Make one in the calendar").click()
    page.get_by_label("Title").fill("Evening hall")
    page.get_by_label("Minutes planned").fill("75")
    page.get_by_label("Effort planned, 0 to 10").fill("12")
    page.get_by_role("button", name="Make it").click()
    expect(page.get_by_text("0 to 10.", exact=True)).to_be_visible()
    assert Axe().run(page).response["violations"] == []
    page.get_by_label("Effort planned, 0 to 10").fill("5,5")
    until = datetime.now(UTC).date() + timedelta(days=22)
    page.get_by_label("Every week until").fill(str(until))
    page.get_by_role("button", name="Make it").click()
    expect(page.get_by_text("4 sessions are made")).to_be_visible()

    # 5. The season that they have.
    page.get_by_role("link", name="Squad", exact=True).click()
    page.get_by_role("link", name="Files", exact=True).click()
    drop(page, "season.csv", weeks_before_today())
    look = page.get_by_role("form", name=re.compile("season.csv"))
    expect(look.get_by_text("5 of 5 people known")).to_be_visible()
    look.get_by_label(re.compile(r"\d+ sessions from .* to .* are not there .*: make them from the file")).check()
    look.get_by_role("button", name="Bring it in").click()
    expect(page.get_by_role("complementary")).to_contain_text(re.compile(r"\d+ entries"))

    # The first morning: everybody with a corridor and room, and nothing for reports that nobody was asked for.
    page.get_by_role("link", name="Morning", exact=True).click()
    expect(page.locator(".lane")).to_have_count(5)
    expect(page.locator(".lane").first).to_contain_text(re.compile("plan fits|too much|by plan"))
    expect(page.get_by_role("img", name=re.compile("Week load .*, corridor"))).to_have_count(5)
    page.get_by_role("button", name=re.compile("A. Tarnvik")).click()
    evidence = page.get_by_role("complementary", name="Evidence")
    expect(evidence).to_contain_text("Starting point")
    expect(evidence.get_by_text(re.compile("reports? missing|No report", re.I))).to_have_count(0)

    # The link has done its work.
    other = open_page()
    other.goto(link)
    expect(other.get_by_role("heading", name="This link works no more")).to_be_visible()


@pytest.fixture
def signed_in(page):
    page.goto("/")
    page.get_by_label("Name").fill("tarn")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    expect(page.locator(".lane")).to_have_count(5)
    return page


def test_a_session_is_changed_deleted_and_brought_back(signed_in):
    page = signed_in
    page.goto("/session/calendar")
    line = page.get_by_role("button", name=re.compile(r"18:00 Evening hall 75")).first
    line.click()
    page.get_by_label("Start").fill("19:30")
    page.get_by_label("Title").fill("Late hall")
    page.get_by_role("button", name="Save", exact=True).click()
    late = page.get_by_role("button", name=re.compile("19:30 Late hall"))
    expect(late).to_have_count(1)
    page.get_by_role("button", name="Undo").click()
    expect(late).to_have_count(0)
    expect(line).to_be_visible()
    line.click()
    page.get_by_label("Start").fill("19:30")
    page.get_by_label("Title").fill("Late hall")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(late).to_have_count(1)
    late.click()
    page.get_by_role("button", name="Delete this session").click()
    expect(late).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(late).to_have_count(1)


def test_a_session_is_dragged_to_another_day_and_moved_with_keys(signed_in):
    page = signed_in
    page.goto("/session/calendar")
    line = page.get_by_role("button", name=re.compile(r"18:00 Evening hall 75")).last
    cells = page.locator(".month td")
    was = cells.filter(has=line).get_by_role("button").first.get_attribute("aria-label")
    target = cells.filter(has_not=page.locator(".session-line")).last
    there = target.get_by_role("button").first.get_attribute("aria-label")
    line.drag_to(target)
    expect(page.get_by_text(re.compile("Evening hall is on .* now"))).to_be_visible()
    moved = cells.filter(has=page.get_by_label(there, exact=True)).locator(".session-line")
    expect(moved).to_have_count(1)
    page.get_by_role("button", name="Undo").click()
    back = cells.filter(has=page.get_by_label(was, exact=True)).locator(".session-line")
    expect(back).to_have_count(1)
    back.focus()
    page.keyboard.press("Alt+ArrowLeft")
    expect(back).to_have_count(0)
    page.get_by_role("button", name="Undo").last.click()
    expect(back).to_have_count(1)


def test_a_session_is_called_off_with_why_and_takes_place_after_all(signed_in):
    page = signed_in
    page.goto("/session/calendar")
    line = page.get_by_role("button", name=re.compile(r"18:00 Evening hall")).last
    line.click()
    page.get_by_role("button", name="Call it off").click()
    page.get_by_role("button", name="Call off", exact=True).click()
    expect(page.get_by_text("Say why.")).to_be_visible()
    page.get_by_label("Why").fill("Hall closed")
    page.get_by_role("button", name="Call off", exact=True).click()
    expect(line).to_contain_text("called off")
    line.click()
    expect(page.get_by_text("Called off: Hall closed")).to_be_visible()
    assert Axe().run(page).response["violations"] == []
    page.get_by_role("button", name="It takes place after all").click()
    expect(line).not_to_contain_text("called off")


def test_a_day_without_a_session_is_said_to_be_not_known(signed_in):
    page = signed_in
    long_ago = datetime.now(UTC).date() - timedelta(days=90)
    page.goto(f"/session/calendar?day={long_ago}")
    page.get_by_label(re.compile("what was done is not known")).check()
    expect(page.locator(".day-mark", has_text="not known")).to_have_count(1)
    page.goto(f"/session?day={long_ago + timedelta(days=130)}")
    expect(page.get_by_role("status").filter(has_text="There is no session on")).to_be_visible()
    page.get_by_role("button", name=re.compile("Make one on")).click()
    expect(page.get_by_label("Title")).to_be_visible()
    page.goto(f"/session/calendar?day={long_ago}")
    page.get_by_label(re.compile("nothing is said of it")).check()
    expect(page.locator(".day-mark")).to_have_count(0)


def test_a_week_is_copied_into_another(signed_in):
    page = signed_in
    page.goto("/session/calendar")
    into = datetime.now(UTC).date() + timedelta(days=70)
    page.get_by_label("Into the week of").fill(str(into))
    page.get_by_role("button", name="Copy its plan").click()
    expect(page.get_by_text(re.compile(r"sessions? (is|are) made in the week of"))).to_be_visible()
    expect(page).to_have_url(re.compile(f"day={into}"))
    expect(page.locator(".session-line").first).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".session-line")).to_have_count(0)


def test_sessions_are_made_and_taken_back_by_keys_alone(signed_in):
    page = signed_in
    day = datetime.now(UTC).date() + timedelta(days=150)
    page.goto(f"/session/calendar?day={day}")
    expect(page.get_by_role("heading", level=1)).to_contain_text("no session yet")
    page.keyboard.press("n")
    expect(page.get_by_label("Title")).to_be_focused()
    page.keyboard.type("Early hall")
    page.get_by_label("Minutes planned").fill("60")
    page.get_by_label("Effort planned, 0 to 10").fill("4")
    page.get_by_label("Every week until").fill(str(day + timedelta(days=14)))
    page.keyboard.press("Enter")
    expect(page.get_by_text("3 sessions are made, until")).to_be_visible()
    page.get_by_role("button", name="Undo").press("Enter")
    expect(page.get_by_role("heading", level=1)).to_contain_text("no session yet")


def test_what_was_entered_in_a_session_keeps_it(signed_in):
    page = signed_in
    month_ago = datetime.now(UTC).date() - timedelta(days=30)
    page.goto(f"/session/calendar?day={month_ago}")
    page.locator(".session-line.done").first.click()
    page.get_by_role("button", name="Delete this session").click()
    expect(page.get_by_role("alert")).to_contain_text("Something was entered in")


def test_a_week_without_sessions_says_where_they_are_made(signed_in):
    page = signed_in
    page.goto(f"/week?day={datetime.now(UTC).date() - timedelta(days=70)}")
    expect(page.get_by_role("heading", level=1)).to_contain_text("holds every limit")
    page.goto(f"/week?day={datetime.now(UTC).date() + timedelta(days=300)}")
    page.get_by_role("link", name="put sessions into the calendar").click()
    expect(page).to_have_url(re.compile("/session/calendar"))


def test_the_season_is_said_in_phases_and_the_calendar_goes_by_them(signed_in):
    page = signed_in
    today = datetime.now(UTC).date()
    page.keyboard.press("g")
    page.keyboard.press("n")
    expect(page.get_by_role("heading", name="How does the season go?")).to_be_visible()
    for number, (first, last) in enumerate([(-20, 3), (4, 90)], start=1):
        page.get_by_role("button", name="Add a phase").click()
        phase = page.get_by_role("group", name=f"Phase {number}")
        phase.get_by_label("From").fill(str(today + timedelta(days=first)))
        phase.get_by_label("To").fill(str(today + timedelta(days=last)))
    phase.get_by_label("Name").fill("League")
    expect(phase.get_by_label("For", exact=True)).to_have_value("competition")
    phase.get_by_label("From").fill(str(today))
    page.get_by_role("button", name="Save the season").click()
    expect(phase).to_contain_text("Preparation and League share days")
    phase.get_by_label("From").fill(str(today + timedelta(days=4)))
    page.get_by_role("button", name="Save the season").click()
    expect(page.get_by_role("heading", name=re.compile("Preparation, week 3 of 4; League begins"))).to_be_visible()
    assert Axe().run(page).response["violations"] == []
    page.get_by_role("button", name="Remove phase 2").click()
    page.get_by_role("button", name="Save the season").click()
    expect(page.get_by_role("img", name=re.compile("League"))).to_have_count(0)
    page.get_by_role("button", name="Undo").last.click()
    expect(page.get_by_role("img", name=re.compile("Preparation.*; League"))).to_be_visible()
    page.goto("/session/calendar")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Preparation, week 3 of 4")


def test_a_second_squad_is_set_up_as_the_first(signed_in):
    page = signed_in
    page.get_by_role("link", name="Squad", exact=True).click()
    page.get_by_role("link", name="New squad").click()
    page.get_by_label("Name of the squad").fill("first  TEAM")
    page.get_by_label("What is its work?").select_option(label="set up as First team is")
    page.get_by_role("button", name="Make the squad").click()
    expect(page.get_by_text("The club has a squad of this name.")).to_be_visible()
    page.get_by_label("Name of the squad").fill("Juniors")
    page.get_by_role("button", name="Make the squad").click()
    expect(page.get_by_role("region", name="First steps")).to_be_visible()
    page.get_by_role("link", name="Squad", exact=True).click()
    expect(page.get_by_text("Swings", exact=True)).to_be_visible()


def test_a_squad_is_deleted_only_after_its_name_is_typed(signed_in):
    page = signed_in
    page.goto("/squad/new")
    page.get_by_label("Name of the squad").fill("To be gone")
    page.get_by_role("button", name="Make the squad").click()
    page.wait_for_url(re.compile("to-be-gone"))
    page.goto("/squad/accounts?squad=to-be-gone")
    page.get_by_role("button", name="Delete this squad").click()
    page.get_by_role("button", name="Delete it for good").click()
    expect(page.get_by_text("Type To be gone.")).to_be_visible()
    page.get_by_label("Type To be gone", exact=True).fill("To be gone")
    page.get_by_role("button", name="Delete it for good").click()
    page.wait_for_url(lambda url: "to-be-gone" not in url)
    expect(page.get_by_role("combobox", name="Squad").locator("option", has_text="To be gone")).to_have_count(0)
