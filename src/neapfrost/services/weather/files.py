"""Files of weather: looked at, their columns chosen, and read."""

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.errors import InputRefused
from neapfrost.formats.document import Name
from neapfrost.formats.weather import (
    WEATHER_FORMAT,
    WEATHER_VERSION,
    Moment,
    ReadingDocument,
    WeatherRecordDocument,
)
from neapfrost.formats.weather_csv import (
    BYTES_MOST,
    FIELDS,
    LABELS,
    UNITS,
    Column,
    Layout,
    Role,
    look_at_weather,
    read_weather_csv,
)
from neapfrost.formats.weather_file import read_weather


class _Body(BaseModel):
    model_config = ConfigDict(extra="forbid")


class ColumnChoice(_Body):
    """Which column of a file holds what, from 0, and in which unit."""

    role: Role
    number: Annotated[int, Field(ge=0, le=1_000)]
    unit: Annotated[str, Field(max_length=20)]


class WeatherText(_Body):
    """A record as a file's text: JSON, or columns, which are recognised where none are told.

    Times without a day of their own are of `day`.
    """

    name: Name
    text: Annotated[str, Field(max_length=BYTES_MOST)]
    day: Moment = "2000-01-01T00:00:00"
    columns: list[ColumnChoice] | None = None


class RoleChoice(BaseModel):
    """Something that a column can hold, and the units it may be in."""

    role: Role
    label: str
    units: list[str]


class WeatherPreview(BaseModel):
    """What a file of weather holds; `fault` says why it cannot be kept as it is."""

    kind: Literal["document", "columns"]
    header: list[str] = []
    sample: list[list[str]] = []
    columns: list[ColumnChoice] = []
    roles: list[RoleChoice] = []
    missing: list[str] = []
    count: int = 0
    first_at: str | None = None
    last_at: str | None = None
    fault: str | None = None


def record_of(
    readings: Sequence[ReadingDocument], name: str, simulated: bool = False
) -> WeatherRecordDocument:
    """A record of readings alone."""
    return WeatherRecordDocument(
        format=WEATHER_FORMAT,
        version=WEATHER_VERSION,
        name=name,
        simulated=simulated,
        readings=list(readings),
    )


def record_in(text: WeatherText) -> WeatherRecordDocument:
    """The record that a file's text holds. Raises InputRefused with the place of what is wrong."""
    data = text.text.encode("utf-8", "surrogatepass")
    if _is_document(text):
        return read_weather(data)
    return record_of(read_weather_csv(data, _layout(data, text.columns), text.day[:10]), text.name)


def preview(text: WeatherText) -> WeatherPreview:
    """What a file's text holds. Raises InputRefused for one that holds no weather at all."""
    data = text.text.encode("utf-8", "surrogatepass")
    if _is_document(text):
        return _counted(WeatherPreview(kind="document"), _of_all(read_weather(data)))
    layout = _layout(data, text.columns)
    found = WeatherPreview(
        kind="columns",
        header=list(layout.header),
        sample=[list(row) for row in layout.sample],
        columns=[
            ColumnChoice(role=role, number=column.number, unit=column.unit)
            for role, column in layout.columns.items()
        ],
        roles=[
            RoleChoice(role=role, label=LABELS[role], units=list(UNITS[role])) for role in FIELDS
        ],
        missing=layout.missing,
    )
    try:
        return _counted(found, read_weather_csv(data, layout, text.day[:10]))
    except InputRefused as error:
        return found.model_copy(update={"fault": str(error.faults[0])})


def _of_all(record: WeatherRecordDocument) -> list[ReadingDocument]:
    return record.readings or [one for weather in record.weathers for one in weather.readings]


def _counted(preview: WeatherPreview, readings: list[ReadingDocument]) -> WeatherPreview:
    return preview.model_copy(
        update={"count": len(readings), "first_at": readings[0].at, "last_at": readings[-1].at}
    )


def _is_document(text: WeatherText) -> bool:
    return text.text.lstrip().startswith("{")


def _layout(data: bytes, columns: list[ColumnChoice] | None) -> Layout:
    layout = look_at_weather(data)
    if columns is None:
        return layout
    chosen = {one.role: Column(one.number, one.unit) for one in columns}
    return Layout(
        layout.separator, layout.decimal, layout.header, layout.first_line, chosen, layout.sample
    )
