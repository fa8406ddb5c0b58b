"""A report of fever at ten to seven, and what every place makes of it until the athlete may train again."""

import re

from playwright.sync_api import expect

from tests.browser.parts import choose, evidence, lane

DAY = "squad=tarnholm-handball&day=2026-03-12"


def feel_ill(phone):
    phone.goto("/")
    morning = phone.get_by_role("button", name=re.compile("^This morning"))
    change = phone.get_by_role("listitem").filter(has_text="This morning").get_by_role("button", name="Change")
    expect(morning.or_(change)).to_be_visible()
    morning.or_(change).click()
    for _ in range(7):
        phone.get_by_role("button", name="I would rather not say").click()
    phone.get_by_role("button", name="I feel ill").click()
    phone.get_by_label("Words for the clinician").fill("fever since last night")
    phone.get_by_role("button", name="Next").click()
    phone.get_by_role("button", name="Send").click()


def told(clinician):
    clinician.goto(f"/morning/reports?{DAY}")
    return clinician.get_by_role("region", name="For the clinician").get_by_role("listitem").filter(has_text="illness")


def today_on(phone):
    phone.goto("/")
    return phone.get_by_role("region", name="Today")


def test_a_fever_closes_the_day_for_everybody_and_a_clinician_opens_it_again(phone, staff, coach, clinician):
    name = phone.request.get("/api/squads/tarnholm-handball/own").json()["name"]
    feel_ill(phone)
    # The phone, at once: whom to wait for, no room, no plan.
    today = phone.get_by_role("region", name="Today")
    expect(today).to_contain_text("Wait for Dr. A. Fenwold before you train.")
    assert "Room today" not in today.inner_text()
    assert " min" not in today.inner_text()

    # The desk: a call is needed, the plan is struck through, room is no number.
    for page, why in ((staff, "until a clinician has seen it"), (coach, "ask staff first")):
        page.goto(f"/morning?{DAY}")
        needs = page.get_by_role("region", name="Needs a call")
        row = needs.locator(".lane", has_text=name)
        expect(row.locator(".lane-room")).to_contain_text("closed")
        expect(row.locator(".lane-room")).to_contain_text(why)
        expect(row.locator(".lane-room s")).to_contain_text("plan")
        choose(page, name)
        found = evidence(page)
        expect(found).to_contain_text(f"Room is closed today: {why}.")
        expect(found.locator("s").first).to_contain_text("min at")
        expect(found).to_contain_text("does not stand")
        for word in ("fever", "illness", "plan fits"):
            assert word not in found.inner_text()
    # A number key makes no call that would open it.
    staff.keyboard.press("1")
    evidence(staff).get_by_role("button", name="Record full").click()
    expect(evidence(staff)).to_contain_text("until then only a day off or a referral can be called")

    # The sheet for the coach: who is to be asked about, and no reason.
    coach.goto(f"/morning/sheet?{DAY}")
    group = coach.locator(".sheet-group.ask")
    expect(group).to_contain_text("Ask staff first")
    expect(group.get_by_role("listitem").filter(has_text=name)).to_contain_text("until staff have said so")

    coach.goto(f"/morning/reports?{DAY}")
    expect(coach.get_by_role("row").filter(has_text=name)).to_contain_text("does not train: ask staff first")
    coach.goto(f"/morning/sheet?{DAY}")

    # The clinician: not today, seen again tomorrow.
    line = told(clinician)
    expect(line).to_contain_text("fever since last night")
    line.get_by_role("button", name="Answer").click()
    line.get_by_label("Note on").fill("Stays at home")
    line.get_by_label("Training", exact=True).select_option("not today")
    line.get_by_label("Seen again on").fill("2026-03-13")
    line.get_by_role("button", name="Save").click()
    expect(line).to_contain_text("to be seen again on Fri 13 March")
    staff.goto(f"/morning?{DAY}")
    expect(lane(staff, name)).to_contain_text("a clinician’s restriction")
    coach.reload()
    expect(coach.locator(".sheet-group.out").get_by_role("listitem").filter(has_text=name)).to_be_visible()
    expect(today_on(phone)).to_contain_text("does not train until Thu 12 March")
    # Tomorrow is not open before somebody has looked again.
    staff.goto("/morning?squad=tarnholm-handball&day=2026-03-13")
    expect(lane(staff, name)).to_contain_text("until a clinician has seen it")

    # Half the minutes, no duels: room is what that allows, in every place.
    line = told(clinician)
    line.get_by_role("button", name="Note").click()
    line.get_by_label("Training", exact=True).select_option("say how much …")
    line.get_by_label("How much").select_option("trains in part")
    line.get_by_label("Minutes, % of the plan").fill("50")
    line.get_by_label("What to change in training").fill("no duels")
    line.get_by_role("button", name="Save").click()
    staff.goto(f"/morning?{DAY}")
    choose(staff, name)
    expect(evidence(staff)).to_contain_text("Held by the clinician’s word")
    expect(evidence(staff)).to_contain_text(re.compile(r"half the minutes \(\d+ of \d+ min\), no duels"))
    coach.reload()
    back = coach.locator(".sheet-group.return").get_by_role("listitem").filter(has_text=name)
    expect(back).to_contain_text("no duels")
    expect(today_on(phone)).to_contain_text(re.compile(r"\d+ of \d+ min"))

    # Over: the day is open again.
    line = told(clinician)
    line.get_by_role("button", name="Note").click()
    line.get_by_label("Training", exact=True).select_option("say how much …")
    line.get_by_label("How much").select_option("trains fully")
    line.get_by_role("button", name="Save").click()
    expect(line.get_by_label("Training", exact=True)).to_have_count(0)
    line.get_by_role("button", name="It is over").click()
    expect(line).to_have_count(0)
    staff.goto(f"/morning?{DAY}")
    expect(lane(staff, name)).not_to_contain_text("closed")


def test_a_rest_trial_is_rest_everywhere_and_for_seven_days(staff, coach):
    name, slug = "I. Quorevan", "tarnholm-handball"
    me = staff.request.get("/api/me").json()
    lanes = staff.request.get(f"/api/squads/{slug}/morning?day=2026-03-12").json()["lanes"]
    athlete = next(one["athlete_id"] for one in lanes if one["name"] == name)
    begun = staff.request.post(
        f"/api/squads/{slug}/rest-trials",
        data={"athlete_id": athlete, "from_day": "2026-03-12", "days": 7},
        headers={"X-CSRF-Token": me["csrf_token"]},
    )
    assert begun.ok
    staff.goto(f"/morning?{DAY}")
    choose(staff, name)
    expect(evidence(staff)).to_contain_text("Room is closed today: rest trial until Wed 18 March.")
    expect(evidence(staff).locator("s").first).to_be_visible()
    expect(evidence(staff)).to_contain_text("Fri 13 March is a day off.")
    assert "With the plan of the next 7 days kept" not in evidence(staff).inner_text()
    strip = lane(staff, name)
    expect(strip.locator(".lane-room")).to_contain_text("rest trial until Wed 18 March")
    # The coach learns that they do not train, and nothing of a trial.
    coach.goto(f"/morning?{DAY}")
    expect(lane(coach, name).locator(".lane-room")).to_contain_text("does not train")
    coach.goto(f"/morning/sheet?{DAY}")
    expect(coach.locator(".sheet-group.out").get_by_role("listitem").filter(has_text=name)).to_be_visible()
    assert "trial" not in coach.content()
    staff.goto(f"/morning?squad={slug}&day=2026-03-18")
    expect(lane(staff, name).locator(".lane-room")).to_contain_text("closed")
