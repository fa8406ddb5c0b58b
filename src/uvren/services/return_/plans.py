"""Plans to come back: begun, moved on and back, changed, ended. Whatever happens to one leaves an event."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.body import PAIRED, Side, Site
from uvren.core.errors import CoreError
from uvren.core.returns import School, Template, Terms, shares_after, template_of
from uvren.core.returns.stages import as_data, read_stages
from uvren.services.club import audit
from uvren.services.day.returns import days_off, terms_of
from uvren.services.errors import Invalid, NotAllowed, NotFound
from uvren.services.return_.reading import running
from uvren.services.return_.usual import usual_week
from uvren.services.return_.whole import unmet
from uvren.services.stamp import Stamp
from uvren.services.versions import Whatever, check_seen
from uvren.store import queries
from uvren.store.models import Mechanism, Onset, ReturnEvent, ReturnKind, ReturnPlan, ReturnStep, Squad
from uvren.store.queries.squad import Member
from uvren.store.types import new_ulid

LONGEST_NOTE = 400
# Only these are a clinician's alone.
CLINICAL_KINDS = frozenset({ReturnKind.INJURY, ReturnKind.ILLNESS})


@dataclass(frozen=True)
class By:
    """Who does something to a plan: a clinician, or somebody else, and whether they plan for the squad."""

    clinician: bool
    plans: bool
    stamp: Stamp
    today: date


@dataclass(frozen=True)
class NewPlan:
    """A plan to come back as it is begun; ``usual`` is the usual week load where somebody says it.

    ``replaces`` is the plan of this athlete that ends with it.
    """

    athlete_id: int
    kind: ReturnKind
    first_day: date
    first_off: date | None = None
    template: str = "blank"
    site: Site | None = None
    side: Side | None = None
    note: str = ""
    onset: Onset | None = None
    mechanism: Mechanism | None = None
    target_day: date | None = None
    needed: float = 100.0
    school: School = School.STANDARD
    usual: float | None = None
    stage: int = 1
    replaces: str | None = None


def begin(db: DbSession, squad: Squad, new: NewPlan, by: By) -> ReturnPlan:
    """Begin a plan; the same begun twice is one. Does not commit. Raises Invalid, NotAllowed or NotFound."""
    member, template = _checked(db, squad, new, by)
    stands = _running(db, squad, new.athlete_id, by.today)
    if stands is not None and _says_the_same(stands, new):
        return stands
    if stands is not None and stands.id != new.replaces:
        raise Invalid(
            f"There is a plan to come back already, from {say.day(stands.first_day)}. End it, or let this one take "
            "its place.",
            field="athlete_id",
            extra={"running": stands.id},
        )
    if stands is not None:
        _may_end(stands, by)
    usual = usual_week(db, squad, member, new.first_off, new.first_day, template, by.today, new.usual,
                       None if stands is None else stands.parts)  # fmt: skip
    # A climb without stages is for whoever was not hurt.
    stages = as_data(template.stages) if new.kind in CLINICAL_KINDS else []
    if not 1 <= new.stage <= max(len(stages), 1):
        raise Invalid(f"The stage is one of 1 to {max(len(stages), 1)}.", field="stage")
    made = ReturnPlan(
        id=new_ulid(), squad_id=squad.id, athlete_id=new.athlete_id, kind=new.kind, template=template.code,
        site=new.site.value if new.site else None, side=new.side.value if new.side else None, note=new.note.strip(),
        onset=new.onset, mechanism=new.mechanism,
        first_off=new.first_off, first_day=new.first_day, target_day=new.target_day, needed=new.needed,
        school=new.school.value, shares=None, parts=usual.parts, days_a_week=usual.days_a_week, stages=stages,
        stage=new.stage if stages else 0, stage_since=by.today, made_by=by.stamp.by, made_at=by.stamp.now,
    )  # fmt: skip
    if stands is not None:
        _end(db, stands, "another plan takes its place", by)
    db.add(made)
    db.flush()
    _note(db, made, ReturnStep.BEGUN, by, stage=made.stage, words=_basis(new.usual, usual.missing))
    audit.note(db, "return_begun", f"return_plan:{made.id}", stamp=by.stamp, squad_id=squad.id,
               athlete_id=new.athlete_id, kind=new.kind)  # fmt: skip
    db.flush()
    return made


def _basis(stated: float | None, missing: int) -> str:
    """What there is to know of the usual week beside its figure."""
    if stated is not None:
        return f"{say.number(stated)} a week as stated"
    return f"{say.count(missing, 'day')} of them not rated" if missing else ""


def _checked(db: DbSession, squad: Squad, new: NewPlan, by: By) -> tuple[Member, Template]:
    members = {one.athlete_id: one for one in queries.squad.members(db, squad.id, by.today)}
    if new.athlete_id not in members:
        raise NotFound("This athlete is not in the squad.", field="athlete_id")
    if new.kind in CLINICAL_KINDS and not by.clinician:
        raise NotAllowed("A return from injury or illness is planned by a clinician.")
    if not by.clinician and not by.plans:
        raise NotAllowed("Plans to come back are begun by clinicians and performance staff.")
    if new.kind is ReturnKind.NEW and new.first_off is not None:
        raise Invalid("Somebody new has no break before.", field="first_off")
    if new.kind is not ReturnKind.NEW and new.first_off is None:
        raise Invalid("Say the first day off: how long the break is decides how it is climbed back.", field="first_off")
    if new.first_off is not None and new.first_day < new.first_off:
        raise Invalid("The day of the return is not before the break.", field="first_day")
    if new.target_day is not None and new.target_day < max(by.today, new.first_day):
        raise Invalid("The date to be back by is today or later, and not before the first day back.",
                      field="target_day")  # fmt: skip
    if not 0 < new.needed <= 100:
        raise Invalid("What is needed by then is more than 0 and at most 100 %.", field="needed")
    if new.usual is not None and not 0 < new.usual <= 1_000_000:
        raise Invalid("A usual week is more than 0.", field="usual")
    if new.side is not None and (new.site is None or new.site not in PAIRED):
        raise Invalid("Only a place with two sides has a side.", field="side")
    if len(new.note) > LONGEST_NOTE:
        raise Invalid(f"A note has up to {LONGEST_NOTE} letters.", field="note")
    try:
        return members[new.athlete_id], template_of(new.template)
    except CoreError as error:
        raise Invalid(str(error), field=error.field) from error


def _running(db: DbSession, squad: Squad, athlete_id: int, today: date) -> ReturnPlan | None:
    """The plan of an athlete that runs, or is still to come; one whose climb is over stands in nobody's way."""
    found = running(db, squad, today, today).get(athlete_id)
    return None if found is None else found.plan


