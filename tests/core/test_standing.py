"""What stands for a person on a day, whatever was said of it."""

from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.audience import ALL, LEAST, Audience
from uvren.core.day import OFF_KINDS, Called, CallKind, Gate, Given, Stands, Told, Why, together, weigh, weighed
from uvren.core.fatigue import RestTrial

DAY = date(2026, 3, 12)
REPORTS = frozenset({Audience.DESK, Audience.REPORTS})
# Words that name a reason which is not for everybody.
SECRETS = ("clinician has", "waits for", "trial", "screen", "illness", "pain", "refer")

calls = st.one_of(
    st.none(),
    st.builds(
        Called,
        st.sampled_from(CallKind),
        st.one_of(st.none(), st.floats(0, 120)),
        st.one_of(st.none(), st.floats(0, 10)),
        st.sampled_from(["", "no throws"]),
    ),
)
gates = st.one_of(
    st.none(),
    st.builds(
        Gate,
        st.just(0),
        st.booleans(),
        st.just("no duels"),
        st.just(DAY),
        st.none(),
        st.just("C. Linician"),
        st.one_of(st.none(), st.floats(0.05, 0.95)),
        st.one_of(st.none(), st.floats(0, 10)),
        st.booleans(),
    ),
)
trials = st.one_of(st.none(), st.just(RestTrial(DAY, 7)), st.just(RestTrial(DAY - timedelta(days=9), 7, better=False)))
everything = st.builds(Given, calls, gates, trials, st.sampled_from(Told), st.booleans(), st.booleans())


@given(everything, st.floats(1, 200))
def test_a_closed_day_leaves_nothing_and_says_so_to_everybody(said, minutes):
    standing = weighed(said)
    if standing.closed:
        assert standing.share(minutes) == 0
        assert standing.changes(minutes) == []
    for audiences in (LEAST, REPORTS, ALL):
        assert bool(standing.why_closed(audiences)) is standing.no_more
        if standing.closed or standing.stands is Stands.ASK:
            assert standing.said(audiences, minutes)
    assert not any(secret in standing.said(LEAST, minutes) for secret in SECRETS)
    assert not any(secret in standing.why_closed(LEAST) for secret in SECRETS)


@given(everything, st.floats(1, 200))
def test_more_that_is_said_against_training_never_leaves_more(said, minutes):
    standing = weighed(said)
    worse = [
        Given(**(vars(said) | {"told": Told.CLOSES})),
        Given(**(vars(said) | {"trial": RestTrial(DAY, 7)})),
        Given(**(vars(said) | {"gate": Gate(0, True, "", DAY, None, "C. Linician")})),
    ]
    for one in map(weighed, worse):
        assert one.closed
        assert one.share(minutes) <= standing.share(minutes)


@given(everything)
def test_no_call_opens_what_others_have_closed(said):
    uncalled = weighed(Given(**(vars(said) | {"call": None})))
    if uncalled.closed:
        for kind in CallKind:
            assert weighed(Given(**(vars(said) | {"call": Called(kind), "answered": True}))).closed


@given(st.floats(0, 10), st.booleans())
def test_a_pain_asks_or_closes_by_how_bad_it_is(severity, answered):
    told = weigh(severity)
    assert told is (Told.CLOSES if severity >= 7 else Told.ASKS if severity >= 4 else Told.NOTE)
    stands = weighed(Given(call=Called(CallKind.FULL), told=told, answered=answered)).stands
    asks = Stands.PLAN if answered else Stands.ASK
    assert stands is {Told.CLOSES: Stands.WAIT, Told.ASKS: asks, Told.NOTE: Stands.PLAN}[told]


def test_an_illness_closes_and_the_numbers_are_settings():
    assert weigh(None) is Told.CLOSES
    assert weigh(6, closes=6) is Told.CLOSES
    assert weigh(3, asks=3) is Told.ASKS


