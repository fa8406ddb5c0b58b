"""Long tables: a row for each athlete and session."""

from datetime import date, datetime, time, timedelta
from random import Random

from tests.club_files.made import (
    ISO,
    NUMBERS,
    PEOPLE,
    POINTS,
    SHEET_EPOCH,
    Made,
    Truth,
    book,
    crowd,
    days,
    heads,
    kind,
    loads_truth,
    long_rows,
    number,
    plain_truth,
    rated,
    settled,
    text,
)
from tests.conftest import TODAY


@kind
def long_text(random: Random) -> Made:
    """A row each, in any separator, encoding and sign; days that only one reading fits."""
    dates = days(random, 12)
    while not settled(dates):
        dates = days(random, 12)
    truth = plain_truth(random, dates, crowd(random))
    form = random.choice(
        [POINTS, ISO, "%d/%m/%Y", "%m/%d/%Y", "%d-%m-%Y", "%d.%m.%y", "%d %B %Y", "%d-%b-%y", "%a %d.%m.%Y"]
    )
    separator = random.choice([",", ";", "\t"])
    decimal = random.choice([".", ","]) if separator != "," else "."
    rows = [heads(random), *long_rows(truth, form, decimal)]
    encoding = random.choice(["utf-8", "utf-8-sig", "utf-16", "cp1252"])
    return Made("long_text", "loads.csv", text(rows, separator, encoding, random.choice(["\n", "\r\n"])), truth)


@kind
def long_book(random: Random) -> Made:
    """A workbook with days as days, lines above its head, and a cover sheet without rows."""
    truth = plain_truth(random, days(random, 10), crowd(random))
    rows = [
        [name, random.choice([day, datetime.combine(day, time(0))]), minutes, effort]
        for (name, day), ((minutes, effort, _),) in truth.items()
    ]
    above = [["Session loads"], ["kept by the coaches"], []] if random.random() < 0.6 else []
    sheets = {"Cover": [], "Loads": [*above, heads(random), *rows]}
    return Made("long_book", "season.xlsx", book(sheets), truth)


@kind
def either_order(random: Random) -> Made:
    """Days that can be read with the day or with the month first: it has to be asked."""
    months = random.sample(range(1, 4), 2) if TODAY.month > 3 else [1, 2]
    dates = sorted(date(2026, month, day) for month in months for day in random.sample(range(1, 3), 2))
    truth = plain_truth(random, dates, crowd(random), 0.0)
    order = random.choice(["day_first", "month_first"])
    rows = long_rows(truth, "%d/%m/%Y" if order == "day_first" else "%m/%d/%Y")
    return Made("either_order", "loads.csv", text([heads(random), *rows]), truth, "asked", {"order": order})


@kind
def units_in_cells(random: Random) -> Made:
    """75 min, 1:15, 7/10 as people type them."""
    truth = plain_truth(random, days(random, 8), crowd(random))
    style = random.choice(["min", "clock", "hours", "mark"])

    def said(minutes: float) -> str:
        hours, rest = divmod(int(minutes), 60)
        return {
            "min": f"{minutes:g} min",
            "clock": f"{hours}:{rest:02d}",
            "hours": f"{hours} h {rest:02d} min",
            "mark": f"{minutes:g}'",
        }[style]

    rows = [
        [name, day.strftime(ISO), said(minutes), f"{effort:g}/10"]
        for (name, day), ((minutes, effort, _),) in truth.items()
    ]
    return Made("units_in_cells", "loads.csv", text([heads(random), *rows]), truth)


@kind
def counted_days(random: Random) -> Made:
    """Serial numbers of a spreadsheet, or 20261103."""
    truth = plain_truth(random, days(random, 8), crowd(random))
    serial = random.random() < 0.5
    rows = [
        [name, (day - SHEET_EPOCH).days if serial else day.strftime("%Y%m%d"), number(minutes), number(effort)]
        for (name, day), ((minutes, effort, _),) in truth.items()
    ]
    return Made("counted_days", "loads.csv", text([heads(random), *rows]), truth)


