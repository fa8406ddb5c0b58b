"""What ``uvren import`` and ``uvren export`` do: the same services as the screens, on the database of this machine."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any

from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session as DbSession

from uvren.commands import Unusable
from uvren.core.series import LoadRow
from uvren.files.gpx import Track, write_gpx
from uvren.files.samples import unpack
from uvren.files.writing import TableFormat, write_table
from uvren.services.club import begin, users
from uvren.services.day.dates import local_day
from uvren.services.errors import ServiceError
from uvren.services.session import imports
from uvren.services.session.imports.bringing import vars_of
from uvren.services.session.mappings import Spec
from uvren.services.squad import export
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.database import connect, demo_now, sessions
from uvren.store.models import ImportState, Recording, RecordingKind, Role, Squad
from uvren.store.private_server import PrivateServer

Say = Callable[[str], None]


@contextmanager
def opened(var: Path) -> Iterator[DbSession]:
    """The database of UVREN_DATABASE_URL, or the private one of a running ``uvren serve``."""
    url = os.environ.get("UVREN_DATABASE_URL") or PrivateServer(var / "db").url
    engine = connect(url)
    try:
        with sessions(engine)() as db:
            yield db
    except OperationalError as error:
        raise Unusable("the database does not answer; is `uvren serve` running?") from error
    finally:
        engine.dispose()


def _squad(db: DbSession, slug: str) -> Squad:
    squad = queries.club.squad_named(db, slug)
    if squad is None:
        known = ", ".join(sorted(squad.slug for squad in queries.club.squads(db)))
        raise Unusable(f"there is no squad {slug!r}; squads are {known or 'none yet'}")
    return squad


def add_person(
    var: Path, login: str, name: str, password: str, roles: Sequence[str], club: str | None, time_zone: str,
    *, club_admin: bool,
) -> None:  # fmt: skip
    """Somebody of the staff; in an empty installation with ``club`` the first one, who begins it. Raises Unusable."""
    with opened(var) as db, _refusals():
        stamp = Stamp(None, _now(db))
        there = queries.club.only_club(db)
        if there is None:
            if club is None:
                raise Unusable("there is no club yet; give its name with --club and its --time-zone")
            first = begin.First(club, time_zone, name, login, password, [])
            begin.make_club(db, first, stamp.now)
        else:
            given = [_role(db, one) for one in roles]
            users.add_user(db, there, login, name, password, given, club_admin=club_admin, stamp=stamp)
        db.commit()


def change_password(var: Path, login: str, password: str) -> None:
    """Raises Unusable."""
    with opened(var) as db, _refusals():
        users.set_password(db, users.find_user(db, login), password, stamp=Stamp(None, _now(db)))
        db.commit()


def change_role(var: Path, login: str, role: str, *, take: bool) -> None:
    """Raises Unusable."""
    with opened(var) as db, _refusals():
        user, (squad, wanted) = users.find_user(db, login), _role(db, role)
        change = users.take_role if take else users.give_role
        change(db, user, squad, wanted, stamp=Stamp(None, _now(db)))
        db.commit()


@contextmanager
def _refusals() -> Iterator[None]:
    try:
        yield
    except ServiceError as error:
        raise Unusable(error.detail) from error


def _role(db: DbSession, said: str) -> tuple[Squad, Role]:
    slug, _, role = said.partition(":")
    if role not in list(Role):
        raise Unusable(f"a role is said as squad:role, with one of {', '.join(users.STAFF)}")
    return _squad(db, slug), Role(role)


def _now(db: DbSession) -> datetime:
    return demo_now(db)[1] or datetime.now(UTC)


def bring_in(var: Path, files: Sequence[Path], slug: str, mapping: str | None, dry_run: bool, say: Say) -> bool:
    """Bring files in one after the other, each whole or not at all. Returns whether all of them could."""
    good = True
    with opened(var) as db, tempfile.TemporaryDirectory(prefix="uvren-import-") as folder:
        squad = _squad(db, slug)
        given = _mapping(db, squad, mapping) if mapping else None
        for path in files:
            try:
                good &= _one(db, squad, path, given, Path(folder), dry_run, say)
            except ServiceError as error:
                db.rollback()
                say(f"{path.name}: {error.detail}")
                good = False
            except OSError as error:
                raise Unusable(f"cannot read {path}: {error.strerror}") from error
    return good


def _mapping(db: DbSession, squad: Squad, name: str) -> Spec:
    kept = {each.name: each for each in queries.session.mappings(db, squad.id)}
    if name not in kept:
        raise Unusable(f"there is no mapping {name!r}; mappings are {', '.join(kept) or 'none yet'}")
    return Spec.from_json(kept[name].spec, check=False)


def _one(db: DbSession, squad: Squad, path: Path, given: Spec | None, folder: Path, dry_run: bool, say: Say) -> bool:
    now = _now(db)
    with path.open("rb") as stream:
        put = imports.put_down(db, squad, folder, path.name, stream, stamp=Stamp(None, now))
    if put.state is not ImportState.LOOKED_AT:
        say(f"{path.name}: is in already, as {put.file_name}; nothing was changed")
        return True
    spec = given or imports.preview(db, squad, folder / put.id, path.name).spec
    if dry_run:
        seen = imports.preview(db, squad, folder / put.id, path.name, spec)
        db.rollback()
        _tell_preview(path, seen, say)
        return not (seen.wrong or seen.problems or seen.unplaced or [1 for _, _, known in seen.people if not known])
    imports.queue(db, squad, put.id, replace(spec, layout=None))
    done = imports.run(db, put.id, folder, now=now, today=local_day(squad, now))
    _tell(path, done.report, done.state, say)
    return done.state is ImportState.DONE


def _tell_preview(path: Path, seen: imports.Preview, say: Say) -> None:
    say(f"{path.name}: {seen.rows_read} rows, {seen.dropped} that cannot be used; nothing was written")
    for use in seen.spec.columns:
        say(f"  {use.name}: {use.role}{' in ' + use.unit if use.unit else ''}")
    for said, _, known in seen.people:
        if not known:
            say(f"  not known: {said or 'the athlete of the file'}")
    for line in (*seen.sessions, *(f"no session for {said}" for said in seen.unplaced)):
        say(f"  {line}")
    _tell_problems([vars_of(problem) for problem in seen.problems], say)
    if seen.wrong:
        say(f"  {seen.wrong}")


def _tell(path: Path, report: dict[str, Any], state: ImportState, say: Say) -> None:
    if state is ImportState.DONE:
        count = len(report.get("recordings", [])) or report.get("entries", 0)
        what = "recordings" if "recordings" in report else "entries"
        say(f"{path.name}: {count} {what} from {report['rows_read']} rows; {'; '.join(report['sessions'])}")
    else:
        say(f"{path.name}: {report.get('wrong', 'nothing came in')}")
    _tell_problems(report.get("problems", []), say)


def _tell_problems(problems: Sequence[dict[str, Any]], say: Say) -> None:
    for problem in problems[:20]:
        at = f"row {problem['row']}" if problem["row"] else "the file"
        say(f"  {at}: {problem['column']} {problem['said']!r}: {problem['why']}")
    if len(problems) > 20:
        say(f"  and {len(problems) - 20} more")


def write_loads(var: Path, slug: str, day: date | None, out: Path, format: TableFormat) -> int:
    """Daily loads of every channel through the evening before ``day`` (today). Returns the number of rows."""
    with opened(var) as db:
        squad = _squad(db, slug)
        today = local_day(squad, _now(db))
        count = 0

        def counted() -> Iterator[LoadRow]:
            nonlocal count
            for row in export.daily_loads(db, squad, day or today, today):
                count += 1
                yield row

        with out.open("wb") as file:
            for piece in export.loads_table(counted(), format):
                file.write(piece)
        return count


def write_sessions(var: Path, slug: str, out: Path) -> int:
    """The squad's sessions of a year around today as iCalendar. Returns how many."""
    with opened(var) as db:
        squad = _squad(db, slug)
        now = _now(db)
        content, count = export.sessions_calendar(db, squad, local_day(squad, now), now)
        out.write_bytes(content)
        return count


