"""Last night's session as devices recorded it: files of straps, pods and shoe pods, brought in as people bring them."""

from __future__ import annotations

import io
import tempfile
from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime, time, timedelta
from pathlib import Path
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.services import files as imports
from uvren.services.files.mappings import Spec, save_mapping
from uvren.services.session.entries import EntryChange
from uvren.services.stamp import Stamp
from uvren.simulate import devices, games
from uvren.simulate.athletes import Truth
from uvren.simulate.seasons import TIME_ZONE, TODAY
from uvren.simulate.units import Physique
from uvren.store import queries
from uvren.store.models import ImportState, Session, SessionKind, Squad, User

PODS = 6
STRAPS = 10
SHOES = 3
# The strap that lost its contacts, by its place among those that wear one.
FAULTY = 4


def bring_in_last_night(
    db: DbSession,
    squad: Squad,
    ids: Sequence[int],
    truths: Sequence[Truth],
    bodies: Sequence[Physique],
    sessions: Sequence[Session],
    done: Sequence[EntryChange],
    random: np.random.Generator,
    staff: User,
) -> None:
    """Write the files of some of those who took part, and bring them in; each import commits."""
    session = max((s for s in sessions if s.kind is SessionKind.COURT and s.day < TODAY), key=lambda s: s.starts_at)
    took_part = {change.athlete_id: change for change in done if change.session_id == session.id and change.minutes}
    people = [(truth, body) for key, truth, body in zip(ids, truths, bodies, strict=True) if key in took_part]
    moved = {
        truth.name: devices.move(
            session.starts_at,
            session.planned_minutes,
            session.planned_effort,
            random,
            hr_max=body.hr_max,
            hr_rest=body.hr_rest,
            uneven=0.35 if i == 1 else 0.0,
        )
        for i, (truth, body) in enumerate(people[: max(PODS, STRAPS)])
    }
    _run_as_known(db, session, moved, {truth.name: key for key, truth in zip(ids, truths, strict=True)})
    names = list(moved)
    day = f"{session.day:%Y-%m-%d}"
    pods = devices.pod_file({name: moved[name] for name in names[:PODS]}, random)
    with tempfile.TemporaryDirectory(prefix="uvren-demo-") as folder:
        bring = _Bringer(db, squad, Path(folder), staff)
        bring(f"pods {day}.csv", pods, "Pods", device="pod")
        for i, name in enumerate(names[:STRAPS]):
            content = devices.strap_file(moved[name], TIME_ZONE, random, clock_off=41.0, faulty=i == FAULTY)
            # The clock of the straps' charger is 41 s fast: the mapping puts it right.
            bring(f"{name} {day}.csv", content, "Straps", device="strap", offset_seconds=-41.0)
        local = session.starts_at.astimezone(ZoneInfo(TIME_ZONE))
        for name in names[:SHOES]:
            content = devices.shoe_file(moved[name], random)
            more = {"device": "shoe pods", "day": session.day, "begins": local.time()}
            bring(f"{name} shoes {day}.tsv", content, "Shoe pods", **more)
        # Someone drags the same file in again: it is recognised.
        bring(f"pods {day} (copy).csv", pods, "Pods")


def _run_as_known(db: DbSession, session: Session, moved: dict[str, devices.Movement], ids: dict[str, int]) -> None:
    """Let everybody run as many fast metres as the day is known to have had of them."""
    metres = {
        work.athlete_id: work.data["value"]
        for work in queries.session.works_of(db, [session.id])
        if work.what == "given:fast_running"
    }
    random = np.random.default_rng(11)
    for name, one in moved.items():
        speeds = games.wanted(session, session.planned_minutes, random)
        moved[name] = replace(one, speed=games.speeds(speeds, metres[ids[name]], random, devices.POD_HERTZ))


class _Bringer:
    def __init__(self, db: DbSession, squad: Squad, folder: Path, staff: User) -> None:
        self.db, self.squad, self.folder, self.staff = db, squad, folder, staff

    def __call__(self, name: str, content: str, mapping: str, **more: object) -> None:
        made = imports.put_down(
            self.db,
            self.squad,
            self.folder,
            name,
            io.BytesIO(content.encode()),
            stamp=Stamp(self.staff.id, self.moment()),
        )
        if made.state is not ImportState.LOOKED_AT:
            return
        seen = imports.preview(self.db, self.squad, self.folder / made.id, name, today=TODAY)
        spec: Spec = replace(seen.spec, **more)  # type: ignore[arg-type]
        if not seen.mapping:
            kept = save_mapping(
                self.db, self.squad, mapping, seen.look.columns, spec, stamp=Stamp(self.staff.id, self.moment())
            )
            made.mapping_id = kept.id
        imports.queue(self.db, self.squad, made.id, spec)
        imports.run(self.db, made.id, self.folder, now=self.moment(), today=TODAY)

    @staticmethod
    def moment() -> datetime:
        """The evening before the demo morning, when the files came in."""
        return datetime.combine(TODAY - timedelta(days=1), time(20, 5), ZoneInfo(TIME_ZONE))
