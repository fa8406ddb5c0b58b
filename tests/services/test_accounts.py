from dataclasses import replace
from datetime import timedelta

import pyotp
import pytest
from argon2 import Type

from tests.conftest import NOW, TODAY
from tests.squad import PASSWORD
from uvren.core.body import Pain, Side, Site
from uvren.services.club import accounts, invitations, second_factor
from uvren.services.club.accounts import Whence
from uvren.services.club.permissions import MAY, Action, Person
from uvren.services.errors import Invalid, NotAllowed, NotFound, NotSignedIn, TooMany
from uvren.services.return_ import clinical
from uvren.services.squad import squads
from uvren.services.squad.squads import squad_for
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Club, Membership, Role, RoleGrant, User
from uvren.store.types import new_ulid


def test_a_token_leads_to_the_person_until_it_runs_out_or_is_signed_out(db, squad):
    token = accounts.sign_in(db, squad.staff.login.upper(), PASSWORD, Whence("127.0.0.1"), NOW)
    person = accounts.person_of(db, token, NOW)
    assert person.roles == {squad.squad.id: frozenset({Role.PERFORMANCE})}
    with pytest.raises(NotSignedIn):
        accounts.person_of(db, token, NOW + timedelta(days=1))
    accounts.sign_out(db, token)
    with pytest.raises(NotSignedIn):
        accounts.person_of(db, token, NOW)


def test_after_five_failed_tries_even_the_right_password_waits(db, squad):
    for _ in range(5):
        with pytest.raises(Invalid):
            accounts.sign_in(db, squad.staff.login, "wrong-password", Whence("10.0.0.9"), NOW)
    with pytest.raises(TooMany):
        accounts.sign_in(db, squad.staff.login, PASSWORD, Whence("10.0.0.9"), NOW)
    later = NOW + timedelta(minutes=16)
    assert accounts.sign_in(db, squad.staff.login, PASSWORD, Whence("10.0.0.9"), later)


def test_an_unknown_name_and_a_wrong_password_are_answered_alike(db, squad):
    answers = set()
    for login in (squad.staff.login, "nobody-here"):
        with pytest.raises(Invalid) as refused:
            accounts.sign_in(db, login, "wrong-password", Whence("10.0.0.8"), NOW)
        answers.add(refused.value.detail)
    assert len(answers) == 1


def test_a_stolen_hash_is_dear_to_guess(own_hasher):
    # At least what OWASP's password storage cheat sheet asks of Argon2id (2024): 19 MiB and two passes.
    assert own_hasher.memory_cost >= 19 * 1024
    assert own_hasher.time_cost >= 2
    assert own_hasher.type is Type.ID


def test_passwords_are_kept_as_argon2id_and_short_ones_refused(db, squad):
    assert db.get(User, squad.staff.id).password_hash.startswith("$argon2id$")
    with pytest.raises(Invalid, match="10 characters"):
        accounts.hash_password("short")


# Every cell of the permission table, told a second time: an action of the table that is missing here fails.
TABLE = """
action             performance clinician coach athlete admin
read_squad         x           x         x     .       .
read_words         x           x         .     .       .
read_reasons       x           x         .     .       .
edit_entries       x           .         .     .       .
plan               x           .         x     .       .
make_calls         x           .         .     .       .
edit_limits        x           .         .     .       .
edit_units         x           .         .     .       .
read_anchors       x           x         .     .       .
edit_anchors       x           .         .     .       .
import             x           .         .     .       .
export             x           .         .     .       .
read_reports       x           x         .     .       .
enter_reports      x           x         .     .       .
edit_forms         x           .         .     .       .
read_availability  x           x         x     .       .
read_clinical      .           x         .     .       .
edit_clinical      .           x         .     .       .
plan_returns       x           x         .     .       .
run_sessions       x           x         x     .       .
invite             x           .         .     .       x
link_athletes      x           x         .     .       x
relink_athletes    .           x         .     .       .
write_notes        x           x         .     .       .
manage_people      .           .         .     .       x
read_audit         .           .         .     .       x
own_page           .           .         .     x       .
run_club           .           .         .     .       .
"""
_HEAD, *_LINES = (line.split() for line in TABLE.strip().splitlines())
CELLS = {(line[0], role): cell == "x" for line in _LINES for role, cell in zip(_HEAD[1:], line[1:], strict=True)}


