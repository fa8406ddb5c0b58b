"""Reading the audit: each narrowing narrows by itself, and a club's own rows are no squad's."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from tests.squad import PASSWORD, make_small_squad
from uvren.services.club.audit import ONE_LOOK, note, saw
from uvren.services.squad import squads
from uvren.services.stamp import Stamp
from uvren.store.models import Club, Role
from uvren.store.queries.audit import audited, audited_of_club, seen_since

DAY = timedelta(days=1)


@pytest.fixture
def noted(db, squad):
    """Three rows of the squad, on three days, by two people, of two athletes; returns (squad id, by, other)."""
    club = db.get_one(Club, squad.squad.club_id)
    other = squads.create_user(db, club, "other", "Other", PASSWORD, {squad.squad.id: Role.CLINICIAN})
    given = [
        ("clinical_seen", squad.staff.id, squad.athletes[0], NOW - 2 * DAY),
        ("clinical_changed", other.id, squad.athletes[1], NOW - DAY),
        ("limit_set", other.id, squad.athletes[0], NOW),
    ]
    for action, by, athlete, at in given:
        note(db, action, "one", stamp=Stamp(by, at), squad_id=squad.squad.id, athlete_id=athlete)
        db.flush()
    return squad.squad.id, squad.staff.id, other.id


def actions(rows):
    return [row.action for row in rows]


def test_the_newest_comes_first_with_who_and_of_whom(db, squad, noted):
    squad_id, _, _ = noted
    newest = audited(db, squad_id)[0]
    assert (newest.action, newest.who, newest.subject) == ("limit_set", "Other", "one")
    assert newest.athlete is not None
    assert actions(audited(db, squad_id, most=3)) == ["limit_set", "clinical_changed", "clinical_seen"]


def test_each_narrowing_narrows_by_itself(db, squad, noted):
    squad_id, staff, other = noted
    assert actions(audited(db, squad_id, user_id=other)) == ["limit_set", "clinical_changed"]
    assert actions(audited(db, squad_id, user_id=staff, most=1)) == ["clinical_seen"]
    assert actions(audited(db, squad_id, athlete_id=squad.athletes[1])) == ["clinical_changed"]
    assert actions(audited(db, squad_id, action="clinical")) == ["clinical_changed", "clinical_seen"]
    assert actions(audited(db, squad_id, action="clinical_s")) == ["clinical_seen"]
    # A beginning is a beginning, and no pattern.
    assert actions(audited(db, squad_id, action="%")) == []
    between = audited(db, squad_id, first=TODAY - DAY, last=TODAY - DAY)
    assert actions(between) == ["clinical_changed"]


def test_the_next_page_goes_on_behind_the_last_row(db, noted):
    squad_id, _, _ = noted
    first = audited(db, squad_id, most=2)
    assert len(first) == 2
    assert audited(db, squad_id, before=first[-1].id, most=1)[0].action == "clinical_seen"


@pytest.mark.usefixtures("noted")
def test_another_squad_and_the_club_are_told_nothing_of_it(db, squad):
    other = make_small_squad(db, TODAY)
    for told in (audited(db, other.squad.id), audited_of_club(db, squad.squad.club_id)):
        assert "one" not in {row.subject for row in told}


def test_a_club_reads_what_is_of_no_squad_and_what_was_done_to_accounts(db, squad, noted):
    squad_id, staff, _ = noted
    club = squad.squad.club_id
    stamp = Stamp(staff, NOW)
    note(db, "password_changed", f"user:{staff}", stamp=stamp)
    note(db, "invited", "user:9", stamp=stamp, squad_id=squad_id)
    note(db, "retention_set", f"club:{club}", stamp=Stamp(None, NOW))
    note(db, "retention_set", f"club:{club + 1}", stamp=Stamp(None, NOW))
    db.flush()
    told = audited_of_club(db, club, most=3)
    assert actions(told) == ["retention_set", "invited", "password_changed"]
    assert told[0].subject == f"club:{club}"
    assert "invited" in actions(audited(db, squad_id, most=1))


def test_a_look_within_half_an_hour_is_the_same_look_of_the_same_person(db, squad, noted):
    squad_id, staff, other = noted
    athletes = squad.athletes[:2]

    def look(by, at):
        saw(db, "limits_seen", athletes, stamp=Stamp(by, at), squad_id=squad_id)
        db.flush()
        return len(audited(db, squad_id, action="limits_seen"))

    assert look(staff, NOW) == 2
    assert look(staff, NOW + ONE_LOOK / 2) == 2
    assert look(other, NOW + ONE_LOOK / 2) == 4
    assert look(staff, NOW + ONE_LOOK + timedelta(seconds=1)) == 6
    assert seen_since(db, squad_id, staff, "limits_seen", NOW + ONE_LOOK) == set(athletes)
    assert seen_since(db, squad_id, staff, "clinical_seen", NOW) == set()
