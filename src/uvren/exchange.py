"""What ``uvren import`` and ``uvren export`` do: the same services as the screens, on the database of this machine."""

from __future__ import annotations

import csv
import os
import tempfile
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any

from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session as DbSession

from uvren.commands import Unusable
from uvren.core.audience import Audience
from uvren.core.series import LoadRow
from uvren.files.gpx import Track, write_gpx
from uvren.files.samples import unpack
from uvren.files.writing import TableFormat, write_table
from uvren.services import files as imports
from uvren.services.club import begin, users
from uvren.services.day.dates import local_day
from uvren.services.day.people import PeopleBook, remember
from uvren.services.errors import ServiceError
from uvren.services.files.bringing import vars_of
from uvren.services.files.mappings import Spec
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


@dataclass(frozen=True)
class Choices:
    """How files are to be read, as on the screen that looks at them.

    ``people`` is a CSV of what files call people and who that is; ``answers`` are as ``order=day_first``.
    """

    mapping: str | None = None
    dry_run: bool = False
    make_sessions: bool = False
    good_rows: bool = False
    athlete: str | None = None
    people: Path | None = None
    sheets: Sequence[str] = ()
    columns: Sequence[str] = ()
    answers: Sequence[str] = ()

    def on(self, spec: Spec) -> Spec:
        """A mapping with these choices. Raises Unusable for an answer that is none."""
        answers = dict(spec.answers) | _pairs(self.answers, "an answer is said as key=value, such as order=day_first")
        roles = _pairs(self.columns, "a column is said as name=what it holds, such as Value=effort")
        lacking = [name for name in roles if name not in {use.name for use in spec.columns}]
        if lacking:
            raise Unusable(f"there is no column {lacking[0]!r}; columns are {', '.join(u.name for u in spec.columns)}")
        columns = tuple(replace(use, role=roles.get(use.name, use.role)) for use in spec.columns)
        return replace(spec, columns=columns, make_sessions=spec.make_sessions or self.make_sessions,
                       good_rows=spec.good_rows or self.good_rows, answers=tuple(answers.items()))  # fmt: skip


def _pairs(said: Sequence[str], how: str) -> dict[str, str]:
    out = {}
    for one in said:
        # A role has no equals sign; the name of a column may have one.
        key, equals, value = one.rpartition("=")
        if not equals or not key or not value:
            raise Unusable(f"{how}; {one!r} is not")
        out[key] = value
    return out


def bring_in(var: Path, files: Sequence[Path], slug: str, choices: Choices, say: Say) -> bool:
    """Bring files in one after the other, each whole or not at all. Returns whether all of them could."""
    good = True
    for path in (*files, *([choices.people] if choices.people else [])):
        if not path.is_file():
            raise Unusable(f"cannot read {path}: there is no such file")
    with opened(var) as db, tempfile.TemporaryDirectory(prefix="uvren-import-") as folder:
        squad = _squad(db, slug)
        given = _mapping(db, squad, choices.mapping) if choices.mapping else None
        if choices.people:
            _remember_people(db, squad, choices.people)
        for path in files:
            try:
                good &= _one(db, squad, path, given, Path(folder), choices, say)
            except ServiceError as error:
                db.rollback()
                say(f"{path.name}: {error.detail}")
                good = False
            except OSError as error:
                raise Unusable(f"cannot read {path}: {error.strerror}") from error
    return good


def _mapping(db: DbSession, squad: Squad, name: str) -> Spec:
    kept = {each.name: each for each in queries.files.mappings(db, squad.id)}
    if name not in kept:
        raise Unusable(f"there is no mapping {name!r}; mappings are {', '.join(kept) or 'none yet'}")
    return Spec.from_json(kept[name].spec, check=False)


def _athlete(db: DbSession, squad: Squad, said: str) -> int:
    """The one athlete who is called so in the squad."""
    known, athlete = PeopleBook(db, squad, date.min).find(said)
    if not known or athlete is None:
        raise Unusable(f"nobody of this squad, or more than one, is called {said!r}")
    return athlete


def _remember_people(db: DbSession, squad: Squad, path: Path) -> None:
    with path.open(encoding="utf-8-sig", newline="") as source:
        rows = [row for row in csv.reader(source) if any(row)]
    if rows and [cell.strip().casefold() for cell in rows[0]] == ["said", "athlete"]:
        rows = rows[1:]
    wrong = next((row for row in rows if len(row) != 2), None)
    if wrong is not None:
        raise Unusable(f"{path.name}: each line is said,athlete; {','.join(wrong)!r} is not")
    remember(db, squad, {said: _athlete(db, squad, who) if who.strip() else None for said, who in rows})
    db.commit()


