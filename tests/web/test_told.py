"""What a person may be told: by any look, on any day, in any state, whoever looks."""

import io
import re
from datetime import timedelta

import pytest
from pypdf import PdfReader

from tests.conftest import NOW, TODAY
from uvren.core.body import Pain, Side, Site
from uvren.core.day import CallKind
from uvren.core.reports import ReportKind
from uvren.services.day import day as the_day
from uvren.services.morning.calls import NewCall, make_call
from uvren.services.morning.sheet import FOOT
from uvren.services.reports import Told, give
from uvren.services.return_ import clinical, plans, rest_trials
from uvren.services.return_.clinical import NewRestriction
from uvren.services.return_.plans import By, NewPlan
from uvren.services.stamp import Stamp
from uvren.store.models import Availability, ReturnKind, Role
from uvren.store.types import new_ulid

YESTERDAY, TOMORROW = TODAY - timedelta(days=1), TODAY + timedelta(days=1)
# No coach learns that one of these is behind a day off or a change.
SECRETS = re.compile(r"screen|trial|refer|overtraining|clinic|pain|knee|illness|\bill\b|fever|meniscus", re.IGNORECASE)


def call(kind, **more):
    def bring(db, squad, athlete, how):
        make_call(db, squad.squad, NewCall(new_ulid(), athlete, TODAY, kind, "meniscus", sure=True, **more), **how)

    return bring


def told(**more):
    def bring(db, squad, athlete, how):
        report = Told(new_ulid(), athlete, ReportKind.DAILY, TODAY, {"energy": 7.0}, NOW, **more)
        give(db, squad.squad, report, **how)

    return bring


def trial(judged=None):
    def bring(db, squad, athlete, how):
        first = TODAY if judged is None else TODAY - timedelta(days=10)
        rest_trials.start(db, squad.squad, athlete, first, 7, **(how | {"today": first}))
        if judged is not None:
            rest_trials.judge(db, squad.squad, athlete, judged, **(how | {"today": YESTERDAY}))

    return bring


def gate(availability, change, minutes_share=None):
    def bring(db, squad, athlete, how):
        new = NewRestriction(athlete, availability, change, "meniscus", TODAY, None, minutes_share)
        clinical.restrict(db, squad.squad, new, **how)

    return bring


def returning(**more):
    def bring(db, squad, athlete, how):
        by = By(clinician=True, plans=True, **how)
        what = {
            "first_day": TODAY, "first_off": TODAY - timedelta(days=20), "target_day": TODAY + timedelta(days=3),
            "template": "knee", "site": Site.KNEE, "side": Side.LEFT, "note": "meniscus",
        }  # fmt: skip
        plan = plans.begin(db, squad.squad, NewPlan(athlete, ReturnKind.INJURY, **(what | more)), by)
        plans.measure(db, squad.squad, plan.id, "range", 120.0, 130.0, by)
        plans.give_word(db, squad.squad, plan.id, "the meniscus is quiet", by)
        squad.plan = plan.id

    return bring


def nothing(*_):
    pass


STATES = {
    "nothing": nothing,
    "referred": call(CallKind.REFER),
    "adapted": call(CallKind.ADAPT, minutes=30.0),
    "rest trial": trial(),
    "rest trial not better": trial(False),
    "rest trial better": trial(True),
    "ill": told(ill=True),
    "pain": told(pains=[Pain(Site.KNEE, Side.LEFT, 8)]),
    "some pain": told(pains=[Pain(Site.KNEE, Side.LEFT, 5)]),
    "little pain": told(pains=[Pain(Site.KNEE, Side.LEFT, 2)]),
    "out": gate(availability=Availability.OUT, change=""),
    "limited": gate(availability=Availability.LIMITED, change="no duels"),
    "half": gate(availability=Availability.LIMITED, change="", minutes_share=0.5),
    "on the way back": returning(),
    "not back yet": returning(first_day=TODAY + timedelta(days=2), target_day=None),
    "screen": None,
}


def words(found):
    """All that an answer says, without the names it says it under."""
    if isinstance(found, bytes):
        text = " ".join(page.extract_text() for page in PdfReader(io.BytesIO(found)).pages)
        return " ".join(text.split()).replace(FOOT, "")
    if isinstance(found, dict):
        return " ".join(words(one) for one in found.values())
    if isinstance(found, list):
        return " ".join(words(one) for one in found)
    return str(found)


