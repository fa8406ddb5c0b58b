"""Files in and out on the command line, on the database that the environment names."""

import csv
import json
import zipfile
from datetime import date, timedelta

import pyarrow.parquet as pq
import pytest
from typer.testing import CliRunner

from tests.conftest import TODAY, make_database
from tests.squad import make_small_squad
from uvren.cli import app
from uvren.store.database import connect, sessions


@pytest.fixture(scope="module")
def own_squad(server):
    """A small squad in a database of its own: what a command brings in stays. Its address and its slug."""
    url = make_database(server, "exchange")
    engine = connect(url)
    with sessions(engine)() as db:
        slug = make_small_squad(db, TODAY).squad.slug
        db.commit()
    engine.dispose()
    return url, slug


@pytest.fixture
def slug(own_squad, monkeypatch):
    url, name = own_squad
    monkeypatch.setenv("UVREN_DATABASE_URL", url)
    return name


def run(*arguments):
    return CliRunner().invoke(app, [str(one) for one in arguments])


def export(what, out, slug, *more):
    return run("export", what, out, "--squad", slug, *more)


def test_daily_loads_are_taken_out_as_the_analysis_reads_them(slug, tmp_path):
    out = tmp_path / "loads.csv"
    result = export("loads", out, slug, "--date", TODAY)
    assert result.exit_code == 0, result.output
    rows = list(csv.DictReader(out.open()))
    assert result.output == f"{len(rows)} rows in {out}\n"
    assert {row["athlete"] for row in rows} == {"A", "B", "C", "D"}
    assert max(row["date"] for row in rows) < str(TODAY)
    analysed = run("analyse", out)
    assert analysed.exit_code == 0, analysed.output
    # One row an athlete and day, from the first session through the last one; days off are among them.
    days = sorted({date.fromisoformat(row["date"]) for row in rows})
    assert len(analysed.stdout.splitlines()) - 1 == 4 * ((days[-1] - days[0]).days + 1)


@pytest.mark.parametrize("ending", ["tsv", "xlsx", "parquet", "jsonl"])
def test_every_format_holds_as_many_rows(slug, tmp_path, ending):
    plain, other = tmp_path / "loads.csv", tmp_path / f"loads.{ending}"
    export("loads", plain, slug, "--date", TODAY)
    count = len(list(csv.DictReader(plain.open())))
    assert export("loads", other, slug, "--date", TODAY).output.startswith(f"{count} rows")
    if ending == "jsonl":
        lines = other.read_text().splitlines()
        assert len(lines) == count
        assert set(json.loads(lines[0])) >= {"athlete", "date", "channel", "load"}
    elif ending == "parquet":
        assert pq.read_table(other).num_rows == count
    elif ending == "tsv":
        assert len(other.read_text().splitlines()) == count + 1
    else:
        assert other.read_bytes()[:2] == b"PK"


def test_sessions_are_taken_out_as_a_calendar(slug, tmp_path):
    out = tmp_path / "sessions.ics"
    result = export("sessions", out, slug)
    assert result.exit_code == 0, result.output
    text = out.read_text()
    assert text.startswith("BEGIN:VCALENDAR")
    assert text.count("BEGIN:VEVENT") == int(result.output.split()[0])


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (("loads", "loads.csv", "no-such-squad"), "there is no squad 'no-such-squad'; squads are "),
        (("loads", "loads.doc", None), "the ending is one of .csv"),
        (("recording", "r.csv", None, "--recording", "x" * 26), "there is no recording"),
    ],
)
def test_what_cannot_be_taken_out_is_said_in_one_sentence(slug, tmp_path, arguments, said):
    what, name, squad, *more = arguments
    result = export(what, tmp_path / name, squad or slug, *more)
    assert result.exit_code == 2
    assert said in result.output
    assert "Traceback" not in result.output
    assert not (tmp_path / name).exists()


RATINGS = "Athlete;Date;Minutes;RPE\nA;{day};75;6,5\nB;{day};70;7\n"


def test_a_dry_run_says_how_a_file_would_be_read_and_writes_nothing(slug, tmp_path):
    good, strange = tmp_path / "ratings.csv", tmp_path / "strange.csv"
    good.write_text(RATINGS.format(day=f"{TODAY:%d.%m.%Y}"))
    strange.write_text(RATINGS.format(day=f"{TODAY:%d.%m.%Y}").replace("\nB;", "\nZ. Nobody;"))
    before = tmp_path / "before.csv"
    export("loads", before, slug, "--date", TODAY)
    result = run("import", good, "--squad", slug, "--dry-run")
    assert (result.exit_code, "2 rows, 0 that cannot be used; nothing was written" in result.output) == (0, True)
    assert "RPE: effort" in result.output
    refused = run("import", strange, "--squad", slug, "--dry-run")
    assert refused.exit_code == 1
    assert "not known: Z. Nobody" in refused.output
    after = tmp_path / "after.csv"
    export("loads", after, slug, "--date", TODAY)
    assert before.read_text() == after.read_text()


def brought_in(slug, *files):
    return run("import", *files, "--squad", slug)


