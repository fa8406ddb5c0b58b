"""Tables of reports, results, matches and people: on our scales, on the right side, told row by row, taken back."""

from dataclasses import replace
from datetime import timedelta

import pytest
from sqlalchemy import select

from tests.conftest import NOW, TODAY
from uvren.services import files as imports
from uvren.services.files.tables.reports import scale_of
from uvren.services.session import making
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.squad import fitness_tests
from uvren.services.squad.fitness_results import NewResult, record
from uvren.services.stamp import Stamp
from uvren.store.models import (
    ALSO_CALLED_OFF,
    Athlete,
    FitnessResult,
    FitnessTest,
    ImportState,
    Membership,
    Report,
    Session,
    SessionKind,
    Source,
)

YESTERDAY = TODAY - timedelta(days=1)
BY = Stamp(None, NOW)


def asked(seen):
    return {question.key: [choice.value for choice in question.choices] for question in seen.questions}


def why(done):
    return " ".join(problem["why"] for problem in done.report["problems"])


def undone(db, squad, done):
    return imports.undo(db, squad.squad, done.id, stamp=BY, today=TODAY).report["kept"]


# Reports ----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("values", "ends"),
    [
        ([1, 2, 5], (1, 5)),
        ([1, 6, 7], (1, 7)),
        ([1, 8, 10], (1, 10)),
        ([0, 8, 10], (0, 10)),
        ([0, 55, 100], (0, 100)),
        # One slip among many is a slip, and no other scale.
        ([1, 2, 3, 4, 5, 4, 3, 2, 1, 3, 9], (1, 5)),
    ],
)
def test_a_scale_is_that_of_nearly_all_answers(values, ends):
    assert scale_of(values) == ends


def reports(db, squad):
    db.expire_all()
    found = db.scalars(select(Report).where(Report.squad_id == squad.squad.id).order_by(Report.day, Report.athlete_id))
    return [({code: one["value"] for code, one in report.answers.items()}, report.told_by) for report in found]


SORE = f"Date,Name,Sleep quality,Soreness\n{YESTERDAY},A,4,1\n{YESTERDAY},B,5,3\n"


@pytest.mark.parametrize(
    ("answer", "first", "second"),
    [("high", (8, 0), (10, 5)), ("mixed", (8, 10), (10, 5)), ("low", (3, 10), (0, 5))],
)
def test_answers_come_onto_our_scale_by_what_is_said_of_theirs(db, squad, looked, bring, answer, first, second):
    assert asked(looked(SORE)) == {"scale": ["high", "mixed", "low"]}
    done = bring(SORE, answers=(("scale", answer),))
    assert done.state is ImportState.DONE, done.report
    assert reports(db, squad) == [
        ({"sleep_quality": sleep, "soreness": sore}, "from a file") for sleep, sore in (first, second)
    ]
    assert undone(db, squad, done) == []
    assert reports(db, squad) == []


def test_hours_heart_rates_and_weights_are_no_scale(db, squad, bring):
    done = bring(f"Date,Name,Sleep hours,Resting heart rate\n{YESTERDAY},A,7.5,52\n")
    assert done.state is ImportState.DONE, done.report
    assert reports(db, squad) == [({"sleep_hours": 7.5, "resting_heart_rate": 52}, "from a file")]


def test_an_answer_off_the_scale_of_its_file_keeps_its_row_out(squad, bring):
    rows = "".join(f"{TODAY - timedelta(days=n)},A,{1 + n % 5}\n" for n in range(1, 12))
    done = bring(f"Date,Name,Mood\n{rows}{YESTERDAY},B,9\n", answers=(("scale", "high"),))
    assert done.state is ImportState.FAILED
    assert why(done) == "Mood: 9 is off the scale of this file, 1 to 5."


def test_two_reports_of_one_day_are_told_and_what_was_reported_before_stands(db, squad, bring):
    twice = bring(f"Date,Name,Mood\n{YESTERDAY},A,3\n{YESTERDAY},A,8\n{YESTERDAY},B,0\n")
    assert "Row 2 is a report of the same athlete and day." in why(twice)
    first = bring(f"Date,Name,Mood\n{YESTERDAY},A,3\n{YESTERDAY},B,0\n")
    assert first.report["reports"] == 2
    again = bring(f"Date,Name,Mood\n{YESTERDAY},A,9\n{YESTERDAY},C,0\n")
    assert (again.report["reports"], again.report["kept_apart"]) == (
        1,
        ["1 report stood there already; what was there stays."],
    )
    assert [answers["mood"] for answers, _ in reports(db, squad)] == [3, 0, 0]


