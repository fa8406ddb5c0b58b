"""The week ahead as staff and a coach plan it: seen against room, tried out, solved, saved, undone."""

import re
from datetime import UTC, datetime, timedelta

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect
from sqlalchemy import select

from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.planning import NewSession, plan_sessions
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.database import connect, sessions
from uvren.store.models import SessionKind, Squad, User

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
    expect(panel).to_contain_text("Week-on-week cap (Throws): by")
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


@pytest.fixture
def match_yesterday(served):
    """A match was played on Wednesday evening, by half of the squad."""
    engine = connect(served.database_url)
    with sessions(engine)() as db:
        squad = db.scalars(select(Squad).where(Squad.slug == "tarnholm-handball")).one()
        staff = db.scalars(select(User).where(User.login == "performance")).one()
        at = datetime(2026, 3, 11, 19, tzinfo=UTC)
        (match,) = plan_sessions(db, squad, [NewSession(at, SessionKind.MATCH, "Match", 60, 8, opponent="Orlo")])
        people = queries.squad.members(db, squad.id, at.date())
        changes = [EntryChange(match.id, one.athlete_id, 60.0 if i % 2 else 0.0, 8.0 if i % 2 else None)
                   for i, one in enumerate(people)]  # fmt: skip
        stamp = Stamp(staff.id, at + timedelta(hours=3))
        record_entries(db, squad.id, changes, stamp=stamp, today=at.date() + timedelta(days=1))
        db.commit()
    engine.dispose()


def test_after_a_match_recovery_and_top_ups_go_into_the_plan_with_one_key(coach, match_yesterday):
    coach.goto(WEEK)
    after = coach.get_by_role("region", name="After the match")
    expect(after.get_by_role("heading")).to_have_text("Thu 12, after the match against Orlo")
    expect(after).to_contain_text("A match is what those of a position who played")
    assert Axe().run(coach).response["violations"] == []
    button = after.get_by_role("button", name="Plan recovery and top-ups")
    expect(button).to_be_visible()
    coach.keyboard.press("t")
    expect(coach.get_by_text("is planned so.")).to_be_visible()
    expect(after).to_contain_text("This is in the plan.")
    expect(coach.locator("thead").get_by_text("Top-up")).to_be_visible()
    coach.get_by_role("button", name="Undo").click()
    expect(button).to_be_visible()
    expect(coach.get_by_label("Minutes of Top-up", exact=False)).to_have_count(0)
    assert not re.search(r"screen|trial|clinic|pain", after.inner_text())


def test_a_lighter_week_is_looked_at_planned_and_taken_back(staff, coach):
    staff.goto(WEEK)
    lighter = staff.get_by_role("region", name="Lighter weeks")
    signs = lighter.get_by_text("soreness not gone before the next like session")
    signs.click()
    expect(lighter).to_contain_text("Back squat: 3 × 8 at 102.5 kg, 1 in reserve → 2 × 8 at 67.5 kg, 3 in reserve")
    expect(lighter.get_by_text("people without a sign, but the last one is long ago")).to_be_visible()
    lighter.get_by_label("What is cut").select_option("share")
    expect(lighter).to_contain_text("→ 3 × 3 at")
    lighter.get_by_role("button", name="Plan it for M. Zanotis").click()
    expect(staff.get_by_text("M. Zanotis has a lighter week.")).to_be_visible()
    expect(lighter.get_by_text("lighter from Thu 12 to Wed 18")).to_be_visible()
    # A coach sees that it stands, and not why; and none that is only proposed.
    coach.goto(WEEK)
    stands = coach.get_by_role("region", name="Lighter weeks")
    expect(stands).to_contain_text("M. Zanotis lighter from Thu 12 to Wed 18")
    assert not re.search("sore|energy|drive|people without", stands.inner_text())
    lighter.get_by_text("lighter from Thu 12 to Wed 18").click()
    lighter.get_by_role("button", name="Take it back").click()
    expect(signs).to_be_visible()


def test_the_week_hangs_on_a_wall_without_anything_of_anybody(staff):
    staff.goto(WEEK)
    count(staff)
    staff.emulate_media(media="print")
    wall = staff.get_by_role("region", name="For the wall")
    expect(wall).to_be_visible()
    expect(wall).to_contain_text("Match: Lindhav, 60 min")
    expect(staff.locator(".week-grid")).to_be_hidden()
    text = staff.locator("body").inner_text()
    assert "Elsilith" not in text
    assert "over" not in text