@kind
def totals_between(random: Random) -> Made:
    """Titles of groups, totals, empty lines, and the head once more on each page."""
    truth = plain_truth(random, days(random, 6), crowd(random))
    head = heads(random)
    rows = [head]
    for i, row in enumerate(long_rows(truth, ISO)):
        if i % 9 == 4:
            rows.append([random.choice(["Backs", "Wings", "Group 2"]), "", "", ""])
        if i % 9 == 7:
            rows += [["Total", "", number(random.randint(200, 400)), ""], ["", "", "", ""], head]
        rows.append(row)
    rows.append([random.choice(["Average", "Team average", "Mean"]), "", "71.5", "5.8"])
    return Made("totals_between", "loads.csv", text(rows), truth)


@kind
def day_above(random: Random) -> Made:
    """A block for each session with its day as a title."""
    dates = days(random, 5)
    truth = plain_truth(random, dates, crowd(random))
    rows: list[list[object]] = []
    head = [heads(random)[0], "Min", "RPE", "Note"]
    for day in dates:
        rows.append([f"{day:%A} {day.day} {day:%B %Y}", "", "", ""])
        rows.append(head)
        rows += [[name, number(m), number(e), ""] for (name, on), ((m, e, _),) in truth.items() if on == day]
        rows.append(["", "", "", ""])
    return Made("day_above", "blocks.csv", text(rows), truth)


@kind
def day_once(random: Random) -> Made:
    """The day only in the first row of each session."""
    dates = days(random, 5)
    truth = plain_truth(random, dates, crowd(random, 5), 0.0)
    rows: list[list[object]] = []
    for day in dates:
        own = [[name, "", number(m), number(e)] for (name, on), ((m, e, _),) in truth.items() if on == day]
        own[0][1] = day.strftime(ISO)
        rows += own
    return Made("day_once", "loads.csv", text([heads(random), *rows]), truth, "asked", {"fill": "yes"})


@kind
def given_loads(random: Random) -> Made:
    """Loads alone, without minutes; a column called session RPE that is a load."""
    truth = loads_truth(random, days(random, 8), crowd(random))
    name = random.choice(["Load", "Session load (AU)", "sRPE load", "Session RPE", "TL"])
    rows = [
        [who, day.strftime(ISO), f"{load:g}{random.choice(['', ' AU'])}"]
        for (who, day), ((_, _, load),) in truth.items()
    ]
    return Made("given_loads", "loads.csv", text([["Name", "Date", name], *rows]), truth)


@kind
def thousands(random: Random) -> Made:
    """1.250 and 1,250: settled by what stands beside it, or asked."""
    truth = loads_truth(random, days(random, 6), crowd(random), 200)
    for i, key in enumerate(list(truth)):
        if i % 4 == 0:
            truth[key] = [(None, None, float(random.randint(1001, 1900)))]
    sign = random.choice([".", ","])
    rows = [
        [who, day.strftime(ISO), f"{load:,.0f}".replace(",", sign)] for (who, day), ((_, _, load),) in truth.items()
    ]
    return Made(
        "thousands", "loads.csv", text([["Name", "Date", "Load"], *rows], ";"), truth, "asked", {"thousands": "parts"}
    )


@kind
def two_a_day(random: Random) -> Made:
    """Two sessions of a day: by labels, by times, or without a word."""
    style = random.choice(["label", "time", "nothing"])
    truth: Truth = {
        (name, day): [(*rated(random), None), (*rated(random), None)]
        for day in days(random, 5)
        for name in crowd(random)
    }
    rows = []
    for (name, day), sessions in truth.items():
        for n, (minutes, effort, _) in enumerate(sessions):
            more = {"label": [["AM", "PM"][n]], "time": [["09:30", "17:15"][n]], "nothing": []}[style]
            rows.append([name, day.strftime(ISO), number(minutes), number(effort), *more])
    head = [*heads(random), *{"label": ["Session"], "time": ["Start"], "nothing": []}[style]]
    made = Made("two_a_day", "loads.csv", text([head, *rows]), truth)
    if style == "nothing":
        made.expect, made.answers = "asked", {"twice": "order"}
    return made


