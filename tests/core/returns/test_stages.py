"""Stages as data, what a criterion says of the evidence, and when one stage back is proposed."""

import re
from dataclasses import replace
from datetime import date, timedelta

import pytest

from uvren.core.errors import BadPlan
from uvren.core.returns import (
    TEMPLATES,
    Criterion,
    Done,
    Evidence,
    Looks,
    Measured,
    Stage,
    asked_in,
    judge,
    template_of,
    why_back,
)
from uvren.core.returns.stages import as_data, read_stages

TODAY = date(2026, 3, 12)
SHOULDER = TEMPLATES["shoulder"]
STAGE = {one.key: one for one in SHOULDER.stages[2].criteria}


def ago(days):
    return TODAY - timedelta(days=days)


def done(*pains, load=40.0, last=1):
    """Days with work one after the other, the last one so many days ago: (in it, the morning after)."""
    n = len(pains)
    return [Done(ago(n - 1 - i + last), load, during, after) for i, (during, after) in enumerate(pains)]


def judged(key, **evidence):
    return judge(STAGE[key], Evidence(ago(18), TODAY, **evidence), SHOULDER)


CALM = (0.0, 0.0)


@pytest.mark.parametrize(
    ("pains", "said", "met"),
    [
        ([CALM] * 5, "held in 5 of 5", True),
        ([(2.0, 1.0)] * 5, "held in 5 of 5", True),
        ([(9.0, 9.0), *[CALM] * 5], "held in 5 of 5", True),
        ([CALM] * 4, "held in 4 of 5", False),
        ([*[CALM] * 5, (3.0, 0.0)], "held in 0 of 5", False),
        ([*[CALM] * 5, (0.0, 2.0)], "held in 0 of 5", False),
        # The morning after the last session is still to come: the five before it count.
        ([*[CALM] * 5, (0.0, None)], "held in 5 of 5", True),
        ([], "held in 0 of 5", False),
    ],
)
def test_pain_has_to_hold_in_sessions_running(pains, said, met):
    found = judged("pain", done=done(*pains))
    assert (found.said, found.met) == (said, met)
    assert bool(found.missing) is not met


def test_a_session_that_nobody_reported_of_is_no_evidence():
    found = judged("pain", done=done(*[CALM] * 3, (None, 0.0), *[CALM] * 4))
    assert (found.met, found.said) == (False, "held in 4 of 5")
    assert "each with a report the morning after" in found.missing
    calm = judged("sessions", done=done(*[CALM] * 7, (None, None), last=2))
    assert (calm.said, calm.missing) == ("7 of 8", "1 missing; 1 session without a report")


def test_sessions_count_from_the_last_reaction_and_only_with_work():
    assert judged("sessions", done=done(*[CALM] * 8)).met
    assert judged("sessions", done=done(*[CALM] * 8, (4.0, 0.0))).said == "0 of 8"
    assert judged("sessions", done=done(*[CALM] * 8, (3.0, 2.0))).said == "8 of 8"
    assert judged("sessions", done=done(*[CALM] * 8, load=0.0)).said == "0 of 8"
    # Today's is not over.
    assert judged("sessions", done=done(*[CALM] * 8, last=0)).said == "7 of 8"


@pytest.mark.parametrize(
    ("value", "said", "missing"),
    [
        (18.0, "10 % weaker, Mon 9 March", ""),
        (17.8, "11 % weaker, Mon 9 March", "1 % missing"),
        (22.0, "10 % stronger, Mon 9 March", ""),
    ],
)
def test_sides_are_compared_by_what_was_measured_last(value, said, missing):
    known = {"strength": [Measured(ago(10), 12.0, 20.0), Measured(date(2026, 3, 9), value, 20.0)]}
    found = judged("strength", measured=known)
    assert (found.said, found.missing, found.met) == (said, missing, not missing)
    assert [mark for mark, _ in found.marks] == [60, pytest.approx(value * 5)]


def test_a_test_is_held_against_the_own_best():
    known = {"throw": [Measured(date(2026, 3, 9), 7.1, 8.2)]}
    found = judged("throw", measured=known)
    assert (found.said, found.missing) == ("7.1 of 8.2, Mon 9 March", "0.28 missing")
    assert judged("throw", measured={"throw": [Measured(TODAY, 7.38, 8.2)]}).met


def test_what_was_never_measured_or_said_says_what_is_missing():
    assert judged("strength").missing == "both sides, measured"
    assert judged("throw").missing == "the test, and the own best before"
    assert judged("word").missing == "a clinician’s word"
    assert judged("word", word=ago(2)).met
    fever = TEMPLATES["fever"]
    days = judge(fever.stages[0].criteria[0], Evidence(ago(1), TODAY), fever)
    assert (days.met, days.said, days.missing) == (False, "day 2", "until Fri 13 March")
    assert judge(fever.stages[0].criteria[0], Evidence(ago(2), TODAY), fever).met


