"""A session in match terms: what is measured by whose matches, tracks, likeness, and the pattern put into the plan."""

from datetime import UTC, date, datetime, timedelta

import numpy as np
import pytest

from tests.squad import noon
from uvren.core.day import CallKind
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.services.field.noting import NewEvent, note
from uvren.services.morning.calls import NewCall, make_call
from uvren.services.morning.sheet import read_sheet
from uvren.services.return_ import clinical
from uvren.services.return_.clinical import NewRestriction
from uvren.services.session import planning
from uvren.services.session.demands import read_match_terms
from uvren.services.session.drills import Count, Library, read_library
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.gamelike import read_game_like
from uvren.services.session.making import delete_session, restore_session
from uvren.services.session.pattern import plan_parts, put_pattern
from uvren.services.session.recordings import keep
from uvren.services.session.sheet import as_paper, sentences_of
from uvren.services.squad.channels import Draft, save_channel
from uvren.services.stamp import Stamp
from uvren.store.models import Availability, FieldKind, Recording, RecordingKind, SessionKind
from uvren.store.types import new_ulid

GAME, SLOW = (6, 16), (30, 20)


@pytest.fixture
def stamp(squad):
    return Stamp(squad.staff.id, noon(squad.today))


@pytest.fixture
def matches(db, squad, stamp):
    """Five matches: A plays all of each, B two thirds, C a little, D one of them."""
    days = [squad.today - timedelta(days=i) for i in (9, 16, 23, 30, 37)]
    made = planning.plan_sessions(
        db, squad.squad, [planning.NewSession(noon(day), SessionKind.MATCH, "Match", 60, 8) for day in days]
    )
    a, b, c, d = squad.athletes
    changes = [
        EntryChange(one.id, athlete, minutes, 8.0)
        for i, one in enumerate(made)
        for athlete, minutes in ((a, 60.0), (b, 40.0), (c, 10.0), (d, 60.0 if i == 0 else 0.0))
    ]
    record_entries(db, squad.squad.id, changes, stamp=stamp, today=squad.today)
    return made


