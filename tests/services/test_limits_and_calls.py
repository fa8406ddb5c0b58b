from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest

from tests.conftest import NOW, TODAY
from tests.squad import PASSWORD, limit
from uvren.core.audience import ALL, LEAST
from uvren.core.day import CallKind
from uvren.core.notices import Severity
from uvren.services.day.limits import in_force_on
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.services.morning import read_evidence, read_morning
from uvren.services.morning.calls import NewCall, make_call, make_calls, referrals, reply, withdraw_call
from uvren.services.return_ import clinical
from uvren.services.return_.clinical import NewRestriction
from uvren.services.squad.limits import end_limit, set_limit
from uvren.services.squad.squads import create_user
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Availability, Club, Complaint, ComplaintKind, Scope
from uvren.store.types import new_ulid

YESTERDAY = TODAY - timedelta(days=1)


def put(db, squad, wanted, **more):
    given = {"stamp": Stamp(squad.staff.id, NOW), "today": TODAY} | more
    return set_limit(db, squad.squad, wanted, **given)


def own(squad, value, rule="week_change_cap", first=TODAY):
    return limit(rule, value, first, scope=Scope.ATHLETE, athlete_id=squad.athletes[0])


def rooms(db, squad, day=TODAY):
    morning, _ = read_morning(db, squad.squad, day, TODAY)
    return {lane.member.athlete_id: lane.room.load for lane in morning.lanes}


def test_a_narrower_limit_changes_one_athletes_room_and_leaves_the_past_as_it_was(db, squad):
    before, past = rooms(db, squad), rooms(db, squad, YESTERDAY)
    put(db, squad, own(squad, 0.05))
    after = rooms(db, squad)
    first = squad.athletes[0]
    assert after[first] < before[first]
    assert {a: r for a, r in after.items() if a != first} == {a: r for a, r in before.items() if a != first}
    assert rooms(db, squad, YESTERDAY) == past


def test_the_corridor_of_past_days_keeps_the_ceiling_of_those_days(db, squad):
    def ceilings():
        morning, _ = read_morning(db, squad.squad, TODAY, TODAY)
        return next(lane.strip.ceiling for lane in morning.lanes if lane.member.athlete_id == squad.athletes[0])

    before = ceilings()
    put(db, squad, own(squad, 0.0))
    after = ceilings()
    assert after[:28] == before[:28]
    assert after[28] < before[28]


def test_a_later_limit_of_the_same_scope_replaces_the_one_before(db, squad):
    put(db, squad, own(squad, 0.05))
    put(db, squad, own(squad, 0.1), stamp=Stamp(squad.staff.id, NOW + timedelta(minutes=1)))
    found = [one for one, _ in in_force_on(db, squad.squad, TODAY) if one.scope is Scope.ATHLETE]
    assert [one.value for one in found] == [0.1]


def test_a_limit_for_a_position_stands_between_squad_and_athlete(db, squad):
    put(db, squad, limit("day_cap", 250, TODAY, scope=Scope.POSITION, position="wing"))
    put(db, squad, own(squad, 700, rule="day_cap"))
    _, parts = read_morning(db, squad.squad, TODAY, TODAY)
    (opened,) = parts[squad.athletes[0]].day.desks
    cap = next(rule for rule in opened.limits.rules if rule.code == "day_cap")
    assert cap.value[:, opened.desk.today].tolist() == [700, 900, 250, 900]


def test_an_advisory_limit_for_one_athlete_takes_the_hard_one_off_them(db, squad):
    put(db, squad, replace(own(squad, 100, rule="day_cap"), hard=False))
    _, parts = read_morning(db, squad.squad, TODAY, TODAY)
    (opened,) = parts[squad.athletes[0]].day.desks
    hard, advisory = opened.limits.split()
    today = opened.desk.today
    assert np.isnan(next(rule for rule in hard if rule.code == "day_cap").value[0, today])
    assert advisory[0].value[0, today] == 100


def test_a_limit_ended_on_its_first_day_is_as_if_never_set(db, squad):
    before = rooms(db, squad)
    made = put(db, squad, own(squad, 0.0))
    assert rooms(db, squad) != before
    end_limit(db, squad.squad, made.id, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    assert rooms(db, squad) == before
    with pytest.raises(NotFound):
        end_limit(db, squad.squad, made.id, stamp=Stamp(squad.staff.id, NOW), today=TODAY)


def test_ending_an_older_limit_leaves_the_days_it_held(db, squad):
    cap = next(one for one, _ in in_force_on(db, squad.squad, TODAY) if one.rule == "day_cap")
    end_limit(db, squad.squad, cap.id, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    assert "day_cap" not in {one.rule for one, _ in in_force_on(db, squad.squad, TODAY)}
    assert "day_cap" in {one.rule for one, _ in in_force_on(db, squad.squad, YESTERDAY)}
    assert len(queries.squad.limits_until(db, squad.squad.id, TODAY)) == 3


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"reason": "  "}, "reason"),
        ({"value": 99.0}, "value"),
        ({"from_day": YESTERDAY}, "from_day"),
        ({"athlete_id": None}, "athlete_id"),
        ({"athlete_id": 10**6}, "athlete_id"),
        ({"rule": "nonsense"}, "rule"),
    ],
)
def test_a_limit_that_makes_no_sense_is_refused_at_its_field(db, squad, changes, field):
    with pytest.raises(Invalid) as refused:
        put(db, squad, replace(own(squad, 0.1), **changes))
    assert refused.value.field == field


