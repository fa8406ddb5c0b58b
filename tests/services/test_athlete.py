"""One athlete: notices morning by morning, zones, recovery windows, opened figures, and tomorrow after a call."""

from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from uvren.core.audience import ALL, Audience
from uvren.core.body import Pain, Side, Site
from uvren.core.day import CallKind
from uvren.core.recovery import System
from uvren.core.reports import ReportKind
from uvren.services.athlete.timeline import open_figure, read_timeline
from uvren.services.day.desk import open_desks
from uvren.services.errors import Invalid, NotFound
from uvren.services.morning import read_evidence
from uvren.services.morning.noticed import notice_runs
from uvren.services.reports import Told, give_many
from uvren.services.return_ import clinical
from uvren.services.session import planning
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.work import WorkChange, record_work
from uvren.services.squad.anchors import NewAnchor, set_anchor
from uvren.services.squad.channels import Draft, save_channel
from uvren.services.stamp import Stamp
from uvren.store.models import AnchorKind, SessionKind, Source, Venue
from uvren.store.types import new_ulid

EVERYONE = frozenset(Audience)


def rate(db, squad, efforts, i=0):
    """Change the efforts of the last days of an athlete, yesterday last; rest days in between are passed over."""
    done = [session for session in squad.sessions if session.day < TODAY][-len(efforts) :]
    changes = [
        EntryChange(session.id, squad.athletes[i], 60.0, effort, version=1)
        for session, effort in zip(done, efforts, strict=True)
    ]
    record_entries(db, squad.squad.id, changes, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    return [session.day for session in done]


def varied(*last):
    return [4.0, 6.0] * 15 + list(last)


def test_notices_of_mornings_running_are_one_run_with_its_first_and_last_day(db, squad):
    days = rate(db, squad, [9.0] * 4)
    runs = notice_runs(db, squad.squad, squad.athletes[0], TODAY, TODAY, EVERYONE)
    broken = [run for run in runs if run.code == "limit_broken" and "week before" in run.sentence]
    assert len(broken) == 1
    assert days[0] < broken[0].first <= broken[0].last == TODAY
    calm = notice_runs(db, squad.squad, squad.athletes[1], TODAY, TODAY, EVERYONE)
    assert not [run for run in calm if run.code == "limit_broken"]
    with pytest.raises(NotFound):
        notice_runs(db, squad.squad, 10**6, TODAY, TODAY, EVERYONE)


def test_what_is_not_for_everybody_is_in_nobody_elses_runs(db, squad):
    pain = Pain(Site.SHOULDER, Side.RIGHT, 7)
    clinical.record_injury(
        db, squad.squad, squad.athletes[0], pain, None, stamp=Stamp(squad.staff.id, NOW), today=TODAY
    )
    mine = notice_runs(db, squad.squad, squad.athletes[0], TODAY, TODAY, EVERYONE)
    assert "complaint" in {run.code for run in mine}
    coach = notice_runs(db, squad.squad, squad.athletes[0], TODAY, TODAY, frozenset({Audience.DESK}))
    assert "complaint" not in {run.code for run in coach}


def test_zones_are_those_that_were_given_by_day(db, squad):
    yesterday = squad.on(TODAY - timedelta(days=1))
    change = WorkChange(yesterday.id, squad.athletes[0], "zones", {"minutes": [30.0, 20.0, 10.0]}, source=Source.STAFF)
    record_work(db, squad.squad.id, [change], stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    line = read_timeline(db, squad.squad, squad.athletes[0], TODAY, TODAY, audiences=ALL)
    at = line.days.index(yesterday.day)
    assert [zone[at] for zone in line.zones.minutes] == [30, 20, 10]
    assert sum(map(sum, line.zones.minutes)) == 60
    assert read_timeline(db, squad.squad, squad.athletes[1], TODAY, TODAY, audiences=ALL).zones is None


def test_matches_and_races_stand_under_their_names_done_and_to_come(db, squad):
    def new(days, title, **more):
        at = NOW + timedelta(days=days)
        return planning.NewSession(at, more.pop("kind", SessionKind.MATCH), title, 60, 8, **more)

    wanted = [
        new(-9, "Match", opponent="Ivelund", venue=Venue.AWAY),
        new(2, "Race"),
        new(1, "Court", kind=SessionKind.COURT),
    ]
    planning.plan_sessions(db, squad.squad, wanted)
    found = read_timeline(db, squad.squad, squad.athletes[0], TODAY, TODAY, audiences=ALL).competitions
    assert [(one.day, one.name, one.match) for one in found] == [
        (TODAY - timedelta(days=9), "Match against Ivelund", True),
        (TODAY + timedelta(days=2), "Race", False),
    ]


def test_a_heavy_day_leaves_the_windows_open_of_what_it_loads(db, squad):
    day = rate(db, squad, varied(10.0))[-1]
    windows = read_timeline(db, squad.squad, squad.athletes[0], TODAY, TODAY, audiences=ALL).windows
    assert {one.system for one in windows} == {System.MUSCLE, System.ENERGY}
    for one in windows:
        assert one.begins.date() == day
        assert one.begins < one.early <= one.late
    assert not read_timeline(db, squad.squad, squad.athletes[1], TODAY, TODAY, audiences=ALL).windows


def test_who_has_just_begun_is_a_beginner_until_half_a_year_is_over(db, squad):
    begun = TODAY - timedelta(days=30)
    for i, years in enumerate((0.1, 0.45)):
        anchor = NewAnchor(squad.athletes[i], AnchorKind.EXPERIENCE_YEARS, years, None, begun, "asked")
        set_anchor(db, squad.squad, anchor, stamp=Stamp(squad.staff.id, NOW), today=begun)
    desk = open_desks(db, squad.squad, TODAY, TODAY, with_facts=True)[0].desk
    # The second has passed half a year since; of the others nothing is known.
    assert desk.beginner.tolist() == [True, False, False, False]


def test_each_call_says_how_tomorrow_looks_after_it(db, squad):
    evidence = read_evidence(db, squad.squad, squad.athletes[0], TODAY, TODAY, None, ALL)
    by_kind = {one.kind: one for one in evidence.outcomes}
    assert by_kind[CallKind.FULL].tomorrow.startswith("Fri 13 March’s plan then fits, ")
    rate(db, squad, [8.0] * 5)
    evidence = read_evidence(db, squad.squad, squad.athletes[0], TODAY, TODAY, None, ALL)
    by_kind = {one.kind: one for one in evidence.outcomes}
    full, rest = by_kind[CallKind.FULL], by_kind[CallKind.REST]
    assert full.tomorrow_over > rest.tomorrow_over
    assert "too much" in full.tomorrow


def test_room_opens_to_what_each_limit_leaves(db, squad):
    opened = open_figure(db, squad.squad, squad.athletes[0], TODAY, TODAY, "room")
    desk = open_desks(db, squad.squad, TODAY, TODAY, {squad.athletes[0]})[0].desk
    assert opened.value == pytest.approx(desk.rooms[0].load)
    assert len(opened.steps) == 4


def test_a_reported_item_opens_to_its_answers(db, squad):
    days = [TODAY - timedelta(days=back) for back in range(20)]
    give_many(
        db,
        squad.squad,
        [
            Told(new_ulid(), squad.athletes[0], ReportKind.DAILY, day, {"energy": 7.0 + back % 2}, NOW)
            for back, day in enumerate(days)
        ],
    )
    opened = open_figure(db, squad.squad, squad.athletes[0], TODAY, TODAY, "change:energy")
    assert len(opened.days) == 20
    assert opened.value == pytest.approx((7.0 - 143 / 19) / 0.5129891760425771)
    with pytest.raises(Invalid) as refused:
        open_figure(db, squad.squad, squad.athletes[0], TODAY, TODAY, "change:readiness")
    assert refused.value.field == "figure"


def test_load_of_a_channel_names_the_regions_it_stresses(db, squad):
    desks = open_desks(db, squad.squad, TODAY, TODAY, with_facts=True)
    lane = read_evidence(db, squad.squad, squad.athletes[0], TODAY, TODAY).lane
    assert all(said.regions == [] for said in lane.notices)
    desks[0].channel.regions = ["shoulder"]
    rate(db, squad, [9.0] * 4)
    lane = read_evidence(db, squad.squad, squad.athletes[0], TODAY, TODAY).lane
    assert {tuple(said.regions) for said in lane.notices if said.limit} == {("shoulder",)}


def test_on_a_past_morning_the_work_of_that_day_was_still_to_come(db, squad):
    yesterday = TODAY - timedelta(days=1)
    draft = Draft("Throws", "throws", "counted", {"classes": [{"code": "full", "name": "Full", "weight": 1.0}]},
                  [SessionKind.COURT], ["shoulder"], "wedge", TODAY - timedelta(days=40), "agreed")  # fmt: skip
    save_channel(db, squad.squad, draft, code=None, recompute=True, stamp=Stamp(None, NOW), today=TODAY)
    counted = {"items": [{"class": "full", "surface": None, "posture": None, "count": 90.0}]}
    change = WorkChange(squad.on(yesterday).id, squad.athletes[0], "counted", counted, source=Source.STAFF)
    record_work(db, squad.squad.id, [change], stamp=Stamp(squad.staff.id, NOW), today=TODAY)

    def thrown(as_of):
        desk = open_desks(db, squad.squad, as_of, TODAY, with_facts=True)[0].desk
        work = next(one for one in desk.work if one.name == "Throws")
        return work.load[0, desk.planned.column(yesterday)]

    assert thrown(TODAY) == 90
    assert thrown(yesterday) == 0
