"""Many people at once."""

from datetime import date, timedelta

import pytest

from tests.conftest import NOW, TODAY
from uvren.services.errors import Invalid
from uvren.services.squad import roster
from uvren.services.squad.roster import Comer
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Anchor, AnchorKind

FROM = date(2025, 7, 1)


def bring(db, squad, *comers, sides=True):
    stamp = Stamp(squad.staff.id, NOW)
    return roster.bring_in(db, squad.squad, comers, sides=sides, stamp=stamp, today=TODAY)


def test_a_look_says_who_is_there_already_and_who_stands_twice(db, squad):
    there = queries.squad.memberships(db, squad.squad.id, TODAY)[0].athlete.name
    found = roster.look(db, squad.squad, f"{there.upper()}\nJ. Tarn\nj. tarn\nB. Ostrel", TODAY)
    assert [(one.there, one.repeated) for one in found] == [(True, False), (False, True), (False, True), (False, False)]


def test_they_come_in_together_each_from_their_day(db, squad):
    made = bring(db, squad, Comer("J. Tarn", 7, "wing", FROM, "left"), Comer("B. Ostrel", None, "back", TODAY))
    assert [(one.athlete.name, one.number, one.position, one.from_day) for one in made] == [
        ("J. Tarn", 7, "wing", FROM),
        ("B. Ostrel", None, "back", TODAY),
    ]
    side = db.query(Anchor).filter_by(athlete_id=made[0].athlete_id).one()
    assert (side.kind, side.word, side.from_day) == (AnchorKind.DOMINANT_SIDE, "left", FROM)


def test_sides_are_left_to_who_may_set_them(db, squad):
    (made,) = bring(db, squad, Comer("J. Tarn", 7, "wing", FROM, "left"), sides=False)
    assert db.query(Anchor).filter_by(athlete_id=made.athlete_id).all() == []
    (later,) = bring(db, squad, Comer("B. Ostrel", 8, "wing", TODAY + timedelta(days=9), "right"))
    assert db.query(Anchor).filter_by(athlete_id=later.athlete_id).all() == []


@pytest.mark.parametrize(
    ("comer", "field"),
    [
        (Comer(" ", 7, "wing", FROM), "people.1.name"),
        (Comer("B. Ostrel", 7, "", FROM), "people.1.position"),
        (Comer("j. tarn", 7, "wing", FROM), "people.1.name"),
    ],
)
def test_what_is_wrong_is_said_with_its_line(db, squad, comer, field):
    with pytest.raises(Invalid) as error:
        bring(db, squad, Comer("J. Tarn", 7, "wing", FROM), comer)
    assert error.value.field == field


def test_a_namesake_is_another_person(db, squad):
    first, second = bring(
        db, squad, Comer("J. Tarn", 7, "wing", FROM), Comer("J. Tarn", 8, "back", FROM, namesake=True)
    )
    assert first.athlete_id != second.athlete_id


def test_nobody_is_no_list_and_a_table_is_none_either(db, squad):
    with pytest.raises(Invalid):
        bring(db, squad)
    with pytest.raises(Invalid) as error:
        roster.look(db, squad.squad, "A\n" * 501, TODAY)
    assert error.value.field == "text"
