"""Every resource against every role, and guessed identifiers."""

import io
import itertools

import pytest
import structlog
from sqlalchemy import select

from tests.conftest import TODAY
from tests.squad import PASSWORD, make_small_squad
from uvren.services.squad import squads
from uvren.store.models import Club, Role, User
from uvren.store.types import new_ulid

# Who may use each resource of a squad. A resource that is missing here fails, so that none goes without a thought.
STAFF, CLINICIAN, COACH, ATHLETE, ADMIN = "performance", "clinician", "coach", "athlete", "admin"
DESK = {STAFF, CLINICIAN, COACH}
MAY = {
    "spine": DESK, "morning": DESK, "evidence": DESK, "latestSession": DESK, "session": DESK,
    "sessionPlan": DESK, "sessionsPlanned": DESK, "season": DESK, "limits": DESK,
    "week": DESK, "tryWeek": {STAFF, COACH}, "proposeWeek": {STAFF, COACH}, "planWeek": {STAFF, COACH},
    "afterMatch": DESK, "projectBlock": {STAFF, COACH},
    "weekTemplates": {STAFF, COACH}, "keepTemplate": {STAFF, COACH}, "removeTemplate": {STAFF, COACH},
    "putBackTemplate": {STAFF, COACH}, "fitTemplate": {STAFF, COACH}, "useTemplate": {STAFF, COACH},
    "takeBackTemplate": {STAFF, COACH}, "planBlock": {STAFF, COACH},
    "takeBackBlock": {STAFF, COACH}, "weekRecovery": DESK, "weekCompared": DESK, "feeds": {STAFF, COACH},
    "makeFeed": {STAFF, COACH}, "withdrawFeed": {STAFF, COACH}, "makeOwnFeed": {ATHLETE},
    "planAfterMatch": {STAFF, COACH}, "takeBackAfterMatch": {STAFF, COACH},
    "topUpForm": {STAFF, COACH}, "lighterWeeks": DESK, "acceptLighterWeek": {STAFF},
    "takeBackLighterWeek": {STAFF, COACH},
    "people": DESK,
    "channels": DESK, "sessionWork": DESK, "reports": DESK, "squadCode": {STAFF, CLINICIAN},
    "recordings": {STAFF, CLINICIAN}, "traces": {STAFF, CLINICIAN}, "countRecording": {STAFF},
    "anchors": {STAFF, CLINICIAN}, "forms": {STAFF, CLINICIAN}, "enterReport": {STAFF, CLINICIAN},
    "answerComplaint": {CLINICIAN}, "replyToReferral": {CLINICIAN},
    "field": DESK, "noteOnField": DESK, "takeBackOnField": DESK, "setSpell": DESK, "withdrawSpell": DESK,
    "finishSession": DESK, "live": DESK, "hubs": {STAFF}, "makeHub": {STAFF}, "withdrawHub": {STAFF},
    "matchTerms": DESK, "matchTermsAsPdf": DESK, "putPattern": {STAFF, COACH}, "drills": DESK,
    "heat": DESK, "weekSpells": DESK, "weekUpkeep": DESK,
    "sendStrap": DESK, "planParts": {STAFF, COACH}, "mixOfRounds": {STAFF, COACH},
    "callsReview": {STAFF, CLINICIAN}, "sheet": DESK, "sheetAsPdf": DESK, "giveSummary": {CLINICIAN}, "method": DESK,
    "timeline": DESK, "positionWeekLoad": DESK, "notes": DESK, "writeNote": {STAFF, CLINICIAN},
    "withdrawNote": {STAFF, CLINICIAN},
    "arithmetic": DESK, "noticed": DESK,
    "noticeSettings": {STAFF, CLINICIAN}, "wornRates": {STAFF, CLINICIAN},
    "views": DESK, "saveView": DESK, "removeView": DESK,
    "startRestTrial": {STAFF, CLINICIAN}, "judgeRestTrial": {STAFF, CLINICIAN},
    "sides": {STAFF, CLINICIAN}, "beginSides": {STAFF, CLINICIAN}, "saveSides": {STAFF, CLINICIAN},
    "endSides": {STAFF, CLINICIAN},
    "recordInjury": {CLINICIAN}, "restrict": {CLINICIAN},
    "returns": DESK, "wholeReturn": DESK, "returnTemplates": {STAFF, CLINICIAN}, "beginReturn": {STAFF, CLINICIAN},
    "planSquadBreak": {STAFF, CLINICIAN}, "moveStage": DESK, "keepStage": {CLINICIAN},
    "changeStages": {CLINICIAN}, "giveWord": {CLINICIAN}, "planBeside": DESK,
    "measureForReturn": {CLINICIAN}, "changeReturn": {STAFF, CLINICIAN}, "endReturn": {STAFF, CLINICIAN},
    "takeBackReturnStep": DESK, "returnsAsFile": {STAFF, CLINICIAN}, "planMatchMinutes": {STAFF, COACH},
    "takeBackSquadBreak": {STAFF, CLINICIAN}, "returnSignOff": {CLINICIAN}, "cases": {CLINICIAN},
    "ownDay": {ATHLETE}, "ownToday": {ATHLETE},
    "giveReport": {ATHLETE}, "chooseReport": {ATHLETE}, "consent": {ATHLETE},
    "accounts": {STAFF, CLINICIAN, ADMIN}, "inviteAthletes": {STAFF, CLINICIAN, ADMIN},
    "withdrawInvitation": {STAFF, CLINICIAN, ADMIN}, "newPasswordLink": {STAFF, CLINICIAN, ADMIN},
    "knownPeople": {STAFF, ADMIN}, "addKnownMember": {STAFF, ADMIN},
    "addMember": {STAFF, ADMIN}, "correctMember": {STAFF, ADMIN}, "lookAtPeople": {STAFF, ADMIN},
    "addMembers": {STAFF, ADMIN},
    "changeMember": {STAFF, ADMIN},
    "leaveSquad": {STAFF, ADMIN},
    "inviteStaff": {ADMIN}, "setActive": {ADMIN}, "resetSecondFactor": {ADMIN}, "copyOfAthlete": {ADMIN},
    "forgetAthlete": {ADMIN},
    "tests": {STAFF, CLINICIAN}, "testingDay": {STAFF, CLINICIAN}, "testSeries": {STAFF, CLINICIAN},
    "audit": {ADMIN},
    # Of no role in a squad: who acts for the whole club.
    "club": set(), "setClub": set(), "deleteSquad": set(), "clubAudit": set(), "beginSquad": set(), "makeSquad": set(),
}  # fmt: skip
# Everything else that changes a squad, or takes something out of it, is for performance staff.
STAFF_ONLY = {
    "makeSessions", "takeBackSession", "copyWeek", "changeSession", "deleteSession", "restoreSession",
    "callOffSession", "putOnSession", "markDay",
    "recordEntries", "makeCall", "makeCalls", "makeSheet", "tuneNotice", "takeBackNoticeSetting",
    "withdrawCall", "setLimit", "endLimit", "newChannel", "changeChannel",
    "takeBackDefinition", "previewChannel", "addPlace", "removePlace", "setSessionPlace", "setAnchor", "withdrawAnchor",
    "recordWork", "estimateSets", "setSegments", "files", "putDownFile", "file", "previewFile", "bringFileIn",
    "undoImport", "discardFile", "removeMapping", "dailyLoads", "sessionsCalendar", "takeSquadOut",
    "settleRating", "saveForm", "setSeason",
    "shippedTests", "newTest", "changeTest", "leaveOutTest", "recordResults", "readJump",
}  # fmt: skip
OPEN = {
    "liveClock",
    "sendSamples",
    "calendarByLink",
    "lookAtBegin",
    "begin",
    "me",
    "signIn",
    "signOut",
    "lookAtInvitation",
    "acceptInvitation",
}
OWN_ACCOUNT = {"account", "revokeSignIn", "changePassword", "newSecondFactor", "useSecondFactor", "dropSecondFactor"}


