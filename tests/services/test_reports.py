"""Reports arrive once, count once, and are never made up."""

from dataclasses import replace
from datetime import timedelta

import pytest
from sqlalchemy import func, select

from tests.conftest import NOW, TODAY
from uvren.core.body import Pain, Side, Site
from uvren.core.reports import ReportKind
from uvren.services import reports
from uvren.services.day import facts
from uvren.services.errors import Invalid, NotFound
from uvren.services.reports import NewForm, Told
from uvren.services.return_ import clinical
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Availability, Complaint, Report, Source
from uvren.store.types import new_ulid

YESTERDAY = TODAY - timedelta(days=1)


@pytest.fixture
def tell(db, squad):
    """Give a report of the first athlete for today; returns what became of it."""

    def go(by=None, **more):
        given = Told(
            id=new_ulid(), athlete_id=squad.athletes[0], kind=ReportKind.DAILY, day=TODAY,
            answers={"mood": 7.0, "sleep_hours": 7.5}, made_at=NOW,
        )  # fmt: skip
        told = replace(given, **more)
        return reports.give(db, squad.squad, told, stamp=Stamp(by or squad.staff.id, NOW), today=TODAY)

    return go


def session_report(squad, **more):
    session = squad.on(YESTERDAY)
    return {"kind": ReportKind.SESSION, "day": YESTERDAY, "session_id": session.id} | more


def unrate(db, squad, minutes):
    """Take the first athlete's rating of yesterday away, as staff can."""
    entry = squad.entry(db, squad.athletes[0], YESTERDAY)
    blank = EntryChange(entry.session_id, squad.athletes[0], minutes, None, version=entry.version)
    record_entries(db, squad.squad.id, [blank], stamp=Stamp(squad.staff.id, NOW), today=TODAY)


def count(db, **where):
    return db.scalar(select(func.count()).select_from(Report).filter_by(**where))


def test_a_report_sent_twice_is_there_once(db, tell):
    key = new_ulid()
    first = tell(id=key)
    again = tell(id=key, answers={"mood": 1.0})
    assert again.report is first.report
    assert count(db, id=key) == 1
    assert first.report.answers["mood"] == {"value": 7.0, "good": "high"}
    assert first.report.answers["sleep_hours"]["good"] == "neither"


def test_a_changed_report_replaces_the_one_that_was_seen_and_both_are_kept(db, squad, tell):
    first = tell().report
    second = tell(replaces=first.id, answers={"mood": 4.0}).report
    assert (first.counts, second.counts, second.rival) == (False, True, False)
    shown = reports.day_of_reports(db, squad.squad, TODAY, NOW)
    assert [row.daily.id for row in shown if row.daily] == [second.id]


