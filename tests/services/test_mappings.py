"""How files are read: what a mapping may say, and what is guessed from names and values."""

from dataclasses import replace
from datetime import date, time, timedelta

import pytest

from tests.conftest import NOW, TODAY
from uvren.files.layout import Format, Layout, Look
from uvren.files.moments import Writing
from uvren.services.errors import Invalid, NotFound
from uvren.services.files import mappings
from uvren.services.files.guessing import About, guess
from uvren.services.files.mappings import ColumnUse, FileKind, Role, Spec
from uvren.services.squad.channels import Draft, save_channel
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import SessionKind


def columns(*roles):
    """Columns named after their roles; a unit follows a blank."""
    parts = [role.partition(" ") for role in roles]
    return tuple(ColumnUse(name, name, unit) for name, _, unit in parts)


def samples(*roles, **more):
    return Spec(FileKind.SAMPLES, columns(*roles), **{"writing": Writing.UNIX_SECONDS, **more})


def rows(*roles, **more):
    return Spec(FileKind.SESSIONS, columns(*roles), **{"writing": Writing.YEAR_FIRST, **more})


STANDING = TODAY - timedelta(days=50)
ABOUT = About("Europe/Oslo", TODAY, main="load")
GOOD = [
    samples("time", "heart_rate"),
    samples("time", "speed km/h"),
    samples("time", "x", "y", "athlete"),
    samples("time", "latitude", "longitude"),
    samples("time", "impact g", "side"),
    samples("time", "heart_rate", writing=Writing.CLOCK, day=TODAY),
    samples("time", "heart_rate", "date", writing=Writing.CLOCK),
    samples("time", "heart_rate", writing=Writing.SECONDS, day=TODAY, begins=time(18, 40)),
    rows("athlete", "date", "minutes h", "effort"),
    rows("athlete", "minutes", day=TODAY),
    rows("athlete", "date", "channel:throws"),
    rows("athlete", "date", "zone:1", "zone:2", "zone:3"),
    rows("athlete", "date", "zone:5", "zone:4", "zone:3", "zone:2", "zone:1"),
    rows("athlete", "date", "ignore", "ignore", "words"),
]


@pytest.mark.parametrize("spec", GOOD, ids=lambda spec: " ".join(column.role for column in spec.columns))
def test_a_mapping_that_can_bring_something_in_is_taken_and_kept_as_it_is(spec):
    spec.check()
    assert Spec.from_json(spec.to_json()) == spec


BAD = [
    (samples("heart_rate"), "columns", "which column has the time"),
    (samples("time"), "columns", "heart rate, speed, a position or impacts"),
    (samples("time", "x"), "columns", "heart rate, speed, a position or impacts"),
    (samples("time", "latitude", "y"), "columns", "heart rate, speed, a position or impacts"),
    (samples("time", "impact"), "columns", "left or right"),
    (samples("time", "heart_rate", writing=Writing.CLOCK), "day", "on which day they are"),
    (samples("time", "heart_rate", writing=Writing.SECONDS, day=TODAY), "begins", "when it began"),
    (samples("time", "heart_rate", writing=Writing.SECONDS, begins=time(9)), "begins", "on which day"),
    (samples("time", "heart_rate", "heart_rate"), "columns", "Two columns are both heart_rate"),
    (samples("time", "speed knots"), "columns", "the unit is one of m/s, km/h, mph"),
    (samples("time", "heart_rate", zone="Europe/Nowhere"), "zone", "is no time zone"),
    (samples("time", "heart_rate", offset_seconds=-90_000), "offset_seconds", "at most a day"),
    (rows("athlete", "date"), "columns", "minutes, effort, or a channel"),
    (rows("athlete", "minutes", writing=None), "day", "the day of the whole file"),
    (rows("athlete", "date", "mood"), "columns", "'mood' is nothing a column can hold"),
    (rows("athlete", "date", "nonsense:1"), "columns", "is nothing a column can hold"),
    # With a zone left out the others would be taken for lower ones than they are.
    (rows("athlete", "date", "zone:3", "zone:4", "zone:5"), "columns", "all zones, 1 to 3 or 1 to 5"),
    (rows("athlete", "date", "zone:1", "zone:3"), "columns", "all zones"),
    (rows("athlete", "date", "zone:1", "zone:2", "zone:3", "zone:4"), "columns", "all zones"),
]


@pytest.mark.parametrize(("spec", "field", "said"), BAD, ids=[said for _, _, said in BAD])
def test_what_could_bring_nothing_in_is_said_at_its_place(spec, field, said):
    with pytest.raises(Invalid, match=said) as refused:
        spec.check()
    assert refused.value.field == field
    with pytest.raises(Invalid):
        Spec.from_json(spec.to_json())
    # A mapping that was kept is read all the same: what is wrong with it is said with the file.
    assert Spec.from_json(spec.to_json(), check=False) == spec


@pytest.mark.parametrize(
    "given",
    [
        {},
        {"kind": "samples"},
        {"kind": "sampels", "columns": []},
        {"kind": "samples", "columns": [{"name": "a"}]},
        {"kind": "samples", "columns": [], "day": "yesterday"},
        {"kind": "samples", "columns": [], "writing": "sundial"},
        {"kind": "samples", "columns": [], "offset_seconds": "a lot"},
        {"kind": "samples", "columns": [], "layout": {"format": "scroll"}},
        {"kind": "samples", "columns": [], "athlete": "A"},
    ],
)
def test_what_is_no_mapping_at_all_is_refused_in_a_sentence(given):
    with pytest.raises(Invalid, match="This mapping cannot be read"):
        Spec.from_json(given)


