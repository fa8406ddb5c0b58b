"""Templates over HTTP: kept from weeks, held against whoever gets them, planned, taken back."""

from datetime import timedelta

import pytest

from tests.conftest import TODAY
from uvren.services.squad import squads
from uvren.services.squad.anchors import NewAnchor, set_anchor
from uvren.services.stamp import Stamp
from uvren.store.models import AnchorKind, Club, Squad, WeekTemplate
from uvren.store.types import new_ulid

MONDAY = TODAY - timedelta(days=TODAY.weekday())
NEXT = MONDAY + timedelta(days=7)
COURT = {"name": "Court week", "weeks": 1, "kinds": ["court"], "years_least": 3, "sport": "handball", "sport_days": 2}


@pytest.fixture
def path(squad):
    return f"/api/squads/{squad.squad.slug}/week/templates"


def keep(client, path, **more):
    return client.write("POST", path, COURT | {"of": str(MONDAY - timedelta(days=3))} | more)


@pytest.fixture
def kept(coach, path):
    return keep(coach, path).json["templates"][0]


def fit(client, path, one, **more):
    return client.write("POST", f"{path}/{one['id']}/fit", {"first": str(NEXT + timedelta(days=2))} | more)


def use(client, path, one, seen, **more):
    body = {"first": str(NEXT + timedelta(days=14)), "differs": seen}
    return client.write("POST", f"{path}/{one['id']}/use", body | more)


def wrong_in(answer):
    return answer.json["errors"][0]["field"]


def week(client, squad, first):
    found = client.get(f"/api/squads/{squad.squad.slug}/sessions?day={first}&days=7").json["sessions"]
    return [(one["day"], one["title"], one["minutes"]) for one in found]


def test_a_week_is_kept_with_whom_it_was_written_for(coach, kept, squad):
    assert (kept["name"], kept["weeks"], kept["own"]) == ("Court week", 1, True)
    assert kept["written"] == {
        "years_least": 3,
        "years_most": None,
        "sport": "handball",
        "sport_days": 2,
        "longest": None,
    }
    assert [one["day"] for one in kept["sessions"]] == [0, 1, 2, 3, 4, 5]
    assert kept["sessions"][0] == {
        "day": 0,
        "at": "12:00",
        "kind": "court",
        "title": "Court",
        "minutes": 60,
        "effort": 5,
    }


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"name": " "}, "name"), ({"name": "x" * 81}, "name"), ({"weeks": 0}, "weeks"), ({"weeks": 13}, "weeks"),
        ({"kinds": []}, "kinds"), ({"kinds": ["match"]}, "kinds"), ({"kinds": ["gym"]}, "of"),
        ({"years_least": -1}, "years_least"), ({"years_least": 5, "years_most": 2}, "years_most"),
        ({"sport_days": 8}, "sport_days"), ({"longest": 601}, "longest"), ({"sport": "x" * 41}, "sport"),
    ],
)  # fmt: skip
def test_what_makes_no_template_is_said_at_its_field(coach, path, more, field):
    refused = keep(coach, path, **more)
    assert refused.status_code == 422, refused.json
    assert wrong_in(refused) == field
    assert coach.get(path).json["templates"] == []


def test_a_name_stands_once(coach, path, kept):
    assert wrong_in(keep(coach, path, name="COURT  week")) == "name"


def test_given_to_somebody_else_it_says_what_differs_before_it_is_used(coach, path, kept, squad, db):
    found = fit(coach, path, kept).json
    assert found["first"] == str(NEXT)
    # It has six sport days a week behind it, and of nobody the years are known. The sport is that it was kept with.
    assert found["differs"] == [
        "Nobody has said the years of training of 4 of 4.",
        "Written beside 2 days of sport a week; here there are 6.",
    ]
    # What the calendar of that week has already is no second session.
    assert (len(found["sessions"]), found["there"]) == (6, 4)
    a = squad.athletes[0]
    stamp = Stamp(squad.staff.id, squad.sessions[0].starts_at)
    set_anchor(db, squad.squad, NewAnchor(a, AnchorKind.EXPERIENCE_YEARS, 1.0, None, TODAY), stamp=stamp, today=TODAY)
    one = fit(coach, path, kept, athlete_id=a, sport="judo").json
    assert one["whom"] == "A"
    assert one["differs"][:2] == [
        "Written for 3 years of training or more; here it is 1.0.",
        "Written for handball; this is judo.",
    ]
    unseen = use(coach, path, kept, [])
    assert (unseen.status_code, wrong_in(unseen)) == (422, "differs")