@pytest.fixture
def ran(db, squad):
    """Lets a pod record somebody in a session: seconds on at 4 m/s and off at 0.2, for some minutes."""

    def go(session, athlete, pattern, minutes, begins=0.0, on_speed=4.0):
        on, off = pattern
        speed = np.tile(np.concatenate([np.full(on, on_speed), np.full(off, 0.2)]), 1 + int(minutes * 60) // (on + off))
        speed = speed[: int(minutes * 60)]
        kept = keep(RecordingKind.POSITION, {"t": np.arange(speed.size) * 1.0, "speed": speed})
        db.add(
            Recording(
                squad_id=squad.squad.id, athlete_id=athlete, session_id=session.id, kind=RecordingKind.POSITION,
                device="pod", starts_at=session.starts_at + timedelta(seconds=begins), seconds=kept.seconds,
                samples=kept.samples, dropped=0, coverage=1.0, summary=kept.summary, data=kept.data,
            )
        )  # fmt: skip
        db.flush()
        return float(speed[:-1].sum())

    return go


def row_of(terms, athlete):
    return next(row for row in terms.rows if row.athlete_id == athlete)


def test_each_is_measured_by_their_own_matches_else_the_positions_else_everybodys(db, squad, matches):
    session = squad.on(squad.today - timedelta(days=1))
    terms = read_match_terms(db, squad.squad, session.id, squad.today)
    a, b, c, d = squad.athletes
    # A court session of 60 min at 5 against 60 min at 8, and 40 min at 8.
    assert (row_of(terms, a).shares[0].of, row_of(terms, a).shares[0].percent) == ("own", pytest.approx(62.5))
    assert (row_of(terms, b).shares[0].of, row_of(terms, b).shares[0].percent) == ("own", pytest.approx(93.75))
    # C is a wing as A is: five parts of A are what a match is. D is a back as B is: five of B and one own.
    assert (row_of(terms, c).shares[0].of, row_of(terms, c).shares[0].match) == ("position", pytest.approx(480))
    assert row_of(terms, d).shares[0].match == pytest.approx((5 * 320 + 480) / 6)
    # The squad is what all did together of what a match would have been for them.
    assert terms.squad[0] == pytest.approx(4 * 300 / (480 + 320 + 480 + (5 * 320 + 480) / 6) * 100)
    assert terms.said.replace("\u00a0", " ") == "The session came to 74 % of a match in load."
    assert terms.matches == 5


def test_too_few_parts_of_a_position_are_no_measure(db, squad, matches, stamp):
    _, b, _, d = squad.athletes
    changes = [EntryChange(one.id, b, 10.0, 8.0, version=1) for one in matches]
    record_entries(db, squad.squad.id, changes, stamp=stamp, today=squad.today)
    terms = read_match_terms(db, squad.squad, squad.on(squad.today - timedelta(days=1)).id, squad.today)
    # Of backs only D has played one: that is everybody's match, not theirs.
    assert {row_of(terms, one).shares[0].of for one in (b, d)} == {"everybody"}
    assert next(group for group in terms.groups if group.position == "back").parts == 0


def test_before_the_first_match_nothing_is_measured(db, squad):
    terms = read_match_terms(db, squad.squad, squad.on(squad.today - timedelta(days=1)).id, squad.today)
    assert terms.matches == 0
    assert terms.said.startswith("No match has been played yet")
    assert {share.why for row in terms.rows for share in row.shares} == {"no match yet"}
    assert read_game_like(db, squad.squad, terms.session.id) is None


def test_a_session_to_come_is_told_as_it_is_planned(db, squad, matches):
    a = squad.athletes[0]
    later = squad.on(squad.today + timedelta(days=2))
    terms = read_match_terms(db, squad.squad, later.id, squad.today)
    # Planned for 60 min at 5, against own matches of 60 min at 8.
    share = row_of(terms, a).shares[0]
    assert (terms.planned, share.percent, share.estimated) == (True, pytest.approx(62.5), True)
    assert terms.said.replace("\u00a0", " ") == "As planned the session comes to about 74 % of a match in load."
    with pytest.raises(NotFound):
        read_match_terms(db, squad.squad, "0" * 26, squad.today)


def test_whoever_is_called_less_is_told_so_in_match_terms(db, squad, matches, stamp):
    a, today = squad.athletes[0], squad.today
    new = NewCall(new_ulid(), a, today, CallKind.MINIMUM, reason="slept badly")
    make_call(db, squad.squad, new, stamp=stamp, today=today)
    line = next(one for one in read_sheet(db, squad.squad, today, today).lines if one.athlete_id == a)
    # Three tenths of 60 min at 5, of a match of 480.
    assert line.how.replace("\u00a0", " ").endswith("about 20 % of a match")
    # What is left of today's session is so in match terms too.
    row = row_of(read_match_terms(db, squad.squad, squad.on(today).id, today), a)
    assert (row.minutes, row.shares[0].percent) == (pytest.approx(18), pytest.approx(18.75))
    # What a clinician allows is told in minutes alone: it is no call.
    b = squad.athletes[1]
    half = NewRestriction(b, Availability.LIMITED, "easy only", "", today, None, minutes_share=0.5)
    clinical.restrict(db, squad.squad, half, stamp=stamp, today=today)
    assert (
        "match" not in next(one for one in read_sheet(db, squad.squad, today, today).lines if one.athlete_id == b).how
    )


def test_a_part_to_come_is_told_as_the_like_was_done(db, squad, matches, ran, in_parts, stamp):
    first = date(2024, 1, 1)
    draft = Draft("Fast running", "m", "position", {"measure": "distance_above", "speed": 5.0},
                  [SessionKind.COURT, SessionKind.MATCH], ["thigh"], "fork", first, "agreed")  # fmt: skip
    save_channel(db, squad.squad, draft, code=None, recompute=True, stamp=stamp, today=squad.today)
    a, (yesterday, later) = squad.athletes[0], in_parts
    for one in matches:
        ran(one, a, GAME, 60, on_speed=5.5)
    ran(yesterday, a, GAME, 40, on_speed=5.5)
    terms = read_match_terms(db, squad.squad, later.id, squad.today)
    by_name = {part.name: part.percents for part in terms.parts}
    everybody = next(one for one in terms.match if one.position == "")
    # 30 min of a session at 5 whose parts weigh 1, 3 and 2: 300 in all, of it 90 parts of 140.
    assert by_name["Open play"][0] == pytest.approx(300 * 90 / 140 / everybody.load[0] * 100)
    # Run as in a match, half as long: half as far.
    assert by_name["Open play"][1] == pytest.approx(50, abs=1)
    assert by_name["Finishing"][1] is None
    assert everybody.a_minute[1] == pytest.approx(everybody.load[1] / 60)


def test_drills_tell_what_a_minute_comes_to(db, squad, matches, ran, in_parts, stamp):
    a, b = squad.athletes[:2]
    yesterday = in_parts[0]
    for one in matches:
        ran(one, a, GAME, 60)
    ran(yesterday, a, GAME, 40)
    ran(yesterday, b, SLOW, 40)
    # 60 throws in the half hour of open play, by four people; one after the end is of no part.
    at = [15, 20, 39.9, 61]
    events = [
        NewEvent(new_ulid(), FieldKind.COUNT, yesterday.starts_at + timedelta(minutes=one), a, amount=20, what="throw")
        for one in at
    ]
    note(db, squad.squad, yesterday.id, events, stamp=stamp)
    library = read_library(db, squad.squad, squad.today)
    play = next(one for one in library.drills if one.name == "Open play")
    assert (play.times, play.minutes, play.weight, play.last) == (1, 30, 3, yesterday.day)
    assert (play.effort, play.rated) == (pytest.approx(5 * 3 / (140 / 60)), 1)
    assert play.counts == [Count("throw", pytest.approx(60 / 30 / 4))]
    assert {name: one.people for name, one in play.positions.items()} == {"wing": 1, "back": 1}
    assert play.positions["wing"].metres == pytest.approx(library.match.metres, rel=0.02)
    assert play.running.people == 2
    assert 0.5 < play.like < 0.99
    # What was planned and not done yet is no drill that is known.
    assert all(one.times == 1 for one in library.drills)


def test_before_anything_is_known_there_are_no_drills(db, squad):
    assert read_library(db, squad.squad, squad.today) == Library([], None)


def test_distance_and_its_hardest_minute_come_from_pods(db, squad, matches, ran):
    a = squad.athletes[0]
    games = [ran(one, a, GAME, 60) for one in matches[:4]]
    session = squad.on(squad.today - timedelta(days=1))
    metres = ran(session, a, GAME, 30)
    terms = read_match_terms(db, squad.squad, session.id, squad.today)
    at = [figure.code for figure in terms.figures].index("distance")
    share = row_of(terms, a).shares[at]
    assert share.amount == pytest.approx(metres)
    assert share.percent == pytest.approx(metres / np.mean(games) * 100)
    # The same runs: the hardest minute is as hard.
    assert share.peak == pytest.approx(100, abs=1)
    assert row_of(terms, squad.athletes[1]).shares[at].why == "no match yet"


def test_a_pod_that_is_started_anew_goes_on(db, squad, matches, ran):
    a, session = squad.athletes[0], squad.on(squad.today - timedelta(days=1))
    for one in matches[:4]:
        ran(one, a, GAME, 60)
    both = ran(session, a, GAME, 10) + ran(session, a, GAME, 10, begins=900)
    terms = read_match_terms(db, squad.squad, session.id, squad.today)
    assert row_of(terms, a).shares[1].amount == pytest.approx(both)


@pytest.fixture
def in_parts(db, squad, stamp):
    """Yesterday in three parts, and the same parts again in three days."""
    parts = (
        planning.NewSegment("Warm-up", 10, 1.0),
        planning.NewSegment("Open play", 30, 3.0),
        planning.NewSegment("Finishing", 20, 2.0),
    )
    days = [squad.today - timedelta(days=1), squad.today + timedelta(days=3)]
    at = [datetime(day.year, day.month, day.day, 16, tzinfo=UTC) for day in days]
    wanted = [planning.NewSession(one, SessionKind.COURT, "Evening", 60, 5, segments=parts) for one in at]
    made = planning.plan_sessions(db, squad.squad, wanted)
    changes = [EntryChange(made[0].id, athlete, 60.0, 5.0) for athlete in squad.athletes]
    record_entries(db, squad.squad.id, changes, stamp=stamp, today=squad.today)
    return made


def test_the_part_least_like_the_game_is_the_one_to_change_and_goes_into_the_next_plan(
    db, squad, matches, ran, in_parts, stamp
):
    a, (yesterday, later) = squad.athletes[0], in_parts
    for one in matches:
        ran(one, a, GAME, 60)
    ran(yesterday, a, SLOW, 40)
    ran(yesterday, a, GAME, 20, begins=2400)
    terms = read_match_terms(db, squad.squad, yesterday.id, squad.today)
    game = read_game_like(db, squad.squad, yesterday.id)
    # A third as in a match, two thirds with three fifths of work and not three elevenths.
    assert game.found.overlap == pytest.approx(1 / 3 + 2 / 3 * (0.4 + 6 / 22), abs=0.02)
    assert game.said.replace("\u00a0", " ") == "78 % of the time was spent as in a match. Too little standing."
    assert [one.part for one in game.changes] == ["Open play"]
    change = game.changes[0].change
    assert (change.was_on, change.was_off, change.on) == (pytest.approx(30), pytest.approx(20), 6)
    assert change.after > change.now + 0.2
    assert game.after == pytest.approx(game.found.overlap + (change.after - change.now) / 2)
    # The warm-up is done slowly too, and stays: nobody makes a game of it.
    assert (game.drills[0].name, game.drills[0].times) == ("Finishing", 1)
    assert game.drills[0].like == pytest.approx(1, abs=0.03)
    assert sentences_of(terms, game)[-1].startswith(f"Open play at 6 s on and {change.off:g} s off would be about")

    following = game.changes[0].next
    assert (following.session_id, following.put) == (later.id, False)
    put_pattern(db, squad.squad, later.id, "Open play", (change.on, change.off), stamp=stamp)
    assert [one.name for one in later.segments][1] == f"Open play, 6 s on, {change.off:g} s off"
    again = read_game_like(db, squad.squad, yesterday.id).changes[0].next
    assert (again.part, again.put) == (later.segments[1].name, True)
    # Another pattern replaces it, and none takes it back.
    put_pattern(db, squad.squad, later.id, again.part, (8, 20), stamp=stamp)
    assert later.segments[1].name == "Open play, 8 s on, 20 s off"
    put_pattern(db, squad.squad, later.id, "Open play", None, stamp=stamp)
    assert later.segments[1].name == "Open play"


def test_the_session_sheet_has_the_sentences_and_what_they_rest_on(db, squad, matches, in_parts):
    yesterday, later = in_parts
    terms = read_match_terms(db, squad.squad, yesterday.id, squad.today)
    paper = as_paper(squad.squad, terms, read_game_like(db, squad.squad, yesterday.id))
    assert paper.title == f"{yesterday.title}, in match terms"
    assert paper.sections[0].sentences == sentences_of(terms, read_game_like(db, squad.squad, yesterday.id))
    tables = {one.head: one for one in paper.sections[1:]}
    assert set(tables) == {"By position", "By part", "Person by person", "What a match is (5 matches)"}
    for one in tables.values():
        assert {len(row) for row in one.rows} == {len(one.columns)}
        assert len(one.columns) - 1 in one.numbers
        assert 0 not in one.numbers
    assert [row[0] for row in tables["Person by person"].rows] == [one.name for one in terms.rows]
    assert [row[0] for row in tables["By part"].rows] == [one.name for one in terms.parts]
    assert "±" in tables["What a match is (5 matches)"].rows[0][2]
    # One that is planned says so.
    planned = read_match_terms(db, squad.squad, later.id, squad.today)
    assert as_paper(squad.squad, planned, None).title == f"{later.title}, planned, in match terms"


def test_parts_are_planned_one_after_the_other_and_what_was_done_in_parts_stays(db, squad, in_parts, stamp):
    yesterday, later = in_parts
    parts = [planning.NewSegment("Warm-up", 12.5, 1), planning.NewSegment("Waves", 20, 3)]
    kept = plan_parts(db, squad.squad, later.id, parts, version=later.version, stamp=stamp)
    assert [(one.name, one.begins) for one in kept.segments] == [("Warm-up", 0), ("Waves", 12.5)]
    with pytest.raises(Stale):
        plan_parts(db, squad.squad, later.id, parts[:1], version=kept.version - 1, stamp=stamp)
    with pytest.raises(Invalid, match="two names"):
        plan_parts(db, squad.squad, later.id, [parts[0]] * 2, version=kept.version, stamp=stamp)
    with pytest.raises(Invalid, match="was done"):
        plan_parts(db, squad.squad, yesterday.id, parts, version=yesterday.version, stamp=stamp)


def test_rounds_keep_their_grades_and_their_aim(db, squad, in_parts, stamp):
    _, later = in_parts
    rounds = [planning.NewSegment("Round 1", 6, 3, 4), planning.NewSegment("Talk", 2, 1)]
    kept = plan_parts(db, squad.squad, later.id, rounds, aim=0.55, version=later.version, stamp=stamp)
    assert ([one.grade for one in kept.segments], kept.mix_aim) == ([4, None], 0.55)
    put_pattern(db, squad.squad, later.id, "Round 1", (6, 15), stamp=stamp)
    assert [(one.name, one.grade) for one in later.segments] == [("Round 1, 6 s on, 15 s off", 4), ("Talk", None)]
    # An aim alone is a change too, which who has not seen it cannot undo unknowingly.
    as_it_is = [planning.NewSegment(one.name, one.minutes, one.weight, one.grade) for one in later.segments]
    seen = later.version
    again = plan_parts(db, squad.squad, later.id, as_it_is, aim=None, version=seen, stamp=stamp)
    assert (again.mix_aim, again.version) == (None, seen + 1)
    with pytest.raises(Stale):
        plan_parts(db, squad.squad, later.id, as_it_is, aim=0.8, version=seen, stamp=stamp)
    assert later.mix_aim is None
    delete_session(db, squad.squad, later.id, version=later.version, stamp=stamp)
    back = restore_session(db, squad.squad, later.id, stamp=stamp)
    assert [one.grade for one in back.segments] == [4, None]


def test_what_is_over_keeps_how_it_was_done(db, squad, in_parts, stamp):
    with pytest.raises(Invalid, match="over"):
        put_pattern(db, squad.squad, in_parts[0].id, "Open play", (6, 15), stamp=stamp)
    with pytest.raises(NotFound, match="no such part"):
        put_pattern(db, squad.squad, in_parts[1].id, "Swimming", (6, 15), stamp=stamp)


def test_what_most_matches_do_not_have_is_called_too_rare(db, squad, matches, ran, stamp):
    first = date(2024, 1, 1)
    draft = Draft("Fast running", "m", "position", {"measure": "distance_above", "speed": 5.0},
                  [SessionKind.COURT, SessionKind.MATCH], ["thigh"], "fork", first, "agreed")  # fmt: skip
    save_channel(db, squad.squad, draft, code=None, recompute=True, stamp=stamp, today=squad.today)
    a, session = squad.athletes[0], squad.on(squad.today - timedelta(days=1))
    for i, one in enumerate(matches):
        ran(one, a, GAME, 60, on_speed=5.5 if i == 0 else 4.0)
    ran(session, a, GAME, 30, on_speed=5.5)
    share = row_of(read_match_terms(db, squad.squad, session.id, squad.today), a).shares[-1]
    assert (share.percent, share.why) == (None, "too rare")
    assert share.amount > 1000
