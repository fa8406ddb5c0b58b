"""What is known of a squad beside its loads on a morning, read for the rules of notices."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from datetime import date, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import day as core
from uvren.core.body import Pain, Side, Site
from uvren.core.day import Facts, SessionsDone
from uvren.core.fatigue import RestTrial as RestTrialRule
from uvren.core.norms import LAG_DAYS, LASTING_DAYS
from uvren.core.reports import ITEMS, ReportKind
from uvren.core.worn import DRIFT_DAYS
from uvren.services.day import facts
from uvren.services.day.fitness import test_series
from uvren.services.day.forms import Forms
from uvren.services.day.reactions import backs, evidence_of
from uvren.services.day.returns import Returning, gates_on, told_on, with_plans
from uvren.services.day.standing import gate_of, is_unseen, trials_on
from uvren.services.day.worn_basis import basis_on
from uvren.store import queries
from uvren.store.models import (
    AnchorKind,
    Availability,
    Complaint,
    RecordingKind,
    Squad,
)
from uvren.store.queries.day import AnswersOfDay
from uvren.store.queries.session import KIND_CODES
from uvren.store.queries.squad import Member

# Long enough for the norms of what has been harder for weeks, and of what must last under each of the last reports.
DAYS = max(DRIFT_DAYS + 56, LASTING_DAYS + LAG_DAYS + 14)
# A call whose review date is older than this was left, not forgotten.
REVIEW_DAYS = 14
LEAST_COVERAGE, MOST_DROPPED = 0.8, 0.05


def read_facts(
    db: DbSession, squad: Squad, members: Sequence[Member], as_of: date, today: date, count: int = DAYS,
    returning: Mapping[int, Returning] | None = None,
) -> Facts:  # fmt: skip
    """Reports and sessions of ``count`` days, tests and people of these members as of a morning.

    ``returning`` are their plans to come back.
    """
    row_of = {member.athlete_id: row for row, member in enumerate(members)}
    forms = Forms(db, squad.id)
    daily, asked, weekly, weeks = _reports(db, squad, forms, members, row_of, as_of, count)
    return Facts(
        as_of=as_of,
        items=DAILY,
        daily=daily,
        asked=asked,
        signs=WEEKLY,
        weekly=weekly,
        weeks=weeks,
        sessions=_sessions(db, squad, row_of, as_of, today, count),
        tests=test_series(db, squad, row_of, as_of),
        complaints=_complaints(db, squad, row_of, as_of),
        gates=tuple(with_plans(_gates(db, squad, row_of, as_of), gates_on(returning or {}, as_of, row_of))),
        coming=_coming(db, squad, row_of, returning or {}, as_of),
        reviews=_reviews(db, squad, row_of, as_of),
        doubts=_doubts(db, squad, row_of, as_of),
        trials=_trials(db, squad, row_of, as_of),
        kinds_today=frozenset(
            KIND_CODES[session.kind] for session in queries.session.sessions_between(db, squad.id, as_of, as_of)
        ),
        form=frozenset(one.item.code for one in forms.on(ReportKind.DAILY, as_of).asked),
        basis=basis_on(db, squad, as_of, DAILY),
    )


DAILY = tuple(code for code, item in ITEMS.items() if item.kind is ReportKind.DAILY)
WEEKLY = tuple(code for code, item in ITEMS.items() if item.kind is ReportKind.WEEKLY)


def _reports(
    db: DbSession,
    squad: Squad,
    forms: Forms,
    members: Sequence[Member],
    row_of: Mapping[int, int],
    as_of: date,
    count: int,
) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    first = as_of - timedelta(days=count - 1)
    days = [first + timedelta(days=i) for i in range(count)]
    weeks = [day for day in days if forms.on(ReportKind.WEEKLY, day).is_asked(day)]
    weekly = np.full((len(row_of), len(WEEKLY), len(weeks)), np.nan)
    kinds = (ReportKind.DAILY, ReportKind.WEEKLY)
    rows = queries.day.reports_between(db, squad.id, kinds, first, as_of, list(row_of))
    at_sign = {code: i for i, code in enumerate(WEEKLY)}
    at_week = {day: i for i, day in enumerate(weeks)}
    for athlete, kind, day, answers in rows:
        if kind is ReportKind.WEEKLY and day in at_week:
            for code, answer in answers.items():
                weekly[row_of[athlete], at_sign[code], at_week[day]] = answer["value"]
    daily = laid_out(rows, row_of, first, count)
    asked = np.array([forms.on(ReportKind.DAILY, day).is_asked(day) for day in days])
    joined = np.array([member.from_day for member in members])
    there = np.array(days)[None, :] >= joined[:, None] if members else np.zeros((0, count), dtype=bool)
    # Nobody is asked who has no way to answer: by an account, or by a form of which something has come in before.
    reached = np.logical_or.accumulate(~np.isnan(daily).all(axis=1), axis=1)
    reached[[row_of[athlete] for athlete in queries.club.users_of(db, list(row_of))]] = True
    return (
        daily,
        asked & there.astype(bool) & reached,
        weekly,
        np.array([day.toordinal() for day in weeks], dtype=np.int64),
    )


def laid_out(rows: Iterable[AnswersOfDay], row_of: Mapping[int, int], first: date, count: int) -> np.ndarray:
    """Daily answers by row, item (as ``DAILY``) and day from ``first`` on, nan where nothing was answered."""
    at = {code: i for i, code in enumerate(DAILY)}
    daily = np.full((len(row_of), len(DAILY), count), np.nan)
    for athlete, kind, day, answers in rows:
        if kind is ReportKind.DAILY:
            for code, answer in answers.items():
                daily[row_of[athlete], at[code], (day - first).days] = answer["value"]
    return daily


def _sessions(
    db: DbSession, squad: Squad, row_of: Mapping[int, int], as_of: date, today: date, count: int
) -> SessionsDone:
    last = as_of if as_of >= today else as_of - timedelta(days=1)
    found = queries.day.efforts_between(db, squad.id, as_of - timedelta(days=count), last, list(row_of))
    items = [
        (row_of[athlete], day.toordinal(), KIND_CODES[kind], planned, effort, minutes)
        for athlete, day, kind, planned, effort, minutes in found
        if athlete in row_of
    ]
    columns = np.array(items, dtype=np.float64).reshape(-1, 6).T
    row, day, kind = (column.astype(np.int64) for column in columns[:3])
    return SessionsDone(row, day, kind, columns[3], columns[4], columns[5])


def _complaints(db: DbSession, squad: Squad, row_of: Mapping[int, int], as_of: date) -> tuple[core.Complaint, ...]:
    """Open complaints; several days of the same place, or of illness, are one."""
    zone = ZoneInfo(squad.time_zone)
    together: dict[tuple[object, ...], list[Complaint]] = defaultdict(list)
    for one in queries.return_.open_complaints(db, squad.id, as_of):
        if one.athlete_id in row_of:
            together[one.athlete_id, one.kind, one.site, one.side].append(one)
    return tuple(
        core.Complaint(
            row=row_of[last[-1].athlete_id],
            said=facts.said_of(last[-1]),
            # Until it is seen the worst of it counts, whenever it was told.
            severity=max((one.severity for one in last if one.severity is not None), default=None)
            if (new := any(is_unseen(one, as_of, zone) for one in last))
            else last[-1].severity,
            since=last[0].day,
            days=len({one.day for one in last}),
            new=new,
            again=any(one.again_on is not None and one.again_on <= as_of for one in last),
        )
        for last in together.values()
    )


def _gates(db: DbSession, squad: Squad, row_of: Mapping[int, int], as_of: date) -> tuple[core.Gate, ...]:
    return tuple(
        gate_of(one, row_of[one.athlete_id])
        for one in queries.return_.restrictions_on(db, squad.id, as_of)
        if one.availability is not Availability.FULL and one.athlete_id in row_of
    )


def _coming(
    db: DbSession, squad: Squad, row_of: Mapping[int, int], returning: Mapping[int, Returning], as_of: date
) -> tuple[core.Coming, ...]:
    running = {athlete: one for athlete, one in returning.items() if one.runs_on(as_of)}
    channels = {channel.code: channel for channel in queries.squad.channels(db, squad.id)} if running else {}
    proposed = backs(running, evidence_of(db, squad, running, as_of, channels))
    out = []
    for athlete, one in running.items():
        said, again = told_on(one, as_of)
        out.append(core.Coming(row_of[athlete], one.begins, said, again, proposed.get(athlete, "")))
    return tuple(out)


def _reviews(db: DbSession, squad: Squad, row_of: Mapping[int, int], as_of: date) -> tuple[core.Review, ...]:
    """Last calls whose review date has come, of those a call was made for in the last weeks."""
    last = queries.morning.last_calls(db, squad.id, as_of)
    return tuple(
        core.Review(row_of[call.athlete_id], call.kind.value, call.day, call.review_on)
        for call in last.values()
        if call.athlete_id in row_of
        and call.day < as_of
        and call.review_on is not None
        and as_of - timedelta(days=REVIEW_DAYS) <= call.review_on <= as_of
    )


def _doubts(db: DbSession, squad: Squad, row_of: Mapping[int, int], as_of: date) -> tuple[core.Doubt, ...]:
    rows = queries.session.recording_qualities(db, squad.id, as_of - timedelta(days=2), as_of)
    out = []
    for key, athlete, kind, coverage, dropped, samples, day in rows:
        if athlete not in row_of:
            continue
        said = []
        if coverage is not None and coverage < LEAST_COVERAGE:
            said.append(f"covers {coverage:.0%} of its time".replace("%", " %"))
        if samples and dropped / (samples + dropped) > MOST_DROPPED:
            said.append(f"{dropped / (samples + dropped):.0%} of its values were dropped".replace("%", " %"))
        if said:
            what = f"{kind.value.replace('_', ' ')} of {day:%a} {day.day} {day:%B}"
            out.append(core.Doubt(row_of[athlete], day, key, f"The recording of {what}: {' and '.join(said)}."))
    return tuple(out) + _above_maximum(db, squad, row_of, as_of)


# So long above the maximum that is entered is no artefact: the anchor is too low.
ABOVE_SECONDS = 60.0


def _above_maximum(db: DbSession, squad: Squad, row_of: Mapping[int, int], as_of: date) -> tuple[core.Doubt, ...]:
    """Heart rates above the maximum they are judged by. They count as the maximum; the anchor needs a look."""
    kinds = [RecordingKind.HEART_RATE]
    found = queries.session.recordings_between(db, squad.id, kinds, as_of - timedelta(days=2), as_of)
    maxima: dict[int, float] = {}
    for athlete, _, _, value, _ in queries.squad.anchors_until(db, list(row_of), as_of, AnchorKind.HR_MAX):
        if value is not None:
            maxima[athlete] = value
    out = []
    for key, _, athlete, _, summary in found:
        most = maxima.get(athlete)
        if athlete not in row_of or most is None:
            continue
        values, seconds = (np.array(summary[name], dtype=np.float64) for name in ("value", "seconds"))
        above = float(seconds[values > most].sum())
        if above >= ABOVE_SECONDS:
            said = (
                f"A recording of heart rate holds {above / 60:.0f} min above the maximum of {most:g} that is entered, "
                f"up to {values.max():g}; they count as the maximum. The anchor needs a look."
            )
            out.append(core.Doubt(row_of[athlete], as_of, f"{key}:above", said))
    return tuple(out)


def _trials(db: DbSession, squad: Squad, row_of: Mapping[int, int], as_of: date) -> dict[int, RestTrialRule]:
    found = trials_on(
        queries.return_.rest_trials_until(db, squad.id, as_of),
        queries.return_.restrictions_until(db, squad.id, as_of),
        as_of,
    )
    return {row_of[athlete]: trial for athlete, trial in found.items() if athlete in row_of}


def said_of(complaint: Complaint) -> str:
    """Such as "left knee, 4 of 10" or "illness"."""
    if complaint.site is None:
        return complaint.kind.value
    side = Side(complaint.side) if complaint.side else None
    return Pain(Site(complaint.site), side, complaint.severity or 1.0).said()
