"""Sessions that a file speaks of and nobody made: what they would be, and making them."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time
from statistics import median

from sqlalchemy.orm import Session as DbSession

from uvren.services.files.mappings import Spec
from uvren.services.files.matching import Matched, Placed
from uvren.services.files.read_samples import Row
from uvren.services.session.planning import NewSession, plan_sessions
from uvren.services.squad.kinds import WORK_KINDS
from uvren.store.models import Session, SessionKind, Squad

_MATCH = frozenset(("match", "game", "fixture", "league", "cup", "friendly", "final", "competition", "race"))
_SAID: dict[SessionKind, frozenset[str]] = {
    SessionKind.MATCH: _MATCH,
    SessionKind.GYM: frozenset(("gym", "weights", "strength", "lifting", "s&c", "power")),
    SessionKind.RUN: frozenset(("run", "running", "intervals")),
    SessionKind.RIDE: frozenset(("ride", "bike", "cycling", "riding")),
    SessionKind.SWIM: frozenset(("swim", "swimming", "pool")),
    SessionKind.RECOVERY: frozenset(("recovery", "regeneration", "mobility", "yoga", "stretching")),
    SessionKind.FIELD: frozenset(("pitch", "field")),
    SessionKind.COURT: frozenset(("court", "hall")),
}
TITLE = "From a file"
# When sessions of a day begin of which only the order is known.
_HOURS = (12, 17, 20, 8)
_HALVES = {"am": 10, "a.m.": 10, "morning": 10, "noon": 12, "midday": 12, "pm": 17, "p.m.": 17, "afternoon": 15,
           "evening": 18}  # fmt: skip
USUAL_EFFORT, LONGEST = 5.0, 600.0


@dataclass(frozen=True)
class Making:
    """Sessions to be made: what each would be, and the rows and recordings that are of it."""

    new: list[NewSession]
    rows: dict[tuple[date, datetime | None, str, int], int]
    spans: list[tuple[float, float]]

    def of_row(self, row: Row) -> int:
        return self.rows[_key(row)]

    def of_recording(self, one: Placed) -> int:
        return next(i for i, (begins, ends) in enumerate(self.spans) if begins <= one.begins <= ends)


def _key(row: Row) -> tuple[date, datetime | None, str, int]:
    # A session that began at a time is one, whatever its rows call it.
    return (row.day, row.starts, "", 0) if row.starts is not None else (row.day, None, row.label.casefold(), row.nth)


def making(squad: Squad, matched: Matched, spec: Spec) -> Making:
    """Sessions for what has none: of each stretch of time that recordings share, and of each day that rows name."""
    spans = _spans([one for one in matched.placed if one.session_id is None])
    usual = spec.made_kind or _usual_kind(squad)
    title, effort = spec.made_title.strip() or TITLE, spec.made_effort
    new = [
        NewSession(datetime.fromtimestamp(begins, UTC), usual, title,
                   min(max(round((ends - begins) / 60), 1.0), LONGEST), USUAL_EFFORT if effort is None else effort)
        for begins, ends in spans
    ]  # fmt: skip
    groups: dict[tuple[date, datetime | None, str, int], list[Row]] = defaultdict(list)
    for row, _, session in matched.rows:
        if session is None:
            groups[_key(row)].append(row)
    several = Counter(day for day, starts, _, _ in groups if starts is None)
    place: Counter[date] = Counter()
    rows: dict[tuple[date, datetime | None, str, int], int] = {}
    for key in sorted(groups, key=lambda key: (key[0], key[1] or datetime.min.replace(tzinfo=UTC), key[3])):
        day, starts, _, _ = key
        of = groups[key]
        said = next((row.label for row in of if row.label), "")
        hour = _HALVES.get(said.casefold()) or (10 if several[day] > 1 and not place[day] else _HOURS[place[day] % 4])
        at = starts or datetime.combine(day, time(hour), spec.tz).astimezone(UTC)
        place[day] += starts is None
        rows[key] = len(new)
        new.append(_session(of, said, at, usual, title, effort))
    return Making(new, rows, spans)


def _session(
    of: Sequence[Row], said: str, at: datetime, usual: SessionKind, title: str, effort: float | None
) -> NewSession:
    """A session that was done and never planned is planned as it was done by most, as far as that is known."""
    minutes = [row.minutes for row in of if row.minutes]
    rated = [row.effort for row in of if row.effort is not None]
    planned = effort if effort is not None else round(median(rated) * 2) / 2 if rated else USUAL_EFFORT
    bare = not said or said.casefold() in _HALVES or len(said) < 3 or said[0].isdigit()
    return NewSession(at, kind_said(said) or usual, title if bare else said, min(max(minutes, default=60.0), LONGEST),
                      planned)  # fmt: skip


def kind_said(said: str) -> SessionKind | None:
    """The kind of session that a title speaks of."""
    words = set(said.casefold().replace("/", " ").replace("-", " ").split())
    return next((kind for kind, names in _SAID.items() if words & names), None)


def _usual_kind(squad: Squad) -> SessionKind:
    return next((work.sessions[0] for work in WORK_KINDS if work.code == squad.work), SessionKind.COURT)


def _spans(unplaced: Sequence[Placed]) -> list[tuple[float, float]]:
    spans: list[tuple[float, float]] = []
    for one in sorted(unplaced, key=lambda one: one.begins):
        if spans and one.begins < spans[-1][1]:
            spans[-1] = spans[-1][0], max(spans[-1][1], one.ends)
        else:
            spans.append((one.begins, one.ends))
    return spans


def make_sessions(db: DbSession, squad: Squad, matched: Matched, spec: Spec) -> list[Session]:
    """Make them, and let everything in the file be of one. Does not commit."""
    plan = making(squad, matched, spec)
    made = plan_sessions(db, squad, plan.new)
    for one in matched.placed:
        if one.session_id is None:
            one.session_id = made[plan.of_recording(one)].id
    matched.rows = [(row, athlete, session or made[plan.of_row(row)].id) for row, athlete, session in matched.rows]
    matched.sessions |= {session.id: session for session in made}
    return made
