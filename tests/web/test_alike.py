"""What is another squad's answers as what is not there: nobody learns by guessing what exists elsewhere."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import timedelta

import pytest

from tests.conftest import TODAY
from tests.web.made import made_of
from uvren.store import models as m
from uvren.store.types import new_ulid

NOBODY = 987_654_321
YESTERDAY = TODAY - timedelta(days=1)


@dataclass(frozen=True)
class Knock:
    """A request for something by its identifier; ``id`` stands for it in the address and in the body."""

    what: str
    method: str
    path: str
    body: Callable[[object], object] | None = None
    who: str = "staff"


@pytest.fixture
def clinician(sign_in_as):
    return sign_in_as(m.Role.CLINICIAN)


def entry(one):
    return {"changes": [{"athlete_id": one, "minutes": 60, "effort": 5, "version": 1}]}


ANSWER = {"answer": "seen", "closed": False, "version": 1}
TEST = {"name": "Mine", "unit": "s", "better": "lower", "trials": 2, "sides": False, "combine": "best", "version": 1}
CALL = {"id": new_ulid(), "day": str(TODAY), "kind": "rest", "reason": "why"}
PAIN = {"site": "knee", "side": "left", "severity": 4}
SPEC = {"kind": "ratings", "columns": [{"name": "a", "role": "athlete"}]}
REPORT = {"kind": "daily", "day": str(TODAY), "answers": {"mood": 5}, "made_at": f"{TODAY}T06:00:00Z", "ill": False}
LIMIT = {"id": new_ulid(), "rule": "day_cap", "value": 500, "hard": True, "scope": "athlete", "from_day": str(TODAY),
         "reason": "why"}  # fmt: skip
ANCHOR = {"kind": "hr_max", "value": 190, "from_day": str(TODAY), "source": "x"}

KNOCKS = [
    *(Knock("athlete", "GET", f"athletes/{{id}}/{what}?day={TODAY}")
      for what in ("evidence", "timeline", "noticed", "notes", "arithmetic", "position")),
    Knock("athlete", "POST", "athletes/{id}/notes", lambda _: {"words": "x", "day": str(TODAY), "audience": "desk"}),
    Knock("note", "DELETE", "athletes/{mine}/notes/{id}"),
    Knock("athlete", "PUT", "members/{id}", lambda _: {"number": 3, "position": "wing"}),
    Knock("athlete", "PUT", "members/{id}/last-day", lambda _: {"day": str(TODAY)}),
    Knock("athlete", "GET", "members/{id}/copy.zip", who="admin"),
    Knock("athlete", "POST", "members/{id}/forget", lambda _: {"everything": False, "name": "A"}, who="admin"),
    Knock("athlete", "POST", "calls", lambda one: {"calls": [CALL | {"athlete_id": one}]}),
    Knock("athlete", "POST", "limits", lambda one: LIMIT | {"athlete_id": one}),
    Knock("athlete", "POST", "anchors", lambda one: ANCHOR | {"athlete_id": one}),
    Knock("athlete", "POST", "rest-trials", lambda one: {"athlete_id": one, "from_day": str(TODAY), "days": 7}),
    Knock("athlete", "PATCH", "sessions/{session}/entries", entry),
    Knock("athlete", "GET", "sessions/{session}/traces/{id}"),
    Knock("athlete", "POST", "complaints", lambda one: {"athlete_id": one, "pain": PAIN}, who="clinician"),
    Knock("athlete", "POST", "restrictions", lambda one: {
        "athlete_id": one, "availability": "out", "from_day": str(TODAY)}, who="clinician"),
    Knock("session", "GET", "sessions/{id}"),
    Knock("session", "GET", "sessions/{id}/work"),
    Knock("session", "GET", "sessions/{id}/recordings"),
    Knock("session", "PUT", "sessions/{id}/segments", lambda _: {"segments": [], "version": 1}),
    Knock("session", "PUT", "sessions/{id}/place", lambda _: {"place": None}),
    Knock("session", "POST", "channels/preview", lambda one: {"session_id": one, "draft": {
        "name": "U", "unit": "u", "form": "effort_minutes", "settings": {}, "kinds": ["court"], "mark": "bar",
        "from_day": str(TODAY), "reason": "x"}}),
    Knock("session", "GET", "sessions/{id}/plan"),
    Knock("session", "PUT", "sessions/{id}/plan", lambda _: {
        "kind": "gym", "title": "x", "day": str(TODAY), "at": "18:00", "minutes": 60, "effort": 5, "version": 1}),
    Knock("session", "POST", "sessions/{id}/take-back", lambda _: {"version": 1}),
    Knock("session", "POST", "sessions/{id}/call-off", lambda _: {"version": 1, "why": "x"}),
    Knock("session", "POST", "sessions/{id}/put-on", lambda _: {"version": 1}),
    Knock("session", "DELETE", "sessions/{id}?version=1"),
    Knock("session", "POST", "sessions/{id}/restore", lambda _: {}),
    Knock("limit", "DELETE", "limits/{id}"),
    Knock("call", "DELETE", "calls/{id}"),
    Knock("call", "POST", "calls/{id}/reply", lambda _: {"reply": "x"}, who="clinician"),
    Knock("complaint", "PUT", "complaints/{id}", lambda _: ANSWER, who="clinician"),
    Knock("anchor", "DELETE", "anchors/{id}"),
    Knock("setting", "DELETE", "notices/{id}"),
    Knock("place", "DELETE", "places/{id}"),
    Knock("view", "DELETE", "views/{id}"),
    Knock("file", "GET", "files/{id}"),
    Knock("file", "DELETE", "files/{id}"),
    Knock("file", "POST", "files/{id}/preview", lambda _: {}),
    Knock("file", "POST", "files/{id}/bring-in", lambda _: {"spec": SPEC}),
    Knock("file", "POST", "files/{id}/undo", lambda _: {}),
    Knock("mapping", "DELETE", "files/mappings/{id}"),
    Knock("recording", "POST", "recordings/{id}/count", lambda _: {}),
    Knock("link", "DELETE", "invitations/{id}", who="admin"),
    Knock("user", "PUT", "accounts/{id}/active", lambda _: {"active": False}, who="admin"),
    Knock("user", "POST", "accounts/{id}/new-password", lambda _: {}, who="admin"),
    Knock("user", "DELETE", "accounts/{id}/second-factor", who="admin"),
    Knock("definition", "DELETE", "channels/session_rpe/definitions/{id}"),
    Knock("test", "PUT", "tests/{id}", lambda _: TEST),
    Knock("test", "DELETE", "tests/{id}"),
    Knock("test", "GET", f"tests/{{id}}/day?day={TODAY}"),
    Knock("test", "GET", "tests/{id}/athletes/{mine}"),
    Knock("report", "POST", "reports/{id}/settle", lambda _: {"minutes": 60, "effort": 5}),
    Knock("report", "POST", "own/reports/{id}/choose", lambda _: {}, who="athlete"),
]  # fmt: skip


def without_number(answer):
    """An answer without the number of its request, which is another every time."""
    return {name: one for name, one in (answer or {}).items() if name != "request_id"}


def made_up(what, there):
    if what == "test":
        return "no_such"
    return NOBODY if isinstance(there, int) else new_ulid()


@pytest.mark.parametrize(
    "knock", KNOCKS, ids=lambda knock: f"{knock.method} {knock.path.partition('?')[0]} {knock.what}"
)
def test_what_is_another_squads_answers_as_what_is_not_there(db, squad, neighbour, uploads, request, knock):
    there = made_of(db, neighbour, uploads)[knock.what]
    who = request.getfixturevalue(knock.who)

    def answer(one):
        path = knock.path.format(id=one, mine=squad.athletes[0], session=squad.on(YESTERDAY).id)
        body = knock.body(one) if knock.body else None
        said = who.write(knock.method, f"/api/squads/{squad.squad.slug}/{path}", body)
        text = str(without_number(said.json))
        return said.status_code, text if isinstance(one, int) else text.replace(str(one), "it")

    foreign, none = answer(there), answer(made_up(knock.what, there))
    assert foreign == none
    # It got as far as looking for it, and did not find it.
    assert foreign[0] in (404, 409, 422), foreign
    assert "Not allowed" not in foreign[1]


def test_another_squad_answers_as_one_that_is_not_there(staff, neighbour):
    said = [staff.get(f"/api/squads/{slug}/morning?day={TODAY}") for slug in (neighbour.squad.slug, "no-such-squad")]
    assert [one.status_code for one in said] == [404, 404]
    assert without_number(said[0].json) == without_number(said[1].json)
