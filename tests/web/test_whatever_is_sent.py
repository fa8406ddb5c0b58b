"""Whatever a machine can think of to send, as everybody: no answer is an error of the server."""

import os
import re

import pytest
import schemathesis
from hypothesis import HealthCheck, given, settings

from tests.web.made import made_of
from uvren.store.models import Role

# Of each operation and role; more of them by hand, as the tests of every change have no time for it.
EXAMPLES = int(os.environ.get("UVREN_EXAMPLES", "2"))
QUIET = settings(
    max_examples=EXAMPLES, deadline=None, derandomize=True, database=None, suppress_health_check=list(HealthCheck)
)
NAMED = re.compile(r"\{(\w+?)(_id)?\}")
# What an address calls by another name than what it is.
ALSO = {"import": "file", "invitation": "link", "code": "test"}


@pytest.fixture
def addressed(db, squad, uploads):
    """Addresses of the documents' form, filled with what is there."""
    there = made_of(db, squad, uploads) | {"slug": squad.squad.slug, "sign_in": "01J00000000000000000000000"}
    there["ending"] = "csv"

    def address(form, only=frozenset(there)):
        """A form with what ``only`` names filled in; the rest of it stands as it is."""
        called = [(found[0], ALSO.get(found[1], found[1])) for found in NAMED.finditer(form)]
        for braces, name in called:
            form = form.replace(braces, str(there[name])) if name in only else form
        return form

    return address


@pytest.fixture
def everybody(app, sign_in_as):
    """A browser of each role, of the club's administrator, and of who has not signed in."""
    stranger = app.test_client()
    stranger.renew()
    roles = {role.value: sign_in_as(role) for role in Role}
    return roles | {"club": sign_in_as(Role.ADMIN, club_admin=True), "stranger": stranger}


@pytest.mark.parametrize("who", ["performance", "clinician", "coach", "athlete", "admin", "club", "stranger"])
def test_nothing_that_a_machine_thinks_of_makes_the_server_fail(who, addressed, everybody, db, client):
    """Each operation of the document, as it was thought of and at the address of something that is there."""
    browser, token = everybody[who], everybody[who].token
    kept = browser.get_cookie("uvren").value
    db.commit()
    asked = 0
    for operation in schemathesis.openapi.from_dict(client.get("/api/openapi.json").json).get_all_operations():
        each = operation.ok()

        def send(case):
            nonlocal asked
            made = case.as_transport_kwargs(base_url="http://localhost")
            thought = made["url"].removeprefix("http://localhost")
            guessed = addressed(case.operation.path, {"slug"}).format_map(case.path_parameters)
            body = {key: made[key] for key in ("json", "data") if made.get(key) is not None}
            for path in (thought, guessed, addressed(case.operation.path)):
                undone = db.get_bind().begin_nested()
                answer = browser.open(
                    path, method=made["method"], query_string=made.get("params"), headers={"X-CSRF-Token": token},
                    **body,
                )  # fmt: skip
                db.rollback()
                undone.rollback()
                browser.set_cookie("uvren", kept)
                asked += 1
                assert answer.status_code < 500, (path, body, answer.text[:300])

        given(case=each.as_strategy())(QUIET(send))()
    print(f"{asked} requests as {who}")
