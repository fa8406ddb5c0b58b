"""On a second screen while the session runs: straps stream, lanes grow, one tap gives a break and is undone."""

import re
from datetime import timedelta
from threading import Event, Thread

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.visitor import Visitor
from uvren.simulate.hub import Sender, catch_up, lines, straps
from uvren.store.types import new_ulid

SQUAD = "/api/squads/tarnholm-handball"
LIVE = "/live?squad=tarnholm-handball&day=2026-03-12"
HARD = ("M. Brisalith", "J. Jorarin")
MINUTES = 9


@pytest.fixture
def hub(served):
    """A hub of the squad that has sent nothing yet, and the session that began nine minutes ago."""
    staff = Visitor(served.address)
    field = staff.ask("GET", f"{SQUAD}/field?day=2026-03-12")
    begin = staff.now() - timedelta(minutes=MINUTES)
    event = {"id": new_ulid(), "kind": "begin", "part": 0, "at": begin.isoformat()}
    staff.ask("POST", f"{SQUAD}/sessions/{field['session']['id']}/field", {"events": [event]})
    token = staff.ask("POST", f"{SQUAD}/hubs", {"name": "Pitch"})["token"]
    return Sender(served.address, token), begin, sorted(row["name"] for row in field["rows"])


@pytest.fixture
def sending():
    """Lets straps stream until the test is over: what stood still for some seconds would be called missing."""
    over, threads = Event(), []

    def go(*given):
        threads.append(Thread(target=catch_up, args=(*given, over.is_set), daemon=True))
        threads[0].start()

    yield go
    over.set()
    for one in threads:
        one.join()


def test_lanes_grow_on_a_second_screen_and_one_tap_is_undone(staff, coach, hub, sending):
    sender, begin, names = hub
    staff.goto(LIVE)
    expect(staff.get_by_role("heading", level=1)).to_have_text("No device has sent anything yet.")
    expect(staff.get_by_role("region", name="Hubs")).to_contain_text("not heard yet")

    wearing = straps(names, 3600, np.random.default_rng(1), HARD)
    for strap in wearing:
        strap.clock_off, strap.drops, strap.late, strap.stuck_from = 0.0, None, 0, None
    # One has fallen off half a minute ago; one stands still; one is nobody's.
    dropped, stuck = wearing[0], wearing[1]
    dropped.drops = (MINUTES * 60 - 30, 3600)
    stuck.stuck_from = 300
    sender.send([{**next(lines(wearing[:1], 0, begin)), "device": "S-77"}])
    assert "Nobody is known as “S-77”" in sender.refused["S-77"]
    sending(sender, wearing, begin)

    for page in (staff, coach):
        if page is coach:
            coach.goto(LIVE)
        expect(page.get_by_role("heading", level=1)).to_contain_text("2 need you now.")
        for name in HARD:
            lane = page.get_by_role("article", name=re.compile(name))
            expect(lane).to_contain_text(re.compile(r"above the aim for \d min"))
            expect(lane.get_by_role("img", name=re.compile("heart rate against the aim"))).to_be_visible()
        expect(page.get_by_role("article", name=re.compile(dropped.device))).to_contain_text(
            re.compile(r"no signal for \d+ s")
        )
        expect(page.get_by_role("article", name=re.compile(stuck.device))).to_contain_text("the sensor is in doubt")
        # Whoever has grown leaves the name in its place.
        expect(page.locator(".live-rest").get_by_text(HARD[0])).to_have_count(1)
    assert not re.search("shoulder|ill |pain", coach.locator(".live").inner_text())

    side = staff.get_by_role("complementary", name="Do now")
    side.locator("section", has_text=HARD[0]).get_by_role("button", name="End session").click()
    expect(staff.get_by_role("article", name=re.compile(HARD[0]))).to_have_count(0)
    expect(coach.get_by_role("article", name=re.compile(HARD[0]))).to_have_count(0)
    staff.get_by_role("button", name="Undo").click()
    expect(staff.get_by_role("article", name=re.compile(HARD[0]))).to_have_count(1)
    act = side.locator("section", has_text=HARD[1])
    expect(act).to_contain_text(re.compile(r"back under \d\d %"))
    act.get_by_role("button", name="Note").click()
    act.get_by_label(f"Words about {HARD[1]}").fill("breathing hard")
    act.get_by_role("button", name="Keep").click()
    expect(coach.get_by_text("breathing hard")).to_be_visible()


def test_what_was_streamed_and_run_is_in_the_session_and_said_in_match_terms(staff, coach, hub, sending):
    sender, begin, names = hub
    wearing = straps(names[:6], 3600, np.random.default_rng(2), HARD)
    for strap in wearing:
        strap.clock_off, strap.drops, strap.late, strap.stuck_from = 0.0, None, 0, None
    sending(sender, wearing, begin)
    coach.set_viewport_size({"width": 800, "height": 1280})
    coach.goto(LIVE.replace("/live", "/field"))
    expect(coach.get_by_role("timer")).to_contain_text(re.compile(r"\d+:\d\d (left|over)"))
    staff.goto(LIVE)
    expect(staff.get_by_role("heading", level=1)).to_contain_text("as they should be.")
    # The next part begins at the pitch, and the lanes are held against its aim.
    coach.get_by_role("button", name="Start throwing and finishing").click()
    expect(staff.locator(".live-parts")).to_contain_text(re.compile("Throwing and finishing", re.I))
    coach.get_by_role("button", name="Stop").click()
    coach.get_by_role("button", name="Keep the session as it was").click()
    expect(coach.get_by_text(re.compile(r"Kept: 2 parts, .*recordings of \d+ athletes"))).to_be_visible()
    # One recording of each, cut into the parts as they were run.
    staff.goto(LIVE.replace("/live", "/session") + "&show=recordings")
    expect(staff.get_by_role("group", name="Parts of the session")).to_contain_text("Warm-up")
    # Nobody has rated it yet: what it came to is an estimate, and says so.
    session = re.search(r"session=(\w+)", coach.url)[1]
    staff.goto(LIVE.replace("/live", "/session") + f"&session={session}&show=match")
    expect(staff.get_by_role("heading", level=2).first).to_contain_text("of a match in load")
    expect(staff.get_by_role("region", name="For the coach")).to_contain_text("of a match")
