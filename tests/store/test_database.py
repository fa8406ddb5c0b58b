from datetime import UTC, datetime, timedelta

import pytest
from alembic import command
from sqlalchemy import select, text
from sqlalchemy.exc import DatabaseError, StatementError

from tests.conftest import NOW, TODAY
from uvren.core.day import CallKind
from uvren.store.database import alembic_config
from uvren.store.models import Call, Entry, Limit, Scope, Source
from uvren.store.types import new_ulid


def test_the_migrations_make_the_tables_of_the_models(small_url):
    command.check(alembic_config(small_url))


def test_the_server_keeps_every_commit_and_is_reached_on_loopback_only(db):
    shown = dict(db.execute(text("SHOW VARIABLES WHERE Variable_name IN ('innodb_flush_log_at_trx_commit', "
                                 "'bind_address', 'character_set_server', 'skip_log_bin')")).all())  # fmt: skip
    assert shown["innodb_flush_log_at_trx_commit"] == "1"
    assert shown["bind_address"] == "127.0.0.1"
    assert shown["character_set_server"] == "utf8mb4"


def entry(squad, **more):
    given = {
        "session_id": squad.on(TODAY).id, "athlete_id": squad.athletes[0], "minutes": 60.0, "effort": 5.0,
        "source": Source.STAFF, "entered_at": NOW,
    }  # fmt: skip
    return Entry(**(given | more))


def limit(squad, **more):
    given = {
        "squad_id": squad.squad.id, "channel_id": 1, "rule": "day_cap", "value": 1.0, "settings": {}, "hard": True,
        "scope": Scope.SQUAD, "from_day": TODAY, "source": "", "reason": "", "set_by": squad.staff.id, "set_at": NOW,
    }  # fmt: skip
    return Limit(**(given | more))


@pytest.mark.parametrize(
    "bad",
    [
        lambda squad: entry(squad, effort=10.5),
        lambda squad: entry(squad, effort=5.2),
        lambda squad: entry(squad, minutes=-1.0),
        lambda squad: entry(squad, athlete_id=10**6),
        lambda squad: entry(squad, session_id=squad.on(TODAY - timedelta(days=1)).id),
        lambda squad: limit(squad, to_day=TODAY - timedelta(days=1)),
        lambda squad: limit(squad, scope=Scope.ATHLETE),
        lambda squad: limit(squad, position="wing"),
        lambda squad: Call(
            squad_id=squad.squad.id, athlete_id=squad.athletes[0], day=TODAY, kind=CallKind.REST, reason="",
            review_on=TODAY - timedelta(days=1), made_by=squad.staff.id, made_at=NOW,
        ),
    ],
)  # fmt: skip
def test_the_database_itself_refuses_what_cannot_be(db, squad, bad):
    db.add(bad(squad))
    with pytest.raises(DatabaseError):
        db.flush()
    db.rollback()


def test_moments_come_back_in_utc_and_a_moment_without_a_zone_is_refused(db, squad):
    made = entry(squad, entered_at=datetime(2026, 3, 12, 8, 10, tzinfo=UTC))
    db.add(made)
    db.flush()
    db.expire(made)
    assert made.entered_at == datetime(2026, 3, 12, 8, 10, tzinfo=UTC)
    made.entered_at = datetime(2026, 3, 12, 8, 10)  # noqa: DTZ001
    with pytest.raises(StatementError, match="time zone"):
        db.flush()
    db.rollback()


def test_ulids_sort_by_when_they_were_made():
    made = [new_ulid() for _ in range(3)]
    assert all(len(one) == 26 for one in made)
    assert [one[:10] for one in made] == sorted(one[:10] for one in made)


@pytest.mark.parametrize("said", ["\x80", "Ü" * 26, "01J" + "é" * 23, "no ulid at all", "x" * 300])
def test_what_cannot_be_an_identifier_is_nobodys(db, squad, said):
    assert db.get(Limit, said) is None
    assert db.scalars(select(Limit).where(Limit.id == said)).all() == []
