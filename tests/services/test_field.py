"""Noting at the pitch: once each, in any order, of this session only; spells; and what a session was in the end."""

from datetime import datetime, timedelta

import pytest

from tests.squad import noon
from uvren.core.field import FieldKind, fold
from uvren.services.day.spells import spells_of
from uvren.services.errors import Invalid, NotFound
from uvren.services.field import ending
from uvren.services.field.noting import (
    NewEvent,
    NewSpell,
    event_of,
    note,
    set_spell,
    take_back,
    withdraw_spell,
)
from uvren.services.field.places import Places, read_places
from uvren.services.session import planning
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import SessionKind
from uvren.store.types import new_ulid


@pytest.fixture
def session(db, squad):
    parts = (planning.NewSegment("Warm-up", 12, 1.0), planning.NewSegment("Open play", 30, 3.0, 4))
    wanted = planning.NewSession(noon(squad.today), SessionKind.COURT, "Evening", 45, 5, segments=parts)
    return planning.plan_sessions(db, squad.squad, [wanted])[0]


@pytest.fixture
def at(session):
    return lambda minutes: session.starts_at + timedelta(minutes=minutes)


@pytest.fixture
def say(db, squad, session):
    """Notes something some minutes into the session, an hour after it all."""

    def go(kind, minutes, athlete=None, of=None, **more):
        event = NewEvent(new_ulid(), FieldKind(kind), session.starts_at + timedelta(minutes=minutes), athlete, **more)
        stamp = Stamp(squad.staff.id, session.starts_at + timedelta(hours=2))
        note(db, squad.squad, (of or session).id, [event], stamp=stamp)
        return event

    return go


def standing(db, squad, session):
    limits = queries.field.spell_limits(db, squad.squad.id, squad.today)
    rules = {who: rule for who in squad.athletes if (rule := spells_of(limits, who).get("throw"))}
    return fold([event_of(one) for one in queries.field.field_events(db, session.id)], rules, "throw")


def test_what_is_sent_twice_counts_once_and_what_is_taken_back_not_at_all(db, squad, session, say):
    a = squad.athletes[0]
    event = say("count", 1, a, amount=1.0, what="throw")
    stamp = Stamp(squad.staff.id, noon(squad.today) + timedelta(hours=1))
    note(db, squad.squad, session.id, [event, event], stamp=stamp)
    assert standing(db, squad, session).spells[a].total == 1
    take_back(db, squad.squad, session.id, event.id, stamp=stamp)
    take_back(db, squad.squad, session.id, event.id, stamp=stamp)
    assert standing(db, squad, session).spells == {}
    # It comes in once more, late: it stays taken back.
    note(db, squad.squad, session.id, [event], stamp=stamp)
    assert standing(db, squad, session).spells == {}
    with pytest.raises(NotFound):
        take_back(db, squad.squad, session.id, new_ulid(), stamp=stamp)


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"kind": "begin", "part": 7}, "no such part"),
        ({"kind": "count", "amount": 1.0}, "Say of whom"),
        ({"kind": "count", "amount": 1.5, "athlete": "mine"}, "whole number"),
        ({"kind": "count", "amount": 0.0, "athlete": "mine"}, "whole number"),
        ({"kind": "break", "amount": 0.0, "athlete": "mine"}, "between a second and two hours"),
        ({"kind": "leave", "athlete": 10**9}, "not in the squad"),
        ({"kind": "note", "words": "  "}, "no words"),
        ({"kind": "note", "words": "late", "minutes": 60 * 15}, "too far"),
    ],
)
def test_what_cannot_be_of_this_session_is_refused_at_its_place(db, squad, session, wrong, said):
    given = dict(wrong)
    athlete = given.pop("athlete", None)
    athlete = squad.athletes[0] if athlete == "mine" else athlete
    moment = session.starts_at + timedelta(minutes=given.pop("minutes", 0))
    event = NewEvent(new_ulid(), FieldKind(given.pop("kind")), moment, athlete, **given)
    with pytest.raises(Invalid, match=said) as refused:
        note(db, squad.squad, session.id, [event], stamp=Stamp(squad.staff.id, moment))
    assert refused.value.field.startswith("events.0.")


def test_a_tablet_whose_clock_is_ahead_is_told(db, squad, session):
    now = session.starts_at
    event = NewEvent(new_ulid(), FieldKind.STOP, now + timedelta(minutes=31))
    with pytest.raises(Invalid, match="31 min ahead"):
        note(db, squad.squad, session.id, [event], stamp=Stamp(squad.staff.id, now))


def test_a_session_of_somebody_else_or_called_off_is_not_noted_in(db, squad, session, say):
    with pytest.raises(NotFound):
        note(db, squad.squad, new_ulid(), [], stamp=Stamp(squad.staff.id, noon(squad.today)))
    session.called_off = "ice in the hall"
    db.flush()
    with pytest.raises(Invalid, match="called off"):
        say("stop", 0)


