"""One day, seen the same by everybody: lane, evidence, sheet, the athlete's page and the session's grid."""

from contextlib import suppress
from datetime import timedelta

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.conftest import NOW, TODAY
from tests.squad import PASSWORD
from uvren.core.audience import ALL, LEAST
from uvren.core.body import Pain, Side, Site
from uvren.core.day import CallKind, Stands
from uvren.core.reports import ReportKind
from uvren.services.errors import Invalid
from uvren.services.morning import read_evidence, read_morning
from uvren.services.morning.calls import NewCall, make_call
from uvren.services.morning.own_today import own_today
from uvren.services.morning.sheet import as_text, read_sheet
from uvren.services.reports import Told, give
from uvren.services.return_ import clinical, rest_trials
from uvren.services.return_.clinical import NewRestriction
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.sessions import read_grid
from uvren.services.squad.squads import create_user
from uvren.services.stamp import Stamp
from uvren.store.models import Availability, Club, Role
from uvren.store.types import new_ulid

TOMORROW = TODAY + timedelta(days=1)
YESTERDAY = TODAY - timedelta(days=1)
# What says that someone may train as planned, or how much more they may do.
OPEN_WORDS = ("fits", "to spare", "Train as planned", "Room today", "min at", "over 2 h")


@pytest.fixture
def who(squad):
    return {"stamp": Stamp(squad.staff.id, NOW), "today": TODAY}


@pytest.fixture
def report(db, squad, who):
    def go(i=0, day=TODAY, now=NOW, **more):
        told = Told(new_ulid(), squad.athletes[i], ReportKind.DAILY, day, {"energy": 7.0}, now, **more)
        give(db, squad.squad, told, stamp=Stamp(squad.staff.id, now), today=day)
        db.flush()
        return clinical.complaints(db, squad.squad, day, stamp=Stamp(squad.staff.id, now))

    return go


@pytest.fixture
def looks(db, squad):
    """The four looks at an athlete on a day, and the line of the session's grid."""

    def go(i=0, day=TODAY):
        athlete = squad.athletes[i]
        lane = read_morning(db, squad.squad, day, TODAY, athlete, None, ALL)[0].lanes[0]
        evidence = read_evidence(db, squad.squad, athlete, day, TODAY, None, ALL)
        line = next(one for one in read_sheet(db, squad.squad, day, TODAY).lines if one.athlete_id == athlete)
        phone = own_today(db, squad.squad, athlete, day) if day >= TODAY else None
        grid = read_grid(db, squad.squad, squad.on(day).id, TODAY)
        row = next(row for row in grid.rows if row.member.athlete_id == athlete)
        return lane, evidence, line, phone, row

    return go


def agree(lane, evidence, line, phone, row):
    """Whether all looks say the same of how much of the plan stands."""
    standing = lane.standing
    assert evidence.lane.standing == standing
    if standing.closed:
        assert (lane.room.load, lane.room.closed, lane.room.plan) == (None, True, 0)
        assert (evidence.with_plan.load, evidence.with_plan.closed) == (None, True)
        assert all(one.stands == 0 for one in evidence.plan)
        assert all(one.load == 0 for one in evidence.outcomes if one.kind in (CallKind.REST, CallKind.REFER))
        assert line.group in ("ask", "out")
        assert (phone.plan, phone.room) == ([], "")
        assert row.called in ("does not train", "ask staff first")
        said = f"{lane.room.words} {lane.room.plan_words} {line.how} {phone.called} {row.called}"
        assert not any(word in said for word in OPEN_WORDS), said
        assert "planned" not in lane.strip.state[lane.strip.state.index("measured") : -7]
    else:
        assert line.group != "out"
        assert sum(one.stands for one in evidence.plan) == pytest.approx(sum(one.stands for one in phone.plan))
        assert bool(phone.room) <= (standing.stands is Stands.PLAN)
        if standing.stands is Stands.PLAN:
            assert (line.group, line.how, row.called) == ("full", "", "")
    if standing.needs_call:
        assert (lane.group, line.open) == ("call", True)
    if standing.no_more:
        assert lane.room.load is None


