"""What hubs send: kept once each, refused with why; and the lanes that come of it."""

import itertools
from datetime import timedelta

import numpy as np
import pytest

from tests.squad import noon
from uvren.core.field import FieldKind
from uvren.core.live import Height
from uvren.services.day.people import remember
from uvren.services.errors import Invalid, NotAllowed, NotFound
from uvren.services.field.hubs import Piece, hub_of, make_hub, receive, session_now, withdraw_hub
from uvren.services.field.live import Person, Stream, lanes, setting
from uvren.services.field.noting import NewEvent, note, state_of
from uvren.services.session import planning
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.work import WorkChange, record_work
from uvren.services.squad.anchors import NewAnchor, set_anchor
from uvren.services.squad.channels import Draft, save_channel
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import AnchorKind, LiveChunk, RecordingKind, SessionKind
from uvren.store.types import new_ulid


@pytest.fixture
def now(squad):
    return noon(squad.today) + timedelta(minutes=20)


@pytest.fixture
def stamp(squad, now):
    return Stamp(squad.staff.id, now)


@pytest.fixture
def hub(db, squad, stamp):
    return make_hub(db, squad.squad, "Pitch", stamp=stamp)[0]


def piece(device, at, values, number=1, kind=RecordingKind.HEART_RATE):
    return Piece(device, kind, number, at, [float(i) for i in range(len(values))], values)


def test_a_hub_is_known_by_its_secret_until_it_is_withdrawn(db, squad, stamp):
    hub, token = make_hub(db, squad.squad, " Pitch ", stamp=stamp)
    assert (hub_of(db, token).id, hub.name) == (hub.id, "Pitch")
    assert token not in hub.token_digest
    withdraw_hub(db, squad.squad, hub.id, stamp=stamp)
    for wrong in (token, "", "guessed"):
        with pytest.raises(NotAllowed, match="not known"):
            hub_of(db, wrong)
    with pytest.raises(NotFound):
        withdraw_hub(db, squad.squad, hub.id, stamp=stamp)


def test_what_is_sent_twice_is_kept_once(db, squad, hub, now):
    pieces = [piece("A", now, [120.0, 121.0]), piece("A", now, [120.0, 121.0])]
    assert receive(db, hub, pieces, now=now).kept == [0, 1]
    assert receive(db, hub, pieces[:1], now=now).kept == [0]
    assert db.query(LiveChunk).count() == 1
    assert hub.seen_at == now


def test_what_cannot_be_kept_is_refused_with_why_and_the_rest_is_kept(db, squad, hub, now):
    remember(db, squad.squad, {"S-9": None, "S-1": squad.athletes[1]})
    pieces = [
        piece("A", now, [120.0]),
        piece("nobody's", now, [120.0]),
        piece("S-9", now, [120.0]),
        piece("B", now - timedelta(hours=3), [120.0]),
        piece("B", now, [], number=2),
        piece("B", now, [3.0], number=3, kind=RecordingKind.IMPACTS),
        piece("S-1", now, [130.0]),
    ]
    found = receive(db, hub, pieces, now=now)
    assert found.kept == [0, 6]
    said = dict(found.refused)
    assert "Nobody is known as “nobody's”" in said[1]
    assert "left out" in said[2]
    assert said[3] == "The clock of this device is 3 h off."
    assert "one length" in said[4]
    assert "Only heart rate and speed" in said[5]


def test_a_hub_whose_clock_is_a_day_off_is_told_and_nothing_is_kept(db, squad, hub, now):
    with pytest.raises(Invalid, match=r"clock of this hub is 24 h off"):
        receive(db, hub, [piece("A", now - timedelta(days=1), [120.0])], now=now)
    assert db.query(LiveChunk).count() == 0


def test_samples_go_to_the_session_that_runs_else_to_the_one_by_the_clock(db, squad, hub, now, stamp):
    planned = squad.on(squad.today)
    assert session_now(db, squad.squad, now).id == planned.id
    assert session_now(db, squad.squad, now - timedelta(hours=3)) is None
    with pytest.raises(Invalid, match="No session of this squad runs"):
        receive(db, hub, [piece("A", now - timedelta(hours=3), [120.0])], now=now - timedelta(hours=3))
    # Late in the evening, past midnight: it was begun and nobody has stopped it.
    parts = (planning.NewSegment("Open play", 60, 3.0),)
    late = planning.NewSession(
        noon(squad.today) + timedelta(hours=11), SessionKind.COURT, "Late", 60, 5, segments=parts
    )
    made = planning.plan_sessions(db, squad.squad, [late])[0]
    at = made.starts_at + timedelta(minutes=5)
    note(db, squad.squad, made.id, [NewEvent(new_ulid(), FieldKind.BEGIN, at, part=0)], stamp=Stamp(None, at))
    assert session_now(db, squad.squad, at + timedelta(hours=2)).id == made.id
    assert session_now(db, squad.squad, at + timedelta(hours=5)) is None


