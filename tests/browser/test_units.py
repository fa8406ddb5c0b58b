"""Setting up units and anchors, and counting and lifting, as people do it. On the ski squad where that is possible,
and in an older session of the handball squad, so that tests of the morning do not meet what is changed here."""

import re

import pytest
from playwright.sync_api import expect

DAY = "day=2026-03-12"
HANDBALL, SKI = f"?squad=tarnholm-handball&{DAY}", f"?squad=tarnholm-ski&{DAY}"


def older_session(page, kind):
    """Address of a session of five days ago, so that what is counted there moves little else."""
    spine = page.request.get("/api/squads/tarnholm-handball/spine?day=2026-03-02").json()
    return next(
        f"/session{HANDBALL}&session={session['id']}"
        for day in reversed(spine["days"])
        for session in day["sessions"]
        if session["kind"] == kind and day["day"] < "2026-03-02"
    )


def test_a_weight_shows_what_it_would_move_before_it_is_saved(staff):
    staff.goto(f"/squad/units{HANDBALL}")
    staff.get_by_role("button", name="Change Throws").click()
    preview = staff.get_by_role("region", name="What it would do")
    row = preview.get_by_role("row").nth(1)
    before = row.inner_text()
    staff.get_by_label("Weight of Placed throw").fill("0.9")
    expect(preview).to_contain_text("Placed throw 0.9")
    expect(row).not_to_have_text(before)
    staff.get_by_label("Weight of Placed throw").fill("much")
    expect(staff.get_by_text("The weight of Placed throw is a number from 0 to 10.")).to_be_visible()
    staff.get_by_role("button", name="Leave as it is").click()
    expect(staff.get_by_role("row", name=re.compile("Throws"))).to_contain_text("Placed throw 0.55")


def test_a_new_unit_is_made_and_a_past_definition_asks_before_it_moves_loads(staff):
    staff.goto(f"/squad/units{SKI}")
    staff.get_by_role("button", name="New unit").click()
    staff.get_by_label("Name", exact=True).fill("Shooting")
    staff.get_by_label("Unit it is counted in").fill("shots")
    staff.get_by_label("Name 1").fill("Shot")
    staff.get_by_role("button", name="Remove 2").click()
    staff.get_by_role("button", name="Make the unit").click()
    expect(staff.get_by_text("Choose the kinds of session that have such work.")).to_be_visible()
    staff.get_by_label("ski", exact=True).check()
    staff.get_by_role("button", name="Make the unit").click()
    expect(staff.get_by_role("row", name=re.compile("Shooting"))).to_contain_text("Repetitions × class weight (Shot 1)")
    staff.get_by_role("button", name="Change Shooting").click()
    staff.get_by_label("Weight of Shot").fill("2")
    staff.get_by_label("Holds from").fill("2026-03-02")
    staff.get_by_label("Reason").fill("prone and standing alike")
    staff.get_by_role("button", name="Save from that day").click()
    expect(staff.get_by_text("past loads would move")).to_be_visible()
    staff.get_by_label("Work out the loads since then anew").check()
    staff.get_by_role("button", name="Save from that day").click()
    expect(staff.get_by_role("row", name=re.compile("Shooting"))).to_contain_text("Shot 2")
    staff.get_by_role("button", name="Undo").click()
    expect(staff.get_by_role("row", name=re.compile("Shooting"))).to_contain_text("(Shot 1)")


def test_an_anchor_is_set_refused_where_it_cannot_be_and_undone(staff):
    staff.goto(f"/squad/people{SKI}")
    cell = staff.get_by_role("button", name=re.compile("^Experience, "))
    expect(cell.first).to_have_accessible_name(re.compile("not known"))
    cell.first.click()
    staff.get_by_label("Experience, years").fill("99")
    staff.get_by_role("button", name="Save").click()
    expect(staff.get_by_text("Experience is 0 to 60 years.")).to_be_visible()
    staff.get_by_label("Experience, years").fill("7")
    staff.get_by_role("button", name="Save").click()
    expect(cell.first).to_have_text("7")
    staff.get_by_role("button", name="Undo").click()
    expect(cell.first).to_have_text("·")