@pytest.mark.parametrize("role", list(Role))
@pytest.mark.parametrize("action", list(Action))
def test_the_permission_table_cell_by_cell(role, action):
    person = Person(1, "x", {7: frozenset({role})})
    assert person.may(action, 7) is CELLS[action.value, role.value]
    assert not person.may(action, 8)
    assert set(MAY) == set(Role)


@pytest.mark.parametrize("role", list(Role))
def test_by_the_clubs_setting_performance_staff_read_clinical_detail_and_nobody_else(role):
    person = Person(1, "x", {7: frozenset({role})}, clinical_by_setting=True)
    assert person.may(Action.READ_CLINICAL, 7) is (role in (Role.PERFORMANCE, Role.CLINICIAN))
    assert person.may(Action.EDIT_CLINICAL, 7) is (role is Role.CLINICIAN)


def person_as(db, squad, role, athlete=None):
    user = User(club_id=squad.squad.club_id, login=new_ulid().lower(), name="N", password_hash="", athlete_id=athlete)
    db.add(user)
    db.flush()
    db.add(RoleGrant(user_id=user.id, squad_id=squad.squad.id, role=role))
    db.flush()
    return Person(user.id, "N", {squad.squad.id: frozenset({role})}, squad.squad.club_id)


def performance(squad):
    return Person(squad.staff.id, "S. Taff", {squad.squad.id: frozenset({Role.PERFORMANCE})}, squad.squad.club_id)


def test_an_athlete_joins_by_a_link_that_works_once(db, squad):
    (made,) = invitations.invite_athletes(db, squad.squad, squad.athletes[:1], person=performance(squad), now=NOW)
    user = invitations.accept(db, made.token, " Anna ", "a-new-password", Whence("10.0.0.1"), NOW)
    assert (user.login, user.athlete_id, user.name) == ("anna", squad.athletes[0], "A")
    token = accounts.sign_in(db, "anna", "a-new-password", Whence("10.0.0.1"), NOW)
    assert accounts.person_of(db, token, NOW).roles == {squad.squad.id: frozenset({Role.ATHLETE})}
    for moment in (NOW, NOW + timedelta(days=20)):
        with pytest.raises(NotFound, match="works no more"):
            invitations.accept(db, made.token, "other", "a-new-password", Whence("10.0.0.1"), moment)
    with pytest.raises(Invalid, match="can sign in already"):
        invitations.invite_athletes(db, squad.squad, squad.athletes[:1], person=performance(squad), now=NOW)


def test_a_newer_link_ends_the_older_one_and_both_run_out(db, squad):
    first, second = (
        invitations.invite_athletes(db, squad.squad, squad.athletes[:1], person=performance(squad), now=NOW)[0]
        for _ in range(2)
    )
    for token, moment in ((first.token, NOW), (second.token, NOW + timedelta(days=14)), ("x" * 30, NOW)):
        with pytest.raises(NotFound, match="works no more"):
            invitations.look(db, token, moment)
    assert invitations.look(db, second.token, NOW)[0].name == "A"


@pytest.mark.parametrize(
    ("login", "password", "field"),
    [("ab", "a-new-password", "login"), ("with space", "a-new-password", "login"), ("fine", "short", "password")],
)
def test_a_name_or_password_that_cannot_be_leaves_the_link_unused(db, squad, login, password, field):
    (made,) = invitations.invite_athletes(db, squad.squad, squad.athletes[:1], person=performance(squad), now=NOW)
    with pytest.raises(Invalid) as refused:
        invitations.accept(db, made.token, login, password, Whence("10.0.0.1"), NOW)
    assert refused.value.field == field
    assert invitations.look(db, made.token, NOW)


