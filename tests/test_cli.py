import json
from pathlib import Path

import pytest
from typer.testing import CliRunner

from uvren.cli import app

CASES = Path(__file__).parent / "reference"


def run(*arguments):
    return CliRunner().invoke(app, [str(one) for one in arguments])


def room(loads, limits, name="all", *more):
    return run("room", loads, "--limits", limits, "--set", name, "--date", "2025-12-01", *more)


@pytest.mark.parametrize(
    ("arguments", "message"),
    [
        (("analyse", "no-such-file.csv"), "cannot read no-such-file.csv"),
        (("analyse", CASES / "limits.json"), "the column 'athlete' is missing"),
    ],
)
def test_a_file_that_cannot_be_used_is_said_in_one_sentence(arguments, message):
    result = run(*arguments)
    assert result.exit_code == 2
    assert message in result.output
    assert "Traceback" not in result.output


def test_what_cannot_be_asked_of_room_is_said_in_one_sentence(tmp_path):
    loads, limits = CASES / "loads-complete.csv", CASES / "limits.json"
    assert "no set 'none'" in room(loads, limits, "none").output
    assert "no channel 'swims'" in room(loads, limits, "all", "--channel", "swims").output
    outside = run("room", loads, "--limits", limits, "--set", "all", "--date", "2031-01-01")
    assert "outside 2025-08-04" in outside.output
    bad = tmp_path / "limits.json"
    bad.write_text(json.dumps({"x": [{"rule": "day_cap"}], "y": [{"rule": "nap_cap", "value": 1}]}))
    assert "needs a rule and a number" in room(loads, bad, "x").output
    assert "there is no rule 'nap_cap'" in room(loads, bad, "y").output
    bad.write_text("{")
    assert "is not JSON" in room(loads, bad, "x").output


def test_analyse_writes_to_a_file_when_asked(tmp_path):
    out = tmp_path / "analysis.csv"
    assert run("analyse", CASES / "loads.csv", "--out", out).exit_code == 0
    assert out.read_text() == run("analyse", CASES / "loads.csv").stdout


def test_room_takes_the_first_channel_unless_told(tmp_path):
    loads, limits = CASES / "loads-complete.csv", CASES / "limits.json"
    assert {one["channel"] for one in json.loads(room(loads, limits).stdout)} == {"session_rpe"}


def test_balance_begins_from_the_load_that_is_said_and_from_nothing_without_it(tmp_path):
    loads = tmp_path / "loads.csv"
    days = [f"A,2025-08-{day:02},session_rpe,300" for day in range(1, 29)]
    loads.write_text("athlete,date,channel,load\n" + "\n".join(days) + "\n")

    def last(*more):
        out = CliRunner().invoke(app, ["analyse", str(loads), *more]).stdout.splitlines()
        return float(dict(zip(out[0].split(","), out[-1].split(","), strict=True))["balance"])

    assert last("--start", "300") == pytest.approx(0, abs=1e-6)
    assert last() < -50


LIKE = ("--metric", "speed", "--edges", "0,2,4", "--work", "2", "--gap", "1", "--least", "2")


def test_likeness_of_two_files_is_printed():
    found = json.loads(run("likeness", CASES / "training.csv", CASES / "match.csv", *LIKE).output)
    assert 0 < found["overlap"] < 1
    assert len(found["match"]["share"]) == 3


@pytest.mark.parametrize(
    ("arguments", "message"),
    [
        (("nowhere.csv", CASES / "match.csv", *LIKE), "cannot read nowhere.csv"),
        ((CASES / "loads.csv", CASES / "match.csv", *LIKE), "no column “t”"),
        ((CASES / "training.csv", CASES / "match.csv", *LIKE[:3], "0,x", *LIKE[4:]), "numbers with commas"),
        ((CASES / "training.csv", CASES / "match.csv", *LIKE[:3], "3,2", *LIKE[4:]), "the bins rise"),
    ],
)
def test_what_likeness_cannot_use_is_said_in_one_sentence(arguments, message):
    result = run("likeness", *arguments)
    assert result.exit_code == 2
    assert message in result.output