def test_a_preview_says_how_many_reports_and_from_when_to_when(looked):
    seen = looked(f"Date,Name,Mood\n{YESTERDAY},A,3\n{YESTERDAY - timedelta(days=4)},B,0\n")
    assert seen.found == ["2 reports from Sat 7 March 2026 to Wed 11 March 2026"]


# Results of tests -------------------------------------------------------------------------------------------


@pytest.fixture
def trials(db, squad):
    """Tests of the squad by name."""
    fitness_tests.set_up(db, squad.squad, stamp=BY)
    return {test.name: test for test in db.scalars(select(FitnessTest).where(FitnessTest.squad_id == squad.squad.id))}


def results(db):
    db.expire_all()
    found = db.scalars(select(FitnessResult).order_by(FitnessResult.athlete_id, FitnessResult.side))
    return [(one.side, one.value) for one in found]


def test_sides_are_those_of_the_columns_or_of_the_row(db, squad, trials, bring):
    wide = bring(f"Name,Date,Isometric squat left (N),Isometric squat right (N)\nA,{YESTERDAY},900,950\n")
    assert wide.state is ImportState.DONE, wide.report
    assert results(db) == [("left", 900), ("right", 950)]
    assert undone(db, squad, wide) == []
    long = bring(f"Name,Date,Leg,Isometric squat (N)\nA,{YESTERDAY},L,900\nA,{YESTERDAY},right,950\n")
    assert long.state is ImportState.DONE, long.report
    assert results(db) == [("left", 900), ("right", 950)]


def test_without_a_side_there_is_no_telling_which_leg_it_was(squad, trials, bring):
    done = bring(f"Name,Date,Isometric squat (N)\nA,{YESTERDAY},900\n")
    assert "no column says which it was" in why(done)


def test_the_same_result_twice_is_told(squad, trials, bring):
    done = bring(f"Name,Date,Sprint 30 m (s)\nA,{YESTERDAY},4.2\nA,{YESTERDAY},4.3\n")
    assert "Row 2 has a result of the same test" in why(done)


def test_a_value_far_from_somebodys_own_is_asked_about_as_it_is_where_it_is_typed(db, squad, trials, looked, bring):
    test, athlete = trials["Sprint 30 m"], squad.athletes[0]
    for back, value in ((40, 4.2), (30, 4.25), (20, 4.22), (10, 4.21)):
        record(
            db, squad.squad, test, TODAY - timedelta(days=back), [NewResult(athlete, [value])], stamp=BY, today=TODAY
        )
    content = f"Name,Date,Sprint 30 m (s)\nA,{YESTERDAY},42.2\nB,{YESTERDAY},4.4\n"
    (question,) = looked(content).questions
    assert question.said.startswith("A: 42.2 s is far from their own")
    assert "42.2" in bring(content).report["wrong"]
    left = bring(content + "\n", answers=(("unlikely", "leave"),))
    assert (left.state, left.report["results"]) == (ImportState.DONE, 1)
    undone(db, squad, left)
    kept = bring(content + "\n\n", answers=(("unlikely", "keep"),))
    assert (kept.state, kept.report["results"]) == (ImportState.DONE, 2)


def test_a_result_that_was_changed_since_stays_when_the_file_is_taken_back(db, squad, trials, bring):
    done = bring(f"Name,Date,Sprint 30 m (s)\nA,{YESTERDAY},4.2\n")
    change = NewResult(squad.athletes[0], [4.1], version=1)
    record(db, squad.squad, trials["Sprint 30 m"], YESTERDAY, [change], stamp=BY, today=TODAY)
    assert undone(db, squad, done) == ["Sprint 30 m on Wed 11 March 2026 was changed since and stays."]
    assert results(db) == [("", 4.1)]


# Matches ----------------------------------------------------------------------------------------------------