def looks(squad):
    """Every look of the desk, on the days around: its path."""
    base, athlete = f"/api/squads/{squad.squad.slug}", squad.athletes[0]
    for day in (YESTERDAY, TODAY, TOMORROW):
        yield from (
            f"{base}/morning?day={day}", f"{base}/morning?day={day}&known=true", f"{base}/sheet?day={day}",
            f"{base}/spine?day={day}", f"{base}/reports?day={day}", f"{base}/people?day={day}",
            f"{base}/limits?day={day}", f"{base}/sessions/{squad.on(day).id}?day={day}",
            f"{base}/sessions/{squad.on(day).id}/work", f"{base}/calls-review?day={day}",
        )  # fmt: skip
        for what in ("evidence", "timeline", "noticed", "notes", "position"):
            yield f"{base}/athletes/{athlete}/{what}?day={day}"
    yield f"{base}/sheet.pdf?day={TODAY}"
    yield f"{base}/return?day={TODAY}"
    if hasattr(squad, "plan"):
        yield f"{base}/return/{squad.plan}?day={TODAY}"
    for what in ("", "/after-match", "/lighter", "/recovery", "/compared", "/upkeep", "/spells"):
        yield f"{base}/week{what}?day={TODAY}"


@pytest.fixture
def bring(db, squad, monkeypatch):
    def go(state):
        if state == "screen":
            monkeypatch.setattr(the_day, "stops", lambda _notices: True)
        else:
            STATES[state](db, squad, squad.athletes[0], {"stamp": Stamp(squad.staff.id, NOW), "today": TODAY})
        db.flush()

    return go


@pytest.mark.parametrize("state", STATES)
def test_a_coach_reads_no_reason_in_any_look_on_any_day(sign_in_as, squad, bring, state):
    coach = sign_in_as(Role.COACH)
    bring(state)
    seen = 0
    for path in looks(squad):
        answer = coach.get(path)
        assert answer.status_code in (200, 403), (path, answer.status_code)
        seen += answer.status_code == 200
        # That a clinician allows only part of training is what a coach has to know; why is not.
        allowed = {"clinic"} if state in ("out", "limited", "half") else set()
        said = words(answer.json if answer.is_json else answer.data)
        found = {one.lower() for one in SECRETS.findall(said)} - allowed
        assert answer.status_code == 403 or found == set(), (path, found)
    assert seen > 25
    # The looks are those of the desk: a clinician learns by them what it is.
    clinician = sign_in_as(Role.CLINICIAN)
    today = [clinician.get(path) for path in looks(squad) if f"day={TODAY}" in path]
    text = " ".join(one.text if one.is_json else words(one.data) for one in today)
    assert (SECRETS.search(text) is None) is (state in ("nothing", "adapted")) or "clinic" in text


# What looks the same to a coach, whatever is behind it.
ALIKE = [("referred", "rest trial", "rest trial not better"), ("ill", "pain")]


@pytest.mark.parametrize("alike", ALIKE, ids=" and ".join)
def test_what_is_behind_it_makes_no_difference_to_what_a_coach_is_told(db, sign_in_as, squad, alike):
    coach = sign_in_as(Role.COACH)
    for athlete, state in zip(squad.athletes, alike, strict=False):
        STATES[state](db, squad, athlete, {"stamp": Stamp(squad.staff.id, NOW), "today": TODAY})
    db.flush()
    base = f"/api/squads/{squad.squad.slug}"
    lanes = {one["athlete_id"]: one for one in coach.get(f"{base}/morning?day={TODAY}").json["lanes"]}
    rows = {one["athlete_id"]: one for one in coach.get(f"{base}/reports?day={TODAY}").json["rows"]}
    told = {}
    for athlete, state in zip(squad.athletes, alike, strict=False):
        lane, row = lanes[athlete], rows[athlete]
        told[state] = (lane["stands"], lane["said"], lane["room"]["words"], lane["room"]["closed"], row["stands"],
                       row["said"], [one["code"] for one in lane["notices"]])  # fmt: skip
    assert {state: one for state, one in told.items() if one != told[alike[0]]} == {}
