"""Ten athletes in ten states, each looked at from four places: lane, evidence, sheet, the athlete's own page."""

import shutil
import tempfile
from dataclasses import dataclass
from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.browser.parts import choose, evidence, lane
from tests.conftest import NOW, TODAY
from tests.served import Served
from uvren.core.audience import ALL
from uvren.core.body import Pain, Side, Site
from uvren.core.day import CallKind, Stands
from uvren.core.reports import ReportKind
from uvren.services import reports
from uvren.services.morning import read_morning
from uvren.services.morning.calls import NewCall, make_call
from uvren.services.return_ import clinical, rest_trials
from uvren.services.return_.clinical import NewRestriction
from uvren.services.squad.squads import create_user
from uvren.services.stamp import Stamp
from uvren.simulate.club import PASSWORD
from uvren.store.database import connect, sessions
from uvren.store.models import Availability, Club, Role, Squad
from uvren.store.types import new_ulid

DAY = f"squad=tarnholm-handball&day={TODAY}"


@dataclass
class State:
    """How somebody stands: what brings it about, and what each place says. ``none`` is what no place may say."""

    bring: object
    lane: str
    evidence: str
    group: str
    sheet: str
    phone: str
    none: tuple[str, ...] = ()


def told(**more):
    def bring(db, squad, athlete, how):
        report = reports.Told(new_ulid(), athlete, ReportKind.DAILY, TODAY, {"energy": 6.0}, how["stamp"].now, **more)
        reports.give(db, squad, report, **how)

    return bring


def called(kind, **more):
    def bring(db, squad, athlete, how):
        make_call(db, squad, NewCall(new_ulid(), athlete, TODAY, kind, "why", sure=True, **more), **how)

    return bring


def restricted(availability, change, share=None):
    def bring(db, squad, athlete, how):
        clinical.restrict(db, squad, NewRestriction(athlete, availability, change, "", TODAY, None, share), **how)

    return bring


def trial(db, squad, athlete, how):
    rest_trials.start(db, squad, athlete, TODAY, 7, **how)


OPEN = ("plan fits", "to spare", "Train as planned", "Room today", "over 2 h")
STATES = {
    "nothing said": State(lambda *_: None, "plan", "Room", "full", "", " min"),
    "called full": State(called(CallKind.FULL), "plan", "Room", "full", "", "Train as planned."),
    "called 20 minutes": State(
        called(CallKind.ADAPT, minutes=20.0), "after the call", "After the call", "adapt", "20 of", "20 of", OPEN
    ),
    "called a minimum": State(
        called(CallKind.MINIMUM), "after the call", "After the call", "adapt", "minimum dose", "Minimum dose today",
        OPEN,
    ),
    "called off": State(called(CallKind.REST), "closed", "is closed today", "out", "", "Day off today.", OPEN),
    "ill and not seen": State(
        told(ill=True), "closed", "is closed today: until a clinician has seen it", "ask",
        "does not train until staff have said so", "Wait for Dr. A. Fenwold before you train.", OPEN,
    ),
    "pain of 5 and not seen": State(
        told(pains=[Pain(Site.KNEE, Side.LEFT, 5)]), "ask first", "ask first", "ask",
        "the plan stands once staff have said so", "before you train.", OPEN[:-1],
    ),
    "out, by a clinician": State(
        restricted(Availability.OUT, ""), "closed", "is closed today", "out", "", "does not train", OPEN
    ),
    "half, by a clinician": State(
        restricted(Availability.LIMITED, "no duels", 0.5), "clinician", "half the minutes", "return", "no duels",
        "no duels", OPEN,
    ),
    "in a rest trial": State(
        trial, "rest trial until Wed 18 March", "is closed today: rest trial", "out", "", "Rest today, as agreed.", OPEN
    ),
}  # fmt: skip


@pytest.fixture(scope="module")
def house(demo_folder):
    """A demo club of its own, with somebody in each state, who can sign in: name and login by state."""
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    shutil.copytree(demo_folder, folder / "var")
    running = Served(folder / "var")
    running.start()
    people = {}
    engine = connect(running.database_url)
    with sessions(engine)() as db:
        squad = db.query(Squad).filter_by(slug="tarnholm-handball").one()
        club = db.get_one(Club, squad.club_id)
        coach = create_user(db, club, "ten-coach", "C. Oach", PASSWORD, {squad.id: Role.COACH})
        lanes = read_morning(db, squad, TODAY, TODAY, audiences=ALL)[0].lanes
        plain = [
            one for one in lanes
            if one.standing.stands is Stands.PLAN and not one.call and not one.gate and not one.standing.no_more
            and one.room.plan > 0 and not any(said.code in ("complaint", "unseen") for said in one.notices)
        ]  # fmt: skip
        for i, (name, state) in enumerate(STATES.items()):
            member = plain[i].member
            state.bring(db, squad, member.athlete_id, {"stamp": Stamp(coach.id, NOW), "today": TODAY})
            user = create_user(db, club, f"ten-{i}", member.name, PASSWORD, {squad.id: Role.ATHLETE})
            user.athlete_id = member.athlete_id
            people[name] = (member.name, user.login)
        db.commit()
    engine.dispose()
    yield running, people
    running.stop()
    shutil.rmtree(folder)


@pytest.fixture(scope="module")
def come_in(browser, house):
    """Opens a page signed in as somebody, without going through the screen for it."""
    contexts = []

    def go(login, width=1280, height=800):
        context = browser.new_context(base_url=house[0].address, viewport={"width": width, "height": height},
                                      service_workers="block")  # fmt: skip
        contexts.append(context)
        token = context.request.get("/api/me").json()["csrf_token"]
        answer = context.request.post(
            "/api/sign-in", data={"login": login, "password": PASSWORD}, headers={"X-CSRF-Token": token}
        )
        assert answer.ok
        return context.new_page()

    yield go
    for context in contexts:
        context.close()


@pytest.fixture(scope="module")
def desk(come_in):
    return come_in("performance")


@pytest.fixture(scope="module")
def sheet(come_in):
    page = come_in("ten-coach")
    page.goto(f"/morning/sheet?{DAY}")
    expect(page.get_by_role("article", name="The sheet")).to_be_visible()
    return page


@pytest.mark.parametrize("named", STATES)
def test_four_looks_at_one_state_agree(house, come_in, desk, sheet, named):
    state, (name, login) = STATES[named], house[1][named]
    desk.goto(f"/morning?{DAY}")
    row = lane(desk, name).locator(".lane-room")
    expect(row).to_contain_text(state.lane)
    choose(desk, name)
    panel = evidence(desk)
    expect(panel).to_contain_text(state.evidence)
    line = sheet.locator(f".sheet-group.{state.group}").get_by_role("listitem").filter(has_text=name)
    expect(line).to_have_count(1)
    expect(line).to_contain_text(state.sheet)
    phone = come_in(login, 390, 844)
    phone.goto("/")
    own = phone.get_by_role("region", name="Today")
    expect(own).to_contain_text(state.phone)
    for place in (row, line, own):
        said = place.inner_text()
        assert not [word for word in state.none if word in said], said
    # Nobody is on the sheet twice, and who does not train has no minutes on the phone.
    expect(sheet.get_by_role("article").get_by_role("listitem").filter(has_text=name)).to_have_count(1)
    if state.lane in ("closed",) or "closed" in state.evidence:
        assert " min" not in own.inner_text()
        expect(row.locator("b.closed")).to_be_visible()