@pytest.fixture
def document(app, client):
    return client.get("/api/openapi.json").json


def operations(document):
    for path, methods in document["paths"].items():
        for method, operation in methods.items():
            if path.startswith("/api/"):
                asks_day = any(one["name"] == "day" for one in operation.get("parameters", ()))
            yield operation["operationId"], method.upper(), path, asks_day


@pytest.fixture
def roles(sign_in_as):
    """A client for each role of the squad; the athlete is the first one."""
    return {role.value: sign_in_as(role) for role in Role}


def fill(path, squad, **more):
    values = {"slug": squad.squad.slug, "athlete_id": squad.athletes[1], "session_id": squad.on(TODAY).id,
              "ending": "csv", "what": "weeks", "code": "session_rpe"} | more  # fmt: skip
    for name in ("report_id", "complaint_id", "invitation_id", "call_id", "limit_id", "import_id", "recording_id",
                 "definition_id", "anchor_id", "sign_in_id", "plan_id", "event_id", "spell_id",
                 "hub_id"):  # fmt: skip
        values.setdefault(name, new_ulid())
    for name in ("user_id", "place_id", "mapping_id"):
        values.setdefault(name, 999_999)
    for name, value in values.items():
        path = path.replace(f"{{{name}}}", str(value))
    return path


