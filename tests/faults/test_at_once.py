from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta

import numpy as np

from tests.conftest import NOW, TODAY
from tests.squad import make_small_squad
from uvren.core.ratings import fill
from uvren.services.day.loads import coded
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.database import sessions


def test_ratings_entered_by_many_at_once_leave_every_estimate_right(engine):
    open_session = sessions(engine)
    with open_session() as db:
        squad = make_small_squad(db, TODAY)
        db.commit()
        squad_id, staff, athletes = squad.squad.id, squad.staff.id, squad.athletes
        days = {one.day: one.id for one in squad.sessions if one.day < TODAY}

    random = np.random.default_rng(4)
    work = [
        (athlete, session, float(random.integers(2, 18)) / 2 if random.random() < 0.7 else None)
        for athlete in athletes[:2]
        for session in list(days.values())[-36:]
    ]

    def write(item):
        athlete, session, effort = item
        with open_session() as db:
            change = EntryChange(session, athlete, 60.0, effort, version=1)
            record_entries(db, squad_id, [change], stamp=Stamp(staff, NOW), today=TODAY)
            db.commit()

    with ThreadPoolExecutor(8) as pool:
        list(pool.map(write, work))

    with open_session() as db:
        columns = queries.session.done_entries(db, squad_id, TODAY - timedelta(days=90), TODAY)
        expected: dict[tuple[int, int], float] = {}
        for athlete, day, load in zip(columns.athlete, columns.day, fill(coded(columns)).load, strict=True):
            expected[int(athlete), int(day)] = float(load)
        channel = queries.squad.main_channel(db, squad_id)
        kept = {
            (athlete, day): load
            for _, athlete, day, load, _ in queries.day.daily_loads(db, [channel.id], athletes, TODAY)
        }
    assert kept == expected
