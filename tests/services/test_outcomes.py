"""What came of calls: minutes and effort against what was called, and the next mornings."""

from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from uvren.core.audience import ALL, LEAST, Audience
from uvren.core.day import CallKind
from uvren.core.reports import ReportKind
from uvren.services.day.outcomes import outcomes
from uvren.services.morning.calls import NewCall, make_call, withdraw_call
from uvren.services.reports import Told, give_many
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.stamp import Stamp
from uvren.store.types import new_ulid

CALLED = TODAY - timedelta(days=6)
USUAL = {"energy": 7.0, "mood": 8.0}


@pytest.fixture
def called(db, squad):
    """A call six days ago; returns what came of it after the day was done so."""

    def go(minutes, effort, kind=CallKind.ADAPT, **more):
        adapt = {"minutes": 30.0} if kind is CallKind.ADAPT else {}
        given = {"reason": "flat"} | adapt | more
        new = NewCall(new_ulid(), squad.athletes[0], CALLED, kind, sure=True, **given)
        make_call(db, squad.squad, new, stamp=Stamp(squad.staff.id, NOW), today=CALLED)
        change = EntryChange(squad.on(CALLED).id, squad.athletes[0], minutes, effort, version=1)
        record_entries(db, squad.squad.id, [change], stamp=Stamp(squad.staff.id, NOW), today=TODAY)
        return outcomes(db, squad.squad, CALLED, CALLED, TODAY, audiences=ALL)[0]

    return go


@pytest.mark.parametrize(
    ("minutes", "effort", "kept"),
    [(30, 5, "kept"), (34, 5, "kept"), (36, 5, "more"), (60, 5, "more"), (24, 5, "less"), (0, None, "less"),
     (30, 6, "kept"), (30, 6.5, "harder"), (30, None, "kept")],
)  # fmt: skip
def test_minutes_are_held_against_the_minutes_called_and_effort_against_the_effort(called, minutes, effort, kept):
    assert called(minutes, effort).kept == kept


def test_a_cap_on_effort_makes_the_planned_effort_too_hard(called):
    assert called(30, 5, effort_cap=3.0).kept == "harder"


def test_loads_are_effort_times_minutes_and_none_where_the_rating_is_missing(called):
    found = called(30, None)
    assert (found.called, found.done) == (150, None)


@pytest.mark.parametrize(
    ("kind", "called_load"),
    [(CallKind.FULL, 300), (CallKind.MINIMUM, 90), (CallKind.RECOVER, 30), (CallKind.REST, 0), (CallKind.REFER, 0)],
)
def test_each_kind_of_call_leaves_its_part_of_the_plan(called, kind, called_load):
    assert called(60, 5, kind).called == pytest.approx(called_load)


def report(db, squad, day, **answers):
    return Told(new_ulid(), squad.athletes[0], ReportKind.DAILY, day, USUAL | answers, NOW)


@pytest.fixture
def reported(db, squad):
    """Steady reports, with other answers on the morning of the call and two mornings later."""

    def go(then=None, later=None):
        steady = [
            report(db, squad, CALLED - timedelta(days=back), energy=7.0 + back % 2, mood=8.0 - back % 2)
            for back in range(1, 21)
        ]
        last = [report(db, squad, CALLED, **(then or {}))]
        if later is not None:
            last.append(report(db, squad, CALLED + timedelta(days=2), **later))
        give_many(db, squad.squad, [*steady, *last])

    return go


@pytest.mark.parametrize(
    ("then", "later", "said"),
    [
        ({"energy": 4.0}, {}, "back to usual: energy"),
        ({"energy": 4.0}, {"energy": 5.0}, "still worse: energy"),
        ({"energy": 4.0, "mood": 4.0}, {"energy": 5.0}, "back to usual: mood; still worse: energy"),
        ({}, {}, "reports as usual before and after"),
        ({}, {"mood": 4.0}, "two mornings later worse than usual: mood"),
        ({"energy": 4.0}, None, "no report two mornings later"),
    ],
)
def test_what_was_worse_is_looked_at_again_two_mornings_later(called, reported, then, later, said):
    reported(then, later)
    assert called(30, 5).after == said


def test_a_call_taken_back_and_one_of_somebody_else_are_not_among_them(db, squad, called):
    first = called(30, 5)
    other = NewCall(new_ulid(), squad.athletes[1], CALLED, CallKind.REST, reason="ill")
    make_call(db, squad.squad, other, stamp=Stamp(squad.staff.id, NOW), today=CALLED)
    assert len(outcomes(db, squad.squad, CALLED, TODAY, TODAY)) == 2
    mine = outcomes(db, squad.squad, CALLED, TODAY, TODAY, only=squad.athletes[0])
    assert [one.name for one in mine] == ["A"]
    withdraw_call(db, squad.squad, first.call.id, stamp=Stamp(squad.staff.id, NOW))
    assert [one.name for one in outcomes(db, squad.squad, CALLED, TODAY, TODAY)] == ["B"]


def test_the_newest_come_first_and_no_more_than_are_asked_for(db, squad):
    days = [TODAY - timedelta(days=back) for back in (9, 6, 2)]
    for day in days:
        new = NewCall(new_ulid(), squad.athletes[0], day, CallKind.REST, reason="x")
        make_call(db, squad.squad, new, stamp=Stamp(squad.staff.id, NOW), today=day)
    found = outcomes(db, squad.squad, days[0], TODAY, TODAY, audiences=ALL)
    assert [one.day for one in found] == days[::-1]
    assert [one.day for one in outcomes(db, squad.squad, days[0], TODAY, TODAY, most=1)] == [days[2]]
    # Two mornings after the newest of them is this morning, and there is no report.
    assert found[0].after == "no report two mornings later"


REPORTS = frozenset({Audience.DESK, Audience.REPORTS})


@pytest.mark.parametrize(
    ("audiences", "kind", "reason", "reply", "after"),
    [
        (LEAST, "unavailable", "", None, False),
        (REPORTS, CallKind.REFER, "limps", None, True),
        (ALL, CallKind.REFER, "limps", "seen, rests", True),
    ],
)
def test_a_call_says_no_more_than_its_reader_may_know(db, squad, audiences, kind, reason, reply, after):
    new = NewCall(new_ulid(), squad.athletes[0], CALLED, CallKind.REFER, reason="limps")
    made = make_call(db, squad.squad, new, stamp=Stamp(squad.staff.id, NOW), today=CALLED)
    made.reply = "seen, rests"
    (found,) = outcomes(db, squad.squad, CALLED, CALLED, TODAY, audiences=audiences)
    assert (found.call.kind, found.call.reason, found.call.reply, found.after != "") == (kind, reason, reply, after)