@pytest.fixture
def measured(db, squad, stamp):
    """Anchors of everybody, and ten sessions with a rating and an impulse of a third of the load."""
    first = squad.today - timedelta(days=50)
    draft = Draft("Impulse", "impulse", "heart_rate", {"method": "banister"}, [SessionKind.COURT], ["whole body"],
                  "wave", first, "agreed")  # fmt: skip
    code = save_channel(db, squad.squad, draft, code=None, recompute=True, stamp=stamp, today=squad.today).code
    days = [one for one in squad.sessions if first < one.day < squad.today][-10:]
    given = f"given:{code}"
    changes = [WorkChange(one.id, who, given, {"value": 100.0}) for one in days for who in squad.athletes]
    record_work(db, squad.squad.id, changes, stamp=stamp, today=squad.today)
    for who in squad.athletes:
        for kind, value, word in ((AnchorKind.HR_MAX, 190.0, None), (AnchorKind.HR_REST, 50.0, None),
                                  (AnchorKind.SEX, None, "male")):  # fmt: skip
            set_anchor(db, squad.squad, NewAnchor(who, kind, value, word, first, "test"), stamp=stamp, today=first)


@pytest.fixture
def running(db, squad, hub, now, measured):
    """A session at effort 5 whose only part began twenty minutes ago; says how everybody stands then."""
    parts = (planning.NewSegment("Open play", 60, 3.0),)
    session = planning.plan_sessions(
        db, squad.squad, [planning.NewSession(noon(squad.today), SessionKind.COURT, "Evening", 60, 5, segments=parts)]
    )[0]
    begin, numbers = now - timedelta(minutes=20), itertools.count()
    note(db, squad.squad, session.id, [NewEvent(new_ulid(), FieldKind.BEGIN, begin, part=0)], stamp=Stamp(None, now))

    def go(values, room=1000.0, cap=float("inf"), before_match=False, more=(), at=now):
        """Heart rates of A, a second each up to now."""
        sent = [piece("A", now - timedelta(seconds=len(values)), values, number=next(numbers)), *more]
        assert not receive(db, hub, sent, now=now).refused
        people = [Person(who, name, i, "back", "full", cap, room, 60.0)
                  for i, (who, name) in enumerate(zip(squad.athletes, "ABCD", strict=True))]  # fmt: skip
        stream = Stream(session)
        assert stream.advance(db)
        assert not stream.advance(db)
        state = state_of(queries.field.field_events(db, session.id))
        return lanes(setting(db, squad.squad, session, people, before_match), stream, state, at.timestamp())

    return go


def beats(level, seconds):
    return [float(level + i % 3) for i in range(seconds)]


def test_whoever_is_above_the_aim_for_long_is_acted_on_and_who_has_no_strap_is_not_called_missing(running):
    first, *others = running(beats(135, 300) + beats(170, 400))
    # Effort 5 is 72 % of the maximum, six up and down.
    assert (first.low, first.high) == (66.5, 78.5)
    assert (first.height, first.sentence) == (Height.ACT, "above the aim for 6 min")
    assert first.share == pytest.approx(90, abs=1)
    assert len(first.ribbon) == 60
    assert first.ribbon[-1] == pytest.approx(90, abs=1)
    assert {(one.height, one.sentence, one.fault) for one in others} == {(Height.REST, "no sensor", None)}


def test_the_day_before_a_match_the_aim_is_held_down(running):
    easy = running(beats(120, 300), before_match=True)[0]
    assert (easy.height, easy.high) == (Height.REST, 74.0)


def test_who_goes_no_harder_has_an_aim_of_their_own(running):
    assert running(beats(150, 200), cap=2.0)[0].sentence == "above the aim for 3 min"


def test_load_so_far_is_told_by_the_own_relation_and_room_that_runs_out_is_acted_on(running):
    lane = running(beats(140, 1200), room=110.0)[0]
    # Sessions of 300 had an impulse of 100.
    assert lane.load == pytest.approx(3 * 20 * 0.66 * 0.64 * np.exp(1.92 * 0.65), rel=0.1)
    assert lane.left == pytest.approx(110 - lane.load)
    assert lane.sentence.startswith("room is used up")


def test_room_for_all_of_it_asks_for_nothing(running):
    assert running(beats(140, 1200), room=2000.0)[0].height == Height.REST


def test_a_strap_that_goes_silent_is_looked_at_and_shows_what_it_had(running, now):
    lane = running(beats(140, 300), at=now + timedelta(seconds=40))[0]
    assert (lane.height, lane.fault, lane.share, lane.mark) == (Height.LOOK, "missing", None, "missing")
    assert lane.bpm is not None


def test_of_two_straps_on_one_athlete_the_one_that_sent_more_counts_and_both_are_told(db, squad, running, now):
    remember(db, squad.squad, {"S-2": squad.athletes[0]})
    lane = running(beats(140, 300), more=[piece("S-2", now - timedelta(seconds=10), beats(190, 10))])[0]
    assert lane.devices == ["A", "S-2"]
    assert lane.share == pytest.approx(74, abs=1)


def test_what_is_withdrawn_or_never_rated_tells_no_relation(db, squad, running, stamp):
    changes = [
        EntryChange(one.id, squad.athletes[0], 60.0, None, version=1) for one in squad.sessions if one.day < squad.today
    ]
    record_entries(db, squad.squad.id, changes, stamp=stamp, today=squad.today)
    lane = running(beats(140, 300))[0]
    assert (lane.load, lane.left, lane.minutes) == (None, None, None)