def test_the_own_spell_goes_before_everybodys_and_the_last_one_set_holds(db, squad, session, say):
    a, b, *_ = squad.athletes
    stamp = Stamp(squad.staff.id, noon(squad.today))
    for new in (NewSpell(None, "throw", 30, 10), NewSpell(a, "throw", 8, 5), NewSpell(a, "throw", 3, 10)):
        kept = set_spell(db, squad.squad, new, squad.today, stamp=stamp)
    say("count", 0, a, amount=3.0, what="throw")
    say("count", 0, b, amount=3.0, what="throw")
    # Landings have no spell, and are none of the throws'.
    say("count", 0, b, amount=40.0, what="landing")
    stands = standing(db, squad, session)
    assert stands.spells[a].break_until == session.starts_at.timestamp() + 600
    assert (stands.spells[b].break_until, stands.spells[b].total) == (None, 3)
    withdraw_spell(db, squad.squad, kept.id, stamp=stamp)
    assert standing(db, squad, session).spells[a].break_until is None
    with pytest.raises(Invalid, match="not in the squad"):
        set_spell(db, squad.squad, NewSpell(10**9, "throw", 3, 10), squad.today, stamp=stamp)
    with pytest.raises(NotFound):
        withdraw_spell(db, squad.squad, new_ulid(), stamp=stamp)


def test_what_a_session_was_is_its_parts_as_they_were_run(db, squad, session, say):
    a, b, *_ = squad.athletes
    with pytest.raises(Invalid, match="No part was begun"):
        ending.ran(db, squad.squad, session.id)
    say("begin", 5, part=0)
    say("begin", 20, part=1)
    with pytest.raises(Invalid, match="still running"):
        ending.ran(db, squad.squad, session.id)
    say("count", 22, a, amount=5.0, what="full throw")
    say("count", 23, a, amount=-1.0, what="full throw")
    say("count", 23, b, amount=-1.0, what="full throw")
    say("leave", 35, b)
    say("stop", 50)
    found = ending.ran(db, squad.squad, session.id)
    assert found.parts == [("Warm-up", 0.0, 15.0, 1.0, None), ("Open play", 15.0, 30.0, 3.0, 4)]
    assert found.counts == {a: {"full throw": 4}, b: {}}
    # Who stayed to the end is asked for the minutes as ever; who left early has them already.
    assert found.minutes == {b: 30.0}
    assert found.began_at == session.starts_at + timedelta(minutes=5)
    assert ending.begin_at(session, found.began_at, session.day)
    assert not ending.begin_at(session, found.began_at, session.day)
    later = datetime.combine(session.day + timedelta(days=1), session.starts_at.timetz())
    assert not ending.begin_at(session, later, session.day + timedelta(days=1))


def test_a_part_run_twice_has_the_time_of_both(db, squad, session, say):
    for kind, minutes, part in (("begin", 0, 0), ("stop", 10, None), ("begin", 20, 0), ("stop", 25, None)):
        say(kind, minutes, part=part)
    found = ending.ran(db, squad.squad, session.id)
    assert found.parts == [("Warm-up", 0.0, 15.0, 1.0, None)]


def test_in_a_match_minutes_are_those_on_the_field(db, squad, session, say):
    a, b, *_ = squad.athletes
    session.kind = SessionKind.MATCH
    say("begin", 0, part=1)
    say("on", 0, a, words="keeper")
    say("on", 40, b, words="keeper")
    say("stop", 60)
    found = ending.ran(db, squad.squad, session.id)
    assert found.minutes == {a: 40.0, b: 20.0}


def test_a_match_goes_by_the_places_of_the_one_before(db, squad):
    days = [squad.today - timedelta(days=i) for i in (21, 14, 7, 0)]
    matches = planning.plan_sessions(
        db, squad.squad, [planning.NewSession(noon(day), SessionKind.MATCH, "Match", 60, 8) for day in days]
    )
    first, second, third, today = matches
    a, b, c = squad.athletes[:3]

    def on(session, *who):
        events = [NewEvent(new_ulid(), FieldKind.ON, session.starts_at + timedelta(minutes=i), one, words=place)
                  for i, (one, place) in enumerate(who)]  # fmt: skip
        note(db, squad.squad, session.id, events, stamp=Stamp(squad.staff.id, session.starts_at + timedelta(hours=2)))
        return events

    assert read_places(db, squad.squad, first) == Places([], None)
    on(first, (a, "centre"), (b, "wing"))
    on(second, (a, "keeper"), (b, "pivot"), (c, "keeper"))
    assert read_places(db, squad.squad, second) == Places(["centre", "wing"], 2)
    # Nobody was noted in the third: the second is the last that tells. Who took a place over is not beside its holder.
    assert read_places(db, squad.squad, today) == Places(["keeper", "pivot"], 2)
    (late,) = on(third, (a, "back"))
    assert read_places(db, squad.squad, today) == Places(["back"], 1)
    take_back(db, squad.squad, third.id, late.id, stamp=Stamp(squad.staff.id, noon(squad.today)))
    assert read_places(db, squad.squad, today).names == ["keeper", "pivot"]


def test_only_a_match_has_places(db, squad, session, say):
    (match,) = planning.plan_sessions(
        db, squad.squad, [planning.NewSession(session.starts_at - timedelta(days=7), SessionKind.MATCH, "Match", 60, 8)]
    )
    when = match.starts_at + timedelta(hours=1)
    on = NewEvent(new_ulid(), FieldKind.ON, match.starts_at, squad.athletes[0], words="keeper")
    note(db, squad.squad, match.id, [on], stamp=Stamp(squad.staff.id, when))
    assert read_places(db, squad.squad, session) == Places([], None)


def test_a_session_that_something_was_noted_of_is_not_simply_deleted(db, session, say):
    assert not queries.session.is_written_in(db, session.id)
    say("note", 0, words="wind")
    assert queries.session.is_written_in(db, session.id)
    assert queries.session.used_of(db, [session.id]) == {session.id}