def _one(db: DbSession, squad: Squad, path: Path, given: Spec | None, folder: Path, choices: Choices, say: Say) -> bool:
    now = _now(db)
    with path.open("rb") as stream:
        put = imports.put_down(db, squad, folder, path.name, stream, stamp=Stamp(None, now))
    if put.state is not ImportState.LOOKED_AT:
        say(f"{path.name}: is in already, as {put.file_name}; nothing was changed")
        return True
    today = local_day(squad, now)
    seen = imports.preview(db, squad, folder / put.id, path.name, given, today=today)
    spec = choices.on(seen.spec)
    if choices.sheets:
        sheets = tuple(seen.look.sheets) if list(choices.sheets) == ["all"] else tuple(choices.sheets)
        layout = replace(seen.look.layout, sheet=sheets[0] if sheets else "", sheets=sheets if len(sheets) > 1 else ())
        spec = replace(spec, layout=layout)
    if choices.athlete:
        spec = replace(spec, athlete=_athlete(db, squad, choices.athlete))
    seen = imports.preview(db, squad, folder / put.id, path.name, spec, today=today)
    if choices.dry_run:
        db.rollback()
        _tell_preview(path, seen, say)
        is_open = seen.wrong or seen.problems or seen.questions or (seen.making and not spec.make_sessions)
        return not (is_open or [1 for _, _, known in seen.people if not known])
    imports.queue(db, squad, put.id, seen.spec)
    done = imports.run(db, put.id, folder, now=now, today=today)
    _tell(path, done.report, done.state, say)
    if done.state is not ImportState.DONE:
        _tell_questions(seen, say)
    return done.state is ImportState.DONE


def _tell_questions(seen: imports.Preview, say: Say) -> None:
    for question in seen.questions:
        say(f"  {question.said}")
        for choice in question.choices:
            say(f"    --answer {question.key}={choice.value}: {choice.said}")


def _tell_preview(path: Path, seen: imports.Preview, say: Say) -> None:
    say(f"{path.name}: {seen.rows_read} rows, {seen.dropped} that cannot be used; nothing was written")
    for use in seen.spec.columns:
        say(f"  {use.name}: {use.role}{' in ' + use.unit if use.unit else ''}")
    for said, _, known in seen.people:
        if not known:
            say(f"  not known: {said or 'the athlete of the file'}")
    for line in seen.sessions:
        say(f"  {line}")
    for line in seen.found:
        say(f"  {line}")
    if seen.making:
        say(f"  {len(seen.making)} sessions that are not there, of them {_first(seen)}; --make-sessions makes them")
    _tell_problems([vars_of(problem) for problem in seen.problems], say)
    _tell_questions(seen, say)
    if seen.wrong:
        say(f"  {seen.wrong}")


def _first(seen: imports.Preview) -> str:
    days = sorted(one.starts_at.astimezone(seen.spec.tz).date() for one in seen.making)
    return f"the first on {days[0]}, the last on {days[-1]}"


def _shortly(said: Sequence[str], most: int = 5) -> str:
    more = f" and {len(said) - most} more" if len(said) > most + 1 else ""
    return "; ".join(said[: most if more else None]) + more


def _tell(path: Path, report: dict[str, Any], state: ImportState, say: Say) -> None:
    if state is ImportState.DONE and "package" in report:
        tables = [f"{count} {what.replace('_', ' ')}" for what, count in report["package"].items() if count]
        say(f"{path.name}: {', '.join(tables)}")
    elif state is ImportState.DONE:
        known = ("recordings", "entries", "works", "reports", "results", "fixtures", "people")
        count = {
            what: len(said) if isinstance(said := report[what], list) else said for what in known if what in report
        }
        parts = ", ".join(f"{number} {what}" for what, number in count.items() if number) or "nothing new"
        say(f"{path.name}: {parts} from {report['rows_read']} rows; {_shortly(report['sessions'])}")
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


def write_squad(var: Path, slug: str, out: Path, *, clinical: bool) -> int:
    """Everything that is kept of a squad as a data package, clinical detail only where it is asked for."""
    with opened(var) as db:
        squad = _squad(db, slug)
        now = _now(db)
        audiences = frozenset(Audience) if clinical else frozenset({Audience.DESK, Audience.REPORTS})
        reader = imports.Reader(clinical, audiences)
        content = imports.take_out(db, squad, reader, stamp=Stamp(None, now), today=local_day(squad, now))
        db.commit()
        out.write_bytes(content)
        return len(content)


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
