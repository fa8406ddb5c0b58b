"""A testing day, and the rest of what a squad sets up for its people."""

import re

import numpy as np
import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

from uvren.simulate import plate

DAY = "/squad/tests?squad=tarnholm-handball&day=2026-03-12&test=throw_speed"


def trial(page, number, name):
    return page.get_by_role("textbox", name=f"Trial {number}, {name}", exact=True)


def names(page):
    page.wait_for_selector(".test-grid tbody tr")
    return page.locator(".test-grid th .text-button").all_inner_texts()


def test_trials_are_typed_down_ranked_at_once_and_set_against_the_last_ones(staff):
    staff.goto(DAY)
    first, second, *_ = names(staff)
    trial(staff, 1, first).fill("120")
    trial(staff, 1, first).press("Enter")
    expect(trial(staff, 1, second)).to_be_focused()
    row = staff.get_by_role("row", name=re.compile(re.escape(first)))
    expect(row.get_by_role("alert")).to_contain_text("Is it right?")
    row.get_by_role("button", name="It is right").click()
    expect(row).to_contain_text("+28, better")
    staff.reload()
    expect(trial(staff, 1, first)).to_have_value("120")
    expect(row.get_by_role("cell").last).to_have_text("1")
    trial(staff, 1, first).fill("")
    trial(staff, 1, first).press("Tab")
    trial(staff, 1, second).focus()
    expect(row.get_by_role("cell").last).to_have_text("")


def test_a_side_that_stays_behind_is_shown_with_its_series(staff):
    staff.goto(DAY.replace("03-12", "03-05").replace("throw_speed", "isometric_squat"))
    row = staff.get_by_role("row", name=re.compile("three tests running"))
    expect(row).to_have_count(1)
    expect(row).to_contain_text("right stronger")
    row.get_by_role("button").first.click()
    panel = staff.get_by_role("complementary", name="About the test")
    expect(panel.get_by_role("img", name=re.compile("Isometric squat of .*, 12 results"))).to_be_visible()
    expect(panel).to_contain_text("qualified staff")
    assert Axe().run(staff).response["violations"] == []


def test_a_plates_file_says_what_the_jump_was(staff):
    staff.goto(DAY.replace("throw_speed", "countermovement_jump_height"))
    name = names(staff)[0]
    staff.get_by_role("button", name=name).click()
    force = plate.plate_file(*plate.countermovement(plate.TrueJump(80, 0.4, 0.46), np.random.default_rng(1)))
    picker = staff.get_by_label("Force trace")
    picker.set_input_files({"name": "jump.csv", "mimeType": "text/csv", "buffer": force.encode()})
    found = staff.get_by_role("region", name="From a jump plate")
    expect(found).to_contain_text(re.compile(r"Height by flight time\s*(39\.\d+|40(\.\d+)?) cm"))
    expect(found).to_contain_text(re.compile(r"Left share\s*4[56](\.\d+)? %"))
    height = float(re.search(r"Height by impulse\s*([\d.]+) cm", found.inner_text())[1])
    found.get_by_role("button", name="Height by impulse: put in as trial 1").click()
    expect(found.get_by_role("button", name="Height by impulse: put in as trial 2")).to_be_visible()
    assert float(trial(staff, 1, name).input_value()) == pytest.approx(height, abs=0.1)
    picker.set_input_files({"name": "x.csv", "mimeType": "text/csv", "buffer": b"a;b\n1;2\n"})
    expect(found.get_by_role("alert")).to_contain_text("is the time")


def test_a_test_is_made_changed_and_refused_where_it_makes_no_sense(staff):
    staff.goto(DAY.replace("handball", "ski"))
    expect(staff.get_by_text("No test is set up yet")).to_be_visible()
    staff.get_by_label("Name", exact=True).fill("Ramp test")
    staff.get_by_role("button", name="Save").click()
    expect(staff.get_by_text("A test has a unit.")).to_be_visible()
    staff.get_by_label("Unit", exact=True).fill("W")
    staff.get_by_label("Trials").fill("1")
    staff.get_by_role("button", name="Save").click()
    expect(staff.get_by_role("heading", name="tested on")).to_be_visible()
    expect(staff.get_by_label("Test", exact=True)).to_have_value("ramp_test")
    staff.get_by_role("button", name="Change this test").click()
    staff.get_by_role("button", name="Take it off the list").click()
    expect(staff.get_by_text("No test is set up yet")).to_be_visible()
    staff.get_by_role("button", name="Undo").click()
    expect(staff.get_by_text("Ramp test is on the list again.")).to_be_visible()
    expect(staff.get_by_label("Test", exact=True)).to_have_value("ramp_test")


def test_a_form_is_asked_in_another_order_from_today(staff):
    staff.goto("/squad/forms?squad=tarnholm-ski&day=2026-03-12")
    staff.get_by_role("button", name="Ask earlier: How is your mood?").click()
    staff.get_by_label("Question of mood").fill("How do you feel this morning?")
    staff.get_by_role("button", name="Leave out: How calm do you feel?").click()
    staff.get_by_role("button", name="Ask this from then on").click()
    expect(staff.get_by_text("Asked from Thu 12 March on.")).to_be_visible()
    staff.reload()
    expect(staff.get_by_label("Question of mood")).to_have_value("How do you feel this morning?")
    expect(staff.get_by_role("button", name="Ask: How calm do you feel?")).to_be_visible()