def call(db, squad, kind=CallKind.ADAPT, by=None, now=NOW, **more):
    given = {
        "id": new_ulid(), "athlete_id": squad.athletes[0], "day": TODAY, "kind": kind, "reason": "first half only",
        "review_on": TODAY + timedelta(days=1),
    }  # fmt: skip
    return make_call(db, squad.squad, NewCall(**(given | more)), stamp=Stamp(by or squad.staff.id, now), today=TODAY)


def standing(db, squad, day=TODAY):
    found = queries.morning.calls_on(db, squad.squad.id, day).get(squad.athletes[0])
    return found and found[0].kind


def test_the_last_call_stands_and_taking_it_back_brings_the_one_before(db, squad):
    call(db, squad)
    second = call(db, squad, CallKind.REST, now=NOW + timedelta(minutes=2))
    assert standing(db, squad) is CallKind.REST
    withdraw_call(db, squad.squad, second.id, stamp=Stamp(squad.staff.id, NOW))
    assert standing(db, squad) is CallKind.ADAPT


def test_the_same_call_sent_twice_is_made_once(db, squad):
    made = call(db, squad)
    assert call(db, squad, CallKind.REST, id=made.id).kind is CallKind.ADAPT


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"reason": " "}, "reason"),
        ({"review_on": YESTERDAY}, "review_on"),
        ({"day": YESTERDAY}, "day"),
        ({"day": TODAY + timedelta(days=30)}, "day"),
        ({"reason": "x" * 401}, "reason"),
        ({"minutes": -1}, "minutes"),
        ({"effort_cap": 11}, "effort_cap"),
        ({"content": "x" * 201}, "content"),
    ],
)
def test_a_call_that_makes_no_sense_is_refused_at_its_field(db, squad, more, field):
    with pytest.raises(Invalid) as refused:
        call(db, squad, **more)
    assert refused.value.field == field


def test_full_needs_no_reason_and_nobody_outside_the_squad_can_be_called(db, squad):
    assert call(db, squad, CallKind.FULL, reason="").reason == ""
    with pytest.raises(NotFound):
        call(db, squad, athlete_id=10**6)


def test_a_call_someone_else_has_just_made_is_shown_beside_ones_own(db, squad):
    first = call(db, squad)
    second = create_user(db, db.get_one(Club, squad.squad.club_id), "second", "S. Econd", PASSWORD, {}).id
    with pytest.raises(Stale) as stale:
        call(db, squad, CallKind.REST, by=second)
    assert stale.value.extra["theirs"]["id"] == first.id
    assert standing(db, squad) is CallKind.ADAPT
    call(db, squad, CallKind.REST, by=second, replaces=first.id)
    assert standing(db, squad) is CallKind.REST


def restrict(db, squad, availability, change="No sprints"):
    new = NewRestriction(squad.athletes[0], availability, change, "", TODAY, None)
    clinical.restrict(db, squad.squad, new, stamp=Stamp(squad.staff.id, NOW), today=TODAY)


def lane(db, squad, as_of=TODAY, **more):
    more = {"audiences": ALL} | more
    return read_morning(db, squad.squad, as_of, TODAY, only=squad.athletes[0], **more)[0].lanes[0]


def test_a_clinicians_word_outranks_calls_room_and_plan(db, squad):
    assert lane(db, squad).room.plan == 300
    restrict(db, squad, Availability.OUT)
    found = lane(db, squad)
    assert (found.room.load, found.room.closed, found.room.plan, found.gate) == (None, True, 0, "does not train")
    assert "gate" in {said.code for said in found.notices}
    with pytest.raises(Invalid, match="only a clinician") as refused:
        call(db, squad, CallKind.FULL)
    assert refused.value.field == "kind"
    assert call(db, squad, CallKind.REST).kind is CallKind.REST


def test_who_trains_in_part_cannot_be_called_full(db, squad):
    restrict(db, squad, Availability.LIMITED)
    with pytest.raises(Invalid, match="No sprints"):
        call(db, squad, CallKind.FULL)
    call(db, squad, CallKind.ADAPT, content="no sprints")


