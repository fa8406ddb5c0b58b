"""The command line: ``uvren serve | demo | openapi | analyse | room``."""

from __future__ import annotations

import csv
import json
import sys
from datetime import datetime
from pathlib import Path
from typing import Annotated, NoReturn

import numpy as np
import typer

from uvren.core.errors import CoreError
from uvren.core.limits import make_rule, room_on
from uvren.core.series import LoadTable, tabulate
from uvren.core.workload import Workload
from uvren.files.loads_csv import BadFile, read_loads

app = typer.Typer(add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False)

LoadsFile = Annotated[Path, typer.Argument(help="CSV with athlete,date,channel,load.")]


def fail(message: str) -> NoReturn:
    """One sentence on standard error, exit code 2."""
    typer.echo(f"uvren: {message}", err=True)
    raise typer.Exit(2)


def _table(path: Path) -> LoadTable:
    try:
        with path.open(encoding="utf-8-sig", newline="") as source:
            return tabulate(read_loads(source))
    except OSError as error:
        fail(f"cannot read {path}: {error.strerror}")
    except UnicodeDecodeError:
        fail(f"{path} is not UTF-8 text")
    except (BadFile, CoreError) as error:
        fail(f"{path}: {error}")


def _cell(value: object) -> str:
    if isinstance(value, float | np.floating):
        return "" if np.isnan(value) else f"{float(value):.10g}"
    return str(value)


@app.command()
def analyse(
    loads: LoadsFile,
    out: Annotated[Path | None, typer.Option(help="Write here instead of to the screen.")] = None,
) -> None:
    """Acute and chronic load by every school, spread and what is withheld, a row a day."""
    table = _table(loads)
    columns = Workload(table.loads).columns()
    target = out.open("w", encoding="utf-8", newline="") if out else sys.stdout
    try:
        writer = csv.writer(target, lineterminator="\n")
        writer.writerow(["date", "athlete", "channel", *columns])
        for i, (athlete, channel) in enumerate(table.keys):
            for column in range(int(table.loads.start[i]), table.loads.days):
                figures = [_cell(values[i, column]) for values in columns.values()]
                writer.writerow([table.loads.date_of(column), athlete, channel, *figures])
    finally:
        if out:
            target.close()


@app.command()
def room(
    loads: LoadsFile,
    limits: Annotated[Path, typer.Option(help="JSON with named sets of hard limits.")],
    set_name: Annotated[str, typer.Option("--set", help="Which set.")],
    day: Annotated[datetime, typer.Option("--date", formats=["%Y-%m-%d"], help="Room on this day.")],
    channel: Annotated[str | None, typer.Option(help="Which channel; the first by default.")] = None,
) -> None:
    """The largest load that may be added on a day with every limit held, and what stops it."""
    table = _table(loads)
    as_of = day.date()
    try:
        sets = json.loads(limits.read_text(encoding="utf-8"))
    except OSError as error:
        fail(f"cannot read {limits}: {error.strerror}")
    except ValueError as error:
        fail(f"{limits} is not JSON: {error}")
    if not isinstance(sets, dict) or set_name not in sets:
        fail(f"{limits} has no set {set_name!r}")
    try:
        rules = [make_rule(limit["rule"], limit["value"], limit) for limit in sets[set_name]]
        name = channel or table.channels[0]
        athletes, rows = table.on_channel(name)
        workload = Workload(rows.through(as_of))
        answers = room_on(workload, rules, as_of)
    except CoreError as error:
        fail(str(error))
    except (KeyError, TypeError):
        fail(f"{limits}: every limit of set {set_name!r} needs a rule and a number as its value")
    result = [
        {
            "athlete": athlete,
            "channel": name,
            "date": as_of.isoformat(),
            "limits": set_name,
            "room": answer.load,
            "binding": [key.partition(":")[0] for key in answer.binding],
        }
        for athlete, answer, age in zip(athletes, answers, workload.loads.age[:, -1], strict=True)
        if age > 0
    ]
    typer.echo(json.dumps(result, indent=1))


@app.command()
def serve(
    port: Annotated[int, typer.Option(help="Port on loopback.")] = 8460,
    var: Annotated[Path, typer.Option(help="Folder of the database's files.")] = Path("var"),
    fresh: Annotated[bool, typer.Option(help="Throw away what is there and begin anew.")] = False,
    demo: Annotated[bool, typer.Option(help="Load the demo club into an empty database.")] = True,
    workers: Annotated[int, typer.Option(min=1, help="Web processes.")] = 2,
) -> None:
    """Start the database and the web application; stop both on Ctrl-C."""
    from uvren.serving import Trouble, run

    try:
        run(var.resolve(), port=port, fresh=fresh, demo=demo, workers=workers, say=typer.echo)
    except Trouble as trouble:
        fail(str(trouble))


@app.command()
def openapi(out: Annotated[Path, typer.Argument(help="Write the document here.")]) -> None:
    """The OpenAPI document of the web application, as JSON."""
    from uvren.web.app import create_app

    # Nothing is asked of the database to describe the resources.
    spec = create_app("mysql+mysqldb://nobody@localhost/nothing", "describes only").spec
    out.write_text(json.dumps(spec, indent=1, sort_keys=True) + "\n", encoding="utf-8")


def main() -> None:
    """Entry point."""
    app()


if __name__ == "__main__":
    main()