def ask(client, method, path, asks_day):
    return client.open(
        path, method=method, json=None if method == "GET" else {}, headers={"X-CSRF-Token": client.token},
        query_string={"day": str(TODAY)} if asks_day else None,
    )  # fmt: skip


def test_every_resource_is_thought_of(document):
    known = set(MAY) | STAFF_ONLY | OPEN | OWN_ACCOUNT
    found = {operation for operation, *_ in operations(document)}
    assert found - known == set(), "say in this test who may use it"
    assert known - found == set()


def test_every_role_gets_what_is_theirs_and_nothing_else(document, roles, squad):
    for (operation, method, path, asks_day), (role, client) in itertools.product(operations(document), roles.items()):
        if operation in OPEN | OWN_ACCOUNT:
            continue
        address = fill(path, squad)
        status = ask(client, method, address, asks_day).status_code
        allowed = role in MAY.get(operation, {STAFF})
        # Bodies are checked before anything is looked up: an empty one is refused alike for everybody.
        refused = status == 403 or (status == 422 and method != "GET") or status == 415
        if allowed:
            assert status != 403, (role, operation, status)
        else:
            assert refused, (role, operation, status)
        assert status < 500, (role, operation, status)


def test_without_a_sign_in_and_from_another_squad_there_is_nothing(app, document, roles, db, squad):
    other = make_small_squad(db, TODAY)
    stranger = app.test_client()
    stranger.renew()
    for operation, method, path, asks_day in operations(document):
        if operation in OPEN or "{slug}" not in path:
            continue
        address = fill(path, other)
        assert ask(stranger, method, address, asks_day).status_code in (401, 422, 415), operation
        for role, client in roles.items():
            assert ask(client, method, address, asks_day).status_code in (404, 422, 415), (role, operation)


def test_an_athlete_reaches_nobody_elses_reports_by_guessing(app, roles, db, squad):
    base = f"/api/squads/{squad.squad.slug}"
    club = db.scalars(select(Club).where(Club.id == squad.squad.club_id)).one()
    user = squads.create_user(db, club, "the-second", "B", PASSWORD, {squad.squad.id: Role.ATHLETE})
    user.athlete_id = squad.athletes[1]
    db.flush()
    second = app.test_client()
    second.sign_in("the-second")
    body = {"kind": "daily", "day": str(TODAY), "answers": {"mood": 2}, "made_at": f"{TODAY}T06:00:00Z",
            "pains": [{"site": "knee", "side": "left", "severity": 7}], "ill": False}  # fmt: skip
    key = new_ulid()
    assert roles[ATHLETE].write("PUT", f"{base}/own/reports/{key}", body).status_code == 200
    assert second.write("PUT", f"{base}/own/reports/{key}", body).status_code == 422
    assert second.write("POST", f"{base}/own/reports/{key}/choose").status_code == 404
    assert second.get(f"{base}/own").json["complaints"] == []
    assert second.get(f"{base}/own").json["dues"][0]["given"] is None
    # An athlete_id in the body is not a way round either.
    assert second.write("PUT", f"{base}/own/reports/{new_ulid()}", body | {"athlete_id": 1}).status_code == 422


@pytest.mark.parametrize("key", ["x", "x" * 300, "01' OR '1'='1", "%00"])
def test_a_report_is_named_by_a_ulid_and_by_nothing_else(roles, squad, key):
    body = {"kind": "daily", "day": str(TODAY), "answers": {"mood": 2}, "made_at": f"{TODAY}T06:00:00Z"}
    path = f"/api/squads/{squad.squad.slug}/own/reports/{key}"
    assert roles[ATHLETE].write("PUT", path, body).status_code == 422


