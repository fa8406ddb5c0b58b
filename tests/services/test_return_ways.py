"""Ways to a date, the usual week by channel, and where plans go when data is taken out, erased or kept no longer."""

import io
import zipfile
from datetime import timedelta

import pytest
from sqlalchemy import func, select

from tests.conftest import NOW, TODAY
from tests.squad import noon
from uvren.core.audience import ALL, Audience
from uvren.core.body import Side, Site
from uvren.services import files as imports
from uvren.services.club import privacy
from uvren.services.club.squad_end import delete_squad
from uvren.services.return_ import plans, whole
from uvren.services.return_.matches import match_loads, usual_minutes
from uvren.services.return_.plans import NewPlan
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.planning import NewSession, plan_sessions
from uvren.services.session.work import WorkChange, record_work
from uvren.services.squad import squads
from uvren.services.squad.channels import Draft, save_channel
from uvren.services.squad.members import leave
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Club, ImportState, ReturnEvent, ReturnKind, ReturnPlan, SessionKind, Source

SECRET = "tendon, after the fall"


def hurt(db, squad, by, i=0, **more):
    given = {"kind": ReturnKind.INJURY, "first_day": TODAY, "first_off": TODAY - timedelta(days=21), "note": SECRET,
             "template": "shoulder", "site": Site.SHOULDER, "side": Side.RIGHT}  # fmt: skip
    return plans.begin(db, squad.squad, NewPlan(squad.athletes[i], **(given | more)), by)