def test_a_taken_name_is_refused_in_any_case_of_letters(db, squad):
    (made,) = invitations.invite_athletes(db, squad.squad, squad.athletes[:1], person=performance(squad), now=NOW)
    with pytest.raises(Invalid, match="taken"):
        invitations.accept(db, made.token, squad.staff.login.upper(), "a-new-password", Whence("10.0.0.1"), NOW)


def test_a_new_password_for_an_athlete_is_made_by_who_could_read_what_it_opens(db, squad):
    athlete = person_as(db, squad, Role.ATHLETE, squad.athletes[0])
    for role in (Role.PERFORMANCE, Role.ADMIN, Role.COACH):
        with pytest.raises(NotAllowed):
            invitations.new_password_link(db, squad.squad, athlete.user_id, person=person_as(db, squad, role), now=NOW)
    clinician = person_as(db, squad, Role.CLINICIAN)
    link = invitations.new_password_link(db, squad.squad, athlete.user_id, person=clinician, now=NOW)
    user = invitations.accept(db, link.token, "ignored", "another-password", Whence("10.0.0.1"), NOW)
    assert (user.id, user.login == "ignored") == (athlete.user_id, False)


def test_new_passwords_for_staff_are_made_by_who_manages_people(db, squad):
    staff, admin = person_as(db, squad, Role.PERFORMANCE), person_as(db, squad, Role.ADMIN)
    for target in (admin.user_id, squad.staff.id):
        with pytest.raises(NotAllowed):
            invitations.new_password_link(db, squad.squad, target, person=staff, now=NOW)
        assert invitations.new_password_link(db, squad.squad, target, person=admin, now=NOW)
    with pytest.raises(NotAllowed):
        invitations.invite_staff(db, squad.squad, Role.ADMIN, "Me", person=staff, now=NOW)


def at(secret, moment):
    return pyotp.TOTP(secret).at(moment)


@pytest.fixture
def with_codes(db, squad):
    """Staff who use one-time codes: the secret and the recovery codes. The code of now is used."""
    secret = second_factor.new_secret()
    return secret, second_factor.switch_on(db, squad.staff.id, secret, at(secret, NOW), NOW)


def test_a_second_factor_asks_for_a_code_that_opens_one_door_once(db, squad, with_codes):
    secret, _ = with_codes
    login, later, here = squad.staff.login, NOW + timedelta(minutes=3), Whence("10.0.0.2")
    with pytest.raises(Invalid) as refused:
        accounts.sign_in(db, login, PASSWORD, here, NOW)
    assert refused.value.field == "code"
    # The code with which it was switched on is used; so is one that has opened a door, from wherever it comes.
    with pytest.raises(Invalid, match="wrong or was used"):
        accounts.sign_in(db, login, PASSWORD, here, NOW, code=at(secret, NOW))
    assert accounts.sign_in(db, login, PASSWORD, here, later, code=at(secret, later))
    with pytest.raises(Invalid, match="wrong or was used"):
        accounts.sign_in(db, login, PASSWORD, Whence("10.0.0.3"), later, code=at(secret, later))
    # A wrong password is not told apart by whether a code is asked for.
    with pytest.raises(Invalid) as refused:
        accounts.sign_in(db, login, "wrong-password", here, later)
    assert refused.value.field == "password"


def test_a_recovery_code_opens_one_door_in_place_of_a_lost_app(db, squad, with_codes):
    _, codes = with_codes
    assert len(set(codes)) == second_factor.RECOVERY_CODES
    assert accounts.sign_in(db, squad.staff.login, PASSWORD, Whence("10.0.0.2"), NOW, code=codes[0].upper())
    with pytest.raises(Invalid, match="wrong or was used"):
        accounts.sign_in(db, squad.staff.login, PASSWORD, Whence("10.0.0.2"), NOW, code=codes[0])
    # Nobody else's opens it, and none after it was taken away.
    other = person_as(db, squad, Role.COACH)
    assert not queries.accounts.use_recovery_code(
        db, other.user_id, second_factor._digest(squad.staff.id, codes[1]), NOW
    )
    second_factor.switch_off(db, squad.staff.id, stamp=Stamp(squad.staff.id, NOW))
    second_factor.switch_on(db, squad.staff.id, *fresh(NOW), NOW)
    with pytest.raises(Invalid, match="wrong or was used"):
        accounts.sign_in(db, squad.staff.login, PASSWORD, Whence("10.0.0.2"), NOW, code=codes[1])


