"""The desk says two things, each once: the plan against its limits, and whose state needs a look."""

import re

from playwright.sync_api import expect

MORNING = "/morning?squad=tarnholm-handball&day=2026-03-12"
STORY = re.compile(r"court session is over what the limits leave for \d+; \d+ min less clears all but .*D\. Rosidrin")


def names_in(page, group):
    return page.get_by_role("region", name=group).locator(".lane-name b").all_inner_texts()


def test_the_morning_opens_with_the_plan_once_and_then_the_people(staff):
    staff.goto(MORNING)
    expect(staff.get_by_text(STORY)).to_be_visible()
    expect(staff.get_by_role("heading", level=1)).to_contain_text(re.compile(r"^\d people’s state needs a call\."))
    people = names_in(staff, "State needs a call")
    assert people[0] == "M. Zanotis"
    assert len(people) <= 8
    assert "D. Elsilith" in names_in(staff, "Plan needs a change")


def test_one_action_opens_those_whose_plan_is_over_for_one_call(staff):
    staff.goto(MORNING)
    opens = staff.locator(".squad-story", has_text=STORY).get_by_role("button", name=re.compile(r"^Open the \d+$"))
    count = int(opens.inner_text().split()[-1])
    opens.click()
    expect(staff.get_by_role("heading", name=f"Call for {count} marked")).to_be_visible()
    expect(staff.locator(".lane.marked")).to_have_count(count)
    staff.get_by_role("button", name="Clear the marks").click()
    expect(staff.locator(".lane.marked")).to_have_count(0)


def test_the_evidence_of_the_worn_has_the_numbers_of_each_source(staff):
    staff.goto(MORNING)
    staff.get_by_role("button", name=re.compile("M. Zanotis")).click()
    evidence = staff.get_by_role("complementary", name="Evidence")
    worn = evidence.get_by_role("region", name="act: Worn")
    for words in ("worse than the own 56 days", "points harder for their plan than usual", "load fading over a week"):
        expect(worn).to_contain_text(words)
    beside = evidence.get_by_text(re.compile(r"^\d+ to know beside"))
    beside.click()
    expect(evidence.get_by_role("region", name=re.compile("^note: "))).not_to_have_count(0)


def test_marks_of_the_person_and_of_the_plan_stand_apart(staff):
    staff.goto(MORNING)
    worn, over = (staff.locator(".lane", has_text=name) for name in ("M. Zanotis", "D. Elsilith"))
    expect(
        worn.locator(".lane-name").get_by_role("img", name=re.compile("^act: Reports of the last days"))
    ).to_be_visible()
    expect(over.locator(".lane-room").get_by_role("img", name=re.compile("^act: "))).to_be_visible()


def test_a_coach_reads_of_the_plan_and_not_who_is_worn(coach):
    coach.goto(MORNING)
    expect(coach.get_by_text(STORY)).to_be_visible()
    assert "M. Zanotis" not in names_in(coach, "State needs a call")
    expect(coach.get_by_text(re.compile("worn", re.I))).to_have_count(0)


def test_the_desk_shows_those_alone_whose_plan_needs_a_change(staff):
    staff.goto(MORNING)
    staff.get_by_label("Show").select_option("whose plan needs a change")
    expect(staff.get_by_role("region", name="State needs a call")).to_have_count(0)
    expect(staff.get_by_role("region", name="Plan needs a change")).to_be_visible()
    assert "show=change" in staff.url


def test_what_the_sentence_asks_for_is_done_in_the_calendar_and_undone(staff):
    """The session is made shorter by as much as it says: those it clears are cleared, and back again."""
    staff.goto(MORNING)
    over = staff.locator(".squad-story", has_text=STORY)
    said = STORY.search(over.inner_text())[0]
    less = int(re.findall(r"; (\d+) min less", said)[0])
    staff.goto("/session/calendar?squad=tarnholm-handball&day=2026-03-12")
    staff.locator(".month td[aria-current=date] .session-line", has_text="Court").click()
    minutes = staff.get_by_label("Minutes planned")
    minutes.fill(str(int(minutes.input_value()) - less))
    staff.get_by_role("button", name="Save", exact=True).click()
    undo = staff.get_by_role("button", name="Undo")
    expect(undo).to_be_visible()
    desk = staff.context.new_page()
    desk.goto(MORNING)
    expect(desk.locator(".lane")).to_have_count(22)
    # Those it does not clear are still over, and what it would take for them is another sentence.
    expect(desk.get_by_text(said)).to_have_count(0)
    assert sorted(names_in(desk, "Plan needs a change")) == ["D. Elsilith", "D. Rosidrin"]
    undo.click()
    expect(staff.locator(".month td[aria-current=date] .session-line", has_text="Court 65")).to_have_count(1)
    desk.reload()
    expect(desk.get_by_text(said)).to_be_visible()
