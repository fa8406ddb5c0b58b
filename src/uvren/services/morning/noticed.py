"""What was noticed of one athlete, morning by morning."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.core.audience import Audience
from uvren.core.day import Desk
from uvren.core.notices import KINDS, Cause, Severity, Shape, notices_for
from uvren.services.day.desk import open_desks
from uvren.services.day.facts import DAYS as FACTS_DAYS
from uvren.services.errors import NotFound
from uvren.store.models import Squad

# How far back the mornings are gone through.
DAYS = 92
# What was planned then, and the norm of sides then, cannot be told from what is known now.
NOT_BACKWARDS = ("planned_break", "sides_differ")


@dataclass(frozen=True)
class NoticeRun:
    """Mornings running on which the same thing was noticed, with the words and the weight of the last of them."""

    first: date
    last: date
    code: str
    name: str
    cause: Cause
    shape: Shape
    severity: Severity
    channel: str
    sentence: str

    @property
    def clinical(self) -> bool:
        """Whether it is for who may read clinical detail."""
        return KINDS[self.code].audience is Audience.CLINICAL


def notice_runs(
    db: DbSession, squad: Squad, athlete_id: int, as_of: date, today: date, audiences: frozenset[Audience]
) -> list[NoticeRun]:
    """What was noticed on the mornings up to ``as_of``, as far as it can be told from what is known now.

    Only what these audiences may read. Mornings are gone through one by one; what stands on several running is one run.
    """
    desks = open_desks(db, squad, as_of, today, {athlete_id}, with_facts=True, days_of_facts=DAYS + FACTS_DAYS)
    if not desks:
        raise NotFound("This athlete is not in the squad on that day.")
    runs = [
        run
        for opened in desks
        for run in _runs(opened.desk, "" if opened.desk.main else opened.channel.name, audiences)
    ]
    return sorted(runs, key=lambda run: (run.first, run.severity.rank))


def _runs(desk: Desk, channel: str, audiences: frozenset[Audience]) -> Iterator[NoticeRun]:
    """The runs of one channel, those that ended last first."""
    going: dict[str, NoticeRun] = {}
    for _ in range(DAYS):
        here: dict[str, NoticeRun] = {}
        for notice in notices_for(desk, lasting=True)[0]:
            kind = KINDS[notice.code]
            if kind.audience not in audiences or notice.code in NOT_BACKWARDS:
                continue
            last = going.get(notice.key) or NoticeRun(
                first=desk.as_of,
                last=desk.as_of,
                code=notice.code,
                name=kind.name,
                cause=kind.cause,
                shape=notice.shape,
                severity=notice.severity,
                channel=channel,
                sentence=notice.sentence,
            )
            here[notice.key] = replace(last, first=desk.as_of)
        yield from (run for key, run in going.items() if key not in here)
        going = here
        if desk.today <= max(int(desk.done.start[0]), 1):
            break
        desk = desk.before()
    yield from going.values()
