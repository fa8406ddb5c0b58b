"""What a week still owes somebody who is called after warm-up: the least that keeps them as they are."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection
from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.maintain import owed
from uvren.services.day.desk import open_desks
from uvren.store.models import Squad


def read_owed(db: DbSession, squad: Squad, day: date, today: date, athletes: Collection[int]) -> dict[int, str]:
    """What is owed in a sentence, of those of whom a usual week is known."""
    if not athletes:
        return {}
    parts: dict[int, list[str]] = defaultdict(list)
    known: set[int] = set()
    for desk in open_desks(db, squad, day, today, athletes):
        found = owed(desk.desk.done.load, desk.desk.done.column(day))
        for member, left in zip(desk.members, found, strict=True):
            if left != left:
                continue
            known.add(member.athlete_id)
            if left >= 1:
                name = "load" if desk.channel.is_main else desk.channel.name.lower()
                parts[member.athlete_id].append(f"{say.number(left)} of {name}")
    return {
        one: f"Still owed this week: {say.listed(parts[one])}." if parts[one] else "What keeps them is done this week."
        for one in known
    }
