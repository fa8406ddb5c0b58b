"""The parts of a session to come, and how one is to be done: seconds on and off, kept behind its name."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.services.day.drilled import plain_name
from uvren.services.day.people import folded
from uvren.services.errors import Invalid, NotFound
from uvren.services.session.planning import NewSegment
from uvren.services.session.sessions import find_session
from uvren.services.session.traces import Span, set_segments
from uvren.services.stamp import Stamp
from uvren.services.versions import Whatever, check_seen
from uvren.store import queries
from uvren.store.models import Session, Squad

# So far ahead the next session with the same part is looked for.
AHEAD_DAYS = 28


def plan_parts(
    db: DbSession, squad: Squad, session_id: str, parts: Sequence[NewSegment], *, aim: float | None = None,
    version: int | Whatever | None, stamp: Stamp,
) -> Session:  # fmt: skip
    """Plan the parts of a session, one after the other from its start, and what its rounds are to come to.

    ``aim`` is a share of full intensity, None the usual one. Does not commit.

    Raises NotFound; Invalid for a name that stands twice, or where the session was done in parts already; Stale, with
    both, where it was changed since ``version``.
    """
    session = find_session(db, squad, session_id)
    if session.done and session.segments:
        raise Invalid("This session was done: its parts are moved on its recordings.", field="parts")
    begins = [sum(one.minutes for one in parts[:i]) for i in range(len(parts))]
    spans = [
        Span(one.name, begin, one.minutes, one.weight, one.grade) for one, begin in zip(parts, begins, strict=True)
    ]
    stood = session.version
    set_segments(db, squad, session_id, spans, version=version, stamp=stamp)
    if session.mix_aim != aim:
        if session.version == stood:
            check_seen(version, stood, f"{session.name} was changed meanwhile.", yours={"mix_aim": aim},
                       theirs={"mix_aim": session.mix_aim})  # fmt: skip
            session.version += 1
        session.mix_aim = aim
        db.flush()
    return session


@dataclass(frozen=True)
class NextTime:
    """The next session that has a part; ``put`` that it is to be done so there already."""

    session_id: str
    day: date
    part: str
    put: bool


def next_time(db: DbSession, squad: Squad, session: Session, part: str, on: float, off: float) -> NextTime | None:
    """The next planned session with this part; None where there is none within four weeks."""
    last = session.day + timedelta(days=AHEAD_DAYS)
    for one in queries.session.sessions_between(db, squad.id, session.day + timedelta(days=1), last):
        if one.done:
            continue
        for segment in one.segments:
            if folded(plain_name(segment.name)) == folded(plain_name(part)):
                return NextTime(one.id, one.day, segment.name, segment.name.endswith(_said(on, off)))
    return None


def put_pattern(
    db: DbSession, squad: Squad, session_id: str, part: str, pattern: tuple[float, float] | None, *, stamp: Stamp
) -> Session:
    """Say how a part of a session to come is done, or with None take it back. Does not commit.

    Raises NotFound; Invalid for a session that is over.
    """
    session = find_session(db, squad, session_id)
    if session.done or session.starts_at <= stamp.now:
        raise Invalid("This session is over: what it was is not changed any more.", field="session_id")
    wanted = folded(plain_name(part))
    if not any(folded(plain_name(one.name)) == wanted for one in session.segments):
        raise NotFound("There is no such part in this session.")
    said = "" if pattern is None else _said(*pattern)
    spans = [
        Span(
            plain_name(one.name) + said if folded(plain_name(one.name)) == wanted else one.name,
            one.begins, one.minutes, one.weight, one.grade,
        )
        for one in session.segments
    ]  # fmt: skip
    return set_segments(db, squad, session_id, spans, stamp=stamp)


def _said(on: float, off: float) -> str:
    return f", {on:.0f} s on, {off:.0f} s off"
