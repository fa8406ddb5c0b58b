"""Athletes who join, change and leave a squad, each from a day on."""

from datetime import timedelta

import pytest
from sqlalchemy import select

from tests.conftest import NOW, TODAY
from uvren.services.club.permissions import Person
from uvren.services.errors import Invalid, NotFound
from uvren.services.morning import read_morning
from uvren.services.squad import members
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Audit, Role

NEXT_WEEK = TODAY + timedelta(days=7)


@pytest.fixture
def who(squad):
    return {"stamp": Stamp(squad.staff.id, NOW)}


def names_on(db, squad, day):
    return [member.name for member in queries.squad.members(db, squad.squad.id, day)]


def positions_on(db, squad, day):
    return {member.name: (member.number, member.position) for member in queries.squad.members(db, squad.squad.id, day)}


def test_a_new_athlete_is_in_the_squad_from_their_day_on_and_needs_history(db, squad, who):
    made = members.join(db, squad.squad, " E. New ", 19, "wing", TODAY, **who)
    assert names_on(db, squad, TODAY - timedelta(days=1)) == ["A", "B", "C", "D"]
    assert names_on(db, squad, TODAY) == ["A", "B", "C", "D", "E. New"]
    lanes = read_morning(db, squad.squad, TODAY, TODAY)[0].lanes
    lane = next(one for one in lanes if one.member.athlete_id == made.athlete_id)
    assert lane.strip.state[-9] == "before"
    assert db.scalars(select(Audit).where(Audit.action == "member_joined")).one().athlete_id == made.athlete_id


@pytest.mark.parametrize(
    ("name", "position", "field"), [(" ", "wing", "name"), ("E", " ", "position"), ("A", "wing", "name")]
)
def test_joining_without_a_name_or_a_position_or_twice_is_refused_at_its_field(db, squad, who, name, position, field):
    with pytest.raises(Invalid) as refused:
        members.join(db, squad.squad, name, None, position, TODAY, **who)
    assert refused.value.field == field


def test_another_position_holds_from_its_day_and_the_days_before_keep_theirs(db, squad, who):
    members.change(db, squad.squad, squad.athletes[0], 44, "back", NEXT_WEEK, **who)
    assert positions_on(db, squad, TODAY)["A"] == (1, "wing")
    assert positions_on(db, squad, NEXT_WEEK)["A"] == (44, "back")
    assert names_on(db, squad, NEXT_WEEK).count("A") == 1


def test_a_change_on_the_first_day_of_what_stands_replaces_it(db, squad, who):
    members.change(db, squad.squad, squad.athletes[0], 44, "back", NEXT_WEEK, **who)
    members.change(db, squad.squad, squad.athletes[0], 45, "pivot", NEXT_WEEK, **who)
    assert positions_on(db, squad, NEXT_WEEK)["A"] == (45, "pivot")
    with pytest.raises(Invalid) as refused:
        members.change(db, squad.squad, squad.athletes[0], 1, "wing", TODAY, **who)
    assert refused.value.field == "from_day"
    with pytest.raises(Invalid):
        members.change(db, squad.squad, squad.athletes[0], 1, " ", NEXT_WEEK, **who)


def test_who_left_is_there_until_their_last_day_and_can_come_back(db, squad, who):
    members.leave(db, squad.squad, squad.athletes[3], TODAY, **who)
    assert "D" in names_on(db, squad, TODAY)
    assert "D" not in names_on(db, squad, TODAY + timedelta(days=1))
    with pytest.raises(NotFound):
        members.leave(db, squad.squad, squad.athletes[3], TODAY, **who)
    with pytest.raises(NotFound):
        members.change(db, squad.squad, squad.athletes[3], 4, "back", NEXT_WEEK, **who)
    staff = Person(squad.staff.id, "S", {squad.squad.id: frozenset({Role.PERFORMANCE})}, squad.squad.club_id)
    known = members.known(db, squad.squad, staff, NEXT_WEEK)
    assert [(one.athlete_id, one.name) for one in known] == [(squad.athletes[3], "D")]
    back = members.join_known(db, squad.squad, squad.athletes[3], 4, "back", NEXT_WEEK, person=staff, now=NOW)
    assert back.athlete_id == squad.athletes[3]
    with pytest.raises(Invalid, match="already"):
        members.join_known(db, squad.squad, squad.athletes[3], 4, "back", NEXT_WEEK, person=staff, now=NOW)


def test_nobody_leaves_before_they_joined(db, squad, who):
    with pytest.raises(Invalid) as refused:
        members.leave(db, squad.squad, squad.athletes[0], TODAY - timedelta(days=400), **who)
    assert refused.value.field == "to_day"


def test_the_list_of_members_holds_those_who_are_and_those_who_will_be(db, squad, who):
    members.join(db, squad.squad, "E", None, "wing", NEXT_WEEK, **who)
    members.leave(db, squad.squad, squad.athletes[0], TODAY - timedelta(days=1), **who)
    assert [one.athlete.name for one in queries.squad.memberships(db, squad.squad.id, TODAY)] == ["B", "C", "D", "E"]