def test_a_call_changes_the_plan_of_its_day_and_keeps_what_was_written(db, squad):
    before = lane(db, squad)
    call(db, squad, minutes=before.minutes / 2, sure=True)
    after = lane(db, squad)
    assert (after.room.plan, after.room.written) == (before.room.plan / 2, before.room.plan)
    assert after.group == "called"
    call(db, squad, effort_cap=1.0)
    assert lane(db, squad).room.plan == pytest.approx(before.minutes)


def test_an_adapted_day_beyond_room_asks_and_is_marked(db, squad):
    with pytest.raises(Invalid) as refused:
        call(db, squad, minutes=600)
    assert (refused.value.field, refused.value.extra) == ("minutes", {"above_room": True})
    assert call(db, squad, minutes=600, sure=True).above_room
    assert not call(db, squad, minutes=0).above_room


def test_several_are_called_at_once_or_not_at_all(db, squad):
    many = [NewCall(new_ulid(), athlete, TODAY, CallKind.REST, "travel") for athlete in squad.athletes[:3]]
    made = make_calls(db, squad.squad, many, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    assert [one.athlete_id for one in made] == list(squad.athletes[:3])
    bad = [replace(many[0], id=new_ulid()), replace(many[1], id=new_ulid(), reason="")]
    with pytest.raises(Invalid), db.begin_nested():
        make_calls(db, squad.squad, bad, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    assert {made[0].id for made in queries.morning.calls_on(db, squad.squad.id, TODAY).values()} == {
        one.id for one in many
    }


def complain(db, squad):
    told = Complaint(squad_id=squad.squad.id, athlete_id=squad.athletes[0], kind=ComplaintKind.PAIN, day=TODAY,
                     site="knee", side="left", severity=7, told_at=NOW)  # fmt: skip
    db.add(told)
    db.flush()


def test_what_a_call_answered_is_quiet_until_something_changes_or_the_review_comes(db, squad):
    tomorrow = TODAY + timedelta(days=1)
    restrict(db, squad, Availability.LIMITED)
    call(db, squad, review_on=TODAY + timedelta(days=2))
    found = {said.code: said for said in lane(db, squad, tomorrow).notices}
    assert found["gate"].quiet
    complain(db, squad)
    found = {said.code: said for said in lane(db, squad, tomorrow).notices}
    assert (found["gate"].quiet, found["complaint"].quiet) == (True, False)
    assert found["complaint"].severity is Severity.ACT
    due = {said.code: said for said in lane(db, squad, TODAY + timedelta(days=2)).notices}
    assert not due["gate"].quiet
    assert "review_due" in due


def test_a_coach_reads_neither_reports_nor_complaints(db, squad):
    complain(db, squad)
    found = lane(db, squad, audiences=LEAST)
    assert "complaint" not in {said.code for said in found.notices}
    assert (found.felt, found.group) == ([], "call")
    (said,) = found.notices
    assert said.sentence == "Does not train until somebody who may has looked: ask first."


def test_a_referral_waits_for_the_clinicians_reply(db, squad):
    made = call(db, squad, CallKind.REFER, reason="flat for two weeks")
    assert [one.id for one in referrals(db, squad.squad.id, TODAY)] == [made.id]
    with pytest.raises(Invalid):
        reply(db, squad.squad, made.id, " ", stamp=Stamp(squad.staff.id, NOW))
    assert reply(db, squad.squad, made.id, "Seen on Friday", stamp=Stamp(squad.staff.id, NOW)).reply == "Seen on Friday"
    with pytest.raises(NotFound):
        reply(db, squad.squad, call(db, squad, CallKind.REST).id, "x", stamp=Stamp(squad.staff.id, NOW))


def test_evidence_gives_the_limits_with_who_set_them_and_what_each_call_comes_to(db, squad):
    evidence = read_evidence(db, squad.squad, squad.athletes[0], TODAY, TODAY, None, ALL)
    assert {one.key for one in evidence.limits} == {"ratio_ceiling:ewma", "week_change_cap", "day_cap"}
    assert all("S. Taff" in one.provenance for one in evidence.limits)
    by_kind = {one.kind: one for one in evidence.outcomes}
    assert by_kind[CallKind.FULL].load == 300
    assert by_kind[CallKind.ADAPT].load <= evidence.lane.room.load
    assert by_kind[CallKind.REST].load == 0
    assert evidence.with_plan.load <= evidence.lane.room.load * (1 + 1e-9)


def test_who_forgets_to_say_who_reads_is_shown_least(db, squad):
    complain(db, squad)
    found = read_morning(db, squad.squad, TODAY, TODAY, only=squad.athletes[0])[0].lanes[0]
    assert found == lane(db, squad, audiences=LEAST)
    assert found != lane(db, squad)
