"""What has changed of a squad is marked with whatever changes it, however it is written."""

import inspect
import re
from datetime import timedelta

import pytest
from sqlalchemy import delete, event, select, text, update
from sqlalchemy.orm import Session as DbSession

from tests.conftest import NOW, TODAY, make_database
from tests.squad import make_small_squad
from uvren.core.day import CallKind
from uvren.services.club import audit
from uvren.services.morning.calls import NewCall, make_call, withdraw_call
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.squad.anchors import NewAnchor, set_anchor
from uvren.services.squad.squads import create_squad
from uvren.services.stamp import Stamp
from uvren.store import changes, queries
from uvren.store.changes import BESIDE, EVERYBODY, WHOLE_SQUADS, about, has_written, marks_of, share
from uvren.store.database import connect, insert_many, sessions
from uvren.store.models import (
    AnchorKind,
    Athlete,
    Audit,
    Call,
    Club,
    CoachSheet,
    Entry,
    Membership,
    RecordingKind,
    RestTrial,
    Squad,
)
from uvren.store.types import new_ulid


@pytest.fixture(scope="module")
def two(server):
    """A database with the small squad and a second one, and a way to open sessions on it."""
    engine = connect(make_database(server, "changes"))
    with sessions(engine)() as db:
        small = make_small_squad(db, TODAY)
        other = create_squad(db, db.get_one(Club, small.squad.club_id), "other", "Other", "Europe/Oslo", NOW)
        db.commit()
        ids = small.squad.id, other.id
    yield engine, small, ids
    engine.dispose()


@pytest.fixture
def changed(two):
    """Who is marked anew, by squad, by what a session does with a function and then commits."""
    engine, _, ids = two

    def go(what, squad=None):
        with DbSession(engine, expire_on_commit=False) as db:
            before = {one: marks_of(db, one) for one in ids}
            if squad is not None:
                about(db, squad)
            what(db)
            db.commit()
            after = {one: marks_of(db, one) for one in ids}
        return [{who for who, mark in after[one].items() if before[one].get(who) != mark} for one in ids]

    return go


def rate(small, effort, i=1):
    def go(db):
        session, athlete = small.on(TODAY - timedelta(days=1)), small.athletes[i]
        version = small.entry(db, athlete, session.day).version
        change = EntryChange(session.id, athlete, 60.0, effort, version=version)
        record_entries(db, small.squad.id, [change], stamp=Stamp(small.staff.id, NOW), today=TODAY)

    return go


def test_a_rating_marks_the_athlete_and_nobody_else(two, changed):
    _, small, (mine, _) = two
    assert changed(rate(small, 7.0), mine) == [{small.athletes[1]}, set()]
    # What is sent again changes nothing.
    assert changed(rate(small, 7.0), mine) == [set(), set()]


def test_a_call_and_its_taking_back_mark_the_athlete(two, changed):
    _, small, (mine, _) = two
    new = NewCall(new_ulid(), small.athletes[0], TODAY, CallKind.REST, "tired")
    squad, by = small.squad, small.staff.id
    assert changed(lambda db: make_call(db, squad, new, stamp=Stamp(by, NOW), today=TODAY), mine)[0] == {
        small.athletes[0]
    }
    assert changed(lambda db: withdraw_call(db, squad, new.id, stamp=Stamp(by, NOW)), mine)[0] == {small.athletes[0]}


def test_what_is_the_whole_squads_marks_everybody(two, changed):
    _, small, (mine, _) = two

    def plays(position):
        return lambda db: db.execute(
            update(Membership).where(Membership.athlete_id == small.athletes[0]).values(position=position)
        )

    def leaves(db):
        db.scalars(select(Membership).where(Membership.athlete_id == small.athletes[0])).one().position = "wing"

    assert changed(leaves, mine) == [{EVERYBODY}, set()]

    def both(db):
        rate(small, 6.0)(db)
        plays("back")(db)

    # Together with a rating, everybody speaks for the one.
    assert changed(both, mine) == [{EVERYBODY}, set()]


def test_who_does_not_say_whose_squad_it_is_changes_every_squad(two, changed):
    _, small, _ = two
    assert changed(rate(small, 5.0)) == [{small.athletes[1]}] * 2


@pytest.mark.parametrize("what", ["name", "anchor"])
def test_what_is_a_persons_own_changes_every_squad_they_may_be_in(two, changed, what):
    _, small, (mine, _) = two

    def named(db):
        athlete = db.get_one(Athlete, small.athletes[0])
        athlete.name = f"{athlete.name} anew"

    def anchored(db):
        new = NewAnchor(small.athletes[0], AnchorKind.USUAL_WEEK_LOAD, 1200.0, None, TODAY)
        set_anchor(db, small.squad, new, stamp=Stamp(small.staff.id, NOW), today=TODAY)

    assert changed(named if what == "name" else anchored, mine) == [{EVERYBODY}] * 2


