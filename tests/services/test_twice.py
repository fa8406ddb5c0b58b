"""Twice is once, and nobody overwrites what they have not seen."""

from dataclasses import replace
from datetime import timedelta

import pytest
from sqlalchemy import func, select

from tests.conftest import NOW, TODAY
from tests.squad import limit
from uvren.core.body import Pain, Side, Site
from uvren.core.reports import ReportKind
from uvren.services.club import privacy
from uvren.services.errors import Invalid, Stale
from uvren.services.reports.forms import NewForm, save_form
from uvren.services.return_ import clinical, rest_trials
from uvren.services.return_.clinical import NewRestriction
from uvren.services.session.traces import Span, set_segments
from uvren.services.squad import channels
from uvren.services.squad.fitness_tests import Draft, save_test
from uvren.services.squad.limits import end_limit, set_limit
from uvren.services.squad.places import add_place
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Audit, Availability, Club, Complaint, Earlier, Restriction, RestTrial, Scope, SessionKind


@pytest.fixture
def who(squad):
    return {"stamp": Stamp(squad.staff.id, NOW), "today": TODAY}


def count(db, model, squad):
    return db.scalar(select(func.count()).select_from(model).where(model.squad_id == squad.squad.id))


def kept(db, kind):
    """What stood before, the oldest first."""
    return list(db.scalars(select(Earlier).where(Earlier.kind == kind).order_by(Earlier.id)))


def test_an_injury_a_trial_and_a_restriction_sent_twice_are_one(db, squad, who):
    pain = Pain(Site.KNEE, Side.LEFT, 7)
    first, second = (clinical.record_injury(db, squad.squad, squad.athletes[0], pain, "fell", **who) for _ in range(2))
    assert (first.id, count(db, Complaint, squad)) == (second.id, 1)
    other = Pain(Site.KNEE, Side.RIGHT, 7)
    clinical.record_injury(db, squad.squad, squad.athletes[0], other, "fell", **who)
    assert count(db, Complaint, squad) == 2
    for _ in range(2):
        rest_trials.start(db, squad.squad, squad.athletes[1], TODAY, 7, **who)
    assert count(db, RestTrial, squad) == 1
    with pytest.raises(Invalid, match="already"):
        rest_trials.start(db, squad.squad, squad.athletes[1], TODAY, 14, **who)
    new = NewRestriction(squad.athletes[2], Availability.LIMITED, "no jumps", "", TODAY, None)
    assert clinical.restrict(db, squad.squad, new, **who).id == clinical.restrict(db, squad.squad, new, **who).id
    assert count(db, Restriction, squad) == 1


def test_two_clinicians_who_say_different_things_are_both_heard(db, squad, who):
    first = clinical.restrict(
        db, squad.squad, NewRestriction(squad.athletes[0], Availability.OUT, "", "", TODAY, None), **who
    )
    second = NewRestriction(squad.athletes[0], Availability.LIMITED, "no jumps", "", TODAY, None, 0.5)
    with pytest.raises(Stale, match="has said something else") as refused:
        clinical.restrict(db, squad.squad, second, **who)
    assert refused.value.extra["theirs"]["id"] == first.id
    assert refused.value.extra["yours"]["change"] == "no jumps"
    seen = NewRestriction(squad.athletes[0], Availability.LIMITED, "no jumps", "", TODAY, None, 0.5, replaces=first.id)
    made = clinical.restrict(db, squad.squad, seen, **who)
    (standing,) = queries.return_.restrictions_on(db, squad.squad.id, TODAY)
    assert standing.id == made.id


def test_an_answer_is_not_overwritten_by_who_has_not_seen_it(db, squad, who):
    told = clinical.record_injury(db, squad.squad, squad.athletes[0], Pain(Site.KNEE, Side.LEFT, 7), None, **who)
    clinical.answer(db, squad.squad, told.id, "ice", False, version=1, **who)
    # The same answer sent again is the same answer.
    clinical.answer(db, squad.squad, told.id, "ice", False, version=1, **who)
    assert told.version == 2
    with pytest.raises(Stale, match="ice") as refused:
        clinical.answer(db, squad.squad, told.id, "", True, version=1, **who)
    assert refused.value.extra["theirs"] == {"answer": "ice", "again_on": None, "closed_on": None, "version": 2}
    assert refused.value.extra["yours"]["closed_on"] == str(TODAY)
    assert (told.answer, told.closed_on) == ("ice", None)
    again = TODAY + timedelta(days=2)
    clinical.answer(db, squad.squad, told.id, "warmth", False, again, version=2, **who)
    assert (told.answer, told.again_on, told.version) == ("warmth", again, 3)


