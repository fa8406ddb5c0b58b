from datetime import timedelta

import pyotp
import pytest
from argon2 import Type

from tests.conftest import NOW
from tests.squad import PASSWORD
from uvren.services.club import accounts, invitations, second_factor
from uvren.services.club.permissions import MAY, Action, Person
from uvren.services.errors import Invalid, NotAllowed, NotFound, NotSignedIn, TooMany
from uvren.services.squad.squads import squad_for
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Role, RoleGrant, User
from uvren.store.types import new_ulid


def test_a_token_leads_to_the_person_until_it_runs_out_or_is_signed_out(db, squad):
    token = accounts.sign_in(db, squad.staff.login.upper(), PASSWORD, "127.0.0.1", NOW)
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
            accounts.sign_in(db, squad.staff.login, "wrong-password", "10.0.0.9", NOW)
    with pytest.raises(TooMany):
        accounts.sign_in(db, squad.staff.login, PASSWORD, "10.0.0.9", NOW)
    later = NOW + timedelta(minutes=16)
    assert accounts.sign_in(db, squad.staff.login, PASSWORD, "10.0.0.9", later)


def test_an_unknown_name_and_a_wrong_password_are_answered_alike(db, squad):
    answers = set()
    for login in (squad.staff.login, "nobody-here"):
        with pytest.raises(Invalid) as refused:
            accounts.sign_in(db, login, "wrong-password", "10.0.0.8", NOW)
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
invite             x           .         .     .       x
manage_people      .           .         .     .       x
read_audit         .           .         .     .       x
own_page           .           .         .     x       .
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
    return Person(user.id, "N", {squad.squad.id: frozenset({role})})


def test_an_athlete_joins_by_a_link_that_works_once(db, squad):
    (made,) = invitations.invite_athletes(db, squad.squad, squad.athletes[:1], stamp=Stamp(squad.staff.id, NOW))
    user = invitations.accept(db, made.token, " Anna ", "a-new-password", "10.0.0.1", NOW)
    assert (user.login, user.athlete_id, user.name) == ("anna", squad.athletes[0], "A")
    token = accounts.sign_in(db, "anna", "a-new-password", "10.0.0.1", NOW)
    assert accounts.person_of(db, token, NOW).roles == {squad.squad.id: frozenset({Role.ATHLETE})}
    for moment in (NOW, NOW + timedelta(days=20)):
        with pytest.raises(NotFound, match="works no more"):
            invitations.accept(db, made.token, "other", "a-new-password", "10.0.0.1", moment)
    with pytest.raises(Invalid, match="can sign in already"):
        invitations.invite_athletes(db, squad.squad, squad.athletes[:1], stamp=Stamp(squad.staff.id, NOW))


