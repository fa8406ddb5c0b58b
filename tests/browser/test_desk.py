"""The morning desk in use: stories, filters and views, calls for several, the sheet, the athlete, what was known."""

import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

DAY = "squad=tarnholm-handball&day=2026-03-12"
DESK = f"/morning?{DAY}"


def lanes(page):
    expect(page.locator(".lane-name").first).to_be_visible()
    return page.locator(".lane-name b").all_inner_texts()


def open_lane(page, name):
    page.get_by_role("button", name=re.compile(f"^{re.escape(name)}")).click()
    return page.get_by_role("complementary", name="Evidence")


def test_the_evidence_tells_stories_with_reports_plan_and_the_last_call(staff):
    staff.goto(DESK)
    panel = open_lane(staff, "M. Zanotis")
    story = panel.get_by_role("region", name="Reports", exact=True)
    expect(story).to_contain_text("This is no diagnosis")
    expect(panel).to_contain_text(re.compile(r"16:30\s*Strength"))
    expect(panel.get_by_text("Last call")).to_be_visible()
    panel = open_lane(staff, "H. Toralith")
    expect(panel.get_by_role("heading", name="This morning’s report")).to_be_visible()
    expect(panel).to_contain_text(re.compile(r"usual \d(\.\d)? ± \d"))
    assert Axe().run(staff).response["violations"] == []


def test_order_filter_columns_and_view_stand_in_the_address_and_are_kept(staff):
    staff.goto(DESK)
    assert lanes(staff) != sorted(lanes(staff))
    staff.get_by_label("Order by").select_option("by name")
    expect(staff).to_have_url(re.compile("order=name"))
    names = [name.split(". ")[1] for name in lanes(staff)]
    assert [name[0] for name in lanes(staff)] == sorted(name[0] for name in lanes(staff))
    staff.get_by_label("Show").select_option("keeper")
    expect(staff.locator(".lane-name")).to_have_count(3)
    assert len(names) == 22
    staff.get_by_text("Columns", exact=True).click()
    staff.get_by_label("room on throws").check()
    expect(staff.locator(".lane-extra").nth(1)).to_have_text(re.compile(r"\d|–"))
    staff.get_by_role("button", name="Save this view").click()
    staff.get_by_label("Name of the view").fill("Keepers")
    staff.get_by_role("button", name="Save", exact=True).click()
    expect(staff.get_by_text("The view Keepers is saved.")).to_be_visible()
    staff.goto(DESK)
    staff.get_by_label("Saved views").select_option("Keepers")
    expect(staff.locator(".lane-name")).to_have_count(3)
    staff.get_by_role("button", name="Remove this view").click()
    expect(staff.get_by_label("Saved views")).to_have_count(0)


def test_an_adapted_day_is_prefilled_from_room_and_asks_before_it_goes_beyond(staff):
    staff.goto(f"{DESK}&order=name")
    panel = open_lane(staff, "E. Yelwen")
    expect(panel.get_by_text("holds").first).to_be_visible()
    staff.keyboard.press("2")
    expect(panel.get_by_label("Minutes")).to_have_value("75")
    panel.get_by_label("Minutes").fill("105")
    panel.get_by_label("Reason").fill("needs the match")
    panel.get_by_role("button", name="Record adapt").click()
    expect(panel.get_by_role("alert")).to_contain_text("it is marked")
    panel.get_by_role("button", name="Let it stand, above room").click()
    expect(panel.locator(".standing-call")).to_contain_text("105 min, above room")
    panel.get_by_role("button", name="Take back").click()
    expect(panel.locator(".standing-call")).to_have_count(0)


def test_whoever_moves_and_calls_fast_calls_the_athlete_in_the_marked_row(staff):
    staff.goto(f"{DESK}&order=name")
    names = lanes(staff)
    for key in ("j", "j", "j", "5"):
        staff.keyboard.press(key)
    staff.keyboard.type("jaded")
    expect(staff.locator(".lane.chosen b").first).to_have_text(names[2])
    expect(staff.get_by_role("heading", name=names[2])).to_be_visible()
    panel = staff.get_by_role("complementary", name="Evidence")
    expect(panel.get_by_label("Reason")).to_have_value("jaded")
    staff.keyboard.press("Enter")
    expect(staff.get_by_text(f"Rest recorded for {names[2]}.")).to_be_visible()
    expect(panel.locator(".standing-call")).to_contain_text("jaded")
    panel.get_by_role("button", name="Take back").click()
    expect(panel.locator(".standing-call")).to_have_count(0)


