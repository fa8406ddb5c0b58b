"""The day that is kept is the day as it is: whatever is written, by whom and in which process."""

from collections.abc import Callable
from contextlib import suppress
from dataclasses import replace
from datetime import timedelta
from threading import Barrier, Thread
from unittest.mock import patch

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import NOW, TODAY, make_database
from tests.squad import limit, make_small_squad
from uvren.core.audience import ALL, LEAST
from uvren.core.body import Pain, Side, Site
from uvren.core.day import CallKind
from uvren.core.reports import ReportKind
from uvren.services import reports
from uvren.services.day import kept
from uvren.services.day.desk import open_desks
from uvren.services.day.kept import Days
from uvren.services.errors import Invalid, Stale
from uvren.services.morning import read_morning
from uvren.services.morning.calls import NewCall, make_call
from uvren.services.return_ import clinical, rest_trials
from uvren.services.return_.clinical import NewRestriction
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.squad import members
from uvren.services.squad.anchors import NewAnchor, set_anchor
from uvren.services.squad.limits import set_limit
from uvren.services.stamp import Stamp
from uvren.services.week import reading
from uvren.services.week.reading import Changes, read_week
from uvren.store.changes import about
from uvren.store.database import connect, sessions, snapshots
from uvren.store.models import AnchorKind, Availability, Squad
from uvren.store.types import new_ulid


class Club:
    """The small squad in a database of its own, with two places where its day is kept, as two web processes have."""

    def __init__(self, url: str) -> None:
        self.engine = connect(url)
        self.open = sessions(self.engine)
        self.keepers = [self.keeper(), self.keeper()]
        with self.open() as db:
            self.small = make_small_squad(db, TODAY)
            db.commit()
        self.id = self.small.squad.id

    def keeper(self, **more) -> Days:
        return Days(snapshots(self.engine), **more)

    def write(self, what: Callable[..., object]) -> None:
        with self.open() as db:
            about(db, self.id)
            what(db, db.get_one(Squad, self.id), {"stamp": Stamp(self.small.staff.id, NOW), "today": TODAY})
            db.commit()

    def lanes(self, keeper: Days | None, day=TODAY, audiences=ALL):
        with self.open() as db:
            if keeper is not None:
                keeper.lend(db)
            return read_morning(db, db.get_one(Squad, self.id), day, TODAY, audiences=audiences)[0].lanes

    def week(self, keeper: Days | None, changes=Changes()):  # noqa: B008
        with self.open() as db:
            if keeper is not None:
                keeper.lend(db)
            squad = db.get_one(Squad, self.id)
            return read_week(db, squad, TODAY, TODAY, changes=changes, audiences=ALL)


def plain(lanes):
    """Lanes as values: of a call, which one it is."""
    return [{**vars(lane), "call": lane.call and lane.call.id} for lane in lanes]


@pytest.fixture(scope="module")
def club(server):
    made = Club(make_database(server, "kept"))
    yield made
    made.engine.dispose()


def rate(who, effort, back=1):
    def go(db, squad, how, small):
        session, athlete = small.on(TODAY - timedelta(days=back)), small.athletes[who]
        version = small.entry(db, athlete, session.day).version
        record_entries(db, squad.id, [EntryChange(session.id, athlete, 60.0, effort, version=version)], **how)

    return go


def report(who, energy, pain=None):
    def go(db, squad, how, small):
        pains = [] if pain is None else [Pain(Site.KNEE, Side.LEFT, pain)]
        now = how["stamp"].now + timedelta(microseconds=int(energy))
        answers = {"energy": energy}
        told = reports.Told(new_ulid(), small.athletes[who], ReportKind.DAILY, TODAY, answers, now, pains=pains)
        reports.give(db, squad, told, **(how | {"stamp": replace(how["stamp"], now=now)}))

    return go


def call(who, kind):
    def go(db, squad, how, small):
        new = NewCall(new_ulid(), small.athletes[who], TODAY, kind, "why", minutes=30.0, sure=True)
        make_call(db, squad, new, **how)

    return go


def restrict(who, share):
    def go(db, squad, how, small):
        out = share == 0
        availability = Availability.OUT if out else Availability.LIMITED
        said = "" if out else "no duels"
        new = NewRestriction(small.athletes[who], availability, said, "", TODAY, TODAY, share or None)
        clinical.restrict(db, squad, new, **how)

    return go


def cap(value):
    def go(db, squad, how, small):
        set_limit(db, squad, limit("day_cap", value, TODAY), **how)

    return go


def position(who, where):
    def go(db, squad, how, small):
        members.change(db, squad, small.athletes[who], who + 1, where, TODAY, stamp=how["stamp"])

    return go


def usual_week(who, load):
    def go(db, squad, how, small):
        set_anchor(db, squad, NewAnchor(small.athletes[who], AnchorKind.USUAL_WEEK_LOAD, load, None, TODAY), **how)

    return go


