"""What a week still owes somebody who is called after warm-up."""

from dataclasses import replace
from datetime import timedelta

import pytest

from uvren.core.day import Stands, Why
from uvren.services.day.standing import PLANNED
from uvren.services.field.owing import read_owed
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.stamp import Stamp


def test_whoever_has_done_enough_owes_nothing_and_whoever_did_nothing_a_third(db, squad):
    a, b = squad.athletes[:2]
    stamp = Stamp(squad.staff.id, squad.sessions[0].starts_at)
    week = [one for one in squad.sessions if squad.today - timedelta(days=7) < one.day < squad.today]
    changes = [EntryChange(one.id, b, 0.0, None, version=squad.entry(db, b, one.day).version) for one in week]
    record_entries(db, squad.squad.id, changes, stamp=stamp, today=squad.today)
    found = read_owed(db, squad.squad, squad.today, squad.today, [a, b])
    # Six sessions of 300 are a usual week.
    assert found == {a: "What keeps them is done this week.", b: "Still owed this week: 600 of load."}
    assert read_owed(db, squad.squad, squad.today, squad.today, []) == {}


@pytest.mark.parametrize(
    ("stands", "why", "may"),
    [
        (Stands.PLAN, PLANNED.why, True),
        (Stands.PART, Why.CALL, True),
        (Stands.PART, Why.CLINICIAN, False),
        (Stands.PART, Why.RETURN, False),
        (Stands.ASK, PLANNED.why, False),
        (Stands.OUT, Why.CLINICIAN, False),
    ],
)
def test_nobody_owes_what_they_may_not_do(stands, why, may):
    assert replace(PLANNED, stands=stands, why=why).owes == may