def _says_the_same(plan: ReturnPlan, new: NewPlan) -> bool:
    names = ("kind", "template", "first_off", "first_day", "target_day", "needed", "site", "side")
    return all(getattr(plan, name) == getattr(new, name) for name in names) and plan.school == new.school


@dataclass(frozen=True)
class SquadBreak:
    """A break that a whole squad has: days off from ``first_off``, back on ``first_day``, to be ready by a day."""

    first_off: date
    first_day: date
    target_day: date | None = None
    school: School = School.STANDARD


def begin_for_all(db: DbSession, squad: Squad, wanted: SquadBreak, by: By) -> tuple[list[ReturnPlan], list[str]]:
    """A plan for everybody of the squad who has none, each from their own usual week; and who has one already.

    Does not commit. Raises Invalid or NotAllowed.
    """
    made, left = [], []
    there = running(db, squad, by.today, by.today)
    for member in queries.squad.members(db, squad.id, by.today):
        if member.athlete_id in there:
            left.append(member.name)
            continue
        new = NewPlan(member.athlete_id, ReturnKind.LAYOFF, wanted.first_day, wanted.first_off,
                      target_day=wanted.target_day, school=wanted.school)  # fmt: skip
        made.append(begin(db, squad, new, by))
    return made, left


def find(db: DbSession, squad: Squad, name: str) -> ReturnPlan:
    """A plan of a squad, locked. Raises NotFound."""
    found = queries.return_.return_plan(db, squad.id, name)
    if found is None:
        raise NotFound("There is no such plan to come back.")
    return found


def move(
    db: DbSession, squad: Squad, name: str, to: int, words: str, by: By, *, version: int | Whatever | None
) -> ReturnPlan:
    """Move somebody to a stage: on with a clinician, or with a clinician's word where the squad says so; back at once
    by anybody. From the last stage on the plan is over.

    To go on although a criterion does not hold takes ``words``. Does not commit. Raises Invalid, NotAllowed, NotFound
    or Stale.
    """
    plan = find(db, squad, name)
    _still(plan)
    if not plan.stages:
        raise Invalid("This plan has no stages.", field="stage")
    _seen(plan, version, f"It is in stage {plan.stage} of {len(plan.stages)} now.", {"stage": to},
          {"stage": plan.stage})  # fmt: skip
    if not 1 <= to <= len(plan.stages) + 1 or to > plan.stage + 1:
        raise Invalid("It goes on one stage at a time, and back to any.", field="stage")
    if to == plan.stage:
        return plan
    if to > plan.stage:
        open_ = unmet(db, squad, name, by.today)
        _may_move_on(squad, by, open_)
        if open_ and not words.strip():
            raise Invalid(f"Say why it goes on: {say.listed(open_)} not met.", field="words")
    if to > len(plan.stages):
        return end(db, squad, name, words or "every stage is done", by)
    plan.stage, plan.stage_since = to, by.today
    _note(db, plan, ReturnStep.STAGE, by, stage=to, words=words)
    return plan


