"""What lets somebody in is good once, for its own person, and not a moment longer than it says."""

from __future__ import annotations

from datetime import timedelta

import pytest

from tests.conftest import NOW
from tests.squad import PASSWORD
from uvren.services.squad import squads
from uvren.store.models import Club, Invitation, Role, SignIn, SignInTry
from uvren.store.queries import accounts

MINUTE = timedelta(minutes=1)


@pytest.fixture
def two(db, squad):
    """Two people, by id."""
    club = db.get_one(Club, squad.squad.club_id)
    other = squads.create_user(db, club, "other", "Other", PASSWORD, {squad.squad.id: Role.COACH})
    return squad.staff.id, other.id


@pytest.fixture
def signed(db, two):
    """Sign-ins a, b of the first person and c of the second; b has run out."""
    one, other = two
    for digest, user, until in (("a", one, NOW + MINUTE), ("b", one, NOW), ("c", other, NOW + MINUTE)):
        db.add(SignIn(token_digest=digest, user_id=user, device="d", created_at=NOW, seen_at=NOW, expires_at=until))
    db.flush()
    return two


def link(db, squad, digest, **more):
    given = {"squad_id": squad.squad.id, "role": Role.COACH, "name": digest, "made_by": squad.staff.id,
             "made_at": NOW, "expires_at": NOW + MINUTE}  # fmt: skip
    db.add(Invitation(token_digest=digest, **(given | more)))
    db.flush()


def digests(rows):
    return sorted(row.token_digest for row in rows)


def test_a_sign_in_holds_until_its_moment_and_for_who_is_active(db, signed, squad):
    one, _ = signed
    assert {row.id for row in accounts.signed_in(db, "a", NOW)} == {one}
    assert accounts.signed_in(db, "b", NOW) == []
    assert accounts.signed_in(db, "a", NOW + MINUTE) == []
    assert digests(accounts.sign_ins_of(db, one, NOW)) == ["a"]
    squad.staff.active = False
    db.flush()
    assert accounts.signed_in(db, "a", NOW) == []


def test_sign_ins_are_ended_of_one_person_and_all_but_the_one_that_asks(db, signed):
    one, other = signed
    long_ago = NOW - MINUTE
    accounts.end_sign_ins(db, one, keep="a")
    assert digests(accounts.sign_ins_of(db, one, long_ago)) == ["a"]
    theirs = accounts.sign_ins_of(db, other, long_ago)[0].id
    assert not accounts.end_one_sign_in(db, one, theirs)
    assert accounts.end_one_sign_in(db, other, theirs)
    accounts.end_sign_ins(db, one)
    assert accounts.sign_ins_of(db, one, long_ago) == []


def test_what_has_run_out_is_dropped_and_nothing_else(db, signed):
    one, other = signed
    db.add_all(SignInTry(login="x", address="10.0.0.1", at=at) for at in (NOW - 2 * MINUTE, NOW))
    db.flush()
    accounts.drop_old(db, NOW + MINUTE / 2, NOW - MINUTE)
    long_ago = NOW - MINUTE
    assert digests(accounts.sign_ins_of(db, one, long_ago)) == ["a"]
    assert digests(accounts.sign_ins_of(db, other, long_ago)) == ["c"]
    assert [row.at for row in accounts.tries_of(db, "x")] == [NOW]


def test_tries_are_counted_by_name_and_by_address_within_the_time(db):
    given = [("x", "10.0.0.1", NOW), ("x", "10.0.0.2", NOW), ("y", "10.0.0.1", NOW), ("x", "10.0.0.1", NOW - MINUTE)]
    db.add_all(SignInTry(login=login, address=address, at=at) for login, address, at in given)
    db.flush()
    since = NOW - MINUTE / 2
    assert accounts.failed_tries(db, since, login="x") == 2
    assert accounts.failed_tries(db, since, address="10.0.0.1") == 2
    assert accounts.failed_tries(db, NOW - 2 * MINUTE, login="x") == 3
    accounts.forget_tries(db, "x")
    assert accounts.failed_tries(db, NOW - 2 * MINUTE, address="10.0.0.1") == 1


def test_a_one_time_code_is_good_once_for_each(db, two):
    one, other = two
    assert accounts.use_code(db, one, 7, 0)
    assert not accounts.use_code(db, one, 7, 0)
    assert accounts.use_code(db, other, 7, 0)
    # What is older than any code that is taken need not be kept.
    assert accounts.use_code(db, one, 9, 8)
    assert accounts.use_code(db, one, 7, 0)


def test_a_recovery_code_is_good_once_and_goes_with_the_others(db, two):
    one, other = two
    accounts.set_recovery_codes(db, one, ["p", "q"])
    db.flush()
    assert not accounts.use_recovery_code(db, other, "p", NOW)
    assert accounts.use_recovery_code(db, one, "p", NOW)
    assert not accounts.use_recovery_code(db, one, "p", NOW)
    accounts.set_recovery_codes(db, one, ["r"])
    db.flush()
    assert not accounts.use_recovery_code(db, one, "q", NOW)


def test_a_browser_is_known_for_who_signed_in_from_it(db, two):
    one, other = two
    accounts.know_device(db, one, "d", NOW)
    accounts.know_device(db, one, "d", NOW + MINUTE)
    assert accounts.knows_device(db, one, "d")
    assert not accounts.knows_device(db, other, "d")
    accounts.forget_devices(db, one)
    assert not accounts.knows_device(db, one, "d")


def test_a_link_is_open_until_it_is_used_withdrawn_or_too_old(db, squad, two):
    one, other = two
    link(db, squad, "open", user_id=one)
    link(db, squad, "theirs", user_id=other)
    link(db, squad, "used", user_id=one, used_at=NOW, used_from="Firefox on Linux, 10.0.0.1")
    link(db, squad, "withdrawn", user_id=one, withdrawn_at=NOW)
    link(db, squad, "old", user_id=one, expires_at=NOW)
    link(db, squad, "athlete", athlete_id=squad.athletes[0])
    assert digests(accounts.open_links_of(db, NOW, user_id=one)) == ["open"]
    assert digests(accounts.open_links_of(db, NOW, athlete_id=squad.athletes[0])) == ["athlete"]
    assert digests(accounts.open_invitations(db, squad.squad.id, NOW)) == ["athlete", "open", "theirs"]
    assert digests(accounts.open_invitations(db, squad.squad.id, NOW - MINUTE)) == ["athlete", "old", "open", "theirs"]
    used = accounts.links_used(db, one, NOW - MINUTE)
    assert [(row[0], row[1]) for row in used] == [(NOW, "Firefox on Linux, 10.0.0.1")]
    assert accounts.links_used(db, one, NOW) == []