def test_what_was_typed_of_a_call_stays_while_one_looks_at_another(staff):
    staff.goto(f"{DESK}&order=name")
    panel = open_lane(staff, "E. Yelwen")
    staff.keyboard.press("2")
    panel.get_by_label("Reason").fill("heavy legs")
    panel = open_lane(staff, "L. Balmund")
    expect(panel.get_by_label("Reason")).to_have_count(0)
    panel = open_lane(staff, "E. Yelwen")
    expect(panel.get_by_label("Reason")).to_have_value("heavy legs")
    # What each call comes to has arrived: nothing on the panel moves any more.
    expect(panel.locator(".outcome").first).to_contain_text(re.compile(r"\w"))
    # Another kind of call keeps the reason and takes the minutes back.
    panel.get_by_role("button", name=re.compile("Recover")).click()
    expect(panel.get_by_label("Reason")).to_have_value("heavy legs")
    expect(panel.get_by_label("Minutes")).to_have_count(0)
    panel.get_by_label("Reason").press("Escape")
    expect(panel.get_by_label("Reason")).to_have_count(0)
    assert Axe().run(staff).response["violations"] == []


def test_several_are_marked_and_called_together_and_stand_on_the_coachs_sheet(staff, coach):
    staff.goto(f"{DESK}&order=name")
    for name in ("H. Toralith", "A. Orrin"):
        open_lane(staff, name)
        staff.keyboard.press("x")
    expect(staff.locator(".lane.marked")).to_have_count(2)
    staff.keyboard.press("4")
    staff.get_by_label("Reason").fill("keepers after the match")
    staff.get_by_role("button", name="Record recover").click()
    expect(staff.get_by_text("Recover recorded for 2 athletes.")).to_be_visible()
    expect(staff.locator(".lane.marked")).to_have_count(0)
    coach.goto(f"/morning/sheet?{DAY}")
    sheet = coach.get_by_role("article", name="The sheet")
    expect(sheet).to_contain_text("A. Orrin")
    expect(sheet.locator(".recover li")).to_have_count(2)
    assert "after the match" not in sheet.inner_text()
    expect(coach.get_by_role("button", name="Give it out")).to_have_count(0)
    staff.goto(f"/morning/sheet?{DAY}")
    staff.get_by_role("button", name="Give it out").click()
    expect(staff.get_by_text("Version 1, M. Ostrel")).to_be_visible()
    staff.get_by_role("button", name="Copy as text").click()
    assert "Recovery (2)" in staff.evaluate("navigator.clipboard.readText()")
    staff.goto(DESK)
    for name in ("H. Toralith", "A. Orrin"):
        panel = open_lane(staff, name)
        panel.get_by_role("button", name="Take back").click()
        expect(panel.locator(".standing-call")).to_have_count(0)
    staff.goto(f"/morning/sheet?{DAY}")
    expect(staff.get_by_role("region", name="Changed since")).to_contain_text("A. Orrin: full, was recovery")
    assert Axe().run(staff).response["violations"] == []


def test_what_is_left_of_another_kind_of_work_goes_into_the_adapted_day(staff):
    staff.goto(f"{DESK}&order=name")
    panel = open_lane(staff, "M. Vandavic")
    expect(panel.get_by_text("After the plan as it is: Fri 13 March’s plan")).to_be_visible()
    staff.keyboard.press("2")
    expect(panel.get_by_label("Content to leave out or change")).to_have_value("no throws")
    expect(panel.get_by_text("After adapt: Fri 13 March’s plan")).to_be_visible()
    # The throws are named with what they stress.
    expect(panel.get_by_role("region", name="Throws").first).to_contain_text("shoulder, elbow and wrist")


def test_the_desk_shows_whom_something_was_noticed_of_by_region(staff):
    staff.goto(DESK)
    everyone = len(lanes(staff))
    staff.get_by_label("Show").select_option("shoulder")
    expect(staff).to_have_url(re.compile("show=region%3Ashoulder"))
    assert "M. Vandavic" in lanes(staff)
    assert len(lanes(staff)) < everyone


def test_room_opens_from_the_evidence_to_what_each_limit_leaves(staff):
    staff.goto(f"{DESK}&order=name")
    panel = open_lane(staff, "L. Balmund")
    room = panel.locator(".lead b").inner_text()
    panel.get_by_role("link", name="Room today").click()
    opened = staff.get_by_role("region", name="A figure opened up")
    expect(opened).to_contain_text(f"the least of them = {room}")
    expect(opened).to_contain_text("Week-on-week cap (25")
    staff.get_by_label("Figure", exact=True).select_option("energy")
    expect(opened).to_contain_text("answers in the 28 days before")


