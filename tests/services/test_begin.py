"""From an empty installation to a club and its squads."""

from datetime import UTC, datetime, time, timedelta

import pytest
from sqlalchemy import delete, select

from tests.conftest import NOW, TODAY
from tests.squad import PASSWORD
from uvren.core.audience import ALL
from uvren.core.reports import ReportKind
from uvren.core.season import Phase, PhaseKind
from uvren.core.units import make_form
from uvren.services.club import begin
from uvren.services.club.accounts import Whence
from uvren.services.club.begin import First
from uvren.services.club.permissions import Person
from uvren.services.errors import Invalid, NotAllowed, NotFound
from uvren.services.morning import read_morning
from uvren.services.reports import Told, give_many
from uvren.services.reports.days import day_of_reports
from uvren.services.season import phases
from uvren.services.squad.begin import NewSquad, make_squad
from uvren.services.squad.kinds import WORK_KINDS
from uvren.services.squad.limits import NewLimit, set_limit
from uvren.services.squad.squads import EVER, create_user
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Audit, BeginLink, Club, Role, RoleGrant, Scope, User
from uvren.store.types import new_ulid

FIRST = First("Nordel", "Europe/Vienna", "V. Tarn", "tarn", PASSWORD, [Role.PERFORMANCE, Role.CLINICIAN])


@pytest.fixture
def empty(db, monkeypatch):
    """As if no club were there: tests share one database, in which there are some."""
    monkeypatch.setattr(queries.club, "club_there", lambda _db: db.scalar(select(Club.id).where(Club.name == "Nordel")))
    db.execute(delete(BeginLink))
    return db


@pytest.fixture
def founder(db):
    user = begin.make_club(db, FIRST, NOW)
    return Person(user.id, user.name, {}, user.club_id, club_admin=True)


def wanted(**more):
    given = {"name": "First team", "time_zone": "Europe/Vienna", "work": "court", "copy_of": None,
             "roles": [Role.PERFORMANCE]}  # fmt: skip
    return NewSquad(**(given | more))


def test_whoever_opens_the_link_begins_the_club_and_acts_for_it(empty):
    token = begin.make_link(empty, NOW)
    user = begin.begin(empty, token, FIRST, Whence(), NOW)
    assert (user.login, user.name, user.club_admin) == ("tarn", "V. Tarn", True)
    assert user.begins_as == ["performance", "clinician"]
    club = empty.get_one(Club, user.club_id)
    assert (club.name, club.time_zone, club.demo_now) == ("Nordel", "Europe/Vienna", None)
    noted = empty.scalars(select(Audit).where(Audit.action == "club_begun")).all()
    assert [row.user_id for row in noted] == [user.id]


def test_a_link_works_once_and_for_a_week_and_none_once_there_is_a_club(empty):
    token = begin.make_link(empty, NOW)
    other = begin.make_link(empty, NOW + timedelta(days=1))
    for wrong, now in (("x" * 32, NOW), (token, NOW + begin.HOLDS)):
        with pytest.raises(NotFound, match="works no more"):
            begin.begin(empty, wrong, FIRST, Whence(), now)
    begin.begin(empty, token, FIRST, Whence(), NOW + begin.HOLDS - timedelta(seconds=1))
    for again in (token, other, begin.make_link(empty, NOW)):
        with pytest.raises(NotFound, match="works no more"):
            begin.look(empty, again, NOW)


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"club": "  "}, "club"), ({"club": "x" * 81}, "club"), ({"name": ""}, "name"), ({"login": "a b c"}, "login"),
        ({"login": "ab"}, "login"), ({"password": "short"}, "password"), ({"time_zone": "Mars/Olympus"}, "time_zone"),
        ({"time_zone": ""}, "time_zone"), ({"roles": [Role.ATHLETE]}, "roles"),
    ],
)  # fmt: skip
def test_what_is_wrong_is_said_at_its_place_and_the_link_stays(empty, more, field):
    token = begin.make_link(empty, NOW)
    with pytest.raises(Invalid) as error:
        begin.begin(empty, token, First(**(vars(FIRST) | more)), Whence(), NOW)
    empty.rollback()
    assert error.value.field == field
    assert begin.look(empty, token, NOW).used_at is None


@pytest.mark.parametrize("kind", WORK_KINDS, ids=lambda kind: kind.code)
def test_a_squad_begins_with_what_its_work_needs(db, founder, kind):
    squad = make_squad(db, founder, wanted(work=kind.code), NOW)
    channels = queries.squad.channels(db, squad.id)
    assert [channel.name for channel in channels] == ["Session load", *(unit.name for unit in kind.units)]
    for unit in kind.units:
        make_form(unit.form, unit.settings)
        assert set(unit.kinds) & set(kind.sessions)
    limits = [limit for limit, _ in queries.squad.limits_until(db, squad.id, EVER)]
    assert len(limits) == len(kind.limits) >= 5
    # Each says what its rule goes back to, or that nothing is behind it.
    sources = {limit.rule: limit.source for limit in limits}
    assert sources["monotony_cap"] == "Starting point; Foster 1998"
    assert sources["week_change_cap"].startswith("Starting point; 10 to 15 %")
    assert sources["days_in_row"] == "Starting point; no study behind it"
    assert all(limit.source.startswith("Starting point; ") for limit in limits)
    assert [place.name for place in queries.squad.places(db, squad.id)] == sorted(kind.places)
    assert len(queries.squad.tests_of(db, squad.id)) > 3
    # An empty squad has a morning: nobody in it, and nothing that fails.
    morning, _ = read_morning(db, squad, TODAY, TODAY)
    assert morning.lanes == []