def fresh(moment):
    secret = second_factor.new_secret()
    return secret, at(secret, moment)


def test_a_second_factor_is_taken_away_with_password_and_code_and_never_replaced_over_ones_head(db, squad, with_codes):
    secret, codes = with_codes
    later, me = NOW + timedelta(minutes=3), squad.staff.id
    with pytest.raises(Invalid, match="already"):
        second_factor.switch_on(db, me, *fresh(NOW), NOW)
    for password, code, field in (
        ("wrong-password", at(secret, later), "password"), (PASSWORD, "000000", "code"), (PASSWORD, "", "code"),
        (PASSWORD, at(secret, NOW), "code"),
    ):  # fmt: skip
        with pytest.raises(Invalid) as refused:
            accounts.drop_second_factor(db, me, password, code, "10.0.0.2", later)
        assert refused.value.field == field
    accounts.drop_second_factor(db, me, PASSWORD, codes[3], "10.0.0.2", later)
    assert accounts.sign_in(db, squad.staff.login, PASSWORD, Whence("10.0.0.2"), later)


def test_tries_at_the_present_password_are_counted_too(db, squad):
    for _ in range(5):
        with pytest.raises(Invalid):
            accounts.change_password(db, squad.staff.id, "wrong", "a-newer-password", "t", "10.0.0.3", NOW)
    with pytest.raises(TooMany):
        accounts.change_password(db, squad.staff.id, PASSWORD, "a-newer-password", "t", "10.0.0.3", NOW)


def test_a_locked_name_stays_open_for_a_browser_that_was_here_before(db, squad):
    known, stranger = Whence("10.0.0.7", device="phone"), Whence("10.6.6.6", device="other")
    assert accounts.sign_in(db, squad.staff.login, PASSWORD, known, NOW)
    for _ in range(5):
        with pytest.raises(Invalid):
            accounts.sign_in(db, squad.staff.login, "guess", stranger, NOW)
    with pytest.raises(TooMany):
        accounts.sign_in(db, squad.staff.login, PASSWORD, stranger, NOW)
    assert accounts.sign_in(db, squad.staff.login, PASSWORD, known, NOW)
    # It has tries of its own, and no more of them than a stranger.
    for _ in range(5):
        with pytest.raises(Invalid):
            accounts.sign_in(db, squad.staff.login, "guess", known, NOW)
    with pytest.raises(TooMany):
        accounts.sign_in(db, squad.staff.login, PASSWORD, known, NOW)


def test_a_name_is_not_kept_locked_by_knocking(db, squad):
    def guess(moment):
        with pytest.raises((Invalid, TooMany)):
            accounts.sign_in(db, squad.staff.login, "guess", Whence("10.6.6.6"), moment)

    for minute in range(0, 16):
        guess(NOW + timedelta(minutes=minute / 2))
    assert accounts.sign_in(db, squad.staff.login, PASSWORD, Whence("10.0.0.1"), NOW + timedelta(minutes=18))


def test_a_changed_password_ends_every_other_sign_in(db, squad):
    mine, other = (accounts.sign_in(db, squad.staff.login, PASSWORD, Whence("10.0.0.3"), NOW) for _ in range(2))
    with pytest.raises(Invalid) as refused:
        accounts.change_password(db, squad.staff.id, "wrong", "a-newer-password", mine, "10.0.0.3", NOW)
    assert refused.value.field == "old"
    accounts.change_password(db, squad.staff.id, PASSWORD, "a-newer-password", mine, "10.0.0.3", NOW)
    assert accounts.person_of(db, mine, NOW)
    with pytest.raises(NotSignedIn):
        accounts.person_of(db, other, NOW)


