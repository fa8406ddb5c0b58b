"""Weeks that are kept to be planned again: for whom they were written, and what is other for whoever gets them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.plan.template import Whom, WrittenFor, differs
from uvren.services.club import audit
from uvren.services.day.people import folded, years_trained
from uvren.services.errors import Invalid, NotFound
from uvren.services.stamp import Stamp
from uvren.services.week.block import monday
from uvren.services.week.reading import LONGEST
from uvren.services.week.saving import plan_own
from uvren.store import queries
from uvren.store.models import Session, SessionKind, Squad, WeekTemplate
from uvren.store.queries.squad import Member
from uvren.store.types import new_ulid

WEEK = 7
MOST_WEEKS = 12
# What of the past says what whoever gets a template is used to.
LOOKED_BACK = 8 * WEEK
LONGEST_NAME, LONGEST_SPORT = 80, 40


@dataclass(frozen=True)
class TemplateSession:
    """A session of a template; ``day`` is 0 on the first Monday."""

    day: int
    at: str
    kind: SessionKind
    title: str
    minutes: float
    effort: float


@dataclass(frozen=True)
class Template:
    """``squad`` is the name of the squad it was made in, ``own`` whether that is the one that reads."""

    id: str
    name: str
    squad: str
    own: bool
    written: WrittenFor
    weeks: int
    sessions: list[TemplateSession]


@dataclass(frozen=True)
class Templates:
    """Those of the club, and what sport this squad has said it does."""

    sport: str
    templates: list[Template]


@dataclass(frozen=True)
class NewTemplate:
    """So many weeks from the Monday of a day on, of these kinds, matches aside."""

    name: str
    of: date
    weeks: int
    kinds: frozenset[SessionKind]
    written: WrittenFor


@dataclass(frozen=True)
class Fit:
    """A template for somebody: what is other than it was written for, and the sessions it comes to.

    ``there`` counts the sessions that stand at the same time under the same name already: no second one is made.
    """

    name: str
    whom: str
    first: date
    differs: list[str]
    sessions: list[TemplateSession]
    there: int


def read_templates(db: DbSession, squad: Squad) -> Templates:
    found = [_read(template, name, squad) for template, name in queries.week.templates(db, squad.club_id)]
    return Templates(squad.sport or "", found)


def _read(template: WeekTemplate, name: str, squad: Squad) -> Template:
    sessions = [TemplateSession(**(one | {"kind": SessionKind(one["kind"])})) for one in template.sessions]
    written = WrittenFor(
        template.years_least, template.years_most, template.sport, template.sport_days, template.longest
    )
    weeks = max(one.day for one in sessions) // WEEK + 1
    return Template(template.id, template.name, name, template.squad_id == squad.id, written, weeks, sessions)


def keep_template(db: DbSession, squad: Squad, new: NewTemplate, *, stamp: Stamp) -> WeekTemplate:
    """Keep weeks as a template. Does not commit. Raises Invalid with the field."""
    name, sport = new.name.strip(), new.written.sport.strip()
    queries.squad.hold(db, squad.id)
    _check(db, squad, new, name)
    first = monday(new.of)
    last = first + timedelta(days=WEEK * new.weeks - 1)
    found = queries.session.sessions_between(db, squad.id, first, last)
    chosen = [one for one in found if one.kind in new.kinds and one.planned_minutes > 0]
    if not chosen:
        raise Invalid("Nothing of these kinds is in those weeks.", field="of")
    template = WeekTemplate(
        id=new_ulid(), squad_id=squad.id, name=name, years_least=new.written.years_least,
        years_most=new.written.years_most, sport=sport, sport_days=new.written.sport_days, longest=new.written.longest,
        sessions=[_kept(squad, one, first) for one in chosen], made_by=stamp.by, made_at=stamp.now,
    )  # fmt: skip
    db.add(template)
    if sport and not squad.sport:
        squad.sport = sport
    audit.note(db, "template_kept", f"squad:{squad.id}", stamp=stamp, squad_id=squad.id, name=name)
    db.flush()
    return template


def _check(db: DbSession, squad: Squad, new: NewTemplate, name: str) -> None:
    written = new.written
    if not 1 <= len(name) <= LONGEST_NAME:
        raise Invalid(f"A template has a name of up to {LONGEST_NAME} letters.", field="name")
    if any(folded(one.name) == folded(name) for one, _ in queries.week.templates(db, squad.club_id)):
        raise Invalid("There is a template of this name already.", field="name")
    if not 1 <= new.weeks <= MOST_WEEKS:
        raise Invalid(f"A template has 1 to {MOST_WEEKS} weeks.", field="weeks")
    if not new.kinds or SessionKind.MATCH in new.kinds:
        raise Invalid("Say which kinds of sessions; matches are the calendar's own.", field="kinds")
    for field, value, most in (
        ("years_least", written.years_least, 60), ("years_most", written.years_most, 60),
        ("sport_days", written.sport_days, WEEK), ("longest", written.longest, LONGEST),
    ):  # fmt: skip
        if value is not None and not 0 <= value <= most:
            raise Invalid(f"This is 0 to {most:g}.", field=field)
    if written.years_least is not None and written.years_most is not None and written.years_least > written.years_most:
        raise Invalid("The most years are fewer than the least.", field="years_most")
    if len(written.sport) > LONGEST_SPORT:
        raise Invalid(f"Name the sport in up to {LONGEST_SPORT} letters.", field="sport")


def _kept(squad: Squad, session: Session, first: date) -> dict[str, object]:
    return {
        "day": (session.day - first).days, "at": _at(squad, session), "kind": session.kind.value,
        "title": session.title, "minutes": session.planned_minutes, "effort": session.planned_effort,
    }  # fmt: skip


def _at(squad: Squad, session: Session) -> str:
    return f"{session.starts_at.astimezone(ZoneInfo(squad.time_zone)):%H:%M}"


def remove_template(db: DbSession, squad: Squad, template_id: str, *, gone: bool, stamp: Stamp) -> None:
    """Take a template away, or put it back. What was planned from it stays. Does not commit.

    Raises NotFound, Invalid for one of another squad.
    """
    template = _find(db, squad, template_id)
    if template.squad_id != squad.id:
        raise Invalid("It was made in another squad, which can take it away.")
    template.gone_at = stamp.now if gone else None
    what = "template_removed" if gone else "template_put_back"
    audit.note(db, what, f"squad:{squad.id}", stamp=stamp, squad_id=squad.id, name=template.name)
    db.flush()


def _find(db: DbSession, squad: Squad, template_id: str) -> WeekTemplate:
    template = queries.week.template(db, squad.club_id, template_id)
    if template is None:
        raise NotFound("There is no such template.")
    return template


def read_fit(
    db: DbSession, squad: Squad, template_id: str, first: date, athlete_id: int | None, sport: str, today: date
) -> Fit:
    """What a template comes to from the Monday of a day on, for the squad or for one. Raises NotFound, Invalid."""
    first = monday(first)
    if first < monday(today):
        raise Invalid("It begins this week or later.", field="first")
    template = _read(_find(db, squad, template_id), "", squad)
    sport = sport.strip() or squad.sport or ""
    members = queries.squad.members(db, squad.id, first)
    if athlete_id is not None:
        members = [one for one in members if one.athlete_id == athlete_id]
    if not members:
        raise Invalid("This athlete is not in the squad then." if athlete_id else "Nobody is in the squad then.",
                      field="athlete_id")  # fmt: skip
    longest = max(one.minutes for one in template.sessions)
    weeks = np.zeros(template.weeks)
    for one in template.sessions:
        weeks[one.day // WEEK] += one.minutes * one.effort
    kinds = {one.kind for one in template.sessions}
    whom = _whom(db, squad, members, kinds, sport, today)
    ahead = [one for one in template.sessions if first + timedelta(days=one.day) >= today]
    there = _there(db, squad, first, template.weeks)
    return Fit(
        name=template.name,
        whom=members[0].name if athlete_id is not None else squad.name,
        first=first,
        differs=differs(template.written, whom, longest, float(weeks.max())),
        sessions=ahead,
        there=sum(_key(first, one) in there for one in ahead),
    )


def _whom(
    db: DbSession, squad: Squad, members: Sequence[Member], kinds: set[SessionKind], sport: str, today: date
) -> Whom:
    """Who they are, and what they have done in the last eight weeks."""
    athletes = [one.athlete_id for one in members]
    known = years_trained(db, athletes, today)
    days: dict[int, set[date]] = {one: set() for one in athletes}
    longest: dict[int, float] = dict.fromkeys(athletes, np.nan)
    work = dict.fromkeys(athletes, 0.0)
    since = today - timedelta(days=LOOKED_BACK)
    done = queries.day.efforts_between(db, squad.id, since, today - timedelta(days=1), athletes)
    for athlete, day, kind, planned, effort, minutes in done:
        if not minutes:
            continue
        if kind is not SessionKind.GYM:
            days[athlete].add(day)
        if kind in kinds:
            longest[athlete] = np.fmax(longest[athlete], minutes)
            work[athlete] += minutes * (planned if effort is None else effort)
    some = [value for value in longest.values() if not np.isnan(value)]
    return Whom(
        years=np.array([known.get(one, np.nan) for one in athletes]),
        sport=sport,
        sport_days=float(np.median([len(one) for one in days.values()])) * WEEK / LOOKED_BACK,
        longest=float(np.median(some)) if some else np.nan,
        week=float(np.median(list(work.values()))) * WEEK / LOOKED_BACK if some else np.nan,
    )


_Key = tuple[date, SessionKind, str, str]


def _there(db: DbSession, squad: Squad, first: date, weeks: int) -> set[_Key]:
    found = queries.session.sessions_between(db, squad.id, first, first + timedelta(days=WEEK * weeks - 1))
    return {(one.day, one.kind, one.title, _at(squad, one)) for one in found}


def _key(first: date, one: TemplateSession) -> _Key:
    return first + timedelta(days=one.day), one.kind, one.title, one.at


def to_make(
    db: DbSession, squad: Squad, template_id: str, first: date, athlete_id: int | None, sport: str, today: date,
    seen: Sequence[str],
) -> list[tuple[date, TemplateSession]]:  # fmt: skip
    """The sessions of a template that are still to come and not there yet, with their days. Raises NotFound, Invalid.

    ``seen`` is what was shown to differ: where it is something else now, that has to be looked at first.
    """
    queries.squad.hold(db, squad.id)
    fit = read_fit(db, squad, template_id, first, athlete_id, sport, today)
    if list(seen) != fit.differs:
        raise Invalid("Look at what differs first.", field="differs")
    there = _there(db, squad, fit.first, MOST_WEEKS)
    made = [(fit.first + timedelta(days=one.day), one) for one in fit.sessions if _key(fit.first, one) not in there]
    if not made:
        raise Invalid("All of it is planned already, or gone by.", field="first")
    return made


def used(
    db: DbSession, squad: Squad, template_id: str, made: Sequence[Session], athlete_id: int | None, sport: str, *,
    stamp: Stamp,
) -> None:  # fmt: skip
    """Note that sessions were made from a template; for one athlete nobody else has any of it. Does not commit.

    What sport it is for is the squad's from then on, unless it is for one athlete alone.
    """
    if athlete_id is not None:
        others = {
            (member.athlete_id, one.id): 0.0
            for one in made
            for member in queries.squad.members(db, squad.id, one.day)
            if member.athlete_id != athlete_id
        }
        plan_own(db, squad, others, stamp=stamp)
    elif sport.strip() and squad.sport != sport.strip():
        squad.sport = sport.strip()[:LONGEST_SPORT]
    name = _find(db, squad, template_id).name
    audit.note(db, "template_used", f"squad:{squad.id}", stamp=stamp, squad_id=squad.id, name=name, sessions=len(made))
    db.flush()
