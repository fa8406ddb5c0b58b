"""Athletes who join, change and leave a squad, each from a day on."""

from datetime import timedelta

import pytest
from sqlalchemy import select

from tests.conftest import NOW, TODAY
from uvren.services.club.permissions import Person
from uvren.services.errors import Invalid, NotAllowed, NotFound
from uvren.services.morning import read_morning
from uvren.services.squad import members
from uvren.services.squad.squads import create_squad
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Audit, Club, Membership, Role
from uvren.store.types import new_ulid

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


@pytest.fixture
def staff(squad):
    return Person(squad.staff.id, "", {squad.squad.id: frozenset({Role.PERFORMANCE})}, squad.squad.club_id)


def correct(db, squad, staff, name, from_day, i=0):
    members.correct(db, squad.squad, squad.athletes[i], name, from_day, person=staff, now=NOW)


def first_day(db, squad, i=0):
    return members.since(db, squad.squad)[squad.athletes[i]]


def test_a_name_is_corrected_and_a_first_day_goes_back(db, squad, staff):
    begun = first_day(db, squad)
    correct(db, squad, staff, " Ada Tarn ", begun - timedelta(days=200))
    assert names_on(db, squad, begun - timedelta(days=200)) == ["Ada Tarn"]
    noted = db.scalars(select(Audit).where(Audit.action == "member_corrected")).one()
    assert noted.details == {"renamed": True, "from_day": str(begun - timedelta(days=200)), "before": str(begun)}


def test_a_first_day_goes_forward_as_far_as_nothing_was_entered(db, squad, staff):
    with pytest.raises(Invalid, match="Something was entered") as refused:
        correct(db, squad, staff, "A", TODAY)
    assert refused.value.field == "from_day"
    made = members.join(db, squad.squad, "E", None, "wing", TODAY, stamp=Stamp(squad.staff.id, NOW))
    members.correct(db, squad.squad, made.athlete_id, "E", NEXT_WEEK, person=staff, now=NOW)
    assert "E" not in names_on(db, squad, TODAY)


def test_a_changed_position_is_no_beginning(db, squad, staff, who):
    begun = first_day(db, squad)
    members.change(db, squad.squad, squad.athletes[0], 44, "back", NEXT_WEEK, **who)
    assert first_day(db, squad) == begun
    correct(db, squad, staff, "A", begun - timedelta(days=9))
    assert first_day(db, squad) == begun - timedelta(days=9)
    assert positions_on(db, squad, NEXT_WEEK)["A"] == (44, "back")
    with pytest.raises(Invalid, match="position changed"):
        correct(db, squad, staff, "A", NEXT_WEEK)


def test_who_came_back_keeps_the_span_before(db, squad, staff, who):
    members.leave(db, squad.squad, squad.athletes[3], TODAY, **who)
    members.join_known(db, squad.squad, squad.athletes[3], 4, "wing", NEXT_WEEK, person=staff, now=NOW)
    assert first_day(db, squad, 3) == NEXT_WEEK
    with pytest.raises(Invalid, match="They were in the squad until"):
        correct(db, squad, staff, "D", TODAY, 3)
    correct(db, squad, staff, "D", TODAY + timedelta(days=2), 3)
    assert "D" not in names_on(db, squad, TODAY + timedelta(days=1))
    members.leave(db, squad.squad, squad.athletes[3], NEXT_WEEK, **who)
    with pytest.raises(NotFound):
        correct(db, squad, staff, "D", TODAY, 3)


def test_nobody_is_without_a_name_and_a_name_is_of_every_squad_of_theirs(db, squad, staff, who):
    with pytest.raises(Invalid) as refused:
        correct(db, squad, staff, " ", first_day(db, squad))
    assert refused.value.field == "name"
    club = db.get_one(Club, squad.squad.club_id)
    other = create_squad(db, club, new_ulid().lower(), "Other", "Europe/Vienna", NOW)
    db.add(Membership(squad_id=other.id, athlete_id=squad.athletes[0], position="wing", from_day=TODAY))
    db.flush()
    with pytest.raises(NotAllowed):
        correct(db, squad, staff, "Ada", first_day(db, squad))
    # Since when somebody is in this squad is this squad's.
    correct(db, squad, staff, "A", first_day(db, squad) - timedelta(days=1))