@pytest.mark.parametrize(
    "written",
    [
        lambda db, small: db.execute(text("UPDATE entry SET effort = effort WHERE minutes > 0")),
        lambda db, small: db.connection().exec_driver_sql("UPDATE entry SET minutes = minutes"),
        lambda db, small: db.execute(update(Entry).values(words=None)),
        lambda db, small: db.execute(delete(Call).where(Call.day < TODAY)),
    ],
    ids=["text", "driver", "update of many", "delete of many"],
)
def test_what_does_not_say_whom_it_changes_changes_everybody(two, changed, written):
    _, small, (mine, _) = two
    assert changed(lambda db: written(db, small), mine) == [{EVERYBODY}, set()]


def test_rows_that_are_written_as_plain_values_mark_their_athletes(two, changed):
    _, small, (mine, _) = two
    rows = [
        {"id": new_ulid(), "squad_id": mine, "athlete_id": one, "from_day": TODAY, "days": 7,
         "started_by": small.staff.id, "started_at": NOW}
        for one in small.athletes[:2]
    ]  # fmt: skip
    assert changed(lambda db: insert_many(db, RestTrial, rows), mine) == [set(small.athletes[:2]), set()]


def test_a_look_that_is_noted_changes_nothing_and_a_sheet_only_what_stands_beside_the_day(two, changed):
    _, small, (mine, _) = two
    assert (
        changed(lambda db: audit.note(db, "seen", "x", stamp=Stamp(small.staff.id, NOW), squad_id=mine), mine)[0]
        == set()
    )
    many = [{"at": NOW, "user_id": small.staff.id, "squad_id": mine, "action": "a", "subject": "b", "details": {}}]
    assert changed(lambda db: insert_many(db, Audit, many), mine)[0] == set()

    def sheet(db):
        db.add(CoachSheet(id=new_ulid(), squad_id=mine, day=TODAY, version=1, content={}, made_by=small.staff.id,
                          made_at=NOW))  # fmt: skip

    assert changed(sheet, mine) == [{BESIDE}, set()]


def test_what_is_read_once_for_the_whole_squad_holds_nothing_personal(two):
    """Whatever else is kept for it would be stale once a rating, a report or a call changes."""
    engine, small, (mine, _) = two
    moment = NOW + timedelta(days=1)
    days = {"day": TODAY, "first": TODAY - timedelta(days=40), "last": TODAY, "entered_before": moment}
    given = days | {"squad_id": mine, "athletes": list(small.athletes), "test_ids": [1],
                    "kinds": [RecordingKind.HEART_RATE]}  # fmt: skip
    asked = []
    with DbSession(engine) as db:
        event.listen(engine, "before_cursor_execute", lambda *seen: asked.append(seen[2]))
        for read in WHOLE_SQUADS.values():
            wanted = inspect.signature(read).parameters.values()
            read(db, **{one.name: given[one.name] for one in wanted if one.name != "db" and one.default is one.empty})
    assert len(asked) >= len(WHOLE_SQUADS) >= 12
    read_from = {table for sql in asked for table in re.findall(r"(?:FROM|JOIN) `?(\w+)`?", sql)}
    assert "membership" in read_from
    assert not read_from & changes._PERSONAL


def test_what_is_shared_is_asked_once_and_told_apart_by_what_was_asked(two):
    engine, _, (mine, other) = two
    kept = {}
    with DbSession(engine) as db:
        share(db, kept)
        first = queries.squad.members(db, mine, TODAY)
        assert queries.squad.members(db, mine, TODAY) is first
        assert queries.squad.members(db, other, TODAY) == []
        assert queries.squad.members(db, mine, TODAY - timedelta(days=1)) == first
    with DbSession(engine) as db:
        assert queries.squad.members(db, mine, TODAY) is not first
    assert len(kept) == 3


def test_what_is_not_committed_marks_nothing_and_the_next_to_use_the_connection_is_not_blamed(two, changed):
    engine, small, (mine, _) = two
    with DbSession(engine) as db:
        before = marks_of(db, mine)
        assert not has_written(db)
        rate(small, 9.0)(db)
        assert has_written(db)
        db.rollback()
        assert not has_written(db)
        assert marks_of(db, mine) == before
    assert changed(lambda db: db.get_one(Squad, mine), mine) == [set(), set()]
