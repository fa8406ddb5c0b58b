"""What the desk says of somebody on the way back, and to whom."""

from datetime import timedelta

import pytest

from tests.core.test_notice_kinds import AS_OF, facts, found, of
from uvren.core.audience import Audience
from uvren.core.day import Coming, Gate
from uvren.core.notices import KINDS, Severity

SAID = "Step 2 of 3: 70 % of 1 800 a week."
BEGAN = AS_OF - timedelta(days=9)
PLAN = Gate(0, False, "half the play open", BEGAN, None, "P. Lanner", cap=7.0, of_plan=True)


def notices(coming=(), gates=()):
    return found(of(facts(coming=tuple(coming), gates=tuple(gates))))


def test_nobody_on_the_way_back_makes_no_notice():
    assert not {"coming_back", "stage_back", "gate"} & set(notices())


def test_a_climb_is_a_note_for_everybody_with_what_today_holds():
    (one,) = (notices([Coming(0, BEGAN, SAID, again=False)], [PLAN])["coming_back"],)
    assert (one.severity, one.sentence) == (
        Severity.NOTE, f"{SAID} Today: effort at most 7, half the play open.",
    )  # fmt: skip
    assert KINDS["coming_back"].audience is Audience.DESK


def test_a_week_that_is_held_is_watched():
    assert notices([Coming(0, BEGAN, SAID, again=True)])["coming_back"].severity is Severity.WATCH


@pytest.mark.parametrize(("of_plan", "told"), [(True, False), (False, True)])
def test_what_a_plan_allows_is_said_once_and_a_clinicians_word_by_itself(of_plan, told):
    gate = Gate(0, False, "no duels", BEGAN, None, "C. Linician", of_plan=of_plan)
    there = notices([Coming(0, BEGAN, SAID, again=False)], [gate])
    assert ("gate" in there) is told


def test_before_the_first_day_nothing_of_today_is_said():
    off = Gate(0, True, "", BEGAN, AS_OF, "P. Lanner", of_plan=True)
    assert notices([Coming(0, BEGAN, "Back on Mon 16 March by plan.", again=False)], [off])["coming_back"].sentence == (
        "Back on Mon 16 March by plan."
    )


def test_one_stage_back_is_asked_of_clinicians_alone_with_its_reason():
    why = "pain 4 the morning after Wed 11 March; 2 is the most"
    one = notices([Coming(0, BEGAN, SAID, again=False, back=why)])["stage_back"]
    assert (one.severity, one.sentence) == (Severity.ACT, f"One stage back is proposed: {why}.")
    assert KINDS["stage_back"].audience is Audience.CLINICAL


def test_a_plan_that_begins_today_was_not_there_on_the_morning_before():
    known = facts(coming=(Coming(0, AS_OF, SAID, again=False), Coming(0, BEGAN, SAID, again=False)))
    assert [one.since for one in known.before().coming] == [BEGAN]