def _may_move_on(squad: Squad, by: By, open_: Sequence[str]) -> None:
    if by.clinician:
        return
    if not (squad.stages_by_sign_off and by.plans):
        raise NotAllowed("A stage is moved on by a clinician.")
    if open_:
        raise NotAllowed("Without a clinician a stage moves on when everything holds, the clinician’s word with it.")


def keep(db: DbSession, squad: Squad, name: str, words: str, by: By) -> ReturnPlan:
    """Keep the stage although something speaks for one back. Does not commit. Raises Invalid, NotAllowed, NotFound."""
    plan = find(db, squad, name)
    _still(plan)
    _clinician(by, "Whether a stage is kept is a clinician’s to say.")
    if not words.strip():
        raise Invalid("Say why the stage is kept.", field="words")
    _note(db, plan, ReturnStep.KEPT, by, stage=plan.stage, words=words)
    return plan


def give_word(db: DbSession, squad: Squad, name: str, words: str, by: By) -> ReturnPlan:
    """A clinician's word for the stage that holds. Does not commit. Raises Invalid, NotAllowed or NotFound."""
    plan = find(db, squad, name)
    _still(plan)
    _clinician(by, "The word is a clinician’s.")
    _note(db, plan, ReturnStep.WORD, by, stage=plan.stage, words=words)
    return plan


def measure(db: DbSession, squad: Squad, name: str, criterion: str, value: float, other: float, by: By) -> ReturnPlan:
    """What was measured today for a criterion: the hurt side and the other one, or a test and the own best.

    Does not commit. Raises Invalid, NotAllowed or NotFound.
    """
    plan = find(db, squad, name)
    _still(plan)
    _clinician(by, "What a stage is judged by is entered by clinicians.")
    known = {one.key for stage in read_stages(plan.stages) for one in stage.asks if one.measured}
    if criterion not in known:
        raise Invalid("No stage of this plan asks for that.", field="criterion")
    for field, one in (("value", value), ("other", other)):
        if not 0 < one < 100_000:
            raise Invalid("A measured value is more than 0.", field=field)
    _note(db, plan, ReturnStep.MEASURED, by, stage=plan.stage, criterion=criterion, value=value, other=other)
    return plan


def note_given(db: DbSession, squad: Squad, name: str, words: str, by: By) -> None:
    """Note that a summary of a plan went to another clinic. Does not commit. Raises NotAllowed or NotFound."""
    plan = find(db, squad, name)
    _clinician(by, "A summary is given out by a clinician.")
    _note(db, plan, ReturnStep.GIVEN, by, stage=plan.stage, words=words)


@dataclass(frozen=True)
class Changed:
    """What is to change of a plan; ``shares`` are steps in per cent, None for those of the school."""

    target_day: date | None
    needed: float
    school: School
    shares: Sequence[float] | None
    usual: float | None = None
    held: Mapping[str, int] | None = None


def change(
    db: DbSession, squad: Squad, name: str, wanted: Changed, words: str, by: By, *, version: int | Whatever | None
) -> ReturnPlan:
    """Change the date or the steps of a plan. Steeper steps than those of the school take a reason, which stands with
    the name of whoever gives it. Does not commit. Raises Invalid, NotAllowed, NotFound or Stale.
    """
    plan = find(db, squad, name)
    _still(plan)
    if not (by.clinician or by.plans):
        raise NotAllowed("The way back is changed by clinicians and performance staff.")
    _seen(plan, version, "The plan was changed meanwhile.", {"target_day": wanted.target_day},
          {"target_day": plan.target_day})  # fmt: skip
    if wanted.target_day is not None and wanted.target_day != plan.target_day and wanted.target_day < by.today:
        raise Invalid("The date to be back by is today or later.", field="target_day")
    moved = (plan.target_day, plan.needed) != (wanted.target_day, wanted.needed)
    plan.target_day, plan.needed = wanted.target_day, wanted.needed
    if not 0 < plan.needed <= 100:
        raise Invalid("What is needed by then is more than 0 and at most 100 %.", field="needed")
    steps = _change_steps(db, squad, plan, wanted, words, by)
    if moved:
        to = f"back by {say.day(plan.target_day)}" if plan.target_day else "no date to be back by"
        _note(db, plan, ReturnStep.DATE, by, stage=plan.stage, words="; ".join(filter(None, (to, words.strip()))))
    if steps:
        _note(db, plan, ReturnStep.STEPS, by, stage=plan.stage, words="; ".join(filter(None, (steps, words.strip()))))
    return plan


