"""The two commands reproduce independently computed cases to 1e-6."""

import csv
import io
import json
from collections import defaultdict
from pathlib import Path

import pytest
from typer.testing import CliRunner

from uvren.cli import app

CASES = Path(__file__).parents[1] / "reference"


def run(*arguments):
    result = CliRunner().invoke(app, [str(a) for a in arguments])
    assert result.exit_code == 0, result.output
    return result.stdout


def test_analyse_reproduces_every_row_and_column():
    got = list(csv.DictReader(io.StringIO(run("analyse", CASES / "loads.csv"))))
    with (CASES / "analysis.csv").open() as source:
        expected = list(csv.DictReader(source))
    identity = lambda r: (r["athlete"], r["channel"], r["date"])  # noqa: E731
    assert [identity(row) for row in got] == sorted(identity(row) for row in expected)
    by_key = {identity(row): row for row in expected}
    for row in got:
        wanted = by_key[identity(row)]
        assert row.keys() == wanted.keys()
        for name, value in wanted.items():
            where = (*identity(row), name)
            if name in ("athlete", "channel", "date", "withheld") or value == "":
                assert row[name] == value, where
            else:
                assert float(row[name]) == pytest.approx(float(value), rel=1e-6, abs=1e-6), where


def test_room_reproduces_every_case():
    questions = defaultdict(list)
    for case in json.loads((CASES / "room.json").read_text()):
        questions[case["limits"], case["date"], case["channel"]].append(case)
    compared = 0
    for (name, day, channel), cases in questions.items():
        answers = json.loads(
            run(
                "room", CASES / "loads-complete.csv", "--limits", CASES / "limits.json",
                "--set", name, "--date", day, "--channel", channel,
            )
        )  # fmt: skip
        by_athlete = {answer["athlete"]: answer for answer in answers}
        for case in cases:
            answer = by_athlete[case["athlete"]]
            if case["room"] is None:
                assert answer["room"] is None, case
            else:
                assert answer["room"] == pytest.approx(case["room"], rel=1e-6, abs=1e-4), case
            assert sorted(answer["binding"]) == sorted(case["binding"]), (case, answer)
            compared += 1
    assert compared == 248


@pytest.mark.parametrize("kind", ["heart_rate", "speed", "impacts"])
def test_metrics_reproduces_the_recordings(kind):
    recordings = CASES / "recordings"
    got = json.loads(
        run("metrics", recordings / f"{kind}.csv", "--kind", kind, "--anchors", recordings / "anchors.json")
    )
    wanted = json.loads((recordings / "expected.json").read_text())[kind]
    assert got.pop("stronger", None) == wanted.pop("stronger", None)
    assert got.keys() == wanted.keys()
    assert flat(got) == pytest.approx(flat(wanted), rel=1e-6)


def flat(tree, name=""):
    if isinstance(tree, dict):
        return {at: value for key, part in tree.items() for at, value in flat(part, f"{name}.{key}").items()}
    if isinstance(tree, list):
        return flat(dict(enumerate(tree)), name)
    return {name: tree}
