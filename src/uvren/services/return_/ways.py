"""Three ways to a date that a plan to come back does not reach, each with what it comes to and costs."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.returns import Climb, fit, match_minutes, shortened, steepest, with_shares
from uvren.core.returns.fit import MINUTES_STEP
from uvren.services.day.returns import Returning
from uvren.services.return_.matches import MatchLoad, matches_ahead, usual_minutes
from uvren.services.return_.reading import StepWeek, fit_of, steps_of
from uvren.store import queries
from uvren.store.models import Squad

# Matches that minutes are laid out for, and how long one is where nobody is known to have played.
MOST_MATCHES, WHOLE_MATCH = 6, 60.0
# How long after the day that would do a match is looked for.
LOOK_DAYS = timedelta(days=21)


@dataclass(frozen=True)
class MatchMinutes:
    session_id: str
    name: str
    day: date
    minutes: float
    whole: float


@dataclass(frozen=True)
class Way:
    """A way to a date that does not fit: what it comes to, what it costs and who has to agree.

    ``shares`` are the steps of a shortened climb, ``target`` the day of a later one, ``matches`` the minutes of part
    of them. ``possible`` is false where there is no such way, and ``costs`` then says why.
    """

    kind: str
    title: str
    possible: bool
    load: str
    held: str
    costs: str
    needs: str
    target: date | None
    shares: list[float]
    matches: list[MatchMinutes]
    weeks: list[StepWeek]


def ways_of(db: DbSession, squad: Squad, one: Returning, match: MatchLoad | None, as_of: date) -> list[Way]:
    """The three ways, none of them chosen; empty where there is no date, or it fits."""
    return _Ways(db, squad, one, as_of).all(match)


class _Ways:
    """What the ways are told from."""

    def __init__(self, db: DbSession, squad: Squad, one: Returning, as_of: date) -> None:
        self.db, self.squad, self.one, self.as_of = db, squad, one, as_of
        self.plan, self.fit = one.plan, fit_of(one)
        self.names = {channel.code: channel.name for channel in queries.squad.channels(db, squad.id)}

    def all(self, match: MatchLoad | None) -> list[Way]:
        climb, target = self.one.climb, self.plan.target_day
        if climb is None or target is None or self.fit is None or self.fit.fits:
            return []
        return [self._later(climb, target), self._quicker(climb, target), self._in_part(climb, target, match)]

    def _held(self, climb: Climb, day: date) -> str:
        """What is held behind the rest, and how far it is on a day."""
        held = [code for code, part in climb.terms.parts.items() if part.held]
        said = [f"{self.names[code].lower()} {say.percent(climb.share_on(day, code) / 100)}" for code in held]
        return ", ".join(said) or "nothing is held"

    def _later(self, climb: Climb, target: date) -> Way:
        assert self.fit is not None
        ahead = matches_ahead(self.db, self.squad, target, self.fit.earliest + LOOK_DAYS)
        to = next((one.day for one in ahead if one.day >= self.fit.earliest), self.fit.earliest)
        missed = [one.name for one in ahead if target <= one.day < to]
        return Way(
            kind="later",
            title=f"Move to {say.day(to)}",
            possible=True,
            load=say.percent(climb.share_on(to, climb.terms.main) / 100),
            held=self._held(climb, to),
            costs=f"{say.listed(missed)} missed" if missed else "no match is missed",
            needs="the coach’s agreement",
            target=to,
            shares=[],
            matches=[],
            weeks=steps_of(climb, climb.terms.main),
        )

    def _quicker(self, climb: Climb, target: date) -> Way:
        steps = shortened(climb, target, self.plan.needed, self.as_of)
        if steps is None:
            return Way("quicker", "Shorten the climb", False, "", "", "The date is within the week now running.", "",
                       None, [], [], [])  # fmt: skip
        quick = with_shares(climb, steps, self.one.done, self.as_of)
        before, after = (say.percent(steepest(one)) for one in (climb.terms.shares, steps))
        return Way(
            kind="quicker",
            title="Shorten the climb",
            possible=True,
            load=say.percent(fit(quick, target, self.plan.needed).shares[climb.terms.main] / 100),
            held=self._held(quick, target),
            costs=f"a week up {after}, not {before}",
            needs="a named person’s reason",
            target=None,
            shares=list(steps),
            matches=[],
            weeks=steps_of(quick, climb.terms.main),
        )

    def _in_part(self, climb: Climb, target: date, match: MatchLoad | None) -> Way:
        ahead = matches_ahead(self.db, self.squad, target, climb.last + LOOK_DAYS)[:MOST_MATCHES]
        before = self.plan.first_off or self.plan.first_day
        usual = usual_minutes(self.db, self.squad, self.plan.athlete_id, before)
        rows = []
        for one in ahead:
            planned = one.planned_minutes or WHOLE_MATCH
            whole = max(round(min(usual or planned, planned) / MINUTES_STEP) * MINUTES_STEP, MINUTES_STEP)
            load = 0.0 if match is None else match.loads.get(climb.terms.main, 0.0) * whole / match.minutes
            minutes = match_minutes(climb, one.day, whole, load)
            rows.append(MatchMinutes(one.id, one.name, one.day, minutes, whole))
        share = climb.share_on(target, climb.terms.main)
        said = ", ".join(f"{one.minutes:g}" for one in rows)
        return Way(
            kind="part",
            title="Part of the minutes",
            possible=bool(rows),
            load=say.percent(share / 100),
            held=self._held(climb, target),
            costs=f"{said} of {rows[0].whole:g} min" if rows else "No match is planned from then on.",
            needs="the coach’s choice",
            target=None,
            shares=[],
            matches=rows,
            weeks=steps_of(climb, climb.terms.main),
        )