def test_who_makes_a_squad_is_in_it_what_they_said(db, founder):
    squad = make_squad(db, founder, wanted(roles=[Role.COACH, Role.PERFORMANCE]), NOW)
    roles = db.scalars(select(RoleGrant.role).where(RoleGrant.squad_id == squad.id)).all()
    assert sorted(roles) == [Role.COACH, Role.PERFORMANCE]
    assert db.get_one(User, founder.user_id).begins_as == ["performance", "coach"]


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"name": " "}, "name"), ({"name": "FIRST  team"}, "name"), ({"work": "chess"}, "work"),
        ({"work": None}, "work"), ({"time_zone": "nowhere"}, "time_zone"), ({"roles": [Role.ADMIN]}, "roles"),
    ],
)  # fmt: skip
def test_a_squad_that_cannot_be_is_refused_at_its_place(db, founder, more, field):
    make_squad(db, founder, wanted(name="First team"), NOW)
    if field != "name":
        more = {"name": "Second team"} | more
    with pytest.raises(Invalid) as error:
        make_squad(db, founder, wanted(**more), NOW)
    assert error.value.field == field


def test_only_who_acts_for_the_club_makes_one(db, founder):
    with pytest.raises(NotAllowed):
        make_squad(db, Person(founder.user_id, "", {}, founder.club_id), wanted(), NOW)


def test_addresses_of_squads_are_plain_and_all_different(db, founder):
    names = ("Équipe Une", "Equipe_Une", "Equipe__Une", "球")
    slugs = [make_squad(db, founder, wanted(name=name), NOW).slug for name in names]
    assert slugs == ["equipe-une", "equipe-une-2", "equipe-une-3", "squad"]


def test_a_copy_has_the_set_up_and_nobody(db, founder):
    one = make_squad(db, founder, wanted(name="One", work="throwing"), NOW)
    stamp = Stamp(founder.user_id, NOW)
    throws = queries.squad.channels(db, one.id)[1]
    own = NewLimit("day_cap", 900, {}, True, Scope.SQUAD, None, None, TODAY, "Agreed", "Agreed", throws.code)
    set_limit(db, one, own, stamp=stamp, today=TODAY)
    phases.save(db, one, [Phase(PhaseKind.COMPETITION, "League", TODAY, TODAY)], edition=None, stamp=stamp)
    two = make_squad(db, founder, wanted(name="Two", work=None, copy_of=one.slug), NOW)
    assert two.work == "throwing"

    def shown(squad):
        channels = {channel.id: channel.name for channel in queries.squad.channels(db, squad.id)}
        limits = {
            (channels[limit.channel_id], limit.rule, limit.value, limit.hard, limit.source)
            for limit, _ in queries.squad.limits_until(db, squad.id, TODAY)
        }
        tests = [(test.code, test.name, test.trials) for test in queries.squad.tests_of(db, squad.id)]
        places = [place.name for place in queries.squad.places(db, squad.id)]
        return list(channels.values()), limits, tests, places, phases.read(db, squad, TODAY).phases

    assert shown(two) == shown(one)
    assert ("Throws", "day_cap", 900, True, "Agreed") in shown(two)[1]
    assert [phase.name for phase in shown(two)[-1]] == ["League"]
    assert queries.squad.members_ever(db, two.id) == set()


def test_another_clubs_squad_is_not_there_to_copy(db, founder, squad):
    with pytest.raises(NotFound):
        make_squad(db, founder, wanted(work=None, copy_of=squad.squad.slug), NOW)


def test_nobody_is_asked_for_reports_who_has_no_way_to_give_them(db, squad):
    """With an account, or once something has come in, somebody is; before, a silence is no news."""
    silent, phone, once, _ = squad.athletes
    user = create_user(db, db.get_one(Club, squad.squad.club_id), new_ulid().lower(), "B", PASSWORD, {})
    user.athlete_id = phone
    day = TODAY - timedelta(days=12)
    made = datetime.combine(day, time(7), UTC)
    give_many(db, squad.squad, [Told(new_ulid(), once, ReportKind.DAILY, day, {"mood": 6.0}, made)])
    db.flush()
    morning, _ = read_morning(db, squad.squad, TODAY, TODAY, audiences=ALL)
    missing = {
        lane.member.athlete_id: "report_missing" in {said.code for said in lane.notices} for lane in morning.lanes
    }
    assert [missing[one] for one in (silent, phone, once)] == [False, True, True]
    reports = {one.member.athlete_id: one for one in day_of_reports(db, squad.squad, TODAY, NOW)}
    assert [reports[one].asked for one in (silent, phone, once)] == [False, True, True]
    assert [reports[one].missing_since is None for one in (silent, phone, once)] == [True, False, False]
