"""Other kinds of table, and what has to be refused."""

from datetime import date, datetime, timedelta
from random import Random

from tests.club_files.made import (
    ISO,
    POINTS,
    Made,
    book,
    crowd,
    days,
    heads,
    kind,
    long_rows,
    number,
    plain_truth,
    settled,
    text,
)
from tests.conftest import TODAY


@kind
def roster(random: Random) -> Made:
    """People, as a list of them is kept."""
    new = random.sample(["Ida Jarle", "Jon Kvam", "Kari Lomen", "Leif Moe"], 3)
    rows = [
        [i + 40, *name.split(), random.choice(["wing", "back"]), "2026-01-0" + str(i + 1)] for i, name in enumerate(new)
    ]
    head = ["No", "First name", "Last name", "Position", "From"]
    return Made("roster", "people.csv", text([head, *rows]), other={"people": set(new)})


@kind
def fixtures(random: Random) -> Made:
    """Matches to come."""
    dates = [TODAY + timedelta(days=random.randint(3, 200)) for _ in range(6)]
    names = random.sample(["Northby", "Fjordal", "Havnes", "Storvik", "Lillefoss", "Bratten", "Ekerud"], 6)
    rows = [
        [day.strftime(ISO), "18:30", name, random.choice(["H", "A"])] for day, name in zip(dates, names, strict=True)
    ]
    return Made(
        "fixtures",
        "matches.csv",
        text([["Date", "Time", "Opponent", "H/A"], *rows]),
        other={"matches": set(zip(dates, names, strict=True))},
    )


@kind
def wellness(random: Random) -> Made:
    """Morning reports on a scale of 1 to 5, where it is asked what is good."""
    people, dates = crowd(random), days(random, 6)
    rows, told = [], {}
    for name in people:
        for day in dates:
            sleep, sore = random.randint(1, 5), random.randint(1, 5)
            rows.append([day.strftime(ISO), name, sleep, sore, "7.5"])
            told[name, day] = (int((sleep - 1) / 4 * 10 + 0.5), int((5 - sore) / 4 * 10 + 0.5), 7.5)
    head = ["Date", "Name", "Sleep quality", "Muscle soreness", "Hours slept"]
    return Made(
        "wellness", "wellness.csv", text([head, *rows]), {}, "asked", {"scale": "mixed"}, other={"reports": told}
    )


@kind
def test_results(random: Random) -> Made:
    """Results of tests that the squad has."""
    people, day = crowd(random), TODAY - timedelta(days=random.randint(5, 40))
    told = {name: (round(random.uniform(4.1, 4.9), 2), float(random.randint(28, 52))) for name in people}
    rows = [[name, day.strftime(ISO), *map(number, values)] for name, values in told.items()]
    head = ["Name", "Date", "Sprint 30 m (s)", "Countermovement jump, height (cm)"]
    return Made("test_results", "tests.csv", text([head, *rows]), other={"results": (day, told)})


@kind
def words_for_numbers(random: Random) -> Made:
    """Numbers as words: those rows are refused, one by one."""
    truth = plain_truth(random, days(random, 5), crowd(random), 0.0)
    rows = long_rows(truth, ISO)
    for row in rows[::7]:
        row[2] = random.choice(["an hour", "seventy", "long"])
        name, day = str(row[0]), date.fromisoformat(str(row[1]))
        truth.pop((name, day))
    return Made(
        "words_for_numbers",
        "loads.csv",
        text([heads(random), *rows]),
        truth,
        "refused",
        good_rows=True,
        why="not a number",
    )


@kind
def mixed_days(random: Random) -> Made:
    """A day or two written otherwise than the rest."""
    dates = days(random, 8)
    while not settled(dates):
        dates = days(random, 8)
    truth = plain_truth(random, dates, crowd(random), 0.0)
    rows = long_rows(truth, POINTS)
    for row in rows[3::11]:
        day = datetime.strptime(str(row[1]), POINTS).date()  # noqa: DTZ007
        row[1] = day.strftime("%Y-%m-%d")
        truth.pop((str(row[0]), day))
    return Made(
        "mixed_days",
        "loads.csv",
        text([heads(random), *rows]),
        truth,
        "refused",
        good_rows=True,
        why="not written as the other",
    )


@kind
def days_that_cannot_be(random: Random) -> Made:
    """31 February, 1901, next month."""
    truth = plain_truth(random, days(random, 6), crowd(random), 0.0)
    rows = long_rows(truth, ISO)
    for row, bad in zip(rows[2::9], ["2026-02-31", "1901-03-01", "2026-04-20", "0202-01-01"], strict=False):
        truth.pop((str(row[0]), date.fromisoformat(str(row[1]))))
        row[1] = bad
    return Made(
        "days_that_cannot_be",
        "loads.csv",
        text([heads(random), *rows]),
        truth,
        "refused",
        good_rows=True,
        why="to come|too far|written|no time",
    )


@kind
def no_table(random: Random) -> Made:
    """What is no table: cut off, a picture, a page, far too wide, nothing but a title."""
    style = random.choice(["cut", "bytes", "page", "wide", "empty"])
    whole = book({"A": [["Name", "Date"], ["x", "y"]]})
    content = {
        "cut": whole[: len(whole) // 2],
        "bytes": bytes(random.randrange(256) for _ in range(4000)),
        "page": b"<html><body><table><tr><td>1</td></tr></table></body></html>",
        "wide": text([[f"c{i}" for i in range(9000)], ["1"] * 9000]),
        "empty": b"\n\n \n",
    }[style]
    return Made(
        "no_table",
        "file.xlsx" if style == "cut" else "file.csv",
        content,
        {},
        "refused",
        why="damaged|cut off|neither|page|columns|names of columns",
    )


@kind
def strangers(random: Random) -> Made:
    """Somebody of another squad, to be left out."""
    truth = plain_truth(random, days(random, 5), crowd(random))
    rows = long_rows(truth, ISO)
    rows += [["Zeno Quist", day.strftime(ISO), "60", "5"] for day in {day for _, day in truth}]
    return Made("strangers", "loads.csv", text([heads(random), *rows]), truth, "asked", people={"Zeno Quist": None})


@kind
def another_scale(random: Random) -> Made:
    """Efforts from 0 to 100: no load, and not ours; every row is told."""
    truth = plain_truth(random, days(random, 5), crowd(random), 0.0)
    rows = [[name, day.strftime(ISO), number(m), number(e * 10)] for (name, day), ((m, e, _),) in truth.items()]
    return Made("another_scale", "loads.csv", text([heads(random), *rows]), {}, "refused", why="Effort is 0 to 10")


@kind
def swapped_by_a_spreadsheet(random: Random) -> Made:
    """Days that a spreadsheet took for another order: some are days by now, the others still words."""
    dates = sorted({date(2026, 1, n) for n in random.sample(range(1, 28), 10)})
    rows = []
    for name, day in plain_truth(random, dates, crowd(random), 0.0):
        swapped = datetime(2026, day.day, 1) if day.day <= 12 else day.strftime("%d/%m/%Y")  # noqa: DTZ001
        rows.append([name, swapped, 60, 5])
    return Made(
        "swapped_by_a_spreadsheet",
        "loads.xlsx",
        book({"Loads": [heads(random), *rows]}),
        {},
        "refused",
        why="not written as|to come|no time",
    )
