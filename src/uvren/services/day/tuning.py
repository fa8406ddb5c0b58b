"""How notices are tuned on a day: the narrowest scope wins."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.day import Tuning
from uvren.core.notices import KINDS
from uvren.store import queries
from uvren.store.models import NoticeSetting, Scope, Squad
from uvren.store.queries.squad import Member

_WIDER = {Scope.SQUAD: 0, Scope.POSITION: 1, Scope.ATHLETE: 2}


def settings_on(db: DbSession, squad_id: int, day: date) -> list[NoticeSetting]:
    """The settings in force on a day: of one kind and one scope the one set last."""
    rows = queries.squad.notice_settings_until(db, squad_id, day)
    return list({meant_by(row): row for row in rows}.values())


def meant_by(row: NoticeSetting) -> tuple[str, Scope, str | None, int | None]:
    """What and whom a setting is of; of the same the one set last is in force."""
    return row.code, row.scope, row.position, row.athlete_id


def tuning(db: DbSession, squad: Squad, members: Sequence[Member], day: date) -> Tuning:
    """The settings in force on a day, by row."""
    off: dict[str, np.ndarray] = {}
    values: dict[tuple[str, str], np.ndarray] = {}
    for row in sorted(settings_on(db, squad.id, day), key=lambda one: _WIDER[one.scope]):
        kind = KINDS.get(row.code)
        if kind is None:
            continue
        mine = np.array([_meant(row, member) for member in members], dtype=bool)
        off[row.code] = np.where(mine, row.off, off.get(row.code, np.zeros(len(members), dtype=bool)))
        for setting in kind.settings:
            if setting.key in row.values:
                before = values.get((row.code, setting.key), np.full(len(members), setting.default))
                values[row.code, setting.key] = np.where(mine, float(row.values[setting.key]), before)
    return Tuning(off, values)


def _meant(row: NoticeSetting, member: Member) -> bool:
    if row.scope is Scope.ATHLETE:
        return row.athlete_id == member.athlete_id
    return row.scope is Scope.SQUAD or row.position == member.position
