"""Two seasons of 22 people in one wide workbook, about 9,600 rows: looked at, brought in, taken back.

The baseline is a bare read of the same cells and a bare insert of as many rows, in the same run.
"""

import io
import shutil
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from random import Random

import openpyxl
import python_calamine
from sqlalchemy import func, insert, select
from sqlalchemy.orm import Session as DbSession
from tests.conftest import NOW, TODAY

from benchmarks.timing import report
from uvren.services import files
from uvren.services.files.mappings import Spec
from uvren.services.squad import squads
from uvren.services.stamp import Stamp
from uvren.store.database import connect, migrate, sessions
from uvren.store.models import Entry, ImportState, Session, SessionKind, Source, Squad
from uvren.store.private_server import PrivateServer
from uvren.store.types import new_ulid

PEOPLE, SESSIONS = 22, 436
FIRST = TODAY - timedelta(days=700)


def names() -> list[str]:
    return [f"{chr(65 + i)}. Athlete{i:02d}" for i in range(PEOPLE)]


def workbook(random: Random, last: date = TODAY - timedelta(days=1)) -> bytes:
    """A row for each athlete, minutes and effort below each day, up to the last one."""
    days = sorted(last - timedelta(days=i) for i in range(690) if i % 7 not in (2, 6))[-SESSIONS:]
    book = openpyxl.Workbook()
    sheet = book.active
    sheet.append(["Name", *[cell for day in days for cell in (datetime.combine(day, datetime.min.time()), None)]])
    sheet.append([None, *["Min", "RPE"] * len(days)])
    for name in names():
        sheet.append([name, *[value for _ in days for value in (random.choice([60, 75, 90]), random.randint(3, 8))]])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def timed(work: Callable[[], object]) -> tuple[float, object]:
    began = time.perf_counter()
    found = work()
    return time.perf_counter() - began, found


def bare(db: DbSession, squad: Squad, path: Path) -> float:
    """Seconds of reading the cells and inserting a row for each pair of them, with what a row needs and no more."""
    began = time.perf_counter()
    rows = python_calamine.load_workbook(str(path)).get_sheet_by_index(0).to_python()
    made = [
        {"id": new_ulid(), "squad_id": squad.id, "day": FIRST, "starts_at": NOW, "kind": SessionKind.COURT,
         "title": "x", "planned_minutes": 60.0, "planned_effort": 5.0, "done": True, "version": 1}
        for _ in range(SESSIONS)
    ]  # fmt: skip
    db.execute(insert(Session), made)
    athletes = squads.add_members(
        db, squad, [squads.NewMember(f"Bare {i}", None, "back", FIRST) for i in range(PEOPLE)]
    )
    entries = [
        {"id": new_ulid(), "session_id": one["id"], "athlete_id": athlete, "minutes": row[1 + 2 * i],
         "effort": row[2 + 2 * i], "source": Source.IMPORT, "version": 1, "entered_at": NOW}
        for i, one in enumerate(made)
        for athlete, row in zip(athletes, rows[2:], strict=True)
    ]  # fmt: skip
    db.execute(insert(Entry), entries)
    db.commit()
    return time.perf_counter() - began


def main() -> None:
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    server = PrivateServer(folder / "db")
    try:
        url = server.start()
        migrate(url)
        engine = connect(url)
        with sessions(engine)() as db:
            _measure(db, folder)
        engine.dispose()
    finally:
        server.stop()
        shutil.rmtree(folder)


def _measure(db: DbSession, folder: Path) -> None:
    club = squads.create_club(db, "Club")
    squad = squads.create_squad(
        db, club, "own", "Own", "Europe/Oslo", datetime.combine(FIRST, datetime.min.time(), UTC)
    )
    other = squads.create_squad(db, club, "bare", "Bare", "Europe/Oslo", NOW)
    squads.add_members(db, squad, [squads.NewMember(name, i + 1, "back", FIRST) for i, name in enumerate(names())])
    db.commit()
    content = workbook(Random(4))
    path = folder / "season.xlsx"
    path.write_bytes(content)
    base = bare(db, other, path)
    put = files.put_down(db, squad, folder / "up", "season.xlsx", io.BytesIO(content), stamp=Stamp(None, NOW))
    db.commit()
    today: date = TODAY
    look, seen = timed(lambda: files.preview(db, squad, folder / "up" / put.id, "season.xlsx", today=today))
    assert isinstance(seen, files.Preview)
    spec = Spec.from_json(seen.spec.to_json() | {"make_sessions": True})
    files.queue(db, squad, put.id, spec)
    db.commit()
    taken, done = timed(lambda: files.run(db, put.id, folder / "up", now=NOW, today=today))
    assert done.state is ImportState.DONE, done.report  # type: ignore[attr-defined]
    entries = db.scalar(select(func.count()).select_from(Entry).join(Session).where(Session.squad_id == squad.id))
    back, _ = timed(lambda: (files.undo(db, squad, put.id, stamp=Stamp(None, NOW), today=today), db.commit()))
    report(rows=entries, bare_seconds=base, look_over_bare=look / base, in_over_bare=taken / base,
           back_over_bare=back / base, back_over_in=back / taken)  # fmt: skip


if __name__ == "__main__":
    main()