def _change_steps(db: DbSession, squad: Squad, plan: ReturnPlan, wanted: Changed, words: str, by: By) -> str:
    """Give a plan other steps, and say in words what became of them; empty where they stay."""
    before = (plan.school, plan.shares, plan.parts)
    main = next(channel.code for channel in queries.squad.channels(db, squad.id) if channel.is_main)
    parts = {code: dict(part) for code, part in plan.parts.items()}
    if wanted.usual is not None:
        if not 0 < wanted.usual <= 1_000_000:
            raise Invalid("A usual week is more than 0.", field="usual")
        parts[main] = {"held": 0, "region": False} | parts.get(main, {}) | {"reference": wanted.usual}
    for code, weeks in (wanted.held or {}).items():
        if code not in parts or code == main or not 0 <= weeks <= 26:
            raise Invalid("A channel of the plan is held for 0 to 26 weeks.", field="held")
        parts[code]["held"] = weeks
    shares = None if wanted.shares is None else [float(one) for one in wanted.shares]
    if shares == []:
        raise Invalid("A plan has a step at least.", field="shares")
    main_before = float(plan.parts.get(main, {}).get("reference", 0.0))
    more = 0 < main_before < float(parts.get(main, {}).get("reference", 0.0))
    steeper = more or _is_steeper(shares, days_off(plan), wanted.school)
    looser = any(parts[code]["held"] < part["held"] for code, part in plan.parts.items())
    plan.school, plan.shares, plan.parts = wanted.school.value, shares, parts
    if before == (plan.school, plan.shares, plan.parts):
        return ""
    try:
        terms = terms_of(plan, main)
    except CoreError as error:
        raise Invalid(str(error), field=error.field) from error
    if (steeper or looser or wanted.school is School.FASTER) and not words.strip():
        raise Invalid("A quicker way back takes a reason: it stands beside your name.", field="words")
    return _steps_said(terms)


def change_stages(
    db: DbSession, squad: Squad, name: str, stages: Sequence[Mapping[str, Any]], words: str, by: By,
    *, version: int | Whatever | None,
) -> ReturnPlan:  # fmt: skip
    """Give a plan these stages, as :func:`uvren.core.returns.stages.read_stages` takes them. The one that holds stays.

    Does not commit. Raises Invalid, NotAllowed, NotFound or Stale.
    """
    plan = find(db, squad, name)
    _still(plan)
    _clinician(by, "What the stages hold is a clinician’s to say.")
    _seen(plan, version, "The plan was changed meanwhile.", {}, {"stage": plan.stage})
    if not plan.stages or template_of(plan.template).refers:
        raise Invalid("This plan has no stages to change.", field="stages")
    if len(stages) < plan.stage:
        raise Invalid(f"Stage {plan.stage} holds: it cannot be taken out.", field="stages")
    try:
        new = as_data(read_stages(stages))
    except CoreError as error:
        said = str(error)
        raise Invalid(f"{said[0].upper()}{said[1:]}.", field=error.field) from error
    if new == as_data(read_stages(plan.stages)):
        return plan
    count = f"{say.count(len(new), 'stage')}, changed"
    plan.stages = new
    _note(db, plan, ReturnStep.STEPS, by, stage=plan.stage, words="; ".join(filter(None, (count, words.strip()))))
    return plan


def _is_steeper(shares: Sequence[float] | None, off: int, school: School) -> bool:
    """Whether steps ask for more in some week than those of the school do."""
    if shares is None:
        return False
    usual = shares_after(off, school)
    return any(one > (usual[i] if i < len(usual) else 100) for i, one in enumerate(shares))


def _steps_said(terms: Terms | None) -> str:
    return "" if terms is None else f"steps {', '.join(f'{one:g}' for one in terms.shares)} %"


def end(db: DbSession, squad: Squad, name: str, words: str, by: By) -> ReturnPlan:
    """Let a plan be over from today. Does not commit. Raises NotAllowed or NotFound; one that is over stays so."""
    plan = find(db, squad, name)
    if plan.ended_on is not None:
        return plan
    _may_end(plan, by)
    _end(db, plan, words, by)
    return plan


