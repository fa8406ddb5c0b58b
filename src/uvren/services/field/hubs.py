"""What may send samples for a squad, and taking in what it sends."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.services.club import audit
from uvren.services.club.accounts import digest
from uvren.services.day.dates import local_day
from uvren.services.day.people import PeopleBook
from uvren.services.errors import Invalid, NotAllowed, NotFound
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import LiveHub, RecordingKind, Session, Squad
from uvren.store.types import new_ulid

# So far ahead a clock may be; what is older than this was not held back by a network that was away.
AHEAD, HELD_BACK = timedelta(minutes=2), timedelta(hours=2)
# So long before it begins a session takes samples, and so long after.
BEFORE, AFTER = timedelta(minutes=45), timedelta(hours=4)
LIVE_KINDS = (RecordingKind.HEART_RATE, RecordingKind.POSITION)
UNKNOWN = "This hub is not known here, or was withdrawn. Make a new one under Live."


def make_hub(db: DbSession, squad: Squad, name: str, *, stamp: Stamp) -> tuple[LiveHub, str]:
    """A new hub and its secret, told only now. Does not commit."""
    token = secrets.token_urlsafe(32)
    made = LiveHub(id=new_ulid(), squad_id=squad.id, name=name.strip(), token_digest=digest(token),
                   made_by=stamp.by, made_at=stamp.now, withdrawn_at=None, seen_at=None)  # fmt: skip
    db.add(made)
    audit.note(db, "hub_made", f"hub:{made.id}", stamp=stamp, squad_id=squad.id)
    db.flush()
    return made, token


def withdraw_hub(db: DbSession, squad: Squad, name: str, *, stamp: Stamp) -> None:
    """Let a hub send nothing more. Does not commit. Raises NotFound."""
    hub = next((one for one in queries.field.hubs(db, squad.id) if one.id == name), None)
    if hub is None:
        raise NotFound("There is no such hub in this squad.")
    hub.withdrawn_at = stamp.now
    audit.note(db, "hub_withdrawn", f"hub:{hub.id}", stamp=stamp, squad_id=squad.id)
    db.flush()


def hub_of(db: DbSession, token: str) -> LiveHub:
    """The hub with this secret. Raises NotAllowed."""
    hub = queries.field.hub_by(db, digest(token)) if token else None
    if hub is None:
        raise NotAllowed(UNKNOWN)
    return hub


@dataclass(frozen=True)
class Piece:
    """Samples of one device: seconds from ``at`` and values, in beats a minute or m/s. A device numbers its pieces."""

    device: str
    kind: RecordingKind
    number: int
    at: datetime
    t: Sequence[float]
    value: Sequence[float]


@dataclass(frozen=True)
class Received:
    """What was kept, by its place among the pieces, and what was not, with why."""

    session_id: str
    kept: list[int] = field(default_factory=list)
    refused: list[tuple[int, str]] = field(default_factory=list)


def receive(db: DbSession, hub: LiveHub, pieces: Sequence[Piece], *, now: datetime) -> Received:
    """Keep pieces of the session that runs. What is sent twice is kept once. Does not commit.

    Raises Invalid where no session runs, or where all of it is of another time: the hub's clock is off.
    """
    squad = db.get_one(Squad, hub.squad_id)
    off = [_off(one, now) for one in pieces]
    if off and all(off):
        raise Invalid(f"The clock of this hub is {_far(min(off))} off. Set it by /api/live/clock and send again.")
    session = session_now(db, squad, now)
    if session is None:
        raise Invalid("No session of this squad runs now: begin one in Field, or plan one.")
    people = PeopleBook(db, squad, session.day)
    members = {one.athlete_id for one in queries.squad.members(db, squad.id, session.day)}
    found, rows = Received(session.id), []
    for i, piece in enumerate(pieces):
        known, athlete = people.find(piece.device)
        why = _wrong(piece, now, known, athlete, members)
        if why:
            found.refused.append((i, why))
            continue
        rows.append(_row(squad, session, athlete, piece, now))
        found.kept.append(i)
    # Who watches reads on from the last piece: pieces of a squad are to be there in the order of their numbers.
    queries.squad.hold(db, squad.id)
    queries.field.keep_chunks(db, rows)
    hub.seen_at = now
    return found


def receive_here(
    db: DbSession, squad: Squad, session: Session, athlete: int, pieces: Sequence[Piece], *, now: datetime
) -> None:
    """Keep pieces of a strap that a browser reads itself, for whom it was put on. Does not commit.

    Raises Invalid.
    """
    if athlete not in {one.athlete_id for one in queries.squad.members(db, squad.id, session.day)}:
        raise Invalid("Whoever wears this strap is not in the squad on this day.", field="athlete_id")
    if not session.starts_at - BEFORE <= now <= session.starts_at + AFTER and not _runs(db, session, now):
        raise Invalid("This session does not run now: begin it in Field.", field="session_id")
    for piece in pieces:
        if why := _wrong_samples(piece, now):
            raise Invalid(why, field="at")
    queries.squad.hold(db, squad.id)
    queries.field.keep_chunks(db, [_row(squad, session, athlete, piece, now) for piece in pieces])


def _wrong_samples(piece: Piece, now: datetime) -> str:
    """Why samples cannot be kept, whoever they are of; empty where they can."""
    if piece.kind not in LIVE_KINDS:
        return "Only heart rate and speed are taken while a session runs."
    if not piece.t or len(piece.t) != len(piece.value):
        return "Times and values are two rows of one length, with something in them."
    if off := _off(piece, now):
        return f"The clock of this device is {_far(off)} off."
    return ""


def _wrong(piece: Piece, now: datetime, known: bool, athlete: int | None, members: set[int]) -> str:
    """Why a piece cannot be kept; empty where it can."""
    if why := _wrong_samples(piece, now):
        return why
    if not known:
        return f"Nobody is known as “{piece.device}”. Say who wears it: in Squad, under Files."
    if athlete is None:
        return f"“{piece.device}” is to be left out."
    if athlete not in members:
        return f"Whoever wears “{piece.device}” is not in the squad on this day."
    return ""


def _off(piece: Piece, now: datetime) -> timedelta:
    """How far the clock behind a piece is off; nothing where it may be right."""
    end = piece.at + timedelta(seconds=max(piece.t, default=0.0))
    return abs(end - now) if end > now + AHEAD or end < now - HELD_BACK else timedelta()


def _row(squad: Squad, session: Session, athlete: int | None, piece: Piece, now: datetime) -> dict[str, Any]:
    data = np.array([piece.t, piece.value], dtype="<f8")
    return {
        "squad_id": squad.id, "session_id": session.id, "athlete_id": athlete, "device": piece.device[:60],
        "kind": piece.kind, "number": piece.number, "begins_at": piece.at, "samples": data.shape[1],
        "received_at": now, "data": data.tobytes(),
    }  # fmt: skip


def session_now(db: DbSession, squad: Squad, now: datetime) -> Session | None:
    """The session that takes samples now: one begun in Field and not long over, else the one by the clock."""
    today = local_day(squad, now)
    found = queries.session.sessions_between(db, squad.id, today - timedelta(days=1), today)
    begun = queries.field.begun_of(db, [one.id for one in found])
    for one in reversed(found):
        if one.id in begun and _runs(db, one, now):
            return one
    planned = [one for one in found if one.starts_at - BEFORE <= now <= one.starts_at + AFTER and not one.done]
    return planned[-1] if planned else None


def _runs(db: DbSession, session: Session, now: datetime) -> bool:
    events = queries.field.field_events(db, session.id)
    return bool(events) and now - max(one.at for one in events) < AFTER


def _far(off: timedelta) -> str:
    minutes = off.total_seconds() / 60
    if minutes < 120:
        return f"{minutes:.0f} min"
    return f"{minutes / 60:.0f} h" if minutes < 48 * 60 else f"{minutes / 1440:.0f} days"