@pytest.mark.parametrize(
    ("said", "stands", "why"),
    [
        (Given(), Stands.PLAN, Why.NOTHING),
        (Given(call=Called(CallKind.FULL)), Stands.PLAN, Why.NOTHING),
        (Given(screen=True), Stands.ASK, Why.SCREEN),
        (Given(screen=True, call=Called(CallKind.FULL)), Stands.PLAN, Why.NOTHING),
        (Given(call=Called(CallKind.MINIMUM)), Stands.PART, Why.CALL),
        (Given(call=Called(CallKind.RECOVER)), Stands.RECOVER, Why.CALL),
        (Given(gate=Gate(0, False, "no duels", DAY, None, "C")), Stands.PART, Why.CLINICIAN),
        (Given(trial=RestTrial(DAY, 7), call=Called(CallKind.FULL)), Stands.REST, Why.TRIAL),
        (Given(told=Told.CLOSES, trial=RestTrial(DAY, 7)), Stands.WAIT, Why.TOLD),
        (Given(gate=Gate(0, True, "", DAY, None, "C"), told=Told.CLOSES), Stands.OUT, Why.CLINICIAN),
    ],
)
def test_what_outranks_what(said, stands, why):
    standing = weighed(said)
    assert (standing.stands, standing.why) == (stands, why)


def test_off_kinds_close_the_day_and_an_adapted_one_counts_its_minutes_and_its_cap():
    for kind in OFF_KINDS:
        assert weighed(Given(call=Called(kind))).closed
    adapted = weighed(Given(call=Called(CallKind.ADAPT, 45, 5)))
    assert (adapted.share(90), adapted.cap) == (0.5, 5)
    assert adapted.changes(90) == ["45 of 90 min", "effort at most 5"]
    capped = weighed(Given(call=Called(CallKind.ADAPT, effort_cap=5)))
    assert (capped.share(90), capped.cap) == (1, 5)


def test_a_clinicians_share_holds_whatever_was_called():
    half = Gate(0, False, "no duels", DAY, None, "C", share=0.5, cap=6)
    standing = weighed(Given(call=Called(CallKind.ADAPT, 80, 8), gate=half))
    assert (standing.share(80), standing.cap, standing.bounded) == (0.5, 6, True)
    assert standing.changes(80)[:2] == ["half the minutes (40 of 80 min)", "effort at most 6"]


def test_a_rest_trial_rests_its_days_and_until_somebody_has_judged_it():
    trial = RestTrial(DAY, 7)
    last = DAY + timedelta(days=6)
    assert [trial.rests(DAY + timedelta(days=i), DAY) for i in (-1, 0, 6, 7)] == [False, True, True, False]
    assert trial.rests(last + timedelta(days=2), as_of=last + timedelta(days=2))
    assert not RestTrial(DAY, 7, better=True).rests(DAY + timedelta(days=8), DAY + timedelta(days=8))
    assert RestTrial(DAY, 7, better=False).rests(DAY + timedelta(days=9), DAY + timedelta(days=9))


@given(gates, gates, st.floats(1, 200))
def test_of_two_gates_the_less_stands(one, other, minutes):
    both = together(one, other)
    if one is None or other is None:
        assert both == (one or other)
        return
    for single in (one, other):
        alone, joined = (weighed(Given(gate=gate)) for gate in (single, both))
        assert joined.share(minutes) <= alone.share(minutes)
        assert joined.cap <= alone.cap
        assert joined.closed or not alone.closed
    assert both.of_plan is (one.of_plan and other.of_plan)
    # Said once, however often it was said.
    assert both.change == "no duels"


def test_before_a_return_somebody_is_not_back_yet_and_no_clinician_is_named_for_it():
    plan = Gate(0, True, "", DAY, DAY, "P. Lanner", of_plan=True)
    standing = weighed(Given(gate=plan))
    assert (standing.stands, standing.why) == (Stands.OUT, Why.RETURN)
    assert standing.why_closed(LEAST) == "not back yet"
    # A clinician's word beside it is what is told.
    assert weighed(Given(gate=together(plan, replace(plan, of_plan=False)))).why is Why.CLINICIAN