def test_an_answer_that_was_changed_is_kept_until_the_athlete_is_forgotten(db, squad, who):
    told = clinical.record_injury(db, squad.squad, squad.athletes[0], Pain(Site.KNEE, Side.LEFT, 7), None, **who)
    for words in ("ice", "ice", "warmth", "rest"):
        clinical.answer(db, squad.squad, told.id, words, False, **who)
    assert [(one.version, one.data["answer"]) for one in kept(db, "answer")] == [(2, "ice"), (3, "warmth")]
    privacy.forget(db, squad.squad, squad.athletes[0], everything=False, stamp=who["stamp"])
    assert kept(db, "answer") == []


def test_what_the_club_no_longer_keeps_is_not_kept_as_what_stood_before(db, squad, who):
    told = clinical.record_injury(db, squad.squad, squad.athletes[0], Pain(Site.KNEE, Side.LEFT, 7), None, **who)
    for words in ("ice", "warmth"):
        clinical.answer(db, squad.squad, told.id, words, False, **who)
    club = db.get_one(Club, squad.squad.club_id)
    club.retention_days = 30
    for days, left in ((29, 1), (32, 0)):
        privacy.keep_to_retention(db, club, now=NOW + timedelta(days=days))
        assert len(kept(db, "answer")) == left


def test_a_limit_does_not_stand_beside_another_that_nobody_saw(db, squad, who):
    mine = {"scope": Scope.ATHLETE, "athlete_id": squad.athletes[0]}
    cap = limit("day_cap", 500, TODAY, replaces=None, **mine)
    first = set_limit(db, squad.squad, cap, **who)
    with pytest.raises(Stale, match="500") as refused:
        set_limit(db, squad.squad, replace(cap, value=400), **who)
    both = refused.value.extra
    assert (both["yours"]["value"], both["theirs"]["value"], both["theirs"]["version"]) == (400, 500, first.id)
    second = set_limit(db, squad.squad, replace(cap, value=400, replaces=first.id), **who)
    # For somebody else, or of another kind, none stands in the way.
    set_limit(db, squad.squad, replace(cap, athlete_id=squad.athletes[1]), **who)
    set_limit(db, squad.squad, replace(cap, rule="week_cap", value=3000), **who)
    end_limit(db, squad.squad, second.id, **who)
    end_limit(db, squad.squad, first.id, **who)
    with pytest.raises(Stale, match="ended"):
        set_limit(db, squad.squad, replace(cap, value=300, replaces=second.id), **who)


def test_a_limit_that_is_ended_twice_is_ended_once(db, squad, who):
    standing = set_limit(db, squad.squad, limit("day_cap", 500, TODAY), **who)
    later = {"stamp": who["stamp"], "today": TODAY + timedelta(days=3)}
    for _ in range(2):
        assert end_limit(db, squad.squad, standing.id, **later).to_day == TODAY + timedelta(days=2)
    ended = select(func.count()).select_from(Audit).where(Audit.action == "limit_ended")
    assert db.scalar(ended.where(Audit.subject == f"limit:{standing.id}")) == 1


def test_a_form_is_not_replaced_by_who_saw_another(db, squad, who):
    usual = NewForm(ReportKind.DAILY, ["sleep_hours", "energy"], range(7), {}, TODAY, replaces=None)
    first = save_form(db, squad.squad, usual, **who)
    with pytest.raises(Stale, match="meanwhile") as refused:
        save_form(db, squad.squad, replace(usual, items=["energy"]), **who)
    assert refused.value.extra["theirs"] == {
        "items": ["sleep_hours", "energy"], "days": list(range(7)), "version": first.id,
    }  # fmt: skip
    again = save_form(db, squad.squad, replace(usual, items=["energy"], replaces=first.id), **who)
    assert [one.item.code for one in again.asked] == ["energy"]