# One stage back.
@pytest.mark.parametrize(
    ("pains", "said"),
    [
        ([CALM], ""),
        ([(3.0, 2.0)], ""),
        ([(0.0, 4.0)], "pain 4 the morning after Wed 11 March; 2 is the most"),
        ([(5.0, None)], "pain 5 in the session of Wed 11 March; 3 is the most"),
        ([(None, None)], ""),
    ],
)
def test_a_reaction_proposes_one_stage_back(pains, said):
    assert why_back(Evidence(ago(18), TODAY, done(*pains)), SHOULDER) == said


def test_a_reaction_is_not_proposed_again_once_it_was_answered_or_is_long_ago():
    hurt = done((0.0, 4.0))
    assert why_back(Evidence(ago(18), TODAY, hurt), SHOULDER, answered=TODAY) == ""
    assert why_back(Evidence(ago(18), TODAY, hurt), SHOULDER, answered=ago(1))
    assert why_back(Evidence(ago(18), TODAY, done((0.0, 4.0), last=4)), SHOULDER) == ""
    # A calm session since then does not take it away within three days.
    assert why_back(Evidence(ago(18), TODAY, done((0.0, 4.0), CALM)), SHOULDER)


# Templates.
@pytest.mark.parametrize("template", TEMPLATES.values(), ids=lambda one: one.code)
def test_every_template_goes_on_with_a_clinicians_word_and_can_be_kept_and_read_again(template):
    assert template_of(template.code) is template
    assert read_stages(as_data(template.stages)) == template.stages
    for stage in template.stages:
        assert stage.criteria[-1].looks is Looks.WORD
        assert stage.content or template.code == "blank"
    if template.refers:
        # Nothing of it is laid out here: closed until somebody who may has said so.
        assert [stage.closed for stage in template.stages] == [True]
        assert template.advice.startswith("Refer.")


def test_no_stage_tells_a_coach_what_it_is_for():
    for template in TEMPLATES.values():
        for stage in template.stages:
            assert not re.search(r"pain|fever|\bill\b|illness|knock|clinic", stage.content)


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"many": 0}, "1 to 365"),
        ({"many": 1000}, "1 to 365"),
        ({"during": 11.0}, "0 to 10"),
        ({"looks": Looks.SIDES, "percent": 0.0}, "more than 0"),
        ({"looks": Looks.BEST, "percent": 101.0}, "at most 100"),
    ],
)
def test_a_criterion_that_can_never_be_met_is_refused(change, said):
    with pytest.raises(BadPlan, match=said):
        replace(STAGE["pain"], **change)


def test_stages_that_make_no_sense_are_refused_at_their_place():
    good = as_data(SHOULDER.stages)

    def wrong(**change):
        with pytest.raises(BadPlan) as error:
            read_stages([good[0], good[1] | change])
        return error.value.field

    assert wrong(content="x" * 201) == "stages.1.content"
    assert wrong(effort_cap=11.0) == "stages.1.effort_cap"
    assert wrong(minutes_share=0.0) == "stages.1.minutes_share"
    assert wrong(criteria=good[1]["criteria"] * 2) == "stages.1.criteria"
    with pytest.raises(BadPlan, match="at most 9"):
        read_stages(good * 2)
    with pytest.raises(BadPlan, match="there are shoulder"):
        template_of("wing")


def test_what_a_criterion_asks_for_is_said_with_its_numbers():
    assert (
        Criterion("a", Looks.PAIN, "Pain", 2, 1, 5).asks() == "at most 2, then 1 the morning after; 5 sessions running"
    )
    assert STAGE["strength"].asks() == "at most 10 % weaker than the other side"
    assert STAGE["throw"].asks() == "at least 90 % of own best"
    assert STAGE["sessions"].asks() == "8 running"
    assert STAGE["word"].asks() == "given in this stage"


def test_a_stage_asks_on_the_way_out_and_the_next_one_on_the_way_in():
    out, into = Criterion("a", Looks.WORD, "Out"), Criterion("b", Looks.WORD, "In")
    stages = [Stage("one", (out,)), Stage("two", (), entry=(into,)), Stage("three", (out,), entry=(out,))]
    assert [asked_in(stages, number) for number in (1, 2, 3)] == [((out,), (into,)), ((), (out,)), ((out,), ())]
    assert stages[2].asks == (out, out)
