"""Stages of a plan made somebody's own: changed, refused at their place, followed by the day."""

from dataclasses import replace

import pytest

from tests.returning import begun, hurt, part_of, shown
from uvren.core.audience import LEAST
from uvren.core.returns import Criterion, Looks, Stage
from uvren.core.returns.stages import as_data
from uvren.services.errors import Invalid, NotAllowed, Stale
from uvren.services.return_ import plans
from uvren.services.versions import WHATEVER
from uvren.store.models import ReturnKind


def stage_data(**more):
    return as_data([Stage("drills only", (Criterion("word", Looks.WORD, "Clinician’s word"),))])[0] | more


def test_the_stages_of_a_plan_are_changed_by_a_clinician_and_the_day_follows(db, squad, by):
    plan = hurt(db, squad, by, stage=2)
    stages = [*plan.stages[:1], stage_data(content="passing by hand", effort_cap=4.0), stage_data()]
    with pytest.raises(NotAllowed):
        plans.change_stages(db, squad.squad, plan.id, stages, "", replace(by, clinician=False), version=plan.version)
    plans.change_stages(db, squad.squad, plan.id, stages, "other sport", by, version=plan.version)
    effort, content = part_of(db, squad).standing.changes(60)[:2]
    assert (effort, content.partition(";")[0]) == ("effort at most 4", "passing by hand")
    found = shown(db, squad, plan)
    assert (found.stage.of, [one.content for one in found.stages][1:]) == (3, ["passing by hand", "drills only"])
    assert shown(db, squad, plan, audiences=LEAST).stages == []
    assert shown(db, squad, plan).events[0].said == "other steps: 3 stages, changed; other sport"
    # The same again changes nothing, and what came between is told.
    version = plan.version
    plans.change_stages(db, squad.squad, plan.id, stages, "", by, version=version)
    assert plan.version == version
    with pytest.raises(Stale):
        plans.change_stages(db, squad.squad, plan.id, stages[:2], "", by, version=version - 1)


def test_what_the_next_stage_asks_for_holds_somebody_back_too(db, squad, by):
    plan = hurt(db, squad, by)
    hop = Criterion("hop", Looks.SIDES, "Single-leg hop", percent=10.0)
    (entry,) = as_data([Stage("", (), entry=(hop,))])
    stages = [stage_data(), stage_data(entry=entry["entry"]), stage_data()]
    plans.change_stages(db, squad.squad, plan.id, stages, "", by, version=plan.version)
    asked = shown(db, squad, plan).stage.criteria
    assert [(one.key, one.entry, one.met) for one in asked] == [("word", False, False), ("hop", True, False)]
    plans.give_word(db, squad.squad, plan.id, "", by)
    with pytest.raises(Invalid, match="Single-leg hop not met"):
        plans.move(db, squad.squad, plan.id, 2, "", by, version=plan.version)
    plans.measure(db, squad.squad, plan.id, "hop", 140.0, 150.0, by)
    plans.move(db, squad.squad, plan.id, 2, "", by, version=plan.version)
    # It is not asked for again on the way out.
    assert [one.key for one in shown(db, squad, plan).stage.criteria] == ["word"]


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"effort_cap": 11.0}, "stages.1.effort_cap"),
        ({"minutes_share": 0.0}, "stages.1.minutes_share"),
        ({"closed": True, "criteria": [{"key": "p", "looks": "pain", "name": "Pain", "many": 3}]}, "stages.1.criteria"),
        ({"criteria": [{"key": "hop", "looks": "sides", "name": "Hop", "percent": 0}]}, "stages.1.criteria.0.percent"),
        ({"entry": [{"key": "days", "looks": "days", "name": "Days", "many": 366}]}, "stages.1.entry.0.many"),
        ({"criteria": [{"key": "word", "looks": "word", "name": " "}]}, "stages.1.criteria.0.name"),
        ({"entry": [{"key": "word", "looks": "word", "name": "Word"}] * 2}, "stages.1.entry"),
    ],
)  # fmt: skip
def test_a_stage_that_makes_no_sense_or_can_never_be_left_is_refused_at_its_place(db, squad, by, more, field):
    plan = hurt(db, squad, by)
    with pytest.raises(Invalid) as refused:
        plans.change_stages(db, squad.squad, plan.id, [stage_data(), stage_data(**more)], "", by, version=WHATEVER)
    assert refused.value.field == field
    assert len(plan.stages) == 5


def test_the_stage_that_holds_is_not_taken_out_and_what_is_referred_has_none_to_change(db, squad, by):
    plan = hurt(db, squad, by, stage=3)
    with pytest.raises(Invalid, match="Stage 3 holds"):
        plans.change_stages(db, squad.squad, plan.id, [stage_data()] * 2, "", by, version=WHATEVER)
    head = begun(db, squad, by, i=1, kind=ReturnKind.INJURY, template="head")
    with pytest.raises(Invalid, match="no stages to change"):
        plans.change_stages(db, squad.squad, head.id, [stage_data()] * 2, "", by, version=WHATEVER)
    rest = begun(db, squad, by, i=2)
    with pytest.raises(Invalid, match="no stages to change"):
        plans.change_stages(db, squad.squad, rest.id, [stage_data()], "", by, version=WHATEVER)