def look(names, *data, format=Format.TEXT):
    return Look(Layout(format), list(names), [[str(cell) for cell in row] for row in data], [])


def roles(spec):
    return {use.name: f"{use.role} {use.unit}".strip() for use in spec.columns}


def test_samples_are_told_by_a_time_beside_what_is_measured(squad):
    spec = guess(look(["Tag", "Time", "HR (bpm)"], ["7", "2026-03-11 12:00:00", "131"]), ABOUT)
    assert spec.kind is FileKind.SAMPLES
    assert roles(spec) == {"Tag": "athlete", "Time": "time", "HR (bpm)": "heart_rate"}
    assert (spec.writing, spec.zone) == (Writing.YEAR_FIRST, squad.squad.time_zone)


def test_rows_of_sessions_are_told_by_a_date_and_no_samples(squad):
    spec = guess(look(["Player", "Date", "Duration (h)", "RPE"], ["A", "11.03.2026", "1,5", "7"]), ABOUT)
    assert spec.kind is FileKind.SESSIONS
    assert roles(spec) == {"Player": "athlete", "Date": "date", "Duration (h)": "minutes h", "RPE": "effort"}
    assert spec.writing is Writing.DAY_FIRST


@pytest.mark.parametrize(
    ("name", "values", "unit"),
    [
        ("Speed (km/h)", ["3", "4"], "km/h"),
        ("speed_mph", ["3", "4"], "mph"),
        ("Speed", ["2.5", "8.9"], "m/s"),
        # Nobody runs 24 metres in a second.
        ("Speed", ["2.5", "24,1"], "km/h"),
        ("Speed", ["", "fast"], "m/s"),
    ],
)
def test_the_unit_of_a_speed_is_that_of_its_name_or_what_its_values_allow(squad, name, values, unit):
    found = guess(look(["time", name], *[["0", value] for value in values]), ABOUT)
    assert roles(found)[name] == f"speed {unit}"


def test_zones_and_the_squads_own_channels_are_known_by_name(db, squad):
    draft = Draft("Full throws", "throws", "counted", {"classes": [{"code": "full", "name": "full", "weight": 1}]},
                  [SessionKind.COURT], ["shoulder"], "fork", STANDING, "new")  # fmt: skip
    channel = save_channel(db, squad.squad, draft, code=None, recompute=True, stamp=Stamp(None, NOW), today=TODAY)
    names = ["name", "date", "full throws", "Zone 1", "zone2", "Zone 3 (min)", "remarks"]
    known = replace(ABOUT, channels={"full throws": channel.code})
    spec = guess(look(names, ["A", "2026-03-11", "40", "30", "20", "10", ""]), known)
    assert roles(spec) == {
        "name": "athlete",
        "date": "date",
        "full throws": f"channel:{channel.code}",
        "Zone 1": "zone:1",
        "zone2": "zone:2",
        "Zone 3 (min)": "zone:3",
        "remarks": "words",
    }
    spec.check()


def test_of_two_columns_that_could_be_the_same_the_first_counts(squad):
    spec = guess(look(["Name", "Player", "Date", "min"], ["A", "A", "2026-03-11", "60"]), ABOUT)
    assert roles(spec)["Name"] == "athlete"
    assert roles(spec)["Player"] == "ignore"


def test_a_track_needs_no_guessing(squad):
    spec = guess(look([], format=Format.GPX), ABOUT)
    assert [use.role for use in spec.columns] == [Role.TIME, Role.LATITUDE, Role.LONGITUDE, Role.HEART_RATE]
    assert spec.writing is Writing.UNIX_SECONDS


NAMES = ["Name", "Date", "Minutes"]


def keep(db, squad, name="Form", spec=None, now=NOW, columns=NAMES):
    return mappings.save_mapping(
        db, squad.squad, name, columns, spec or rows("athlete", "date", "minutes"), stamp=Stamp(None, now)
    )


def test_what_belongs_to_one_file_is_not_kept_for_all_of_them(db, squad):
    one_file = replace(
        rows("athlete", "date", "minutes"),
        day=date(2026, 3, 11),
        begins=time(18),
        athlete=3,
        layout=Layout(Format.TEXT),
        good_rows=True,
        device="Straps",
        offset_seconds=60.0,
    )
    kept = Spec.from_json(keep(db, squad, spec=one_file).spec)
    assert (kept.day, kept.begins, kept.athlete, kept.layout, kept.good_rows) == (None, None, None, None, False)
    assert (kept.device, kept.offset_seconds) == ("Straps", 60.0)


def test_a_mapping_is_found_by_its_columns_in_any_order_and_the_last_one_counts(db, squad):
    first = keep(db, squad)
    assert mappings.mapping_for(db, squad.squad, NAMES[::-1]) is first
    assert mappings.mapping_for(db, squad.squad, [*NAMES, "RPE"]) is None
    second = keep(db, squad, "Another", now=NOW + timedelta(minutes=5))
    assert mappings.mapping_for(db, squad.squad, NAMES) is second


def test_a_name_stands_for_one_mapping(db, squad):
    first = keep(db, squad)
    again = keep(db, squad, "  Form ", columns=["a", "b"])
    assert again.id == first.id
    assert [one.name for one in queries.files.mappings(db, squad.squad.id)] == ["Form"]
    with pytest.raises(Invalid) as refused:
        keep(db, squad, "  ")
    assert refused.value.field == "name"


def test_a_mapping_that_is_gone_is_not_found_again(db, squad):
    kept = keep(db, squad)
    mappings.remove_mapping(db, squad.squad, kept.id)
    assert queries.files.mappings(db, squad.squad.id) == []
    with pytest.raises(NotFound):
        mappings.remove_mapping(db, squad.squad, kept.id)