def test_the_athletes_page_says_how_things_stand_now_and_what_was_noticed(staff):
    staff.goto(f"{DESK}&order=name")
    open_lane(staff, "L. Balmund").get_by_role("link", name="Whole picture").click()
    expect(staff.get_by_role("heading", level=1)).to_contain_text(re.compile(r"Week load .* Room today \d+, held by"))
    side = staff.get_by_role("complementary", name="Readout")
    expect(side.get_by_role("heading", name=re.compile("Open notices"))).to_be_visible()
    expect(side.get_by_text("of 25").first).to_be_visible()
    expect(side.get_by_role("img", name=re.compile("tendon and bone: open until"))).to_be_visible()
    axis = staff.get_by_role("group", name=re.compile("Days; the arrow keys"))
    expect(axis.locator("text", has_text="Notices: load")).to_be_visible()
    expect(axis.locator("text", has_text="Matches")).to_be_visible()
    # A week back the readout says what stood then.
    axis.focus()
    staff.keyboard.press("Shift+ArrowLeft")
    expect(side.get_by_role("heading", level=2).first).to_contain_text("4 March 2026")


def test_zones_stand_on_the_axis_of_who_has_them(staff):
    staff.goto("/morning?squad=tarnholm-ski&day=2026-03-12&order=name")
    staff.locator(".lane-name button").first.click()
    staff.get_by_role("complementary", name="Evidence").get_by_role("link", name="Whole picture").click()
    axis = staff.get_by_role("group", name=re.compile("Days; the arrow keys"))
    expect(axis.locator("text", has_text="Zones")).to_be_visible()
    axis.focus()
    for _ in range(3):
        staff.keyboard.press("ArrowLeft")
    expect(staff.get_by_role("complementary", name="Readout")).to_contain_text(re.compile(r"In zones 1: \d+, 2: \d+"))


def test_the_same_pain_on_three_days_is_one_line_for_the_clinician_and_seen_at_once(clinician):
    clinician.goto(f"/morning/reports?{DAY}")
    told = clinician.get_by_role("region", name="For the clinician")
    line = told.locator("li", has_text="M. Vandavic")
    expect(line).to_have_count(1)
    expect(line).to_contain_text("told on 2 days since Tue 10 March: 2, 4")
    heading = clinician.get_by_role("heading", level=1)
    expect(heading).to_contain_text("2 new for the clinician")
    line.get_by_role("button", name="Seen").click()
    expect(line).to_contain_text("seen by Dr. A. Fenwold")
    # Both tellings of it are seen with the one word.
    expect(heading).to_have_text(re.compile(r"reports are in\s*$"))


def test_a_referral_reaches_the_clinician_and_the_reply_comes_back(staff, clinician):
    staff.goto(DESK)
    panel = open_lane(staff, "M. Zanotis")
    staff.keyboard.press("6")
    panel.get_by_label("Reason").fill("flat for three weeks")
    panel.get_by_role("button", name="Record refer").click()
    expect(panel.locator(".standing-call")).to_contain_text("Refer")
    clinician.goto(f"/morning/reports?{DAY}")
    told = clinician.get_by_role("region", name="For the clinician")
    told.locator("li", has_text="flat for three weeks").get_by_role("button", name="Reply").click()
    told.get_by_label("Reply about M. Zanotis").fill("Blood test on Friday, easy until then")
    told.get_by_role("button", name="Send the reply").click()
    expect(told).to_contain_text("Reply: Blood test on Friday")
    # What a clinician answers is clinical detail: staff without the right do not read it.
    staff.reload()
    assert "Blood test" not in staff.content()
    panel.get_by_role("button", name="Take back").click()
    expect(panel.locator(".standing-call")).to_have_count(0)


def test_a_past_morning_is_shown_as_it_was_known(staff):
    staff.goto(DESK.replace("03-12", "03-11"))
    panel = open_lane(staff, "T. Indnock")
    expect(panel.locator(".lead")).to_contain_text("Room today")
    now = panel.locator(".lead").inner_text()
    staff.get_by_role("button", name="Show it as it was known").click()
    expect(staff.get_by_text("as it was known at 8")).to_be_visible()
    expect(panel.locator(".lead")).not_to_have_text(now)
    expect(panel.locator(".lead")).to_contain_text("Room today")
    staff.reload()
    expect(staff.get_by_text("as it was known at 8")).to_be_visible()