def test_staff_enter_what_they_were_told_and_copy_a_reminder(staff):
    staff.goto("/morning/reports?squad=tarnholm-handball&day=2026-03-12")
    row = staff.locator(".reports-table tr", has_text="missing since").last
    name = row.get_by_role("button").inner_text()
    row.get_by_role("button").click()
    panel = staff.get_by_role("complementary", name="One athlete")
    panel.get_by_role("button", name="Copy a reminder").click()
    assert name in staff.evaluate("navigator.clipboard.readText()")
    panel.get_by_role("button", name="Enter it for them").click()
    panel.get_by_label("mood, 0–10").fill("12")
    panel.get_by_label("How you know").fill("by phone")
    panel.get_by_role("button", name="Enter it").click()
    expect(panel.get_by_text("The answer is 0 to 10.").first).to_be_visible()
    panel.get_by_label("mood, 0–10").fill("6")
    panel.get_by_role("button", name="Enter it").click()
    expect(staff.locator(".reports-table tr", has_text=name)).to_contain_text("told")
    panel.get_by_role("button", name="Enter another report for them").click()
    panel.get_by_label("What about").select_option("the last week")
    panel.get_by_label("Did you have headaches?, 0–2").fill("2")
    panel.get_by_label("How you know").fill("by phone")
    panel.get_by_role("button", name="Enter it").click()
    expect(panel.get_by_role("region", name="The last week")).to_contain_text("most days")


def test_the_squads_code_leads_to_a_page_that_asks_who_one_is(staff, open_page):
    staff.goto("/morning/reports?squad=tarnholm-handball&day=2026-03-12")
    staff.get_by_role("button", name="Show the squad’s code").click()
    code = staff.get_by_role("region", name="The squad’s code")
    expect(code.get_by_role("img", name="QR code")).to_be_visible()
    stranger = open_page(None, 390, 844)
    stranger.goto(code.locator(".figure").inner_text())
    expect(stranger.get_by_label("Password")).to_be_visible()


def test_a_clinicians_word_reaches_the_coach_without_its_reason(clinician, coach):
    clinician.goto("/morning/reports?squad=tarnholm-handball&day=2026-03-12")
    clinician.get_by_role("button", name="L. Drenvan").click()
    panel = clinician.get_by_role("complementary", name="One athlete")
    panel.get_by_role("button", name="Change it").click()
    panel.get_by_label("What to change in training").fill("")
    panel.get_by_role("button", name="Save").click()
    expect(panel.get_by_text("Say what to change in training")).to_be_visible()
    panel.get_by_label("What to change in training").fill("No sprints")
    panel.get_by_label("Why; for clinicians").fill("Hamstring, first days")
    panel.get_by_role("button", name="Save").click()
    expect(panel).to_contain_text("trains in part: No sprints")
    coach.goto("/morning/reports?squad=tarnholm-handball&day=2026-03-12")
    expect(coach.locator("tr", has_text="L. Drenvan")).to_contain_text("No sprints")
    assert "Hamstring" not in coach.content()


def test_the_audit_says_who_looked(admin):
    admin.goto("/squad/audit?squad=tarnholm-handball&kind=clinical")
    expect(admin.get_by_role("row", name=re.compile("Dr. A. Fenwold.*clinical seen")).first).to_be_visible()
    expect(admin.get_by_role("navigation", name="The working day").get_by_role("link")).to_have_text(["Squad"])


def test_a_position_changes_from_a_day_on(staff):
    staff.goto("/squad/accounts?squad=tarnholm-ski&day=2026-03-12")
    staff.locator(".plain-table .text-button.plain").first.click()
    staff.get_by_label("Position").fill("")
    staff.get_by_role("button", name="Change from that day").click()
    expect(staff.get_by_text("Say the position")).to_be_visible()
    staff.get_by_label("Position").fill("sprinter")
    staff.get_by_role("button", name="Change from that day").click()
    expect(staff.locator(".plain-table tr", has_text="sprinter")).to_have_count(1)


def test_a_result_that_someone_else_changed_is_shown_with_a_choice(open_page, staff_state):
    one, two = open_page(staff_state), open_page(staff_state)
    for page in (one, two):
        page.goto(DAY)
    name = names(one)[4]
    names(two)
    trial(one, 1, name).fill("95")
    trial(one, 1, name).press("Enter")
    expect(one.get_by_role("row", name=re.compile(re.escape(name))).get_by_role("cell").nth(3)).to_have_text("95.0")
    trial(two, 1, name).fill("94")
    trial(two, 1, name).press("Enter")
    refused = two.get_by_role("row", name=re.compile(re.escape(name))).get_by_role("alert")
    expect(refused).to_contain_text("Theirs: 95")
    refused.get_by_role("button", name="Keep mine").click()
    expect(two.get_by_role("row", name=re.compile(re.escape(name))).get_by_role("cell").nth(3)).to_have_text("94.0")
    one.reload()
    expect(trial(one, 1, name)).to_have_value("94")


def test_a_clinician_enters_an_injury_where_it_is(clinician):
    clinician.goto("/morning/reports?squad=tarnholm-handball&day=2026-03-12")
    clinician.get_by_role("button", name="H. Toralith").click()
    panel = clinician.get_by_role("complementary", name="One athlete")
    panel.get_by_role("button", name="Enter an injury").click()
    panel.get_by_role("button", name="Enter the injury").click()
    expect(panel.get_by_role("alert")).to_have_text("Say where it is.")
    panel.get_by_label("Where").select_option("right ankle")
    panel.get_by_label("How bad").select_option("6")
    panel.get_by_label("What was found").fill("Rolled over in the warm-up")
    panel.get_by_role("button", name="Enter the injury").click()
    told = (
        clinician.get_by_role("region", name="For the clinician").get_by_role("listitem").filter(has_text="right ankle")
    )
    expect(told).to_contain_text("Rolled over")
    told.get_by_role("button", name="It is over").click()
    expect(told).to_have_count(0)
    clinician.get_by_role("button", name="Undo").click()
    expect(told).to_have_count(1)
