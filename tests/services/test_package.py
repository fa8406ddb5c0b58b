"""A whole squad taken out and brought into an empty one: the same day, and nothing clinical for who may not read it."""

import io
import json
import zipfile
from datetime import timedelta

import numpy as np
import pyarrow.parquet as papq
import pytest
from sqlalchemy import func, select

from tests.conftest import NOW, TODAY, make_database
from tests.squad import noon
from uvren.core.audience import Audience
from uvren.core.season import Phase, PhaseKind
from uvren.core.series import LoadRow
from uvren.files.loads_csv import read_loads
from uvren.services import files as imports
from uvren.services.day.day import read_day
from uvren.services.day.desk import open_desks
from uvren.services.errors import Stale
from uvren.services.season import phases
from uvren.services.session import making
from uvren.services.squad import export, fitness_tests, squads
from uvren.services.squad.anchors import NewAnchor, set_anchor
from uvren.services.stamp import Stamp
from uvren.simulate import devices
from uvren.store.database import connect, sessions
from uvren.store.models import (
    ALSO_CALLED_OFF,
    AnchorKind,
    Availability,
    Club,
    Complaint,
    ComplaintKind,
    ImportState,
    Recording,
    Restriction,
    Role,
    Session,
    User,
)
from uvren.store.types import new_ulid

EVERYTHING = imports.Reader(True, frozenset(Audience))
NO_DETAIL = imports.Reader(False, frozenset({Audience.DESK, Audience.REPORTS}))
SECRET = "knee, after the fall"


@pytest.fixture
def full(db, squad):
    """The small squad with something of everything beside its sessions."""
    by = Stamp(squad.staff.id, NOW)
    first, second, *_ = squad.athletes
    fitness_tests.set_up(db, squad.squad, stamp=by)
    set_anchor(db, squad.squad, NewAnchor(first, AnchorKind.HR_MAX, 190, None, TODAY), stamp=by, today=TODAY)
    off = squad.on(TODAY + timedelta(days=2))
    making.call_off(db, squad.squad, off.id, "hall closed", version=off.version, stamp=by)
    phases.save(db, squad.squad, [Phase(PhaseKind.COMPETITION, "League", TODAY, TODAY)], edition=None, stamp=by)
    common = {"id": new_ulid(), "squad_id": squad.squad.id, "athlete_id": second}
    db.add(Restriction(**common, availability=Availability.LIMITED, change="no jumps", reason=SECRET, minutes_share=0.5,
                       from_day=TODAY, set_by=squad.staff.id, set_at=NOW))  # fmt: skip
    db.add(Complaint(**common | {"id": new_ulid()}, kind=ComplaintKind.PAIN, day=TODAY, site="knee",
                     side="left", severity=4, words=SECRET, told_at=NOW))  # fmt: skip
    true = devices.move(noon(TODAY - timedelta(days=1)), 10, 4, np.random.default_rng(3))
    content = devices.strap_file(true, "Europe/Oslo", np.random.default_rng(1)).replace("S-1000", "B")
    db.flush()
    return squad, content


@pytest.fixture
def other(db, squad):
    club = db.get_one(Club, squad.squad.club_id)
    return squads.create_squad(db, club, "other-one", "Other", "UTC", NOW)


@pytest.fixture
def elsewhere(server):
    """A squad without anybody, in an installation of its own."""
    engine = connect(make_database(server, "elsewhere"))
    with sessions(engine)() as empty:
        club = squads.create_club(empty, "Elsewhere")
        made = squads.create_squad(empty, club, "other-one", "Other", "UTC", NOW)
        staff = squads.create_user(empty, club, "first", "First", "a-long-password", {made.id: Role.PERFORMANCE})
        staff.club_admin = True
        empty.commit()
        yield empty, made, staff
    engine.dispose()


def taken(db, squad, reader=EVERYTHING):
    return imports.take_out(db, squad.squad, reader, stamp=Stamp(squad.staff.id, NOW), today=TODAY)


def brought(db, squad, content, folder, staff):
    put = imports.put_down(db, squad, folder, "squad.zip", io.BytesIO(content), stamp=Stamp(staff.id, NOW))
    seen = imports.preview(db, squad, folder / put.id, "squad.zip", today=TODAY)
    imports.queue(db, squad, put.id, seen.spec)
    return seen, imports.run(db, put.id, folder, now=NOW, today=TODAY)


def members_of(content):
    return zipfile.ZipFile(io.BytesIO(content))


def test_in_an_empty_installation_the_squad_has_the_same_loads_limits_room_and_notices(db, full, elsewhere, tmp_path):
    squad, _ = full
    there, other, staff = elsewhere
    seen, done = brought(there, other, taken(db, squad), tmp_path, staff)
    assert done.state is ImportState.DONE, done.report
    assert "4 athletes" in seen.found
    assert done.report["package"]["entries"] == seen_entries(seen)

    ours, theirs = read_day(db, squad.squad, TODAY, TODAY), read_day(there, other, TODAY, TODAY)
    assert [one.name for one in theirs.members] == [one.name for one in ours.members]
    assert [str(one) for one in theirs.standing] == [str(one) for one in ours.standing]
    for mine, his in zip(ours.desks, theirs.desks, strict=True):
        for what in ("load", "missing"):
            np.testing.assert_array_equal(getattr(his.desk.planned, what), getattr(mine.desk.planned, what))
        assert repr(his.limits.rules) == repr(mine.limits.rules)
        assert his.written.tolist() == mine.written.tolist()
    told = [[[(one.key, one.severity) for one in row] for row in desk] for desk in ours.found]
    assert [[[(one.key, one.severity) for one in row] for row in desk] for desk in theirs.found] == told
    # Who set things is a name that nobody signs in with, not whoever has the same name here.
    makers = dict(there.execute(select(User.name, User.active)).all())
    assert makers["S. Taff"] is False
    loads = list(export.daily_loads(db, squad.squad, TODAY, TODAY))
    assert list(export.daily_loads(there, other, TODAY, TODAY)) == loads
    assert (other.time_zone, other.school) == (squad.squad.time_zone, squad.squad.school)