def test_it_is_planned_for_all_and_taken_back(coach, path, kept, squad):
    later = NEXT + timedelta(days=14)
    seen = fit(coach, path, kept, first=str(later)).json["differs"]
    made = use(coach, path, kept, seen)
    assert made.status_code == 200, made.json
    assert [one[1:] for one in week(coach, squad, later)] == [("Court", 60)] * 6
    again = use(coach, path, kept, seen)
    assert (again.status_code, wrong_in(again)) == (422, "first")
    assert coach.write("POST", f"{path}/take-back", made.json).status_code == 200
    assert week(coach, squad, later) == []


def test_for_one_athlete_nobody_else_has_any_of_it(coach, path, kept, squad):
    later, a = NEXT + timedelta(days=14), squad.athletes[0]
    seen = fit(coach, path, kept, first=str(later), athlete_id=a).json["differs"]
    made = use(coach, path, kept, seen, athlete_id=a).json["made"]
    rows = coach.get(f"/api/squads/{squad.squad.slug}/sessions/{made[0]}").json["rows"]
    assert {row["athlete_id"]: row["planned_minutes"] for row in rows} == {
        one: None if one == a else 0 for one in squad.athletes
    }
    # Taken back, nothing of it is left, also where the week was looked at meanwhile.
    coach.get(f"/api/squads/{squad.squad.slug}/week?day={later}")
    back = coach.write("POST", f"{path}/take-back", {"made": made})
    assert back.status_code == 200, back.json
    assert week(coach, squad, later) == []
    assert fit(coach, path, kept, first=str(later), athlete_id=a).json["there"] == 0


def test_days_gone_by_are_left_out_and_a_week_gone_by_is_refused(coach, path, kept):
    found = fit(coach, path, kept, first=str(TODAY)).json
    assert all(MONDAY + timedelta(days=one["day"]) >= TODAY for one in found["sessions"])
    assert wrong_in(fit(coach, path, kept, first=str(MONDAY - timedelta(days=1)))) == "first"
    assert wrong_in(fit(coach, path, kept, athlete_id=10**6)) == "athlete_id"
    assert fit(coach, path, {"id": new_ulid()}).status_code == 404


def test_it_is_taken_away_and_put_back(coach, path, kept):
    assert coach.write("DELETE", f"{path}/{kept['id']}", {}).status_code == 200
    assert coach.get(path).json["templates"] == []
    assert coach.write("POST", f"{path}/{kept['id']}/put-back", {}).status_code == 200
    assert [one["id"] for one in coach.get(path).json["templates"]] == [kept["id"]]


def test_another_squad_of_the_club_uses_it_and_does_not_take_it_away(coach, path, kept, squad, db):
    one = db.get_one(WeekTemplate, kept["id"])
    club = db.get_one(Club, squad.squad.club_id)
    first = squad.sessions[0].starts_at
    one.squad_id = squads.create_squad(db, club, "others", "Others", "Europe/Oslo", first).id
    db.flush()
    (found,) = coach.get(path).json["templates"]
    assert (found["squad"], found["own"]) == ("Others", False)
    assert fit(coach, path, kept).status_code == 200
    assert coach.write("DELETE", f"{path}/{kept['id']}", {}).status_code == 422
    # Of another club it is not there at all.
    db.get_one(Squad, one.squad_id).club_id = squads.create_club(db, "Far away").id
    db.flush()
    assert coach.get(path).json["templates"] == []
    assert fit(coach, path, kept).status_code == 404


def test_what_sport_it_is_is_asked_once(coach, path, kept, squad, db):
    db.get_one(Squad, squad.squad.id).sport = None
    later = str(NEXT + timedelta(days=14))
    unsaid = fit(coach, path, kept, first=later).json["differs"]
    assert "Written for handball; nobody has said what sport this is for." in unsaid
    seen = fit(coach, path, kept, first=later, sport="judo").json["differs"]
    assert "Written for handball; this is judo." in seen
    # For one athlete it says nothing of the squad.
    alone = fit(coach, path, kept, first=later, sport="judo", athlete_id=squad.athletes[0]).json["differs"]
    made = use(coach, path, kept, alone, sport="judo", athlete_id=squad.athletes[0]).json
    assert coach.get(path).json["sport"] == ""
    assert coach.write("POST", f"{path}/take-back", made).status_code == 200
    assert use(coach, path, kept, seen, sport="judo").status_code == 200
    assert coach.get(path).json["sport"] == "judo"