@kind
def near_starts(random: Random) -> Made:
    """Starts that people wrote down as they came, a few minutes apart."""
    dates = days(random, 5)
    truth = plain_truth(random, dates, crowd(random), 0.0)
    rows = [
        [
            name,
            day.strftime(ISO),
            f"17:{random.choice([58, 59]):02d}" if i % 2 else f"18:{i % 5:02d}",
            number(m),
            number(e),
        ]
        for i, ((name, day), ((m, e, _),)) in enumerate(truth.items())
    ]
    head = heads(random)
    return Made(
        "near_starts",
        "loads.csv",
        text([[head[0], head[1], "Start", head[2], head[3]], *rows]),
        truth,
        "asked",
        {"near": "one"},
    )


@kind
def names_and_numbers(random: Random) -> Made:
    """Names in another order, with numbers beside them, and one who is called otherwise."""
    truth = plain_truth(random, days(random, 6), crowd(random))
    nick = next(iter(truth))[0]
    rows = []
    for (name, day), ((minutes, effort, _),) in truth.items():
        first, last = name.split()
        said = "Kaptein" if name == nick else f"{last}, {first}"
        rows.append([NUMBERS[name], said, day.strftime(ISO), number(minutes), number(effort)])
    head = heads(random)
    return Made(
        "names_and_numbers", "loads.csv", text([["No", *head], *rows], ";"), truth, "asked", people={"Kaptein": nick}
    )


@kind
def number_disagrees(random: Random) -> Made:
    """A name beside the number of somebody else."""
    truth = plain_truth(random, days(random, 5), PEOPLE[:5], 0.0)
    wrong = random.choice(PEOPLE[:5])
    other = random.choice([name for name in PEOPLE if name != wrong])
    rows = [
        [NUMBERS[other if name == wrong else name], name, day.strftime(ISO), number(m), number(e)]
        for (name, day), ((m, e, _),) in truth.items()
    ]
    return Made(
        "number_disagrees", "loads.csv", text([["Number", *heads(random)], *rows]), truth, "asked", {"number": "name"}
    )


@kind
def before_they_came(random: Random) -> Made:
    """Rows from before the first day in the squad."""
    early = [TODAY - timedelta(days=back) for back in (420, 418, 415)]
    truth = plain_truth(random, early, crowd(random), 0.0)
    return Made(
        "before_they_came",
        "last season.csv",
        text([heads(random), *long_rows(truth, ISO)]),
        truth,
        "asked",
        {"from_day": "move"},
    )


@kind
def without_year(random: Random) -> Made:
    """Days without a year; the season stands in the name of the file, or has to be asked."""
    dates = sorted({date(2025, 9, 1) + timedelta(days=random.randint(0, 180)) for _ in range(9)} | {date(2025, 9, 14)})
    truth = plain_truth(random, dates, crowd(random))
    form = random.choice(["%d.%m.", "%d %b", "%a %d.%m."])
    named = random.random() < 0.5
    made = Made(
        "without_year",
        "loads 2025-26.csv" if named else "loads.csv",
        text([heads(random), *long_rows(truth, form)]),
        truth,
    )
    if not named:
        made.expect, made.answers = "asked", {"year": "2025"}
    return made


@kind
def hours_without_unit(random: Random) -> Made:
    """Durations as 1.5, of which no head says whether they are hours."""
    truth = plain_truth(random, days(random, 6), crowd(random))
    truth = {key: [(15 * round(m / 15), e, None)] for key, ((m, e, _),) in truth.items()}
    rows = [
        [name, day.strftime(ISO), number(minutes / 60), number(effort)]
        for (name, day), ((minutes, effort, _),) in truth.items()
    ]
    content = text([["Name", "Date", "Duration", "RPE"], *rows])
    return Made("hours_without_unit", "loads.csv", content, truth, "asked", {"unit": "h"})