def _may_end(plan: ReturnPlan, by: By) -> None:
    if plan.kind in CLINICAL_KINDS and not by.clinician:
        raise NotAllowed("A return from injury or illness is ended by a clinician.")
    if not (by.clinician or by.plans):
        raise NotAllowed("A plan to come back is ended by clinicians and performance staff.")


def _end(db: DbSession, plan: ReturnPlan, words: str, by: By) -> None:
    plan.ended_on = by.today
    _note(db, plan, ReturnStep.ENDED, by, stage=plan.stage, words=words)


def take_back(db: DbSession, squad: Squad, name: str, by: By) -> None:
    """Take back the last thing that happened to a plan, if it was one's own and today; begun, it is gone.

    What the plan was changed to by hand, its date and its steps, is not taken back so but changed again. Does not
    commit. Raises Invalid, NotAllowed or NotFound.
    """
    plan = find(db, squad, name)
    events = queries.return_.return_events(db, [plan.id])
    # What has been given out is out.
    last = [one for one in events if one.step is not ReturnStep.GIVEN][-1]
    if last.step in (ReturnStep.DATE, ReturnStep.STEPS):
        raise Invalid("There is nothing to take back.")
    if last.said_by != by.stamp.by or last.day != by.today:
        raise NotAllowed("Only who said it takes it back, and on the same day.")
    if last.step is ReturnStep.BEGUN:
        _never_begun(db, squad, plan, last, by)
        return
    last.withdrawn_at = by.stamp.now
    if last.step is ReturnStep.ENDED:
        plan.ended_on = None
    before = events[: events.index(last)]
    stage = [one for one in before if one.step in (ReturnStep.BEGUN, ReturnStep.STAGE)][-1]
    plan.stage, plan.stage_since = stage.stage, stage.day
    plan.version += 1
    audit.note(db, "return_taken_back", f"return_plan:{plan.id}", stamp=by.stamp, squad_id=plan.squad_id,
               athlete_id=plan.athlete_id, step=last.step)  # fmt: skip
    db.flush()


def _never_begun(db: DbSession, squad: Squad, plan: ReturnPlan, begun: ReturnEvent, by: By) -> None:
    """Let a plan be as if it had never been begun; the one whose place it took stands again."""
    ended = queries.return_.ended_at(db, squad.id, plan.athlete_id, begun.said_at)
    queries.return_.drop_plan(db, plan)
    if ended is not None:
        ended.withdrawn_at = by.stamp.now
        stood = find(db, squad, ended.plan_id)
        stood.ended_on = None
        stood.version += 1
    audit.note(db, "return_taken_back", f"return_plan:{plan.id}", stamp=by.stamp, squad_id=squad.id,
               athlete_id=plan.athlete_id, step=begun.step)  # fmt: skip
    db.flush()


def set_sign_off(db: DbSession, squad: Squad, allowed: bool, by: By) -> None:
    """Whether performance staff may move a stage on once everything holds, a clinician's word with it."""
    _clinician(by, "Who may move stages is a clinician’s to say.")
    squad.stages_by_sign_off = allowed
    audit.note(db, "return_sign_off", f"squad:{squad.id}", stamp=by.stamp, squad_id=squad.id, allowed=allowed)


def _clinician(by: By, said: str) -> None:
    if not by.clinician:
        raise NotAllowed(said)


def _still(plan: ReturnPlan) -> None:
    if plan.ended_on is not None:
        raise Invalid("This plan is over.")


def _seen(
    plan: ReturnPlan, version: int | Whatever | None, said: str, yours: Mapping[str, Any], theirs: Mapping[str, Any]
) -> None:
    check_seen(version, plan.version, said, yours=yours, theirs=theirs)


def _note(db: DbSession, plan: ReturnPlan, step: ReturnStep, by: By, **what: Any) -> None:
    words = str(what.pop("words", "")).strip()
    if len(words) > LONGEST_NOTE:
        raise Invalid(f"Say it in up to {LONGEST_NOTE} letters.", field="words")
    plan.version = (plan.version or 0) + (step is not ReturnStep.BEGUN)
    db.add(
        ReturnEvent(id=new_ulid(), plan_id=plan.id, squad_id=plan.squad_id, athlete_id=plan.athlete_id, step=step,
                    day=by.today, words=words, said_by=by.stamp.by, said_at=by.stamp.now, withdrawn_at=None,
                    **({"criterion": None, "value": None, "other": None} | what))
    )  # fmt: skip
    if step is not ReturnStep.BEGUN:
        audit.note(db, "return_changed", f"return_plan:{plan.id}", stamp=by.stamp, squad_id=plan.squad_id,
                   athlete_id=plan.athlete_id, step=step, stage=plan.stage)  # fmt: skip
    db.flush()