def write_recording(var: Path, slug: str, recording_id: str, out: Path) -> int:
    """The raw samples of a recording, by the ending of ``out``: a track as GPX, else a table. Returns how many."""
    with opened(var) as db:
        squad = _squad(db, slug)
        recording = db.get(Recording, recording_id)
        if recording is None or recording.squad_id != squad.id:
            raise Unusable(f"there is no recording {recording_id!r} in this squad")
        columns = unpack(recording.data)
        begins = recording.starts_at.timestamp()
        if out.suffix.lower() == ".gpx":
            if recording.kind is not RecordingKind.POSITION or "latitude" not in columns:
                raise Unusable("only a recording with latitude and longitude is a track")
            nothing = columns["t"] * float("nan")
            track = Track(squad.name, begins + columns["t"], columns["latitude"], columns["longitude"], nothing)
            out.write_text(write_gpx(track), encoding="utf-8")
            return int(columns["t"].size)
        rows = list(zip(*(column.tolist() for column in columns.values()), strict=True))
        out.write_bytes(write_table(format_of(out), list(columns), rows))
        return len(rows)


def format_of(out: Path) -> TableFormat:
    """The table format that the ending of a file asks for. Raises Unusable."""
    ending = out.suffix.lower().removeprefix(".")
    try:
        return TableFormat(ending)
    except ValueError:
        known = ", ".join(f".{each}" for each in TableFormat)
        raise Unusable(f"{out.name}: the ending is one of {known}") from None
