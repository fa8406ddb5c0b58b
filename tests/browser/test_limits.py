import pytest
from playwright.sync_api import expect

LIMITS = "/squad/limits?squad=tarnholm-ski&day=2026-03-12"


@pytest.fixture
def limits(staff):
    """The limits of the other squad, so that tests of the morning do not meet what is changed here."""
    staff.goto(LIMITS)
    expect(staff.get_by_role("row", name="Week-on-week cap")).to_be_visible()
    return staff


def put(page, value, reason="test of the season"):
    page.get_by_label("Value").fill(value)
    page.get_by_label("Reason").fill(reason)
    page.get_by_role("button", name="Put in force").click()


def test_a_limit_for_a_position_is_set_shown_and_undone(limits):
    limits.get_by_role("button", name="Set a limit").click()
    form = limits.get_by_role("complementary")
    form.get_by_role("combobox", name="Limit").select_option(label="Cap on week load")
    form.get_by_role("combobox", name="For", exact=True).select_option("position")
    put(limits, "3100")
    expect(form.get_by_text("Choose a position.")).to_be_visible()
    form.get_by_role("combobox", name="Position").select_option("skier")
    form.get_by_role("button", name="Put in force").click()
    row = limits.get_by_role("row", name="Cap on week load")
    expect(row).to_contain_text("position skier")
    expect(row).to_contain_text("3\u2009100")
    limits.get_by_role("button", name="Undo").click()
    expect(row).to_have_count(0)


@pytest.mark.parametrize(
    ("value", "said"),
    [("900", "the value must be between 0 and 5"), ("much", "A number, such as 15."), ("", "A number")],
)
def test_a_value_that_makes_no_sense_is_refused_at_its_field_and_the_rest_is_kept(limits, value, said):
    limits.get_by_role("row", name="Week-on-week cap").get_by_role("button", name="Change").click()
    put(limits, value, "keep these words")
    expect(limits.get_by_text(said)).to_be_visible()
    expect(limits.get_by_label("Reason")).to_have_value("keep these words")


def test_a_limit_may_not_begin_in_the_past(limits):
    limits.get_by_role("row", name="Days in a row").get_by_role("button", name="Change").click()
    limits.get_by_label("From").fill("2026-03-01")
    put(limits, "6")
    expect(limits.get_by_text("A limit begins on Thu 12 March or later")).to_be_visible()


def test_a_changed_limit_holds_from_today_and_yesterday_keeps_the_old_one(limits):
    limits.get_by_role("row", name="Cap on a day's load").get_by_role("button", name="Change").click()
    put(limits, "850", "thaw, soft tracks")
    row = limits.get_by_role("row", name="Cap on a day's load")
    expect(row).to_contain_text("850")
    limits.keyboard.press("[")
    expect(limits.get_by_text("A past day")).to_be_visible()
    expect(row).to_contain_text("900")


def test_an_athletes_own_limit_can_be_ended(limits):
    limits.get_by_role("row", name="Days in a row").get_by_role("button", name="For one athlete").click()
    limits.get_by_role("combobox", name="Athlete").select_option(index=1)
    put(limits, "3", "short nights")
    row = limits.get_by_role("row", name="short nights")
    expect(row).to_contain_text("3 days")
    row.get_by_role("button", name="End").click()
    expect(row).to_have_count(0)