def match(db, squad, day, minutes=None, effort=8.0):
    """A match of an hour; with ``minutes`` it was played, so long by each athlete."""
    (made,) = plan_sessions(db, squad.squad, [NewSession(noon(day), SessionKind.MATCH, "Quellby", 60, 8)])
    if minutes is not None:
        changes = [
            EntryChange(made.id, athlete, each, effort if each else None)
            for athlete, each in zip(squad.athletes, minutes, strict=True)
        ]
        record_entries(db, squad.squad.id, changes, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    return made


def ways(db, squad, plan, day=TODAY):
    return whole.read_whole(db, squad.squad, plan.id, day, TODAY, ALL).ways


def sunday(weeks_back):
    """A Sunday gone by, on which nothing but a match is."""
    return TODAY - timedelta(days=TODAY.weekday() + 1 + 7 * weeks_back)


def channels(db, squad):
    return queries.squad.channels(db, squad.squad.id)


def members(db, squad):
    return queries.squad.members(db, squad.squad.id, TODAY)


# Matches.
def test_what_a_match_is_comes_from_those_of_the_position_who_played_it(db, squad):
    # A and C are wings, B and D backs.
    match(db, squad, sunday(0), [60.0, 40.0, 20.0, 0.0])
    match(db, squad, sunday(1), [50.0, 60.0, 0.0, 0.0])
    found = match_loads(db, squad.squad, members(db, squad), channels(db, squad), TODAY)
    assert (found["wing"].n, found["wing"].minutes, found["wing"].loads["session_rpe"]) == (2, 55.0, 440.0)
    assert (found["back"].n, found["back"].loads["session_rpe"]) == (2, 400.0)
    assert found[""].n == 4
    assert usual_minutes(db, squad.squad, squad.athletes[0], TODAY) == 55.0
    assert usual_minutes(db, squad.squad, squad.athletes[3], TODAY) is None
    assert match_loads(db, squad.squad, members(db, squad), channels(db, squad), sunday(1)) == {}


def test_part_of_the_minutes_rises_with_the_climb_to_the_usual_ones(db, squad, by):
    match(db, squad, sunday(4), [50.0, 60.0, 0.0, 0.0])
    days = [TODAY + timedelta(days=one) for one in (3, 9, 16, 30)]
    ahead = [match(db, squad, day) for day in days]
    plan = hurt(db, squad, by, target_day=days[0], kind=ReturnKind.LAYOFF)
    later, quicker, part = ways(db, squad, plan)
    # A quarter, a half, and all of the fifty minutes that are usual.
    assert [(one.session_id, one.minutes) for one in part.matches] == [
        (ahead[0].id, 10.0), (ahead[1].id, 25.0), (ahead[2].id, 50.0), (ahead[3].id, 50.0),
    ]  # fmt: skip
    assert (later.target, later.costs) == (days[2], f"{ahead[0].name} and {ahead[1].name} missed")
    assert (quicker.possible, quicker.costs) == (False, "The date is within the week now running.")


def test_a_date_that_fits_or_is_not_there_asks_for_no_way(db, squad, by):
    plan = hurt(db, squad, by, target_day=TODAY + timedelta(days=60))
    assert ways(db, squad, plan) == []
    other = hurt(db, squad, by, i=1)
    assert ways(db, squad, other) == []


def test_a_later_date_is_the_first_match_that_can_be_met_or_the_first_day(db, squad, by):
    plan = hurt(db, squad, by, target_day=TODAY + timedelta(days=8))
    assert ways(db, squad, plan)[0].target == TODAY + timedelta(days=14)
    missed = match(db, squad, TODAY + timedelta(days=9))
    met = match(db, squad, TODAY + timedelta(days=17))
    later = ways(db, squad, plan)[0]
    assert (later.target, later.costs) == (met.day, f"{missed.name} missed")
    # One on the very day that would do is met.
    sooner = match(db, squad, TODAY + timedelta(days=14))
    assert ways(db, squad, plan)[0].target == sooner.day


# The usual week.
@pytest.fixture
def throws(db, squad):
    """A channel of throws: ninety on each court day of five weeks, by the first two."""
    first = TODAY - timedelta(days=56)
    draft = Draft("Throws", "throws", "counted", {"classes": [{"code": "full", "name": "Full", "weight": 1.0}]},
                  [SessionKind.COURT], ["shoulder"], "wedge", first, "agreed")  # fmt: skip
    save_channel(db, squad.squad, draft, code=None, recompute=True, stamp=Stamp(None, NOW), today=TODAY)
    counted = {"items": [{"class": "full", "surface": None, "posture": None, "count": 90.0}]}
    days = [one for one in squad.sessions if first <= one.day < TODAY - timedelta(days=21)]
    changes = [
        WorkChange(one.id, athlete, "counted", counted, source=Source.STAFF)
        for one in days
        for athlete in squad.athletes[:2]
    ]
    record_work(db, squad.squad.id, changes, stamp=Stamp(squad.staff.id, NOW), today=TODAY)


@pytest.mark.parametrize(
    ("off", "template", "held", "region"),
    [(21, "shoulder", 0, True), (28, "shoulder", 1, True), (28, "knee", 0, False), (21, "knee", 0, False)],
)
def test_what_springs_or_loads_the_region_climbs_on_its_own(db, squad, by, throws, off, template, held, region):
    site = Site.SHOULDER if template == "shoulder" else Site.KNEE
    plan = hurt(db, squad, by, first_off=TODAY - timedelta(days=off), template=template, site=site)
    (code,) = set(plan.parts) - {"session_rpe"}
    assert plan.parts[code]["held"] == held
    assert plan.parts[code]["region"] is region
    # Six court days a week.
    assert plan.parts[code]["reference"] == pytest.approx(540)
    lanes = whole.read_whole(db, squad.squad, plan.id, TODAY, TODAY, ALL).lanes
    assert [lane.held_until for lane in lanes][1] == (TODAY + timedelta(days=7 * held) if held else None)
    # Who never throws has nothing to climb to.
    assert set(hurt(db, squad, by, i=2).parts) == {"session_rpe"}


# Where plans go.
def test_who_may_not_read_clinical_detail_takes_no_reason_out_and_the_day_stays_as_bounded(db, squad, by, tmp_path):
    plan = hurt(db, squad, by)
    plans.measure(db, squad.squad, plan.id, "strength", 15.5, 20.0, by)
    plans.give_word(db, squad.squad, plan.id, SECRET, by)
    reader = imports.Reader(False, frozenset({Audience.DESK, Audience.REPORTS}))
    content = imports.take_out(db, squad.squad, reader, stamp=by.stamp, today=TODAY)
    package = zipfile.ZipFile(io.BytesIO(content))
    for name in package.namelist():
        for secret in (SECRET, "Strength, outward", "shoulder", "15.5"):
            assert secret.encode() not in package.read(name), (name, secret)
    other = squads.create_squad(db, db.get_one(Club, squad.squad.club_id), "other-one", "Other", "UTC", NOW)
    put = imports.put_down(db, other, tmp_path, "squad.zip", io.BytesIO(content), stamp=by.stamp)
    imports.queue(db, other, put.id, imports.preview(db, other, tmp_path / put.id, "squad.zip", today=TODAY).spec)
    assert imports.run(db, put.id, tmp_path, now=NOW, today=TODAY).state is ImportState.DONE
    (theirs,) = whole.running(db, other, TODAY, TODAY).values()
    (mine,) = whole.running(db, squad.squad, TODAY, TODAY).values()
    ours, his = mine.gate_on(TODAY), theirs.gate_on(TODAY)
    assert (his.change, his.cap, his.closed) == (ours.change, ours.cap, ours.closed)
    assert [one.load_in(one.weeks[0], "session_rpe") for one in (mine.climb, theirs.climb)] == [900.0, 900.0]


def test_an_athlete_has_a_copy_of_their_plan_and_forgotten_none_of_it_is_left(db, squad, by):
    hurt(db, squad, by)
    copy = privacy.copy_of(db, squad.squad, squad.athletes[0], stamp=by.stamp)
    package = zipfile.ZipFile(io.BytesIO(copy))
    names = package.namelist()
    assert any("return_plans" in name for name in names)
    assert any("return_events" in name for name in names)
    privacy.forget(db, squad.squad, squad.athletes[0], everything=False, stamp=by.stamp)
    assert (counted(db, ReturnPlan, squad), counted(db, ReturnEvent, squad)) == (0, 0)


def counted(db, model, squad):
    return db.scalar(select(func.count()).where(model.squad_id == squad.squad.id))


def test_a_plan_that_is_over_goes_when_the_club_keeps_it_no_longer_and_one_that_runs_stays(db, squad, by):
    club = db.get_one(Club, squad.squad.club_id)
    over = hurt(db, squad, by)
    plans.end(db, squad.squad, over.id, "well", by)
    hurt(db, squad, by, i=1)
    club.retention_days = 30
    privacy.keep_to_retention(db, club, now=NOW + timedelta(days=29))
    assert counted(db, ReturnPlan, squad) == 2
    assert privacy.keep_to_retention(db, club, now=NOW + timedelta(days=32)) == 1
    assert (counted(db, ReturnPlan, squad), counted(db, ReturnEvent, squad)) == (1, 1)


def test_a_squad_that_is_deleted_leaves_no_plan(db, squad, by):
    hurt(db, squad, by)
    delete_squad(db, squad.squad, squad.squad.name, stamp=by.stamp)
    assert (counted(db, ReturnPlan, squad), counted(db, ReturnEvent, squad)) == (0, 0)


def test_in_another_squad_nothing_of_a_plan_is_there(db, squad, by):
    plan = hurt(db, squad, by)
    other = squads.create_squad(db, db.get_one(Club, squad.squad.club_id), "other-one", "Other", "UTC", NOW)
    assert whole.running(db, other, TODAY, TODAY) == {}
    assert whole.evidence(db, other, plan.id, TODAY) is None
    assert whole.unmet(db, other, plan.id, TODAY) == []


def test_a_plan_says_nothing_more_of_somebody_who_has_left(db, squad, by):
    plan = hurt(db, squad, by)
    assert whole.unmet(db, squad.squad, plan.id, TODAY) == [
        "Pain, then next morning", "Range, arm raised", "Clinician’s word",
    ]  # fmt: skip
    leave(db, squad.squad, squad.athletes[0], TODAY - timedelta(days=1), stamp=by.stamp)
    assert whole.running(db, squad.squad, TODAY, TODAY) == {}
