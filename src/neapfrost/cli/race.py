"""`neapfrost race`: a race planned on the terminal, or written as a sheet."""

from pathlib import Path
from typing import Annotated

import typer

from neapfrost.cli.opening import fail, read_given, refuse
from neapfrost.core.errors import InputRefused

Output = Annotated[
    Path | None,
    typer.Option("-o", "--output", help="Write the sheet here, by its ending: .md, .csv or .json"),
]


def race(
    plan: Annotated[Path, typer.Argument(help="Plan document (JSON); - reads standard input")],
    laps: Annotated[int | None, typer.Option(min=1, max=2_000, help="Laps of the race")] = None,
    minutes: Annotated[float | None, typer.Option(min=0.1, help="Or how long it lasts")] = None,
    output: Output = None,
) -> None:
    """Plan a race: laps, fuel, stops and tyres, energy, places to pass."""
    from neapfrost.formats.faults import validated
    from neapfrost.formats.plan import RaceDocument
    from neapfrost.formats.plan_file import read_plan

    try:
        document = read_plan(read_given(plan))
        told = {"laps": laps, "minutes": minutes}
        changes = {name: value for name, value in told.items() if value is not None}
        rules = validated(
            RaceDocument, {**document.race.model_dump(mode="json"), **changes}, "race"
        )
        from neapfrost.services.race.sheet import sheet_csv, sheet_markdown
        from neapfrost.services.studies.race_alone import whole_race

        sheet = whole_race(document.model_copy(update={"race": rules}))
    except InputRefused as error:
        refuse(error)
    if output is None:
        print(sheet_markdown(sheet))
        return
    writers = {
        ".csv": lambda: sheet_csv(sheet),
        ".md": lambda: sheet_markdown(sheet),
        ".json": lambda: sheet.model_dump_json(indent=2) + "\n",
    }
    if output.suffix not in writers:
        fail(f'{output}: "{output.suffix}" was given; .md, .csv or .json is expected')
    try:
        output.write_text(writers[output.suffix](), encoding="utf-8")
    except OSError as error:
        fail(f"{output}: cannot be written ({error.strerror})")
