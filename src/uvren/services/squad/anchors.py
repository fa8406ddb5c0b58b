"""Anchors: what an athlete's work is judged by, each from a day on."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.core.recordings import HeartAnchors, Sex, Side
from uvren.services.day.loads import AnchorBook, anchor_book, definitions_of, refresh_daily_loads
from uvren.services.errors import Invalid, NotFound
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Anchor, AnchorKind, Audit, Squad
from uvren.store.types import new_ulid


@dataclass(frozen=True)
class Meaning:
    """What an anchor is: its name and unit, and either bounds or the words it may be."""

    name: str
    unit: str = ""
    low: float = 0
    high: float = 0
    words: tuple[str, ...] = ()


MEANINGS: dict[AnchorKind, Meaning] = {
    AnchorKind.HR_MAX: Meaning("Maximum heart rate", "/min", 120, 240),
    AnchorKind.HR_REST: Meaning("Resting heart rate", "/min", 25, 110),
    AnchorKind.THRESHOLD_1: Meaning("First threshold", "/min", 60, 220),
    AnchorKind.THRESHOLD_2: Meaning("Second threshold", "/min", 70, 230),
    AnchorKind.SEX: Meaning("Constants for", words=tuple(Sex)),
    AnchorKind.SPEED_MAX: Meaning("Maximum speed", "m/s", 3, 12.5),
    AnchorKind.BODY_MASS: Meaning("Body mass", "kg", 25, 250),
    AnchorKind.DOMINANT_SIDE: Meaning("Dominant side", words=tuple(Side)),
    AnchorKind.EXPERIENCE_YEARS: Meaning("Experience", "years", 0, 60),
    AnchorKind.USUAL_WEEK_LOAD: Meaning("Usual week load, declared", "effort × min", 0, 20_000),
}


@dataclass(frozen=True)
class NewAnchor:
    athlete_id: int
    kind: AnchorKind
    value: float | None
    word: str | None
    from_day: date
    source: str = ""


def _check(book: AnchorBook, wanted: NewAnchor) -> None:
    meaning = MEANINGS[wanted.kind]
    if meaning.words:
        if wanted.word not in meaning.words or wanted.value is not None:
            raise Invalid(f"{meaning.name}: one of {', '.join(meaning.words)}.", field="word")
        return
    if wanted.word is not None or wanted.value is None or not meaning.low <= wanted.value <= meaning.high:
        raise Invalid(f"{meaning.name} is {meaning.low:g} to {meaning.high:g} {meaning.unit}.", field="value")
    pairs = ((AnchorKind.HR_REST, AnchorKind.HR_MAX), (AnchorKind.THRESHOLD_1, AnchorKind.THRESHOLD_2),
             (AnchorKind.THRESHOLD_2, AnchorKind.HR_MAX))  # fmt: skip
    for lower, higher in pairs:
        values = {kind: book.number(wanted.athlete_id, kind, wanted.from_day) for kind in (lower, higher)}
        values[wanted.kind] = wanted.value
        low, high = values[lower], values[higher]
        if wanted.kind in (lower, higher) and low is not None and high is not None and low >= high:
            names = f"{MEANINGS[lower].name.lower()} ({low:g}) is below the {MEANINGS[higher].name.lower()} ({high:g})"
            raise Invalid(f"The {names}.", field="value")


def set_anchor(db: DbSession, squad: Squad, wanted: NewAnchor, *, stamp: Stamp, today: date) -> Anchor:
    """Put an anchor in force from a day; loads of the days since are worked out anew. Does not commit.

    Raises Invalid with the field at fault.
    """
    if wanted.athlete_id not in queries.squad.members_ever(db, squad.id):
        raise NotFound("There is no such athlete in this squad.", field="athlete_id")
    if wanted.from_day > today:
        raise Invalid("An anchor holds from today or from a day before.", field="from_day")
    _check(anchor_book(db, [wanted.athlete_id], wanted.from_day), wanted)
    anchor = Anchor(
        id=new_ulid(),
        athlete_id=wanted.athlete_id,
        kind=wanted.kind,
        value=wanted.value,
        word=wanted.word,
        from_day=wanted.from_day,
        source=wanted.source.strip(),
        set_by=stamp.by,
        set_at=stamp.now,
        withdrawn_at=None,
    )
    db.add(anchor)
    _log(db, squad, anchor, "anchor_set", stamp)
    db.flush()
    _recompute(db, squad, anchor, today)
    return anchor


def find_anchor(db: DbSession, squad: Squad, anchor_id: str) -> Anchor:
    """An anchor that stands, of somebody of the squad. Raises NotFound."""
    anchor = db.get(Anchor, anchor_id)
    if anchor is None or anchor.withdrawn_at or anchor.athlete_id not in queries.squad.members_ever(db, squad.id):
        raise NotFound("There is no such anchor.")
    return anchor


def withdraw_anchor(db: DbSession, squad: Squad, anchor_id: str, *, stamp: Stamp, today: date) -> None:
    """Take an anchor back, as if it had never been set. Raises NotFound."""
    anchor = find_anchor(db, squad, anchor_id)
    anchor.withdrawn_at = stamp.now
    _log(db, squad, anchor, "anchor_withdrawn", stamp)
    db.flush()
    _recompute(db, squad, anchor, today)


def _recompute(db: DbSession, squad: Squad, anchor: Anchor, today: date) -> None:
    """Loads that rest on the anchor: those of the channels that ask for it, from its day on."""
    resting = {
        channel.id
        for channel in queries.squad.channels(db, squad.id)
        if any(anchor.kind in _needs(definition.form) for definition in definitions_of(channel))
    }
    if not resting:
        return
    days = queries.session.days_trained(db, squad.id, anchor.from_day, today)
    refresh_daily_loads(
        db, squad.id, {(athlete, day) for athlete, day in days if athlete == anchor.athlete_id}, resting
    )


def _needs(form: object) -> tuple[str, ...]:
    needs = getattr(form, "needs", ())
    return (AnchorKind.SPEED_MAX,) if getattr(form, "share", None) is not None else needs


def _log(db: DbSession, squad: Squad, anchor: Anchor, action: str, stamp: Stamp) -> None:
    said = anchor.word if anchor.value is None else anchor.value
    db.add(
        Audit(
            at=stamp.now,
            user_id=stamp.by,
            squad_id=squad.id,
            athlete_id=anchor.athlete_id,
            action=action,
            subject=f"anchor:{anchor.id}",
            details={"kind": anchor.kind, "value": said, "from": str(anchor.from_day)},
        )
    )


def anchors_on(db: DbSession, squad: Squad, day: date) -> list[tuple[Anchor, str]]:
    """The anchors in force on a day of everyone in the squad then, with the name of who set each."""
    people = [member.athlete_id for member in queries.squad.members(db, squad.id, day)]
    rows = queries.squad.anchors_with_setters(db, people, day)
    standing = {(anchor.athlete_id, anchor.kind): (anchor, name or "") for anchor, name in rows}
    return list(standing.values())


def heart_anchors(db: DbSession, athlete_id: int, day: date) -> HeartAnchors:
    """What an athlete's heart rate is judged by on a day."""
    return anchor_book(db, [athlete_id], day + timedelta(days=1)).heart(athlete_id, day)
