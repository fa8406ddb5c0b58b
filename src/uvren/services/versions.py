"""Nobody overwrites what they have not seen, and what stood before is kept."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, datetime, time
from enum import Enum
from typing import Any, Final

from sqlalchemy.orm import Session as DbSession

from uvren.services.errors import Stale
from uvren.services.stamp import Stamp
from uvren.store.models import Earlier
from uvren.store.types import new_ulid


class Whatever(Enum):
    """For the program's own set-up, which has nothing on a screen: whatever stands is meant to be replaced."""

    STANDS = "stands"


WHATEVER: Final = Whatever.STANDS


def check_seen(
    seen: int | str | Whatever | None,
    stands: int | str | None,
    said: str,
    *,
    yours: Mapping[str, Any],
    theirs: Mapping[str, Any],
    field: str | None = None,
) -> None:
    """Raises Stale where another version stands than the one that was ``seen``; None is that nothing was.

    Its ``extra`` has both, and the version to send for theirs to be replaced. ``said`` is what happened meanwhile, as a
    sentence.
    """
    if seen is WHATEVER or seen == stands:
        return
    raise Stale(
        f"{said} Look at it, and save yours again if it is to stand.",
        field=field,
        extra={"yours": plain(yours), "theirs": plain(theirs) | {"version": stands}},
    )


def keep_earlier(
    db: DbSession,
    squad_id: int,
    kind: str,
    key: str | int,
    version: int,
    data: Mapping[str, Any],
    *,
    stamp: Stamp,
    athlete_id: int | None = None,
) -> None:
    """Keep what stood until now of something that is changed in its place."""
    db.add(
        Earlier(
            id=new_ulid(),
            squad_id=squad_id,
            athlete_id=athlete_id,
            kind=kind,
            key=str(key),
            version=version,
            data=plain(data),
            until=stamp.now,
            changed_by=stamp.by,
        )
    )


def plain(values: Mapping[str, Any]) -> dict[str, Any]:
    """The same as JSON has it."""
    return {name: str(one) if isinstance(one, date | datetime | time) else one for name, one in values.items()}
