"""A block over HTTP: laid out, dragged, planned as sessions of each week, and taken back."""

from datetime import date, timedelta

import pytest

from tests.conftest import TODAY
from tests.squad import noon
from uvren.core.plan.block import MOST_WEEKS
from uvren.services.session.planning import NewSession, plan_sessions
from uvren.services.week.block import WeekWanted, read_block
from uvren.store.models import SessionKind, Squad
from uvren.store.types import new_ulid

MONDAY = TODAY - timedelta(days=TODAY.weekday())
NEXT = MONDAY + timedelta(days=7)


@pytest.fixture
def path(squad):
    return f"/api/squads/{squad.squad.slug}/week/block"


def body(weeks=(), **more):
    wanted = [{"share": share, "lighter": lighter, "goal": goal} for share, lighter, goal in weeks]
    return {"first": str(NEXT), "of": str(MONDAY - timedelta(days=7)), "weeks": wanted} | more


def look(client, path, wanted):
    """The block as it is shown before it is planned."""
    return client.write("POST", f"{path}/projected", wanted).json["edition"]


def plan(client, path, wanted):
    return client.write("PUT", path, wanted | {"edition": look(client, path, wanted)})


def sessions(client, squad, first, days=28):
    found = client.get(f"/api/squads/{squad.squad.slug}/sessions?day={first}&days={days}").json["sessions"]
    return [(one["day"], one["minutes"], one["effort"]) for one in found]


def test_it_is_laid_out_projected_and_says_who_is_over(coach, path):
    laid = coach.write("POST", f"{path}/projected", body(rising={"weeks": 6, "rise": 0.05, "every": 5}))
    assert laid.status_code == 200, laid.json
    weeks = laid.json["weeks"]
    assert [one["lighter"] for one in weeks] == [False] * 4 + [True, False]
    assert laid.json["made_from"] == "6 sessions, 360 min, matches aside"
    assert weeks[0]["load"] == pytest.approx(1800)
    assert weeks[1]["load"] == pytest.approx(1890)
    assert weeks[0]["base"] > 0
    # Dragged up, a week is over the week-on-week cap of a quarter for all four.
    steep = coach.write("POST", f"{path}/projected", body([(1, False, ""), (1.5, False, "")]))
    assert [one["over"] for one in steep.json["weeks"]] == [0, 4]
    assert steep.json["weeks"][1]["names"] == ["A", "B", "C", "D"]
    assert steep.json["said"] == "1 week over a limit, the first from Mon 23 March: 4 people of 4 over."


def test_one_person_stands_for_themselves(coach, squad, path):
    one = coach.write("POST", f"{path}/projected", body([(1.5, False, "")], athlete_id=squad.athletes[0]))
    assert one.json["said"].endswith("a limit does not hold.")
    assert coach.write("POST", f"{path}/projected", body([(1, False, "")], athlete_id=10**6)).status_code == 422


def test_it_is_planned_week_by_week_and_taken_back(coach, squad, path):
    before = sessions(coach, squad, NEXT)
    wanted = body([(1.0, False, "base"), (0.5, True, "rest"), (1.1, False, "")])
    planned = plan(coach, path, wanted)
    assert planned.status_code == 200, planned.json
    after = sessions(coach, squad, NEXT)
    by_week = [[minutes for day, minutes, _ in after if 0 <= (_days(day) - 7 * i) < 7] for i in range(4)]
    assert by_week == [[60] * 6, [30] * 6, [65] * 6, []]
    # What was there already is not there twice, and nobody's plan of the first days was lost.
    assert len(planned.json["made"]) == 18 - len(before)
    monday = coach.get(f"/api/squads/{squad.squad.slug}/week?day={NEXT}").json["days"][0]
    assert (monday["day"], monday["goal"]) == (str(NEXT), "base")
    again = plan(coach, path, wanted)
    assert (again.json["made"], again.json["changed"]) == ([], [])
    assert [one["goal"] for one in again.json["weeks"]] == ["base", "rest", ""]
    back = coach.write("POST", f"{path}/take-back", planned.json)
    assert back.status_code == 200, back.json
    assert sessions(coach, squad, NEXT) == before
    third = plan(coach, path, wanted)
    assert third.json["weeks"] == []


def test_a_block_from_this_week_makes_nothing_on_days_that_have_gone_by(coach, db, squad, path):
    # On Monday evening of the week it is made from there was something that this Monday did not have.
    evening = noon(MONDAY - timedelta(days=7)) + timedelta(hours=6)
    plan_sessions(db, squad.squad, [NewSession(evening, SessionKind.GYM, "Strength", 50, 6)])
    before = sessions(coach, squad, MONDAY, (TODAY - MONDAY).days)
    made = plan(coach, path, body([(0.5, True, "")], first=str(MONDAY)))
    assert made.status_code == 200, made.json
    assert sessions(coach, squad, MONDAY, (TODAY - MONDAY).days) == before
    assert {minutes for _, minutes, _ in sessions(coach, squad, TODAY, 2)} == {30}


def _days(day):
    return (date.fromisoformat(day) - NEXT).days


def test_a_lighter_week_has_no_hard_effort(coach, squad, db, path):
    hard = squad.on(MONDAY - timedelta(days=7))
    hard.planned_effort = 9.0
    db.flush()
    plan(coach, path, body([(1, False, ""), (0.6, True, "")]))
    efforts = [effort for day, _, effort in sessions(coach, squad, NEXT, 14) if _days(day) in (0, 7)]
    assert efforts == [9, 6]


@pytest.mark.parametrize(
    ("changed", "field"),
    [
        ({"weeks": []}, "weeks"),
        ({"weeks": [{"share": 9}]}, "share"),
        ({"first": str(MONDAY - timedelta(days=7))}, "first"),
        ({"weeks": [{"share": 1, "goal": "x" * 150}]}, "goal"),
        ({"rising": {"weeks": MOST_WEEKS + 1, "rise": 0, "every": 0}}, "weeks"),
        ({"rising": {"weeks": 4, "rise": 2, "every": 0}}, "rise"),
    ],
)
def test_what_makes_no_block_is_said_at_its_field(coach, path, changed, field):
    refused = coach.write("POST", f"{path}/projected", body([(1, False, "")]) | changed)
    assert refused.status_code == 422
    assert field in refused.json["errors"][0]["field"]


def test_of_nobody_there_is_no_block(db, squad):
    empty = Squad(club_id=squad.squad.club_id, slug=f"none-{new_ulid()[-8:].lower()}", name="None", time_zone="UTC")
    db.add(empty)
    db.flush()
    assert read_block(db, empty, NEXT, MONDAY, [WeekWanted(1.0, False)], None, TODAY) is None


def test_who_plans_what_somebody_planned_meanwhile_is_told_and_may_after_looking(coach, squad, path):
    wanted = body([(1.0, False, "base"), (0.5, True, "")])
    seen = look(coach, path, wanted)
    assert plan(coach, path, body([(0.8, False, "")])).status_code == 200
    before = sessions(coach, squad, NEXT)
    late = coach.write("PUT", path, wanted | {"edition": seen})
    assert late.status_code == 409
    assert late.json["detail"].startswith("Somebody planned these weeks meanwhile.")
    assert sessions(coach, squad, NEXT) == before
    # What a week is for is part of what was seen.
    again = look(coach, path, wanted)
    assert plan(coach, path, body([(0.8, False, "other words")])).status_code == 200
    assert coach.write("PUT", path, wanted | {"edition": again}).status_code == 409
    assert plan(coach, path, wanted).status_code == 200
