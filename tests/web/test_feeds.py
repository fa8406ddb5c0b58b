"""Calendars by a secret link: what is planned, and nothing of anybody's health; for as long as the link holds."""

from datetime import timedelta

from icalendar import Calendar

from tests.conftest import NOW, TODAY
from uvren.core.day import CallKind
from uvren.services.morning.calls import NewCall, make_call
from uvren.services.squad import members
from uvren.services.stamp import Stamp
from uvren.services.week import saving
from uvren.store.models import Role
from uvren.store.types import new_ulid

FRIDAY = TODAY + timedelta(days=1)


def given(client, link):
    return client.get(link[link.index("/api/") :])


def minutes(answer, day):
    """Minutes of the sessions of a day."""
    events = Calendar.from_ical(answer.data).walk("VEVENT")
    return [(e.end - e.start).total_seconds() / 60 for e in events if e.start.date() == day]


def test_a_link_gives_the_squads_sessions_without_signing_in_until_it_is_withdrawn(app, coach, base):
    link = coach.write("POST", f"{base}/week/feeds", {"athlete_id": None}).json["link"]
    stranger = app.test_client()
    answer = given(stranger, link)
    assert (answer.status_code, answer.mimetype) == (200, "text/calendar")
    assert minutes(answer, FRIDAY) == [60]
    assert "no-store" in answer.headers["Cache-Control"]
    # Asked again it is the same to the last letter: no program thinks that something has changed.
    assert given(stranger, link).data == answer.data
    (feed,) = coach.get(f"{base}/week/feeds").json["feeds"]
    assert (feed["athlete_id"], feed["name"]) == (None, None)
    assert coach.write("POST", f"{base}/week/feeds/{feed['id']}/withdraw").status_code == 200
    assert given(stranger, link).status_code == 404
    assert coach.get(f"{base}/week/feeds").json["feeds"] == []
    assert coach.write("POST", f"{base}/week/feeds/{feed['id']}/withdraw").status_code == 404


def test_an_athletes_own_has_their_own_minutes_and_no_reason(app, db, squad, sign_in_as, staff, base):
    athlete = squad.athletes[0]
    athletes = sign_in_as(Role.ATHLETE)
    link = athletes.write("POST", f"{base}/own/feed").json["link"]
    saving.plan_own(db, squad.squad, {(athlete, squad.on(FRIDAY).id): 25.0}, stamp=Stamp(None, NOW))
    call = NewCall(new_ulid(), athlete, TODAY, CallKind.REFER, "meniscus", sure=True)
    make_call(db, squad.squad, call, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    answer = given(app.test_client(), link)
    assert minutes(answer, FRIDAY) == [25]
    assert not any(word in answer.text.lower() for word in ("meniscus", "refer", "rest", "call"))
    # Who is left out of a session does not find it in their calendar.
    saving.plan_own(db, squad.squad, {(athlete, squad.on(FRIDAY).id): 0.0}, stamp=Stamp(None, NOW))
    assert minutes(given(app.test_client(), link), FRIDAY) == []
    # A second link takes the place of the first.
    again = staff.write("POST", f"{base}/week/feeds", {"athlete_id": athlete}).json["link"]
    assert given(app.test_client(), link).status_code == 404
    assert given(app.test_client(), again).status_code == 200


def test_the_link_of_somebody_who_has_left_gives_nothing_more(app, db, squad, staff, base):
    link = staff.write("POST", f"{base}/week/feeds", {"athlete_id": squad.athletes[1]}).json["link"]
    assert given(app.test_client(), link).status_code == 200
    members.leave(db, squad.squad, squad.athletes[1], TODAY - timedelta(days=1), stamp=Stamp(squad.staff.id, NOW))
    db.flush()
    assert given(app.test_client(), link).status_code == 404
    nobody = staff.write("POST", f"{base}/week/feeds", {"athlete_id": 10**6})
    assert nobody.status_code == 404


def test_no_guess_opens_a_calendar_and_no_link_stands_in_a_log(app, staff, base, capfd):
    link = staff.write("POST", f"{base}/week/feeds", {"athlete_id": None}).json["link"]
    token = link.rsplit("/", 1)[1].removesuffix(".ics")
    assert len(token) > 40
    for guess in ("", "x", token[:-1], token.lower()):
        assert app.test_client().get(f"/api/calendars/{guess}.ics").status_code == 404
    given(app.test_client(), link)
    assert token not in capfd.readouterr().err