def seen_entries(seen):
    return next(int(line.split()[0]) for line in seen.found if line.endswith("entries"))


def test_what_was_called_off_recorded_and_said_of_the_season_comes_back_too(db, full, other, tmp_path):
    squad, strap = full
    put = imports.put_down(db, squad.squad, tmp_path, "B.csv", io.BytesIO(strap.encode()), stamp=Stamp(None, NOW))
    spec = imports.preview(db, squad.squad, tmp_path / put.id, "B.csv", today=TODAY).spec
    imports.queue(db, squad.squad, put.id, spec)
    assert imports.run(db, put.id, tmp_path, now=NOW, today=TODAY).state is ImportState.DONE
    assert brought(db, other, taken(db, squad), tmp_path, squad.staff)[1].state is ImportState.DONE
    before, after = (
        [(one.kind, one.seconds, one.summary, one.data) for one in
         db.scalars(select(Recording).where(Recording.squad_id == of.id))]
        for of in (squad.squad, other)
    )  # fmt: skip
    assert len(before) == 1
    assert after == before
    assert phases.read(db, other, TODAY) == phases.read(db, squad.squad, TODAY)
    off = select(Session.called_off).where(Session.squad_id == other.id, Session.called_off.is_not(None))
    assert db.scalars(off, execution_options=ALSO_CALLED_OFF).all() == ["hall closed"]


def test_the_package_says_what_is_in_it_in_open_formats(db, full):
    squad, _ = full
    archive = members_of(taken(db, squad))
    described = json.loads(archive.read("datapackage.json"))
    assert (described["profile"], described["format"]) == ("tabular-data-package", "uvren-squad/1")
    for resource in described["resources"]:
        table = papq.read_table(io.BytesIO(archive.read(resource["parquet"])))
        names = [field["name"] for field in resource["schema"]["fields"]]
        assert (table.column_names, table.num_rows) == (names, resource["rows"])
        head = archive.read(resource["path"]).decode("utf-8-sig").splitlines()[0]
        assert head == ",".join(names)
    loads = read_loads(io.TextIOWrapper(io.BytesIO(archive.read("loads.csv")), "utf-8"))
    assert [LoadRow(one.athlete, one.day, one.channel, one.load, one.estimated) for one in loads] == list(
        export.daily_loads(db, squad.squad, TODAY, TODAY)
    )


def test_who_may_not_read_clinical_detail_takes_none_of_it_out_and_no_more_is_offered_then(db, full, other, tmp_path):
    squad, _ = full
    content = taken(db, squad, NO_DETAIL)
    for name in members_of(content).namelist():
        assert SECRET.encode() not in members_of(content).read(name), name
    assert brought(db, other, content, tmp_path, squad.staff)[1].state is ImportState.DONE
    ours, theirs = (open_desks(db, of, TODAY, TODAY)[0].standing for of in (squad.squad, other))
    # The less is known, the less is offered.
    assert all(his.share(60) <= mine.share(60) for mine, his in zip(ours, theirs, strict=True))
    assert [his.share(60) for his in theirs] == [1, 0, 1, 1]


def test_it_comes_into_an_empty_squad_only_and_is_not_taken_back_like_a_file(db, full, other, tmp_path):
    squad, _ = full
    content = taken(db, squad)
    _, refused = brought(db, squad.squad, content, tmp_path, squad.staff)
    assert "nobody is yet" in refused.report["wrong"]
    _, done = brought(db, other, content, tmp_path, squad.staff)
    with pytest.raises(Stale, match="can be deleted"):
        imports.undo(db, other, done.id, stamp=Stamp(None, NOW), today=TODAY)


@pytest.mark.parametrize("broken", ["cut", "format", "column"])
def test_a_package_that_is_none_is_refused_in_a_sentence(db, full, other, tmp_path, broken):
    squad, _ = full
    content = taken(db, squad)
    if broken == "cut":
        content = content[: len(content) // 2]
    else:
        archive, out = members_of(content), io.BytesIO()
        with zipfile.ZipFile(out, "w") as written:
            for name in archive.namelist():
                data = archive.read(name)
                if broken == "format" and name == "datapackage.json":
                    data = data.replace(b"uvren-squad/1", b"uvren-squad/9")
                if broken == "column" and name == "entries.parquet":
                    data = archive.read("places.parquet")
                written.writestr(name, data)
        content = out.getvalue()
    put = imports.put_down(db, other, tmp_path, "squad.zip", io.BytesIO(content), stamp=Stamp(None, NOW))
    try:
        wrong = imports.preview(db, other, tmp_path / put.id, "squad.zip", today=TODAY).wrong
    except Exception as error:
        wrong = str(error)
    assert any(said in wrong for said in ("cut off", "not known here", "no column"))
    assert db.scalar(select(func.count()).select_from(Session).where(Session.squad_id == other.id)) == 0