states = st.fixed_dictionaries(
    {
        "call": st.one_of(st.none(), st.sampled_from(CallKind)),
        "gate": st.sampled_from([None, "out", "words", "half"]),
        "told": st.sampled_from([None, "ill", 8, 5, 2]),
        "seen": st.sampled_from([None, "seen", "again"]),
        "trial": st.sampled_from([None, "today", "over", "not better"]),
        "missing": st.booleans(),
        "order": st.booleans(),
    }
)


def bring_about(db, squad, who, report, state):
    athlete = squad.athletes[0]

    def called():
        if state["call"]:
            new = NewCall(new_ulid(), athlete, TODAY, state["call"], "why", minutes=30.0, sure=True)
            # Where something stands that outranks it, it is refused.
            with suppress(Invalid):
                make_call(db, squad.squad, new, **who)

    if state["order"]:
        called()
    if state["told"]:
        ill = state["told"] == "ill"
        for one in report(ill=ill, pains=[] if ill else [Pain(Site.KNEE, Side.LEFT, state["told"])]):
            if state["seen"]:
                again = TOMORROW if state["seen"] == "again" else None
                clinical.answer(db, squad.squad, one.id, "rest", False, again, **who)
    if state["gate"]:
        out = state["gate"] == "out"
        share = 0.5 if state["gate"] == "half" else None
        availability = Availability.OUT if out else Availability.LIMITED
        new = NewRestriction(athlete, availability, "" if out else "no duels", "", TODAY, None, share)
        clinical.restrict(db, squad.squad, new, **who)
    if state["trial"]:
        first = TODAY if state["trial"] == "today" else TODAY - timedelta(days=10)
        rest_trials.start(db, squad.squad, athlete, first, 7, **(who | {"today": first}))
        if state["trial"] == "not better":
            rest_trials.judge(db, squad.squad, athlete, False, **(who | {"today": YESTERDAY}))
    if state["missing"]:
        version = squad.entry(db, athlete, YESTERDAY).version
        unrated = EntryChange(squad.on(YESTERDAY).id, athlete, 60.0, None, version=version)
        record_entries(db, squad.squad.id, [unrated], **who)
    if not state["order"]:
        called()
    db.flush()


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(states)
def test_every_look_at_every_state_says_the_same(db, squad, who, report, looks, state):
    inner = db.begin_nested()
    try:
        bring_about(db, squad, who, report, state)
        agree(*looks())
    finally:
        inner.rollback()
        db.expire_all()


def test_a_report_of_fever_closes_the_day_everywhere_at_once(db, squad, report, looks, who):
    create_user(
        db, db.get_one(Club, squad.squad.club_id), "doc", "D. Octor", PASSWORD, {squad.squad.id: Role.CLINICIAN}
    )
    make_call(db, squad.squad, NewCall(new_ulid(), squad.athletes[0], TODAY, CallKind.FULL), **who)
    report(ill=True, now=NOW + timedelta(minutes=1))
    lane, evidence, line, phone, row = looks()
    agree(lane, evidence, line, phone, row)
    assert phone.called == "Wait for D. Octor before you train."
    assert (lane.group, lane.standing.stands) == ("call", Stands.WAIT)
    assert [(one.minutes, one.stands) for one in evidence.plan] == [(60, 0)]
    assert (line.group, line.how) == ("ask", "does not train until staff have said so")
    text = as_text(squad.squad, read_sheet(db, squad.squad, TODAY, TODAY))
    assert "Ask staff first (1)\n- A: does not train until staff have said so" in text
    assert "ill" not in text.replace("until", "")
    with pytest.raises(Invalid, match="waits for a clinician"):
        make_call(db, squad.squad, NewCall(new_ulid(), squad.athletes[0], TODAY, CallKind.MINIMUM, "light"), **who)