def test_sign_ins_are_listed_and_ended_one_by_one_by_whose_they_are(db, squad):
    token = accounts.sign_in(db, squad.staff.login, PASSWORD, Whence("10.0.0.4", "Chrome on Android"), NOW)
    (one,) = queries.accounts.sign_ins_of(db, squad.staff.id, NOW)
    assert one.device == "Chrome on Android"
    with pytest.raises(NotFound):
        accounts.revoke(db, squad.staff.id + 1, one.id)
    accounts.revoke(db, squad.staff.id, one.id)
    with pytest.raises(NotSignedIn):
        accounts.person_of(db, token, NOW)


def test_who_may_sign_in_no_more_is_out_at_once(db, squad):
    admin = person_as(db, squad, Role.ADMIN)
    token = accounts.sign_in(db, squad.staff.login, PASSWORD, Whence("10.0.0.5"), NOW)
    invitations.set_active(db, squad.squad, squad.staff.id, False, person=admin, now=NOW)
    with pytest.raises(NotSignedIn):
        accounts.person_of(db, token, NOW)
    with pytest.raises(Invalid):
        accounts.sign_in(db, squad.staff.login, PASSWORD, Whence("10.0.0.5"), NOW)
    with pytest.raises(NotAllowed):
        invitations.set_active(db, squad.squad, admin.user_id, False, person=admin, now=NOW)


def test_a_squad_one_is_not_part_of_does_not_exist_and_one_may_not_change_what_one_may_only_see(db, squad):
    coach = Person(1, "c", {squad.squad.id: frozenset({Role.COACH})}, squad.squad.club_id)
    stranger = Person(2, "s", {}, squad.squad.club_id)
    assert squad_for(db, coach, squad.squad.slug, Action.READ_SQUAD)
    with pytest.raises(NotAllowed):
        squad_for(db, coach, squad.squad.slug, Action.MAKE_CALLS)
    for slug in (squad.squad.slug, "no-such-squad"):
        with pytest.raises(NotFound, match="no such squad"):
            squad_for(db, stranger, slug, Action.READ_SQUAD)


def two_squads(db, squad):
    """Another squad of the same club, an administrator of the first one only, and one of the club."""
    club = db.get_one(Club, squad.squad.club_id)
    second = squads.create_squad(db, club, new_ulid().lower(), "Second", "Europe/Oslo", NOW)
    mine = person_as(db, squad, Role.ADMIN)
    of_club = replace(mine, club_admin=True)
    return second, mine, of_club


def test_who_has_rights_elsewhere_is_no_one_squads_to_take_over_or_shut_out(db, squad):
    second, mine, of_club = two_squads(db, squad)
    db.add(RoleGrant(user_id=squad.staff.id, squad_id=second.id, role=Role.CLINICIAN))
    db.flush()
    for act in (
        lambda person: invitations.new_password_link(db, squad.squad, squad.staff.id, person=person, now=NOW),
        lambda person: invitations.reset_second_factor(db, squad.squad, squad.staff.id, person=person, now=NOW),
        lambda person: invitations.set_active(db, squad.squad, squad.staff.id, False, person=person, now=NOW),
    ):
        with pytest.raises(NotAllowed, match="administrator of the club"):
            act(mine)
        act(of_club)


def test_who_acts_for_the_club_is_taken_over_by_nobody_of_a_squad(db, squad):
    _, mine, of_club = two_squads(db, squad)
    squad.staff.club_admin = True
    db.flush()
    with pytest.raises(NotAllowed, match="administrator of the club"):
        invitations.new_password_link(db, squad.squad, squad.staff.id, person=mine, now=NOW)
    assert invitations.new_password_link(db, squad.squad, squad.staff.id, person=of_club, now=NOW)