def made(db, squad):
    db.expire_all()
    query = select(Session).where(Session.squad_id == squad.squad.id, Session.day > TODAY + timedelta(days=7))
    found = db.scalars(query.order_by(Session.starts_at), execution_options=ALSO_CALLED_OFF)
    return [(one.kind, one.title, one.opponent, one.venue, one.called_off) for one in found]


def test_a_list_of_matches_says_against_whom_and_where(db, squad, bring):
    rows = "2026-04-04,18:30,Vardal,H\n2026-04-11,17:00,@ Northby,\n2026-04-18,17:00,vs. Atlas,A\n"
    done = bring("Date,Time,Opponent,H/A\n" + rows)
    assert done.state is ImportState.DONE, done.report
    assert made(db, squad) == [
        (SessionKind.MATCH, "Match", "Vardal", "home", None),
        (SessionKind.MATCH, "Match", "Northby", "away", None),
        (SessionKind.MATCH, "Match", "Atlas", "away", None),
    ]


def test_what_is_said_of_no_start_is_told_and_a_match_is_made_once(db, squad, looked, bring):
    content = "Date,Opponent\n2026-04-04,Vardal\n2026-04-04,Vardal\n"
    assert "2 rows without a start: 15:00 is taken." in looked(content).notes
    done = bring(content)
    assert (done.report["fixtures"], len(made(db, squad))) == (1, 1)
    assert done.report["kept_apart"] == ["1 session stood there already; what was there stays."]


def test_a_row_without_opponent_and_name_is_told(bring):
    done = bring("Date,Opponent,Place\n2026-04-04,Vardal,Hall\n2026-04-05,,Hall\n")
    assert "no opponent and no name" in why(done)


def event(uid, start, name="Training", more=""):
    return f"BEGIN:VEVENT\r\nUID:{uid}\r\nDTSTART:{start}Z\r\nSUMMARY:{name}{more}\r\nEND:VEVENT\r\n"


def calendar(*events):
    return "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\n" + "".join(events) + "END:VCALENDAR\r\n"


def test_two_trainings_of_a_day_with_one_name_are_two(db, squad, bring):
    done = bring(
        calendar(event("a", "20260404T080000"), event("b", "20260404T160000")), "week.ics", made_kind=SessionKind.GYM
    )
    assert done.report["fixtures"] == 2
    assert {kind for kind, *_ in made(db, squad)} == {SessionKind.GYM}


def test_what_staff_called_off_stays_so_when_its_calendar_comes_again(db, squad, bring):
    bring(calendar(event("a", "20260404T160000", "Match v Vardal")), "games.ics")
    session = db.scalar(select(Session).where(Session.calendar_uid == "a"))
    making.call_off(db, squad.squad, session.id, "snow", version=session.version, stamp=BY)
    moved = bring(calendar(event("a", "20260405T160000", "Match v Vardal")), "games.ics")
    assert moved.report["changed"] == 1
    assert [off for *_, off in made(db, squad)] == ["snow"]
    off = bring(calendar(event("a", "20260405T160000", "Match v Vardal", "\r\nSTATUS:CANCELLED")), "games.ics")
    assert (off.report["changed"], [off for *_, off in made(db, squad)]) == (0, ["snow"])


def test_a_match_in_which_something_was_entered_took_place_and_stays_as_it_is(db, squad, bring):
    bring(calendar(event("a", "20260301T160000", "Match v Vardal")), "games.ics")
    session = db.scalar(select(Session).where(Session.calendar_uid == "a"))
    record_entries(db, squad.squad.id, [EntryChange(session.id, squad.athletes[0], 40, 8)], stamp=BY, today=TODAY)
    again = bring(calendar(event("a", "20260301T160000", "Match v Vardal", "\r\nSTATUS:CANCELLED")), "games.ics")
    assert again.report["changed"] == 0
    assert session.called_off is None


# People -----------------------------------------------------------------------------------------------------


def joined(db, squad):
    db.expire_all()
    query = select(Athlete, Membership).join(Membership).where(Membership.squad_id == squad.squad.id)
    found = db.execute(query.order_by(Membership.id)).all()
    return [(one.name, one.birth_year, member.number, member.position, str(member.from_day)) for one, member in found][
        4:
    ]