def test_a_calendar_link_is_made_read_without_signing_in_and_withdrawn(coach, browser):
    coach.goto(WEEK)
    coach.get_by_text("Calendar links and printing").click()
    coach.get_by_role("button", name="Make a link").click()
    link = coach.get_by_label("The link").input_value()
    path = link[link.index("/api/") :]
    outside = browser.new_context(base_url=coach.url.split("/week")[0])
    assert "SUMMARY:Court" in outside.request.get(path).text()
    coach.get_by_role("button", name="Withdraw").click()
    expect(coach.get_by_role("button", name="Withdraw")).to_have_count(0)
    assert outside.request.get(path).status == 404


def test_an_athlete_takes_the_own_sessions_into_a_calendar(phone):
    phone.goto("/")
    phone.get_by_role("button", name="Your sessions in your own calendar").click()
    expect(phone.get_by_label("The link")).to_have_value(re.compile(r"/api/calendars/.+\.ics$"))
    assert Axe().run(phone).response["violations"] == []


def test_a_block_is_laid_out_dragged_planned_and_undone(coach):
    coach.goto(WEEK)
    coach.get_by_role("link", name="Plan a block of weeks").click()
    bars = coach.get_by_role("slider")
    expect(bars).to_have_count(12)
    expect(bars.nth(4)).to_have_accessible_name(re.compile("lighter"))
    assert Axe().run(coach).response["violations"] == []
    coach.get_by_label("Weeks", exact=True).fill("3")
    coach.get_by_label("Lighter every").fill("3")
    coach.get_by_role("button", name="Lay out").click()
    expect(bars).to_have_count(3)
    load = int(bars.nth(1).get_attribute("aria-valuenow"))
    bars.nth(1).press("PageUp")
    expect(bars.nth(1)).to_have_attribute("aria-valuenow", re.compile(rf"^(?!{load}$)"))
    assert int(bars.nth(1).get_attribute("aria-valuenow")) > load
    coach.get_by_label("What the week from 23 Mar is for").fill("speed")
    coach.get_by_role("button", name="Plan these weeks").click()
    expect(coach.get_by_text("The weeks are planned so.")).to_be_visible()
    coach.get_by_role("button", name="Undo").click()
    expect(coach.get_by_text("The weeks are planned so.")).to_have_count(0)
    coach.get_by_label("Weeks", exact=True).fill("90")
    coach.get_by_role("button", name="Lay out").click()
    expect(coach.get_by_text("a block has 1 to 26 weeks")).to_be_visible()
    expect(coach.get_by_label("Weeks", exact=True)).to_have_attribute("aria-invalid", "true")
    coach.get_by_label("Weeks", exact=True).fill("3")
    coach.get_by_label("Rise a week").fill("a bit")
    coach.get_by_role("button", name="Lay out").click()
    expect(coach.get_by_label("Rise a week")).to_have_attribute("aria-invalid", "true")
    expect(coach.get_by_label("Rise a week")).to_have_value("a bit")


def test_a_template_says_what_differs_before_it_is_planned_and_is_undone(staff):
    staff.goto(WEEK)
    staff.get_by_role("link", name="Templates").click()
    expect(staff.get_by_role("heading", name="1 template")).to_be_visible()
    staff.get_by_role("button", name="Keep weeks as a template").click()
    form = staff.get_by_role("complementary", name="Keep weeks as a template")
    form.get_by_role("button", name="Keep them").click()
    expect(form.get_by_text("A name, so that it is found again.")).to_be_visible()
    form.get_by_label("Name", exact=True).fill("Court of a week")
    assert Axe().run(staff).response["violations"] == []
    form.get_by_label("gym", exact=True).uncheck()
    form.get_by_label("court", exact=True).check()
    form.get_by_label("Years of training, least").fill("30")
    form.get_by_role("button", name="Keep them").click()
    # Kept, it is there to be given, and says at once that it was written for others.
    give = staff.get_by_role("complementary", name="Give this template")
    expect(give.get_by_role("heading", name="Not as written, for Tarnholm Handball")).to_be_visible()
    give.get_by_label("For whom").select_option(label="M. Zanotis")
    give.get_by_label("From the week of").fill("2026-07-08")
    differs = give.get_by_role("region", name="What differs")
    expect(differs).to_contain_text("Written for 30 years of training or more; here it is")
    expect(differs.get_by_role("definition").first).to_contain_text("Court 18:00")
    differs.get_by_role("button", name="Plan it nevertheless").click()
    expect(staff.get_by_text("5 sessions are planned.")).to_be_visible()
    expect(differs.get_by_role("button", name="All of it is planned")).to_be_disabled()
    staff.get_by_role("button", name="Undo").click()
    expect(differs.get_by_role("button", name="Plan it nevertheless")).to_be_enabled()
    give.get_by_role("button", name="Take this template away").click()
    expect(staff.get_by_role("heading", name="1 template")).to_be_visible()
