"""A database of an earlier version keeps what it holds, in the words of the new one."""

import json
import subprocess
from getpass import getuser

import pytest
from alembic import command
from sqlalchemy import text

from uvren.store.database import alembic_config, connect

BEFORE = """
INSERT INTO club (id, name) VALUES (1, 'Club');
INSERT INTO squad (id, club_id, slug, name, time_zone, school) VALUES (1, 1, 'one', 'One', 'Europe/Oslo', 'ewma');
INSERT INTO channel (id, squad_id, code, name, unit, is_main) VALUES (1, 1, 'session_rpe', 'Load', 'effort', 1);
INSERT INTO session (id, squad_id, day, starts_at, kind, title, planned_minutes, planned_effort, done)
  VALUES ('A', 1, '2026-03-11', '2026-03-11 17:00:00', 'court', 'Court', 80, 5, 1);
INSERT INTO segment (session_id, place, name, minutes, weight)
  VALUES ('A', 0, 'Warm-up', 15, 1), ('A', 1, 'Throwing', 25, 2), ('A', 2, 'Play', 40, 3);
"""


@pytest.fixture
def old(server):
    """A database as the first version left it."""
    statements = (
        "CREATE DATABASE old CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci; GRANT ALL ON old.* TO uvren@localhost;"
    )
    client = ["mariadb", "--no-defaults", f"--socket={server.socket_path}", f"--user={getuser()}"]
    subprocess.run(client, input=statements, text=True, check=True)
    url = server.url.replace("/uvren?", "/old?")
    command.upgrade(alembic_config(url), "0001")
    subprocess.run([*client, "old"], input=BEFORE, text=True, check=True)
    yield url
    subprocess.run(client, input="DROP DATABASE old;", text=True, check=True)


def test_the_second_version_gives_segments_their_begins_and_channels_their_definition(old):
    command.upgrade(alembic_config(old), "head")
    command.check(alembic_config(old))
    engine = connect(old)
    with engine.connect() as connection:
        begins = connection.scalars(text("SELECT begins FROM segment ORDER BY place")).all()
        assert begins == [0, 15, 40]
        form, kinds, from_day = connection.execute(text("SELECT form, kinds, from_day FROM channel_definition")).one()
        assert (form, str(from_day)) == ("effort_minutes", "2000-01-01")
        assert "court" in json.loads(kinds)
        assert json.loads(connection.execute(text("SELECT regions FROM channel")).scalar_one()) == ["whole body"]
    engine.dispose()
    command.downgrade(alembic_config(old), "0001")


AT_0010 = """
INSERT INTO club (id, name) VALUES (2, 'Other');
INSERT INTO squad (id, club_id, slug, name, time_zone, school) VALUES
  (2, 1, 'two', 'Two', 'Europe/Oslo', 'ewma'), (3, 2, 'three', 'Three', 'Europe/Oslo', 'ewma'),
  (4, 2, 'four', 'Four', 'Europe/Oslo', 'ewma');
INSERT INTO user (id, club_id, login, name, password_hash, active) VALUES
  (1, 1, 'both', 'B', '', 1), (2, 1, 'one', 'O', '', 1), (3, 2, 'first', 'F', '', 1), (4, 2, 'second', 'S', '', 1);
INSERT INTO role_grant (user_id, squad_id, role) VALUES
  (1, 1, 'admin'), (1, 2, 'admin'), (2, 1, 'admin'), (3, 3, 'admin'), (4, 4, 'admin'), (2, 2, 'coach');
INSERT INTO test_definition (id, squad_id, code, name, unit, better, trials, sides, combine, `rank`, set_at) VALUES
  (1, 1, 'cmj', 'Countermovement JUMP', 'cm', 'higher', 3, 0, 'best', 0, '2026-03-01'),
  (2, 1, 'far', 'Long jump', 'm', 'higher', 3, 0, 'best', 1, '2026-03-01'),
  (3, 1, 'run', 'Sprint', 's', 'lower', 2, 0, 'best', 2, '2026-03-01');
"""


def test_who_administered_all_acts_for_the_club_and_a_jump_stays_one(old):
    command.upgrade(alembic_config(old), "0010")
    engine = connect(old)
    with engine.begin() as connection:
        for statement in filter(str.strip, AT_0010.split(";")):
            connection.execute(text(statement))
    command.upgrade(alembic_config(old), "head")
    with engine.connect() as connection:
        # Of the second club nobody administered all: whoever came first.
        assert connection.scalars(text("SELECT id FROM user WHERE club_admin ORDER BY id")).all() == [1, 3]
        assert connection.scalars(text("SELECT code FROM test_definition WHERE jump")).all() == ["cmj"]
    engine.dispose()
    command.downgrade(alembic_config(old), "0001")


SPANS = """
INSERT INTO athlete (id, club_id, name) VALUES (1, 1, 'A'), (2, 1, 'B'), (3, 1, 'C');
INSERT INTO membership (id, squad_id, athlete_id, position, from_day, to_day) VALUES
  (1, 1, 1, 'back', '2025-01-01', NULL), (2, 1, 1, 'wing', '2025-06-01', NULL),
  (3, 1, 2, 'back', '2025-01-01', '2025-12-31'), (4, 1, 2, 'wing', '2025-03-01', '2025-04-01'),
  (5, 1, 3, 'back', '2025-01-01', '2025-02-01'), (6, 1, 3, 'back', '2025-03-01', NULL);
"""


def test_spans_that_lie_over_each_other_are_set_apart_and_reach_as_far_as_before(old):
    command.upgrade(alembic_config(old), "0017")
    engine = connect(old)
    with engine.begin() as connection:
        for statement in SPANS.strip().split(";\n"):
            connection.execute(text(statement.rstrip(";")))
    command.upgrade(alembic_config(old), "head")
    with engine.connect() as connection:
        rows = connection.execute(text("SELECT id, from_day, to_day FROM membership ORDER BY id")).all()
    engine.dispose()
    assert [(row.id, str(row.from_day), row.to_day and str(row.to_day)) for row in rows] == [
        (1, "2025-01-01", "2025-05-31"), (2, "2025-06-01", None),
        (3, "2025-01-01", "2025-02-28"), (4, "2025-03-01", "2025-12-31"),
        (5, "2025-01-01", "2025-02-01"), (6, "2025-03-01", None),
    ]  # fmt: skip
    command.downgrade(alembic_config(old), "0001")