def test_files_come_in_one_after_the_other_and_what_is_wrong_is_told_row_by_row(slug, tmp_path):
    day = f"{TODAY - timedelta(days=1):%d.%m.%Y}"
    bad, good = tmp_path / "bad.csv", tmp_path / "good.csv"
    bad.write_text(RATINGS.format(day=day).replace(";7\n", ";17\n"))
    good.write_text(RATINGS.format(day=day))
    result = brought_in(slug, bad, good)
    assert result.exit_code == 1, result.output
    assert "row 3: RPE '17': Effort is 0 to 10" in result.output
    assert "good.csv: 2 entries from 2 rows" in result.output
    loads = tmp_path / "loads.csv"
    export("loads", loads, slug, "--date", TODAY)
    rows = {(row["athlete"], row["date"]): row["load"] for row in csv.DictReader(loads.open())}
    assert float(rows["A", str(TODAY - timedelta(days=1))]) == 75 * 6.5
    again = brought_in(slug, good)
    assert (again.exit_code, "is in already, as good.csv; nothing was changed" in again.output) == (0, True)


def test_a_file_that_is_no_table_is_said_and_the_next_one_comes_in_all_the_same(slug, tmp_path):
    picture, good = tmp_path / "court.png", tmp_path / "good.csv"
    picture.write_bytes(b"\x89PNG\r\n\x1a\n" + bytes(200))
    good.write_text(RATINGS.format(day=f"{TODAY - timedelta(days=1):%d.%m.%Y}").replace("75", "74"))
    result = brought_in(slug, picture, good)
    assert result.exit_code == 1
    assert "court.png: " in result.output
    assert "good.csv: 2 entries" in result.output
    assert "Traceback" not in result.output


def test_of_many_wrong_rows_the_first_are_told_and_the_others_counted(slug, tmp_path):
    day = f"{TODAY:%d.%m.%Y}"
    many = tmp_path / "many.csv"
    many.write_text("Athlete;Date;Minutes;RPE\n" + "".join(f"A;{day};60;{11 + i}\n" for i in range(25)))
    result = run("import", many, "--squad", slug, "--dry-run")
    assert result.exit_code == 1
    assert result.output.count("Effort is 0 to 10") == 20
    assert "and 5 more" in result.output


def test_a_file_or_a_mapping_that_is_not_there_is_said(slug, tmp_path):
    missing = run("import", tmp_path / "none.csv", "--squad", slug)
    assert (missing.exit_code, "cannot read" in missing.output) == (2, True)
    there = tmp_path / "ratings.csv"
    there.write_text(RATINGS.format(day=f"{TODAY:%d.%m.%Y}"))
    unknown = run("import", there, "--squad", slug, "--mapping", "nothing")
    assert (unknown.exit_code, "there is no mapping 'nothing'" in unknown.output) == (2, True)


def test_without_a_database_the_command_says_what_to_start(monkeypatch, tmp_path):
    monkeypatch.setenv("UVREN_DATABASE_URL", "mysql+mysqldb://nobody@127.0.0.1:1/nothing")
    result = export("loads", tmp_path / "x.csv", "any")
    assert (result.exit_code, "is `uvren serve` running?" in result.output) == (2, True)


def test_an_old_season_comes_in_from_the_command_line_with_what_is_open_answered(slug, tmp_path):
    first = TODAY - timedelta(days=TODAY.weekday() + 1)
    old, people = tmp_path / "old.csv", tmp_path / "people.csv"
    old.write_text(
        f"Player,{first:%d.%m.},{first - timedelta(days=7):%d.%m.}\nA,450,300\nThe Tall One,400,\nGuest,1,2\n"
    )
    people.write_text("said,athlete\nThe Tall One,B\nGuest,\n")
    asked = run("import", old, "--squad", slug, "--people", people, "--make-sessions", "--column", "Value=effort")
    assert asked.exit_code == 1
    assert "--answer year=2026" in asked.output
    told = ("--column", "Value=channel:session_rpe", "--answer", "year=2026")
    given = run("import", old, "--squad", slug, *told, "--make-sessions", "--dry-run")
    assert (given.exit_code, "2 sessions that are not there" in given.output) == (0, True), given.output
    loads = tmp_path / "loads.csv"
    done = run("import", loads_file(tmp_path, first), "--squad", slug, "--make-sessions")
    assert done.exit_code == 0, done.output
    assert "2 works" in done.output
    export("loads", loads, slug, "--date", TODAY)
    rows = {(row["athlete"], row["date"]): row["load"] for row in csv.DictReader(loads.open())}
    assert [float(rows[name, str(first)]) for name in "AB"] == [450, 400]
    wrong = run("import", old, "--squad", slug, "--answer", "year")
    assert (wrong.exit_code, "key=value" in wrong.output) == (2, True)
    nobody = tmp_path / "nobody.csv"
    nobody.write_text("said,athlete\nX,Nobody At All\n")
    refused = run("import", old, "--squad", slug, "--people", nobody)
    assert (refused.exit_code, "Nobody At All" in refused.output) == (2, True)


def loads_file(folder, day):
    path = folder / "given.csv"
    path.write_text(f"Name,Date,Load\nA,{day},450\nThe Tall One,{day},400\n")
    return path


def test_a_whole_squad_is_written_without_clinical_detail_unless_it_is_asked_for(slug, tmp_path):
    out = tmp_path / "squad.zip"
    assert export("squad", out, slug).exit_code == 0
    described = json.loads(zipfile.ZipFile(out).read("datapackage.json"))
    assert (described["format"], described["clinical"]) == ("uvren-squad/1", False)
    assert export("squad", out, slug, "--clinical").exit_code == 0
    assert json.loads(zipfile.ZipFile(out).read("datapackage.json"))["clinical"]
    again = run("import", out, "--squad", slug)
    assert (again.exit_code, "nobody is yet" in again.output) == (1, True)