def test_of_two_reports_made_unknown_to_each_other_the_first_counts_until_the_athlete_chooses(db, squad, tell):
    first, second = tell().report, tell(answers={"mood": 2.0}).report
    assert (first.counts, second.counts, second.rival) == (True, False, True)
    own = reports.own_day(db, squad.squad, squad.athletes[0], now=NOW, today=TODAY)
    assert [rival.id for rival in own.dues[0].rivals] == [second.id]
    athlete = squad.athletes[0]
    reports.choose(db, squad.squad, athlete, second.id, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    own = reports.own_day(db, squad.squad, athlete, now=NOW, today=TODAY)
    assert (own.dues[0].given.id, own.dues[0].rivals) == (second.id, ())
    with pytest.raises(NotFound):
        reports.choose(db, squad.squad, squad.athletes[1], second.id, stamp=Stamp(1, NOW), today=TODAY)


def test_a_session_report_rates_the_session_and_moves_the_daily_load(db, squad, tell):
    unrate(db, squad, minutes=None)
    tell(**session_report(squad, answers={"minutes": 50.0, "effort": 8.5, "session_energy": 3.0}, words="heavy"))
    entry = squad.entry(db, squad.athletes[0], YESTERDAY)
    assert (entry.minutes, entry.effort, entry.words, entry.source) == (50, 8.5, "heavy", Source.ATHLETE)
    assert squad.daily(db, squad.athletes[0], YESTERDAY).load == 425


def test_minutes_from_the_side_stand_and_the_effort_is_the_athletes(db, squad, tell):
    unrate(db, squad, minutes=45.0)
    assert not tell(**session_report(squad, answers={"minutes": 60.0, "effort": 7.0})).disagrees
    entry = squad.entry(db, squad.athletes[0], YESTERDAY)
    assert (entry.minutes, entry.effort) == (45, 7)


def test_a_rating_that_staff_typed_stands_beside_the_athletes_until_one_is_taken(db, squad, tell):
    session, athlete = squad.on(YESTERDAY), squad.athletes[0]
    typed = EntryChange(session.id, athlete, 60.0, 6.0, version=squad.entry(db, athlete, YESTERDAY).version)
    record_entries(db, squad.squad.id, [typed], stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    given = tell(**session_report(squad, answers={"minutes": 60.0, "effort": 8.0}))
    assert given.disagrees
    assert squad.entry(db, athlete, YESTERDAY).effort == 6
    (both,) = reports.disagreements(db, squad.squad.id, TODAY)
    assert both[0].id == given.report.id
    reports.settle(db, squad.squad, given.report.id, True, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    assert squad.entry(db, athlete, YESTERDAY).effort == 8
    assert reports.disagreements(db, squad.squad.id, TODAY) == []


def test_pain_goes_to_the_clinician_at_once_and_is_not_told_twice_when_the_report_changes(db, squad, tell):
    knee = Pain(Site.KNEE, Side.LEFT, 4)
    first = tell(pains=[knee], ill=True, clinical_words="since the landing").report
    assert queries.return_.unseen(db, squad.squad.id, TODAY) == 2
    tell(replaces=first.id, pains=[knee, Pain(Site.HEAD, None, 2)], ill=True, clinical_words="since the landing")
    found = clinical.complaints(db, squad.squad, TODAY, stamp=Stamp(squad.staff.id, NOW))
    assert sorted(facts.said_of(one) for one in found) == ["head, 2 of 10", "illness", "left knee, 4 of 10"]
    one = found[0]
    clinical.answer(db, squad.squad, one.id, "iced", False, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    assert queries.return_.unseen(db, squad.squad.id, TODAY) == 2
    assert (one.seen_by, one.answer) == (squad.staff.id, "iced")


def test_what_is_restricted_later_ends_what_stood(db, squad):
    athlete = squad.athletes[0]

    def restrict(**more):
        given = {"athlete_id": athlete, "availability": Availability.LIMITED, "change": "no jumps", "reason": "knee",
                 "from_day": TODAY, "to_day": None} | more  # fmt: skip
        new = clinical.NewRestriction(**given)
        return clinical.restrict(db, squad.squad, new, stamp=Stamp(squad.staff.id, NOW), today=TODAY)

    first = restrict()
    later = TODAY + timedelta(days=2)
    restrict(availability=Availability.OUT, change="", from_day=later, replaces=first.id)
    standing = [queries.return_.restrictions_on(db, squad.squad.id, TODAY + timedelta(days=n)) for n in range(4)]
    assert [[one.availability.value for one in day] for day in standing] == [["limited"], ["limited"], ["out"], ["out"]]
    for change, field in (({"change": " "}, "change"), ({"to_day": TODAY - timedelta(days=1)}, "to_day"),
                          ({"from_day": YESTERDAY}, "from_day")):  # fmt: skip
        with pytest.raises(Invalid) as refused:
            restrict(**change)
        assert refused.value.field == field


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"answers": {}}, "answers"),
        ({"answers": {"mood": 12.0}}, "answers.mood"),
        ({"day": TODAY + timedelta(days=1)}, "day"),
        ({"day": TODAY - timedelta(days=8)}, "day"),
        ({"told_by": " "}, "told_by"),
        ({"words": "x" * 2001}, "words"),
        ({"made_at": NOW - timedelta(days=30)}, "made_at"),
    ],
)
def test_a_report_that_cannot_be_is_refused_at_its_field_and_leaves_nothing(db, squad, tell, change, field):
    with pytest.raises(Invalid) as refused:
        tell(**change)
    assert refused.value.field == field
    assert count(db, athlete_id=squad.athletes[0]) == 0
    assert db.scalar(select(func.count()).select_from(Complaint)) == 0


def test_a_session_that_is_to_come_or_of_another_day_is_not_rated(squad, tell):
    today = squad.on(TODAY)
    with pytest.raises(Invalid, match="not begun"):
        tell(kind=ReportKind.SESSION, session_id=today.id, answers={"effort": 5.0})
    with pytest.raises(NotFound):
        tell(kind=ReportKind.SESSION, day=YESTERDAY, session_id=today.id, answers={"effort": 5.0})


def test_who_is_missing_is_said_with_since_when_and_nothing_is_filled_in(db, squad, tell):
    tell(athlete_id=squad.athletes[1], day=TODAY - timedelta(days=3))
    before = count(db, squad_id=squad.squad.id)
    shown = {row.member.athlete_id: row for row in reports.day_of_reports(db, squad.squad, TODAY, NOW)}
    assert shown[squad.athletes[1]].missing_since == TODAY - timedelta(days=2)
    assert shown[squad.athletes[1]].daily is None
    assert count(db, squad_id=squad.squad.id) == before


def test_an_asked_form_holds_from_its_day_in_its_order_and_words(db, squad, tell):
    later = TODAY + timedelta(days=3)
    words = {"mood": {"question": "Wie ist die Stimmung?", "low": "mies", "high": "bestens"}}
    new = NewForm(ReportKind.DAILY, ["mood", "energy"], [0, 3], words, later)
    reports.save_form(db, squad.squad, new, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    forms = reports.Forms(db, squad.squad.id)
    assert len(forms.on(ReportKind.DAILY, TODAY).asked) == 7
    form = forms.on(ReportKind.DAILY, later)
    assert (form.asked[0].item.code, form.asked[0].question) == ("mood", "Wie ist die Stimmung?")
    assert form.asked[1].question == "How much energy do you have?"
    assert form.is_asked(TODAY + timedelta(days=4))
    assert not form.is_asked(TODAY + timedelta(days=5))
    with pytest.raises(Invalid) as refused:
        reports.save_form(db, squad.squad, replace(new, from_day=YESTERDAY), stamp=Stamp(1, NOW), today=TODAY)
    assert refused.value.field == "from_day"


def test_an_athlete_is_asked_for_the_mornings_the_week_and_the_sessions_they_have_not_rated(db, squad):
    unrate(db, squad, minutes=60.0)
    own = reports.own_day(db, squad.squad, squad.athletes[0], now=NOW, today=TODAY)
    asked = [(due.kind.value, due.day) for due in own.dues]
    assert asked == [("daily", TODAY), ("daily", YESTERDAY), ("weekly", TODAY - timedelta(days=3)),
                     ("session", YESTERDAY)]  # fmt: skip