def test_a_clinicians_answer_is_followed_by_every_place_today_and_tomorrow(db, squad, report, looks, who):
    (told,) = report(ill=True)
    clinical.answer(db, squad.squad, told.id, "fever", False, TOMORROW, **who)
    new = NewRestriction(squad.athletes[0], Availability.OUT, "", "fever", TODAY, TODAY)
    clinical.restrict(db, squad.squad, new, **who)
    lane, *others = looks()
    agree(lane, *others)
    assert (lane.standing.stands, lane.gate) == (Stands.OUT, "does not train until Thu 12 March")
    # Tomorrow is closed as well until it has been seen again.
    assert looks(day=TOMORROW)[0].standing.stands is Stands.WAIT
    morning = {"stamp": Stamp(squad.staff.id, NOW + timedelta(days=1)), "today": TOMORROW}
    clinical.answer(db, squad.squad, told.id, "better", False, **morning)
    half = NewRestriction(squad.athletes[0], Availability.LIMITED, "no duels", "", TOMORROW, None, 0.5)
    clinical.restrict(db, squad.squad, half, **morning)
    lane = read_morning(db, squad.squad, TOMORROW, TOMORROW, squad.athletes[0], None, LEAST)[0].lanes[0]
    assert (lane.room.plan, lane.room.load, lane.room.written) == (150, 150, 300)
    assert lane.room.bound_by == "clinician’s word"
    assert lane.gate == "half the minutes (30 of 60 min), no duels"
    phone = own_today(db, squad.squad, squad.athletes[0], TOMORROW)
    assert ([one.stands for one in phone.plan], phone.room) == ([30], "")
    line = read_sheet(db, squad.squad, TOMORROW, TOMORROW).lines[0]
    assert (line.group, line.how) == ("return", "half the minutes (30 of 60 min), no duels")


def test_a_rest_trial_is_rest_in_the_lane_the_calls_and_the_days_ahead(db, squad, looks, who):
    rest_trials.start(db, squad.squad, squad.athletes[0], TODAY, 7, **who)
    lane, evidence, *others = looks()
    agree(lane, evidence, *others)
    assert lane.strip.state[-8:-1] == ["rest"] * 7
    assert lane.strip.load[-8:-1] == [0] * 7
    assert lane.strip.state[-1] == "planned"
    assert {one.tomorrow for one in evidence.outcomes} == {"Fri 13 March is a day off."}
    assert {one.words for one in evidence.outcomes if one.kind is CallKind.FULL} == {"day is closed"}
    assert looks(day=TOMORROW)[0].standing.stands is Stands.REST


def test_pain_in_the_middle_asks_first_and_a_call_made_after_it_answers(db, squad, report, looks, who):
    report(pains=[Pain(Site.KNEE, Side.LEFT, 5)])
    lane, _, line, phone, _ = looks()
    assert (lane.standing.stands, lane.group, line.group) == (Stands.ASK, "call", "ask")
    assert lane.room.plan == lane.room.written == 300
    assert "ask first" in lane.room.plan_words
    assert (phone.called, phone.room) == ("Ask a clinician before you train.", "")
    make_call(db, squad.squad, NewCall(new_ulid(), squad.athletes[0], TODAY, CallKind.FULL, "talked"), **who)
    lane, _, line, phone, _ = looks()
    assert (lane.group, line.group, phone.called) == ("called", "full", "Train as planned.")


def test_a_small_pain_is_a_note_and_closes_nothing(db, squad, report, looks):
    report(pains=[Pain(Site.KNEE, Side.LEFT, 2)])
    lane, _, line, phone, _ = looks()
    assert (lane.standing.stands, line.group, phone.called) == (Stands.PLAN, "full", "")
    assert {said.severity.value for said in lane.notices if said.code == "complaint"} == {"note"}


def test_what_an_adapted_day_and_a_minimum_dose_come_to_is_held_against_room_and_word(db, squad, looks, who):
    half = NewRestriction(squad.athletes[0], Availability.LIMITED, "no duels", "", TODAY, None, 0.5)
    clinical.restrict(db, squad.squad, half, **who)
    with pytest.raises(Invalid) as refused:
        make_call(db, squad.squad, NewCall(new_ulid(), squad.athletes[0], TODAY, CallKind.FULL), **who)
    assert refused.value.field == "kind"
    # Without minutes of its own it is the plan with its cap, as far as the clinician's word goes.
    capped = NewCall(new_ulid(), squad.athletes[0], TODAY, CallKind.ADAPT, "as said", effort_cap=4)
    assert not make_call(db, squad.squad, capped, **who).above_room
    assert looks()[0].room.plan == 30 * 4
    make_call(db, squad.squad, NewCall(new_ulid(), squad.athletes[1], TODAY, CallKind.MINIMUM, "flat"), **who)
    assert looks(1)[0].room.plan == pytest.approx(300 * 0.3)
    by_kind = {one.kind: one for one in looks(2)[1].outcomes}
    assert by_kind[CallKind.MINIMUM].load == pytest.approx(90)
    assert np.isclose(by_kind[CallKind.FULL].load, 300)