def test_people_come_in_as_the_list_has_them_or_not_at_all(db, squad, looked, bring):
    content = "No;Name;Position;Born;From\n14;Ada Tarn;wing;2001;2025-08-01\n#17;Bo Ostrel;back;3.4.1999;2025-08-01\n"
    assert looked(content).found == [
        "Ada Tarn, 14, wing, born 2001, from Fri 1 August 2025",
        "Bo Ostrel, 17, back, born 1999, from Fri 1 August 2025",
    ]
    done = bring(content)
    assert done.state is ImportState.DONE, done.report
    assert joined(db, squad) == [
        ("Ada Tarn", 2001, 14, "wing", "2025-08-01"),
        ("Bo Ostrel", 1999, 17, "back", "2025-08-01"),
    ]
    assert undone(db, squad, done) == []
    assert joined(db, squad) == []


@pytest.mark.parametrize(
    ("row", "said"),
    [
        # Another way to write a day is not taken for today.
        ("14;Ada Tarn;wing;2001;01/02/2026;", "01/02/2026 is not written as the other days are"),
        ("14;Ada Tarn;wing;2001;1901-02-01;", "too far off"),
        ("14;Ada Tarn;;2001;2025-08-01;", "It says no position"),
        ("14;Ada Tarn;wing;soon;2025-08-01;", "soon is no year of birth"),
        ("fourteen;Ada Tarn;wing;2001;2025-08-01;", "fourteen is no number"),
        ("14;Ada Tarn;wing;2001;2025-08-01;both", "both is neither left nor right"),
        ("14;A;wing;2001;2025-08-01;", "in the squad already"),
        ("14;Cy Moe;wing;2001;2025-08-01;", "Row 2 has the same name"),
    ],
)
def test_nothing_that_a_row_says_of_a_person_is_left_out_without_a_word(db, squad, bring, row, said):
    others = "1;Cy Moe;back;2000;2025-08-01;left\n2;Di Nord;back;2000;2025-08-02;\n3;Eva Orm;back;2000;2025-08-03;\n"
    content = f"No;Name;Position;Born;From;Side\n{others}{row}\n"
    refused = bring(content)
    assert refused.state is ImportState.FAILED
    assert said in why(refused)
    assert joined(db, squad) == []
    good = bring(content + "\n", good_rows=True)
    assert (good.state, len(joined(db, squad))) == (ImportState.DONE, 3)


def test_the_order_of_first_days_is_asked_and_what_is_answered_holds(db, squad, looked, bring):
    content = "Name,Position,From\nAda Tarn,wing,03/02/2026\nBo Ostrel,back,05/04/2025\n"
    assert asked(looked(content)) == {"order": ["day_first", "month_first"]}
    assert bring(content, answers=(("order", "month_first"),)).state is ImportState.DONE
    assert [day for *_, day in joined(db, squad)] == ["2026-03-02", "2025-05-04"]


def test_a_squad_that_knows_no_positions_is_shown_what_stands_in_their_place(looked):
    assert looked("Name,Born\nAda Tarn,2001\n").found == ["Ada Tarn, Athlete, born 2001, from Thu 12 March 2026"]


def test_who_has_entries_by_now_stays_when_the_list_is_taken_back(db, squad, bring):
    done = bring(f"Name,Position,From\nAda Tarn,wing,{YESTERDAY}\nBo Ostrel,back,{YESTERDAY}\n")
    ada = db.scalar(select(Athlete.id).where(Athlete.name == "Ada Tarn"))
    change = EntryChange(squad.on(YESTERDAY).id, ada, 60, 5, source=Source.STAFF)
    record_entries(db, squad.squad.id, [change], stamp=BY, today=TODAY)
    assert undone(db, squad, done) == ["Ada Tarn has entries or reports by now and stays in the squad."]
    assert [name for name, *_ in joined(db, squad)] == ["Ada Tarn"]


def test_a_file_of_nobody_new_says_so(squad, bring):
    done = bring("Name,Position\nA,wing\n", change=lambda spec: replace(spec, good_rows=True))
    assert done.state is ImportState.FAILED
    assert "Nothing in the file can come in" in done.report["wrong"] or "1 row cannot be read" in done.report["wrong"]
