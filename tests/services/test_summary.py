"""A plan as another clinic reads it: with all that is known, and with hardly anything."""

from dataclasses import replace
from datetime import timedelta

import pytest

from tests.conftest import TODAY
from tests.returning import OFF, begun, hurt, plain, shown
from uvren.services.errors import Invalid, NotAllowed
from uvren.services.return_ import plans
from uvren.services.return_.summary import as_paper, give_summary
from uvren.store.models import ReturnKind


def heads(paper):
    return [one.head for one in paper.sections]


def test_a_plan_with_stages_and_a_climb_has_a_section_for_each(db, squad, by):
    before = replace(by, today=TODAY - timedelta(days=3))
    plan = hurt(db, squad, before, stage=2, first_day=TODAY - timedelta(days=3), first_off=OFF, note="calm so far")
    plans.measure(db, squad.squad, plan.id, "strength", 90.0, 100.0, by)
    paper = as_paper(squad.squad, shown(db, squad, plan), "Harn", "on paper")
    assert heads(paper) == ["", "Stage 2 of 5, since Mon 9 March 2026", "Load climbed back", "Today", "What happened"]
    about = dict(paper.sections[0].rows)
    assert (about["What"], about["Note"], about["Consent"]) == ("right shoulder", "calm so far", "on paper")
    criteria = {row[0]: row[2:] for row in paper.sections[1].rows}
    assert criteria["Strength, outward"][0] == "yes"
    assert criteria["Clinician’s word"][0] == "no"
    load = paper.sections[2]
    assert {len(row) for row in load.rows} == {len(load.columns)}
    assert plain(load.rows[0][1]) == "1 800"


def test_a_plan_that_waits_for_a_usual_week_has_no_load_and_no_stage(db, squad, by):
    plan = begun(db, squad, by, kind=ReturnKind.LAYOFF)
    whole = replace(shown(db, squad, plan), lanes=[], stage=None)
    assert heads(as_paper(squad.squad, whole, "Harn", "on paper")) == ["", "Today", "What happened"]


def test_only_a_clinician_gives_it_and_not_in_too_many_words(db, squad, by):
    plan = hurt(db, squad, by)
    with pytest.raises(NotAllowed):
        give_summary(db, squad.squad, plan.id, TODAY, "Harn", "on paper", replace(by, clinician=False))
    with pytest.raises(Invalid) as refused:
        give_summary(db, squad.squad, plan.id, TODAY, "x" * 200, "y" * 200, by)
    assert refused.value.field == "consent"
    assert len(shown(db, squad, plan).events) == 1