def test_a_place_is_added_once(staff):
    staff.goto(f"/squad/units{SKI}")
    for _ in range(2):
        staff.get_by_label("New place").fill("Treadmill")
        staff.get_by_role("button", name="Add", exact=True).click()
    expect(staff.get_by_text("This place is there already.")).to_be_visible()
    # What was refused is not lost, and taking something back clears nothing that is being typed.
    field, remove = staff.get_by_label("New place"), staff.get_by_role("button", name="Take Treadmill off the list")
    expect(field).to_have_value("Treadmill")
    remove.click()
    expect(remove).to_have_count(0)
    field.fill("San")
    staff.get_by_role("button", name="Undo").click()
    expect(remove).to_be_visible()
    expect(field).to_have_value("San")
    remove.click()
    expect(remove).to_have_count(0)


def test_taps_on_the_counter_pad_are_saved_and_can_be_undone(staff):
    staff.goto(older_session(staff, "court") + "&show=counts")
    pad = staff.get_by_role("region", name=re.compile("^Counts of"))
    count = pad.get_by_label("Count of Full throw")
    before = int(count.input_value())
    tap = pad.get_by_role("button", name="One more Full throw")
    for _ in range(3):
        tap.click()
    staff.keyboard.press("1")
    pad.get_by_role("button", name="Undo").click()
    expect(count).to_have_value(str(before + 3))
    expect(pad.get_by_role("status")).to_have_text("Saved")
    staff.reload()
    expect(staff.get_by_label("Count of Full throw")).to_have_value(str(before + 3))


def test_a_lifting_sheet_says_maxima_as_they_are_typed_and_fills_in_per_cents(staff):
    staff.goto(older_session(staff, "gym") + "&show=lifting")
    sheet = staff.get_by_role("region", name=re.compile("^Lifting of"))
    expect(sheet.get_by_label("Exercise 1")).to_be_visible()
    line = sheet.get_by_role("row").last
    number = sheet.get_by_role("row").count() - 1
    line.get_by_label(f"Exercise {number}").fill("Front squat")
    for field, value in (("Sets", "3"), ("Reps", "8"), ("kg", "100"), ("Reserve", "2")):
        sheet.get_by_label(f"{field}, line {number}", exact=True).fill(value)
    row = sheet.get_by_role("row").nth(number)
    expect(row).to_contain_text("133.3")
    sheet.get_by_label("Estimated maximum after").select_option("brzycki")
    expect(row).to_contain_text("133.3")
    sheet.get_by_label(f"Reserve, line {number}").fill("7")
    expect(row).to_contain_text("over 12")
    first = sheet.get_by_label("Per cent of maximum, line 1")
    kg = sheet.get_by_label("kg, line 1")
    old = float(kg.input_value())
    first.fill("50")
    assert float(kg.input_value()) < old
    sheet.get_by_role("button", name="Save").click()
    expect(sheet.get_by_role("button", name="Saved")).to_be_visible()
    staff.reload()
    expect(staff.get_by_label(f"Exercise {number}")).to_have_value("Front squat")


def test_a_lifting_sheet_is_saved_when_it_is_and_keeps_what_is_typed_meanwhile(staff):
    staff.goto(older_session(staff, "gym") + "&show=lifting")
    sheet = staff.get_by_role("region", name=re.compile("^Lifting of"))
    held = []

    def first_waits(route):
        if route.request.method == "PUT" and not held:
            held.append(route)
        else:
            route.continue_()

    staff.route("**/work", first_waits)
    sheet.get_by_label("Reps, line 1").fill("3")
    with staff.expect_request("**/work"):
        sheet.get_by_role("button", name="Save", exact=True).click()
    expect(sheet.get_by_role("button", name="Saved")).to_have_count(0)
    sheet.get_by_label("Sets, line 1").fill("9")
    with staff.expect_response("**/work"):
        held[0].continue_()
    expect(sheet.get_by_label("Sets, line 1")).to_have_value("9")
    expect(sheet.get_by_label("Reps, line 1")).to_have_value("3")
    sheet.get_by_role("button", name="Save", exact=True).click()
    expect(sheet.get_by_role("button", name="Saved")).to_be_visible()
    staff.reload()
    expect(staff.get_by_label("Sets, line 1")).to_have_value("9")