def test_the_month_of_calls_says_what_came_of_them(staff):
    staff.goto(f"/morning/review?{DAY}")
    expect(staff.get_by_role("heading", name=re.compile("calls in March 2026"))).to_be_visible()
    row = staff.get_by_role("row", name=re.compile("M. Zanotis.*(more|felt harder)")).first
    expect(row).to_contain_text("Adapt")
    expect(staff.get_by_text("As called is within 15 % of the minutes called")).to_be_visible()
    staff.get_by_role("button", name="Month before").click()
    expect(staff.get_by_role("heading", name=re.compile("February 2026"))).to_be_visible()
    assert Axe().run(staff).response["violations"] == []


def test_one_athlete_on_one_axis_with_keys_comparison_and_opened_figures(staff):
    staff.goto(DESK)
    panel = open_lane(staff, "M. Zanotis")
    panel.get_by_role("link", name="Whole picture").click()
    axis = staff.get_by_role("group", name=re.compile("Days; the arrow keys"))
    expect(axis.get_by_role("img", name=re.compile("M. Zanotis from"))).to_be_visible()
    readout = staff.get_by_role("complementary", name="Readout")
    axis.focus()
    expect(readout).to_contain_text("Wednesday 11 March 2026")
    staff.keyboard.press("ArrowLeft")
    expect(readout).to_contain_text("Tuesday 10 March 2026")
    staff.get_by_label("rolling, coupled").check()
    expect(staff.get_by_text("with the 7 inside the 28")).to_be_visible()
    staff.get_by_label("Compare with").select_option("mean of the position")
    expect(staff.get_by_text("Dashed: week load of the others at back, mean")).to_be_visible()
    staff.get_by_label("Figure", exact=True).select_option("ratio, weighted")
    opened = staff.get_by_role("region", name="A figure opened up")
    expect(opened).to_contain_text("Williams et al. 2017")
    expect(opened.get_by_role("row")).to_have_count(57)
    staff.get_by_role("button", name="6 weeks").click()
    expect(staff).to_have_url(re.compile("span="))
    staff.reload()
    expect(staff.get_by_role("slider", name="First day shown")).to_be_visible()
    assert Axe().run(staff).response["violations"] == []


def test_a_notice_is_tuned_and_nonsense_is_refused_at_its_field(staff):
    staff.goto("/squad/notices?squad=tarnholm-ski&day=2026-03-12&notice=days_running")
    side = staff.get_by_role("complementary", name="A notice")
    side.get_by_label("Days in a row").fill("99")
    side.get_by_role("button", name="Tune it").click()
    expect(side.get_by_text("Days in a row is 3 to 21 days.")).to_be_visible()
    side.get_by_label("Days in a row").fill("5")
    side.get_by_role("button", name="Tune it").click()
    expect(staff.get_by_role("cell", name="squad: days in a row 5 days")).to_be_visible()
    side.get_by_role("button", name="Take back").click()
    expect(side.get_by_role("button", name="Take back")).to_have_count(0)
    assert Axe().run(staff).response["violations"] == []


def test_the_method_is_reached_from_the_evidence(staff):
    staff.goto(DESK)
    panel = open_lane(staff, "M. Zanotis")
    panel.get_by_role("link", name="How it is worked out").click()
    expect(staff.get_by_role("heading", name="How it is worked out")).to_be_visible()
    expect(staff.get_by_text("Overtraining screen", exact=True)).to_be_visible()


@pytest.mark.parametrize(
    ("path", "said"),
    [
        (f"/athlete?{DAY}&athlete=999999", "This athlete is not in the squad on that day."),
        ("/athlete?squad=nobody&day=2026-03-12", "The squad of this link does not exist"),
        ("/morning/sheet?squad=tarnholm-handball&day=2019-03-12", "No session is planned."),
    ],
)
def test_a_link_to_what_is_not_there_says_so(staff, path, said):
    staff.goto(path)
    expect(staff.get_by_text(said)).to_be_visible()


def test_the_phone_shows_today_and_the_own_climb(phone):
    phone.goto("/")
    today = phone.get_by_role("region", name="Today")
    expect(today).to_contain_text("Strength")
    expect(today.get_by_role("img", name=re.compile("Week loads: "))).to_be_visible()
