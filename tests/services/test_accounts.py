from datetime import timedelta

import pytest

from tests.conftest import NOW
from tests.squad import PASSWORD
from uvren.services import accounts
from uvren.services.errors import Invalid, NotAllowed, NotFound, NotSignedIn, TooMany
from uvren.services.permissions import MAY, Action, Person
from uvren.services.squads import squad_for
from uvren.store.models import Role, User


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


def test_passwords_are_kept_as_argon2id_and_short_ones_refused(db, squad):
    assert db.get(User, squad.staff.id).password_hash.startswith("$argon2id$")
    with pytest.raises(Invalid, match="10 characters"):
        accounts.hash_password("short")


@pytest.mark.parametrize("role", list(Role))
@pytest.mark.parametrize("action", list(Action))
def test_the_permission_table_cell_by_cell(role, action):
    allowed = {Role.PERFORMANCE: set(Action), Role.COACH: {Action.READ_SQUAD}}
    person = Person(1, "x", {7: frozenset({role})})
    assert person.may(action, 7) is (action in allowed.get(role, set()))
    assert not person.may(action, 8)
    assert set(MAY) == set(Role)


def test_a_squad_one_is_not_part_of_does_not_exist_and_one_may_not_change_what_one_may_only_see(db, squad):
    coach = Person(1, "c", {squad.squad.id: frozenset({Role.COACH})})
    stranger = Person(2, "s", {})
    assert squad_for(db, coach, squad.squad.slug, Action.READ_SQUAD)
    with pytest.raises(NotAllowed):
        squad_for(db, coach, squad.squad.slug, Action.MAKE_CALLS)
    for slug in (squad.squad.slug, "no-such-squad"):
        with pytest.raises(NotFound, match="no such squad"):
            squad_for(db, stranger, slug, Action.READ_SQUAD)