people = st.integers(0, 3)
writes = st.one_of(
    st.builds(rate, people, st.sampled_from([None, 2.0, 5.0, 9.5]), st.integers(1, 3)),
    st.builds(report, people, st.sampled_from([2.0, 6.0, 9.0]), st.sampled_from([None, 2, 5, 8])),
    st.builds(call, people, st.sampled_from(CallKind)),
    st.builds(restrict, people, st.sampled_from([0, 0.5])),
    st.builds(cap, st.sampled_from([300.0, 600.0, 900.0])),
    st.builds(position, people, st.sampled_from(["wing", "back"])),
    st.builds(usual_week, people, st.sampled_from([900.0, 2400.0])),
)


@settings(max_examples=40)
@given(st.lists(writes, min_size=1, max_size=3), st.sampled_from([TODAY, TODAY + timedelta(days=1)]))
def test_whatever_is_written_both_processes_then_say_what_is_so(club, what, day):
    for one in what:
        # What cannot be, such as a call for somebody who is out, is refused and changes nothing.
        with suppress(Invalid, Stale):
            club.write(lambda db, squad, how, one=one: one(db, squad, how, club.small))
    fresh, week = plain(club.lanes(None, day)), club.week(None)
    for keeper in club.keepers:
        for _ in ("as it is", "and once more, from what is kept"):
            assert plain(club.lanes(keeper, day)) == fresh
            assert club.week(keeper) == week


def worked_out(club, what, day=TODAY):
    """For whom the day is worked out when it is asked for after a write; None for everybody, () for nobody."""
    keeper = club.keeper()
    club.lanes(keeper, day)
    club.write(lambda db, squad, how: what(db, squad, how, club.small))
    asked = []

    def watched(db, squad, as_of, today, only=None):
        asked.append(None if only is None else set(only))
        return read_day(db, squad, as_of, today, only)

    read_day = kept.read_day
    with patch.object(kept, "read_day", watched):
        club.lanes(keeper, day)
        club.lanes(keeper, day, LEAST)
    return asked


@pytest.fixture
def rated(club):
    """Everybody has rated what the writes above may have left open, so that nobody leans on anybody."""

    def go(db, squad, how):
        for who in range(4):
            for back in (1, 2, 3):
                rate(who, 5.5, back)(db, squad, how, club.small)

    club.write(go)


def test_only_who_changed_is_worked_out_anew(club, rated):
    first = club.small.athletes[0]
    assert worked_out(club, rate(0, 4.5)) == [{first}]
    assert worked_out(club, cap(777.0)) == [None]
    assert worked_out(club, lambda *_: None) == []
    # Two of four are half of them, three are more: then all are worked out together.
    assert worked_out(club, lambda *all_: [rate(i, 4.0)(*all_) for i in range(3)]) == [None]


def test_who_leans_on_the_others_is_worked_out_with_them(club, rated):
    club.write(lambda db, squad, how: [rate(1, None, back)(db, squad, how, club.small) for back in range(1, 50)
                                       if (TODAY - timedelta(days=back)).weekday() != 6])  # fmt: skip
    try:
        (asked,) = worked_out(club, rate(0, 6.5))
        assert asked == {club.small.athletes[0], club.small.athletes[1]}
        assert plain(club.lanes(club.keepers[0])) == plain(club.lanes(None))
    finally:
        club.write(lambda db, squad, how: [rate(1, 5.0, back)(db, squad, how, club.small) for back in range(1, 50)
                                           if (TODAY - timedelta(days=back)).weekday() != 6])  # fmt: skip


def test_many_who_ask_at_once_share_one_computation(club):
    keeper = club.keeper()
    asked, together = [], Barrier(6)
    read_day = kept.read_day

    def watched(*args):
        asked.append(args)
        return read_day(*args)

    def ask():
        together.wait()
        club.lanes(keeper)

    with patch.object(kept, "read_day", watched):
        threads = [Thread(target=ask) for _ in range(6)]
        for one in threads:
            one.start()
        for one in threads:
            one.join()
    assert len(asked) == 1


def test_who_waits_for_the_day_does_not_keep_its_reader_from_a_connection(club):
    """As many who ask as there are connections: the one who reads needs one more."""
    engine = connect(club.engine.url, pool=2, more=0)
    keeper, together = Days(snapshots(engine)), Barrier(2)
    given = []

    def ask():
        with sessions(engine)() as db:
            keeper.lend(db)
            squad = db.get_one(Squad, club.id)
            together.wait()
            given.append(len(read_morning(db, squad, TODAY, TODAY)[0].lanes))

    threads = [Thread(target=ask) for _ in range(2)]
    for one in threads:
        one.start()
    for one in threads:
        one.join(timeout=15)
    assert given == [4, 4]
    engine.dispose()


