"""A squad that is deleted: nothing is left of it but its name in the audit, and another squad has all it had."""

import pytest
from sqlalchemy import func, select, text

from tests.conftest import NOW, TODAY
from tests.squad import make_small_squad
from uvren.services.club import squad_end
from uvren.services.errors import Invalid
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Athlete, Audit, DailyLoad, Entry, Membership, Session


@pytest.fixture
def two(db, squad):
    """The small squad, and another one with one athlete who is in both."""
    other = make_small_squad(db, TODAY)
    db.add(Membership(squad_id=other.squad.id, athlete_id=squad.athletes[0], number=9, position="back", from_day=TODAY))
    db.flush()
    return squad, other


def count(db, model, *where):
    return db.scalar(select(func.count()).select_from(model).where(*where))


def test_nothing_is_deleted_before_the_name_is_typed(db, two):
    squad, _ = two
    with pytest.raises(Invalid, match="Type the squad's name"):
        squad_end.delete_squad(db, squad.squad, "another", stamp=Stamp(None, NOW))
    assert count(db, Session, Session.squad_id == squad.squad.id) > 0


def test_a_deleted_squad_leaves_its_name_to_the_audit_and_the_others_as_they_were(db, two):
    squad, other = two
    of_other = [count(db, model) for model in (Session, Entry)]
    mine = count(db, Session, Session.squad_id == squad.squad.id)
    name, slug = squad.squad.name, squad.squad.slug
    sessions = [one.id for one in squad.sessions]
    squad_end.delete_squad(db, squad.squad, f" {name} ", stamp=Stamp(None, NOW))
    assert queries.club.squad_named(db, slug) is None
    assert squad.squad.id not in {one.id for one in queries.club.squads(db)}
    assert count(db, Session) == of_other[0] - mine
    assert count(db, Entry, Entry.session_id.in_(sessions)) == 0
    assert count(db, DailyLoad, DailyLoad.athlete_id.in_(squad.athletes)) == 0
    assert count(db, Entry) > 0
    history = "SELECT COUNT(*) FROM entry FOR SYSTEM_TIME ALL WHERE session_id = :session"
    assert db.scalar(text(history), {"session": sessions[0]}) == 0
    (note,) = db.scalars(select(Audit).where(Audit.action == "squad_deleted", Audit.squad_id == squad.squad.id))
    assert note.details["name"] == name
    names = [db.get_one(Athlete, one).name for one in squad.athletes]
    assert names[0] == "A"
    assert all(one.startswith("Former athlete") for one in names[1:])
    assert squad.athletes[0] in queries.squad.members_ever(db, other.squad.id)