@pytest.mark.parametrize("path", ["people", "files"])
def test_coaches_see_units_and_limits_only(coach, path):
    coach.goto(f"/squad/units{HANDBALL}")
    tabs = coach.get_by_role("navigation", name="Squad").get_by_role("link")
    expect(tabs).to_have_text(["Units", "Limits"])
    coach.goto(f"/squad/{path}{HANDBALL}")
    expect(coach.get_by_text("could not be loaded")).to_be_visible()


def test_the_corridor_can_be_shown_for_another_channel_by_link(staff):
    staff.goto(f"/morning{HANDBALL}")
    staff.get_by_role("button", name="Throws", exact=True).click()
    expect(staff).to_have_url(re.compile("channel=throws"))
    expect(staff.locator(".lane-room").first).to_contain_text(re.compile("full throws|none left|no figure"))
    staff.reload()
    expect(staff.get_by_role("button", name="Throws", exact=True)).to_have_attribute("aria-pressed", "true")


def skis(page):
    """Address of a session on snow five days ago."""
    spine = page.request.get("/api/squads/tarnholm-ski/spine?day=2026-03-02").json()
    found = [one for day in spine["days"] for one in day["sessions"] if one["kind"] == "ski" and one["done"]]
    return f"/session{SKI}&session={found[3]['id']}", found[3]["id"]


def test_minutes_in_zones_are_typed_by_row_and_make_a_load(staff):
    staff.goto(skis(staff)[0] + "&show=zones")
    row = staff.locator(".work-grid tbody tr").first
    cells = row.get_by_role("textbox")
    before = row.locator("td").last.inner_text()
    cells.nth(0).fill("41")
    cells.nth(1).fill("")
    expect(row).to_contain_text("not complete yet")
    cells.nth(1).fill("17,5")
    cells.nth(2).fill("6")
    cells.nth(2).press("Tab")
    expect(row.locator("td").last).not_to_have_text(before, use_inner_text=True)
    staff.reload()
    expect(row.get_by_role("textbox").nth(1)).to_have_value("17.5")


def test_parts_are_rated_one_by_one_with_the_coachs_weight(staff):
    address, session = skis(staff)
    headers = {"X-CSRF-Token": staff.request.get("/api/me").json()["csrf_token"]}
    base = "/api/squads/tarnholm-ski"
    unit = {
        "name": "Weighted parts", "unit": "weighted", "form": "segment_effort", "settings": {}, "kinds": ["ski"],
        "regions": [], "mark": "ring", "from_day": "2026-02-01", "reason": "tried out", "recompute": True,
    }  # fmt: skip
    assert staff.request.post(f"{base}/channels", data=unit, headers=headers).ok
    parts = [{"name": "Easy", "begins": 0, "minutes": 60, "weight": 1},
             {"name": "Hills", "begins": 60, "minutes": 30, "weight": 3}]  # fmt: skip
    path = f"{base}/sessions/{session}/segments"
    assert staff.request.put(path, data={"segments": parts, "version": 1}, headers=headers).ok
    staff.goto(f"{address}&show=segments")
    row = staff.locator(".work-grid tbody tr").first
    for i, value in enumerate(("60", "3", "30", "8")):
        row.get_by_role("textbox").nth(i).fill(value)
    row.get_by_role("textbox").nth(3).press("Tab")
    expect(row).to_contain_text(f"Weighted parts {60 * 3 * 1 + 30 * 8 * 3}")


def test_daily_loads_can_be_taken_out(staff):
    staff.goto(f"/squad/files{SKI}")
    with staff.expect_download() as download:
        staff.get_by_role("link", name="xlsx").click()
    assert download.value.suggested_filename == "tarnholm-ski-daily-loads-2026-03-12.xlsx"