def test_who_has_written_sees_their_own_change_and_nobody_else_does(club):
    keeper = club.keepers[0]
    before = plain(club.lanes(keeper))
    with club.open() as db:
        keeper.lend(db)
        squad = db.get_one(Squad, club.id)
        rest_trials.start(
            db, squad, club.small.athletes[2], TODAY, 7, stamp=Stamp(club.small.staff.id, NOW), today=TODAY
        )
        mine = read_morning(db, squad, TODAY, TODAY, audiences=ALL)[0].lanes
        assert mine[2].standing.closed
        assert plain(club.lanes(keeper)) == before
        db.rollback()
    assert plain(club.lanes(keeper)) == before


def test_only_the_last_days_asked_for_are_kept(club):
    keeper = club.keeper(most=2)
    for i in range(4):
        club.lanes(keeper, TODAY + timedelta(days=i))
    assert [key[1] for key in keeper._kept] == [TODAY + timedelta(days=i) for i in (2, 3)]


def test_a_week_that_nobody_changed_is_read_once_whatever_is_tried_out_in_it(club):
    keeper, read = club.keeper(), []

    def watched(*given, **more):
        read.append(given)
        return open_desks(*given, **more)

    with patch.object(reading, "open_desks", watched):
        planned = club.week(keeper)
        name = next(one.id for day in planned.days for one in day.sessions if not one.done and one.day > TODAY)
        tried = [club.week(keeper, Changes({name: minutes})) for minutes in (20.0, 90.0)]
        assert len(read) == 1
        club.write(lambda db, squad, how: cap(650.0)(db, squad, how, club.small))
        assert club.week(keeper) != planned
        assert len(read) == 2
    assert tried[0].rows != tried[1].rows
    assert club.week(keeper, Changes({name: 20.0})) == club.week(None, Changes({name: 20.0}))


def unchanged(club, keeper, key, make):
    with club.open() as db:
        keeper.lend(db)
        return kept.unchanged(db, db.get_one(Squad, club.id), key, make)


def test_whatever_rests_on_a_squad_is_worked_out_again_once_anything_of_it_changed(club):
    keeper, asked = club.keeper(), []

    def times(_db, squad):
        asked.append(squad.id)
        return len(asked)

    assert [unchanged(club, keeper, "times", times) for _ in range(3)] == [1, 1, 1]
    club.write(lambda db, squad, how: report(0, 5.0)(db, squad, how, club.small))
    assert [unchanged(club, keeper, "times", times) for _ in range(2)] == [2, 2]
    # Another question is another answer, and only the last ones asked are kept.
    few = club.keeper(most=2)
    assert [unchanged(club, few, key, times) for key in ("one", "two", "three")] == [3, 4, 5]
    assert [unchanged(club, few, key, times) for key in ("two", "three", "one")] == [4, 5, 6]


def test_what_could_not_be_worked_out_is_tried_again(club):
    keeper, tries = club.keeper(), []

    def make(_db, squad):
        tries.append(squad.id)
        if len(tries) == 1:
            raise Invalid("Not now.")
        return "found"

    with pytest.raises(Invalid):
        unchanged(club, keeper, "tried", make)
    assert [unchanged(club, keeper, "tried", make) for _ in range(2)] == ["found", "found"]
    assert len(tries) == 2


def test_who_has_written_is_given_what_they_alone_see(club):
    keeper, name = club.keeper(), lambda _db, squad: squad.name
    before = unchanged(club, keeper, "name", name)
    with club.open() as db:
        keeper.lend(db)
        squad = db.get_one(Squad, club.id)
        squad.name = "Renamed"
        db.flush()
        assert kept.unchanged(db, squad, "name", name) == "Renamed"
        assert unchanged(club, keeper, "name", name) == before
        db.rollback()


def test_what_is_kept_holds_no_connection(club):
    keeper = club.keeper()
    lanes = club.lanes(keeper)
    assert club.engine.pool.checkedout() == 0
    assert np.isfinite(lanes[0].effort)


def test_before_a_history_stands_the_declared_week_a_seventh_a_day_else_the_first_days(club):
    with club.open() as db:
        squad = db.get_one(Squad, club.id)
        row = 3
        desk = open_desks(db, squad, TODAY, TODAY)[0].desk
        first = desk.done.load[row, desk.done.start[row] : desk.done.start[row] + 14]
        # The writes above may have declared one.
        declared = desk.declared[row] / 7
        assert desk.done.before[row] == pytest.approx(np.nanmean(first) if np.isnan(declared) else declared)
        new = NewAnchor(club.small.athletes[3], AnchorKind.USUAL_WEEK_LOAD, 1750.0, None, TODAY)
        set_anchor(db, squad, new, stamp=Stamp(club.small.staff.id, NOW), today=TODAY)
        after = open_desks(db, squad, TODAY, TODAY)[0].desk
        assert (after.done.before[row], after.declared[row]) == (250, 1750)
        db.rollback()