def test_a_unit_is_not_overwritten_by_who_has_not_seen_it_and_keeps_what_it_was(db, squad, who):
    draft = channels.Draft("Throws", "throws", "counted", {"classes": [{"code": "a", "name": "A", "weight": 1}]},
                           [SessionKind.COURT], [], "bar", TODAY, "counted since")  # fmt: skip
    made = channels.save_channel(db, squad.squad, draft, code=None, recompute=False, **who)

    def save(version, **other):
        return channels.save_channel(db, squad.squad, replace(draft, **other), code=made.code, recompute=False,
                                     version=version, **who)  # fmt: skip

    save(1, name="All throws")
    with pytest.raises(Stale, match="All throws") as refused:
        save(1, mark="cross")
    assert (refused.value.extra["theirs"]["name"], refused.value.extra["theirs"]["version"]) == ("All throws", 2)
    assert save(2, mark="cross").version == 3
    assert [one.data["name"] for one in kept(db, "unit")] == ["Throws", "All throws"]
    with pytest.raises(Stale):
        save(None)


def test_parts_are_not_overwritten_by_who_has_not_seen_them(db, squad, who):
    session = squad.on(TODAY)
    spans = [Span("Warm-up", 0, 15, 1), Span("Game", 15, 45, 3)]

    def put(spans, version):
        return set_segments(db, squad.squad, session.id, spans, version=version, stamp=who["stamp"])

    assert put(spans, 1).version == 2
    # The same sent once more is the same.
    assert put(spans, 1).version == 2
    with pytest.raises(Stale, match="parts") as refused:
        put(spans[:1], 1)
    assert [one["name"] for one in refused.value.extra["theirs"]["segments"]] == ["Warm-up", "Game"]
    assert [one.name for one in put(spans[:1], 2).segments] == ["Warm-up"]
    assert [len(one.data["segments"]) for one in kept(db, "parts")] == [0, 2]


@pytest.mark.parametrize("name", ["Håll A", " HALL a ", "Hall  A"])
def test_things_of_a_squad_are_called_by_one_name_once(db, squad, who, name):
    stamp = who["stamp"]
    add_place(db, squad.squad, "Hall A")
    with pytest.raises(Invalid, match="already"):
        add_place(db, squad.squad, name)
    save_test(db, squad.squad, Draft("Hall A", "s"), code=None, stamp=stamp)
    other = save_test(db, squad.squad, Draft("Hall B", "s"), code=None, stamp=stamp)
    with pytest.raises(Invalid, match="already"):
        save_test(db, squad.squad, Draft(name, "s"), code=None, stamp=stamp)
    with pytest.raises(Invalid, match="already"):
        save_test(db, squad.squad, Draft(name, "s"), code=other.code, stamp=stamp)
    draft = channels.Draft("Hall A", "throws", "counted", {"classes": [{"code": "a", "name": "A", "weight": 1}]},
                           [SessionKind.COURT], [], "bar", TODAY, "counted since")  # fmt: skip
    channels.save_channel(db, squad.squad, draft, code=None, recompute=False, **who)
    with pytest.raises(Invalid, match="already"):
        channels.save_channel(db, squad.squad, replace(draft, name=name), code=None, recompute=False, **who)
    parts = [Span("Hall A", 0, 15, 1), Span(name, 15, 15, 1)]
    with pytest.raises(Invalid, match="two names") as refused:
        set_segments(db, squad.squad, squad.on(TODAY).id, parts, stamp=stamp)
    assert refused.value.field == "segments.1.name"


def test_a_test_is_not_overwritten_by_who_has_not_seen_it(db, squad):
    stamp = Stamp(squad.staff.id, NOW)
    made = save_test(db, squad.squad, Draft("Sprint", "s"), code=None, stamp=stamp)
    save_test(db, squad.squad, Draft("Sprint", "s", trials=2), code=made.code, version=1, stamp=stamp)
    with pytest.raises(Stale) as refused:
        save_test(db, squad.squad, Draft("Sprint", "s", trials=5), code=made.code, version=1, stamp=stamp)
    assert (refused.value.extra["theirs"]["trials"], refused.value.extra["yours"]["trials"]) == (2, 5)
    last = save_test(db, squad.squad, Draft("Sprint", "s", trials=5), code=made.code, version=2, stamp=stamp)
    assert last.trials == 5
    assert [(one.version, one.data["trials"]) for one in kept(db, "test")] == [(1, 3), (2, 2)]
