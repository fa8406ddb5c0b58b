"""What another clinic is given of a plan to come back, once the athlete has agreed to it."""

from __future__ import annotations

from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.audience import Audience
from uvren.files.paper import Paper, Section
from uvren.services.errors import Invalid
from uvren.services.return_.plans import LONGEST_NOTE, By, note_given
from uvren.services.return_.whole import ReturnWhole, StageSaid, read_whole
from uvren.store import queries
from uvren.store.models import Squad

FOOT = (
    "Confidential: clinical detail, given with the athlete’s consent. It shows what was planned and measured; it is no "
    "diagnosis."
)


def give_summary(db: DbSession, squad: Squad, plan_id: str, as_of: date, to: str, consent: str, by: By) -> Paper:
    """The summary of a plan for ``to``; that it was given, and how the athlete agreed, stands with the plan.

    Does not commit. Raises Invalid, NotAllowed or NotFound.
    """
    whole = read_whole(db, squad, plan_id, as_of, by.today, frozenset(Audience))
    to, consent = to.strip(), consent.strip()
    if not to:
        raise Invalid("Say who it is for.", field="to")
    if not consent:
        raise Invalid("Say how and when the athlete agreed: without it nothing is given out.", field="consent")
    words = f"to {to}; consent: {consent}"
    if len(words) > LONGEST_NOTE:
        raise Invalid(f"Both together have up to {LONGEST_NOTE - 14} letters.", field="consent")
    note_given(db, squad, plan_id, words, by)
    maker = queries.club.user_names(db, squad.club_id).get(by.stamp.by or 0, "")
    return as_paper(squad, whole, to, f"{consent} (noted by {maker}, {_day(by.today)})")


def as_paper(squad: Squad, whole: ReturnWhole, to: str, consent: str) -> Paper:
    """The plan as another clinic reads it: what it is about, where it stands, what was climbed, what happened."""
    row = whole.row
    sections = [_about(whole, consent), *_stage(whole.stage), *_load(whole)]
    if row.allowed:
        sections.append(Section("Today", points=row.allowed))
    sections.append(Section("What happened", columns=["day", "by", ""],
                            rows=[[_day(one.day), one.by, one.said] for one in whole.events]))  # fmt: skip
    return Paper(f"Way back: {row.name}", f"{squad.name}, as of {_day(whole.today)}, for {to}", sections, FOOT)


def _about(whole: ReturnWhole, consent: str) -> Section:
    row = whole.row
    days = [
        ("First day off", row.first_off),
        ("First day back", row.first_day),
        ("To be ready by", row.target),
        ("Full week from", row.full_day),
    ]
    rows = [["What", row.what], *([name, _day(day)] for name, day in days if day is not None)]
    if whole.note:
        rows.append(["Note", whole.note])
    return Section(sentences=[row.said], columns=["", ""], rows=[*rows, ["Consent", consent]])


def _stage(stage: StageSaid | None) -> list[Section]:
    if stage is None:
        return []
    head = f"Stage {stage.number} of {stage.of}, since {_day(stage.since)}"
    rows = [
        [one.name, one.asks, "yes" if one.met else "no", "; ".join(filter(None, (one.said, one.missing)))]
        for one in stage.criteria
    ]
    said = [one for one in (stage.content, stage.advice) if one]
    back = [f"One stage back: {one}." for one in stage.back_if]
    return [
        Section(head, [*said, *back], columns=["criterion", "asks", "holds", "evidence"] if rows else (), rows=rows)
    ]


def _load(whole: ReturnWhole) -> list[Section]:
    if not whole.lanes:
        return []
    rows = []
    for lane in whole.lanes:
        now = next((week for week in reversed(lane.weeks) if week.first <= whole.today), None)
        last = next((value for value in reversed(lane.measured) if value is not None), None)
        rows.append([
            lane.name if lane.unit in ("", lane.name.lower()) else f"{lane.name}, {lane.unit}",
            say.number(lane.reference),
            "–" if now is None else say.percent(now.share / 100),
            "–" if last is None else say.percent(last / 100),
            "" if lane.held_until is None else f"held until {_day(lane.held_until)}",
        ])  # fmt: skip
    columns = ["", "usual week", "this step", "seven days measured", ""]
    steps = ", ".join(f"{share:g}" for share in whole.shares)
    said = [f"Steps: {steps} % of the usual week ({whole.usual_said})."] if steps else []
    return [Section("Load climbed back", said, columns=columns, rows=rows, numbers=frozenset({1, 2, 3}))]


def _day(value: date) -> str:
    return f"{say.day(value)} {value.year}"