def test_who_acts_for_the_club_is_in_each_of_its_squads_and_in_no_other_clubs(db, squad):
    second, _, of_club = two_squads(db, squad)
    assert squad_for(db, of_club, second.slug, Action.MANAGE_PEOPLE)
    with pytest.raises(NotAllowed):
        squad_for(db, of_club, second.slug, Action.READ_REPORTS)
    foreign = squads.create_squad(db, squads.create_club(db, new_ulid()), new_ulid().lower(), "F", "Europe/Oslo", NOW)
    with pytest.raises(NotFound):
        squad_for(db, of_club, foreign.slug, Action.MANAGE_PEOPLE)


def test_the_first_link_of_whom_something_clinical_is_kept_is_made_by_who_may_read_it(db, squad):
    pain = Pain(Site.KNEE, Side.LEFT, 7)
    stamp = Stamp(squad.staff.id, NOW)
    clinical.record_injury(db, squad.squad, squad.athletes[0], pain, None, stamp=stamp, today=TODAY)
    for role in (Role.PERFORMANCE, Role.ADMIN):
        with pytest.raises(NotAllowed, match="A clinician"):
            invitations.invite_athletes(db, squad.squad, squad.athletes[:1], person=person_as(db, squad, role), now=NOW)
    for person in (person_as(db, squad, Role.CLINICIAN), two_squads(db, squad)[2]):
        assert invitations.invite_athletes(db, squad.squad, squad.athletes[:1], person=person, now=NOW)


def test_the_first_link_of_somebody_of_two_squads_is_made_by_who_is_in_both(db, squad):
    second, _, of_club = two_squads(db, squad)
    db.add(Membership(squad_id=second.id, athlete_id=squad.athletes[0], position="wing", from_day=TODAY))
    db.flush()
    with pytest.raises(NotAllowed, match="A clinician"):
        invitations.invite_athletes(db, squad.squad, squad.athletes[:1], person=performance(squad), now=NOW)
    assert invitations.invite_athletes(db, squad.squad, squad.athletes[:1], person=of_club, now=NOW)


def test_a_switched_off_account_stays_off_and_its_links_die(db, squad):
    admin = person_as(db, squad, Role.ADMIN)
    link = invitations.new_password_link(db, squad.squad, squad.staff.id, person=admin, now=NOW)
    invitations.set_active(db, squad.squad, squad.staff.id, False, person=admin, now=NOW)
    with pytest.raises(NotFound, match="works no more"):
        invitations.accept(db, link.token, "", "another-password", Whence("10.0.0.1"), NOW)
    with pytest.raises(NotAllowed, match="switched off"):
        invitations.new_password_link(db, squad.squad, squad.staff.id, person=admin, now=NOW)
    assert db.get(User, squad.staff.id).active is False
    invitations.set_active(db, squad.squad, squad.staff.id, True, person=admin, now=NOW)
    with pytest.raises(NotFound, match="works no more"):
        invitations.look(db, link.token, NOW)


def test_a_newer_link_to_a_new_password_ends_the_older_one(db, squad):
    admin = person_as(db, squad, Role.ADMIN)
    older, newer = (
        invitations.new_password_link(db, squad.squad, squad.staff.id, person=admin, now=NOW) for _ in range(2)
    )
    with pytest.raises(NotFound, match="works no more"):
        invitations.look(db, older.token, NOW)
    assert invitations.look(db, newer.token, NOW)


def test_a_link_that_was_used_tells_who_made_it_and_from_where(db, squad):
    (made,) = invitations.invite_athletes(db, squad.squad, squad.athletes[:1], person=performance(squad), now=NOW)
    user = invitations.accept(db, made.token, "anna", "a-new-password", Whence("10.0.0.1", "Chrome on Android"), NOW)
    (used,) = accounts.links_used(db, user.id, NOW + timedelta(days=5))
    assert (used.made_by, used.used_from, used.at) == ("S. Taff", "Chrome on Android, 10.0.0.1", NOW)
    row = next(one for one in queries.audit.audited(db, squad.squad.id) if one.action == "invitation_used")
    assert (row.details["made_by"], row.details["used_from"]) == (squad.staff.id, "Chrome on Android, 10.0.0.1")
