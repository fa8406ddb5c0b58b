"""Every figure opened to its arithmetic adds up to itself, and the pages say what the classes say."""

from pathlib import Path

import numpy as np
import pytest

from tests.core.test_notice_kinds import AS_OF, PAST, facts
from tests.core.test_notices import desk
from uvren.core.arithmetic import SCHOOLS, explain, explain_change, explain_room
from uvren.core.errors import UnknownRule
from uvren.core.limits import make_rule
from uvren.core.method import FIGURES, notices_as_markdown, sections
from uvren.core.notices import KINDS


def test_the_page_of_notices_is_what_the_classes_say():
    page = Path(__file__).parents[2] / "docs" / "notices.md"
    assert page.read_text(encoding="utf-8") == notices_as_markdown(), "run: uvren notices docs/notices.md"
    for kind in KINDS.values():
        assert all([kind.name, kind.rule, kind.cleared, kind.source, kind.severities])
        assert "{" not in kind.said_rule()
    assert {section.code for section in sections()} == {
        "cautions",
        "return",
        "demands",
        "live",
        "figures",
        "limits",
        "day",
        "recovery",
        "reports",
    }


OPENED = [code for code in FIGURES if code not in ("room", "usual", "change")]


@pytest.mark.parametrize("code", OPENED)
def test_an_opened_figure_adds_up_to_the_figure_itself(code):
    # As many days as are shown: then nothing is left over that weighs.
    past = PAST[:56]
    work, column = desk(past).now, len(past) - 1
    opened = explain(code, work, 0, column)
    assert opened.value is not None
    weighted = sum(day.weight * (day.load or 0.0) for day in opened.days)
    if code in ("week_load", "balance"):
        assert weighted == pytest.approx(opened.value)
    if code == "ewma_chronic":
        assert weighted == pytest.approx(opened.value)
        assert sum(day.weight for day in opened.days) == pytest.approx(1)
    assert opened.steps
    assert opened.source == FIGURES[code].source


def test_opened_room_says_what_each_limit_leaves_and_takes_the_least():
    past = PAST[:56]
    of_desk = desk(past, hard=[make_rule("day_cap", 900), make_rule("week_change_cap", 0.25)])
    column = len(past)
    opened = explain_room(of_desk.now, of_desk.hard, 0, column, of_desk.day_rooms[0])
    assert opened.value == pytest.approx(of_desk.rooms[0].load)
    assert opened.steps[0].startswith("Week-on-week cap (25")
    assert opened.steps[1] == "Cap on a day's load (900): 900"
    assert opened.steps[-1].endswith(f"= {opened.value:.0f}")
    # The week-on-week cap binds: the days of both weeks are those that went in.
    assert [day.weight for day in opened.days] == [1.0] * 7 + [-1.0] * 7


@pytest.mark.parametrize(("school", "days"), [("ewma", 56), ("coupled", 28), ("uncoupled", 28)])
def test_opened_room_shows_the_days_of_the_school_that_its_limit_goes_by(school, days):
    past = PAST[:63]
    of_desk = desk(past, hard=[make_rule("ratio_ceiling", 1.3, {"school": school})])
    opened = explain_room(of_desk.now, of_desk.hard, 0, len(past), of_desk.day_rooms[0])
    assert opened.value == pytest.approx(of_desk.rooms[0].load)
    assert [day.weight for day in opened.days] == [
        day.weight for day in explain(f"ratio_{school}", of_desk.now, 0, len(past)).days
    ]
    assert len(opened.days) == days


def test_opened_room_without_a_limit_says_that_nothing_binds():
    of_desk = desk(PAST[:56])
    opened = explain_room(of_desk.now, of_desk.hard, 0, 56, of_desk.day_rooms[0])
    assert (opened.value, opened.steps) == (None, ("no limit binds",))


def test_an_opened_change_adds_up_to_its_z():
    known = facts({"energy": [5.0]})
    at = known.item("energy")
    norm = float(known.norm.middle[0, at, -1]), float(known.norm.spread[0, at, -1]), int(known.norm.n[0, at, -1])
    opened = explain_change("energy", AS_OF, known.daily[0, at, -29:], norm)
    assert opened.value == pytest.approx(known.z[0, at, -1])
    before = [day for day in opened.days if day.weight]
    assert (opened.days[0].day, opened.days[0].load, len(before)) == (AS_OF, 5.0, 28)
    assert sum(day.weight * day.load for day in before) == pytest.approx(norm[0])
    new = explain_change("energy", AS_OF, np.full(29, np.nan), (np.nan, np.nan, 0))
    assert (new.value, new.steps[-1]) == (None, "fewer than 10: nothing is called usual yet")


def test_a_figure_nobody_knows_cannot_be_opened():
    with pytest.raises(UnknownRule):
        explain("readiness", desk(PAST).now, 0, 5)
    assert len(SCHOOLS) == 3