def test_coaches_learn_what_to_change_and_never_why(roles, squad, sign_in_as):
    base = f"/api/squads/{squad.squad.slug}"
    body = {"athlete_id": squad.athletes[0], "availability": "limited", "change": "no jumps",
            "reason": "torn meniscus", "from_day": str(TODAY)}  # fmt: skip
    assert roles[CLINICIAN].write("POST", f"{base}/restrictions", body).status_code == 200
    pain = {
        "athlete_id": squad.athletes[0],
        "pain": {"site": "knee", "side": "left", "severity": 7},
        "words": "meniscus",
    }
    assert roles[CLINICIAN].write("POST", f"{base}/complaints", pain).status_code == 200
    for role, sees in ((CLINICIAN, True), (STAFF, False), (COACH, False)):
        answer = roles[role].get(f"{base}/reports?day={TODAY}")
        assert answer.json["rows"][0]["availability"]["change"] == "no jumps"
        assert ("meniscus" in answer.text) is sees, role
        assert (answer.json["complaints"] is not None) is sees
    club = {"performance_reads_clinical": True, "retention_days": None, "consent_text": None}
    assert roles[ADMIN].write("PUT", "/api/club", club).status_code == 403
    assert sign_in_as(Role.ADMIN, club_admin=True).write("PUT", "/api/club", club).status_code == 200
    assert "meniscus" in roles[STAFF].get(f"{base}/reports?day={TODAY}").text
    assert "meniscus" not in roles[COACH].get(f"{base}/reports?day={TODAY}").text


@pytest.mark.parametrize("what", ["morning", "athletes/{}/evidence", "athletes/{}/noticed"])
def test_a_look_at_clinical_detail_on_the_desk_is_noted(roles, squad, what):
    base = f"/api/squads/{squad.squad.slug}"
    pain = {"athlete_id": squad.athletes[0], "pain": {"site": "knee", "side": "left", "severity": 7}}
    assert roles[CLINICIAN].write("POST", f"{base}/complaints", pain).status_code == 200

    def looks():
        rows = roles[ADMIN].get(f"{base}/audit?action=clinical_seen").json["rows"]
        return [(row["who"], row["athlete"]) for row in rows]

    path = f"{base}/{what.format(squad.athletes[0])}?day={TODAY}"
    for role in (COACH, STAFF):
        assert "knee" not in roles[role].get(path).text
    assert looks() == []
    assert "knee" in roles[CLINICIAN].get(path).text.lower()
    assert looks() == [(CLINICIAN, "A")]


def test_words_of_an_athlete_come_back_as_words(roles, squad):
    base = f"/api/squads/{squad.squad.slug}"
    script = "<script>alert(1)</script>\r\nSet-Cookie: a=b"
    body = {"kind": "daily", "day": str(TODAY), "answers": {"mood": 5}, "words": script,
            "made_at": f"{TODAY}T06:00:00Z"}  # fmt: skip
    given = roles[ATHLETE].write("PUT", f"{base}/own/reports/{new_ulid()}", body)
    assert given.json["report"]["words"] == script
    assert given.mimetype == "application/json"
    assert "Set-Cookie: a=b" not in str(given.headers)
    assert given.headers["X-Content-Type-Options"] == "nosniff"


def test_a_session_from_before_signing_in_is_not_carried_on(app, db, squad):
    client = app.test_client()
    client.renew()
    before = client.get_cookie("uvren").value
    client.sign_in(squad.staff.login)
    after = client.get_cookie("uvren").value
    assert before != after
    old = app.test_client()
    old.set_cookie("uvren", before)
    assert old.get("/api/me").json["signed_in"] is False


@pytest.mark.parametrize(
    ("data", "kind", "status"),
    [(b"{", "application/json", 400), (b"[]", "application/json", 422), (b"\xff\xfe", "application/json", 400),
     (b"a=b", "application/x-www-form-urlencoded", 400), (b"[" * 100_000, "application/json", 422),
     (b'{"login": "' + b"x" * 2_000_000 + b'"}', "application/json", 413)],
)  # fmt: skip
def test_a_body_that_is_none_is_a_plain_refusal(client, data, kind, status):
    client.renew()
    answer = client.post("/api/sign-in", data=data, content_type=kind, headers={"X-CSRF-Token": client.token})
    assert answer.status_code == status
    assert answer.mimetype == "application/problem+json"


def test_a_line_break_in_a_name_makes_no_line_in_the_log(client):
    log = io.StringIO()
    structlog.configure(logger_factory=structlog.WriteLoggerFactory(log))
    client.renew()
    client.write("POST", "/api/sign-in", {"login": 'x\n{"event": "forged"}', "password": "y"})
    client.get("/api/squads/x%0a%7Bforged%7D/spine?day=2026-03-12")
    lines = [line for line in log.getvalue().splitlines() if "forged" in line]
    assert lines
    assert all(line.startswith('{"') and line.endswith("}") for line in lines)
    assert not any(line.startswith('{"event": "forged"') for line in lines)


def test_the_users_of_the_fixture_are_all_there(db, roles):
    assert len(db.scalars(select(User.id).where(User.login.startswith("the-"))).all()) == len(Role)