def test_a_newer_link_ends_the_older_one_and_both_run_out(db, squad):
    first, second = (
        invitations.invite_athletes(db, squad.squad, squad.athletes[:1], stamp=Stamp(squad.staff.id, NOW))[0]
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
    (made,) = invitations.invite_athletes(db, squad.squad, squad.athletes[:1], stamp=Stamp(squad.staff.id, NOW))
    with pytest.raises(Invalid) as refused:
        invitations.accept(db, made.token, login, password, "10.0.0.1", NOW)
    assert refused.value.field == field
    assert invitations.look(db, made.token, NOW)


def test_a_taken_name_is_refused_in_any_case_of_letters(db, squad):
    (made,) = invitations.invite_athletes(db, squad.squad, squad.athletes[:1], stamp=Stamp(squad.staff.id, NOW))
    with pytest.raises(Invalid, match="taken"):
        invitations.accept(db, made.token, squad.staff.login.upper(), "a-new-password", "10.0.0.1", NOW)


def test_performance_staff_give_new_passwords_to_athletes_but_not_to_staff(db, squad):
    staff = person_as(db, squad, Role.PERFORMANCE)
    athlete = person_as(db, squad, Role.ATHLETE, squad.athletes[0])
    admin = person_as(db, squad, Role.ADMIN)
    link = invitations.new_password_link(db, squad.squad, athlete.user_id, person=staff, now=NOW)
    user = invitations.accept(db, link.token, "ignored", "another-password", "10.0.0.1", NOW)
    assert (user.id, user.login == "ignored") == (athlete.user_id, False)
    for target in (admin.user_id, squad.staff.id):
        with pytest.raises(NotAllowed):
            invitations.new_password_link(db, squad.squad, target, person=staff, now=NOW)
        assert invitations.new_password_link(db, squad.squad, target, person=admin, now=NOW)
    with pytest.raises(NotAllowed):
        invitations.invite_staff(db, squad.squad, Role.ADMIN, "Me", person=staff, now=NOW)


def test_a_second_factor_asks_for_a_code_that_opens_one_door_once(db, squad):
    login = squad.staff.login
    secret = second_factor.new_secret()
    with pytest.raises(Invalid):
        second_factor.switch_on(db, squad.staff.id, secret, "000000", NOW)
    code = pyotp.TOTP(secret).at(NOW)
    second_factor.switch_on(db, squad.staff.id, secret, code, NOW)
    with pytest.raises(Invalid) as refused:
        accounts.sign_in(db, login, PASSWORD, "10.0.0.2", NOW)
    assert refused.value.field == "code"
    assert accounts.sign_in(db, login, PASSWORD, "10.0.0.2", NOW, code=code)
    with pytest.raises(Invalid, match="wrong or was used"):
        accounts.sign_in(db, login, PASSWORD, "10.0.0.2", NOW, code=code)
    later = NOW + timedelta(minutes=3)
    assert accounts.sign_in(db, login, PASSWORD, "10.0.0.2", later, code=pyotp.TOTP(secret).at(later))
    # A wrong password is not told apart by whether a code is asked for.
    with pytest.raises(Invalid) as refused:
        accounts.sign_in(db, login, "wrong-password", "10.0.0.2", later)
    assert refused.value.field == "password"


def test_a_changed_password_ends_every_other_sign_in(db, squad):
    mine, other = (accounts.sign_in(db, squad.staff.login, PASSWORD, "10.0.0.3", NOW) for _ in range(2))
    with pytest.raises(Invalid) as refused:
        accounts.change_password(db, squad.staff.id, "wrong", "a-newer-password", mine, NOW)
    assert refused.value.field == "old"
    accounts.change_password(db, squad.staff.id, PASSWORD, "a-newer-password", mine, NOW)
    assert accounts.person_of(db, mine, NOW)
    with pytest.raises(NotSignedIn):
        accounts.person_of(db, other, NOW)


def test_sign_ins_are_listed_and_ended_one_by_one_by_whose_they_are(db, squad):
    token = accounts.sign_in(db, squad.staff.login, PASSWORD, "10.0.0.4", NOW, device="Chrome on Android")
    (one,) = queries.club.sign_ins_of(db, squad.staff.id, NOW)
    assert one.device == "Chrome on Android"
    with pytest.raises(NotFound):
        accounts.revoke(db, squad.staff.id + 1, one.id)
    accounts.revoke(db, squad.staff.id, one.id)
    with pytest.raises(NotSignedIn):
        accounts.person_of(db, token, NOW)


def test_who_may_sign_in_no_more_is_out_at_once(db, squad):
    admin = person_as(db, squad, Role.ADMIN)
    token = accounts.sign_in(db, squad.staff.login, PASSWORD, "10.0.0.5", NOW)
    invitations.set_active(db, squad.squad, squad.staff.id, False, stamp=Stamp(admin.user_id, NOW))
    with pytest.raises(NotSignedIn):
        accounts.person_of(db, token, NOW)
    with pytest.raises(Invalid):
        accounts.sign_in(db, squad.staff.login, PASSWORD, "10.0.0.5", NOW)
    with pytest.raises(NotAllowed):
        invitations.set_active(db, squad.squad, admin.user_id, False, stamp=Stamp(admin.user_id, NOW))


def test_a_squad_one_is_not_part_of_does_not_exist_and_one_may_not_change_what_one_may_only_see(db, squad):
    coach = Person(1, "c", {squad.squad.id: frozenset({Role.COACH})})
    stranger = Person(2, "s", {})
    assert squad_for(db, coach, squad.squad.slug, Action.READ_SQUAD)
    with pytest.raises(NotAllowed):
        squad_for(db, coach, squad.squad.slug, Action.MAKE_CALLS)
    for slug in (squad.squad.slug, "no-such-squad"):
        with pytest.raises(NotFound, match="no such squad"):
            squad_for(db, stranger, slug, Action.READ_SQUAD)
