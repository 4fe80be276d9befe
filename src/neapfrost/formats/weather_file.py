"""Reading and writing conditions documents, and the rules between their fields."""

import json
from collections.abc import Sequence
from itertools import pairwise

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.faults import validated
from neapfrost.formats.json_text import parse_json_object
from neapfrost.formats.weather import ReadingDocument, WeatherRecordDocument


def read_weather(data: bytes) -> WeatherRecordDocument:
    """Read a record from a file's bytes. Raises InputRefused with every fault by its path."""
    return checked_weather(validated(WeatherRecordDocument, parse_json_object(data)))


def write_weather(record: WeatherRecordDocument) -> bytes:
    """Write a record as indented JSON; reading it back gives the same record."""
    text = json.dumps(record.model_dump(mode="json"), indent=2, ensure_ascii=False)
    return f"{text}\n".encode()


def checked_weather(record: WeatherRecordDocument) -> WeatherRecordDocument:
    """A record that keeps the rules between its fields. Raises InputRefused."""
    faults = [*_not_rising(record.readings, "readings")]
    for number, weather in enumerate(record.weathers):
        faults += _not_rising(weather.readings, f"weathers[{number}].readings")
    if not record.readings and not record.weathers:
        faults.append(Fault("readings", "nothing was given; one reading at least is expected"))
    names = [weather.name for weather in record.weathers]
    faults += [
        Fault(f"weathers[{number}].name", f'"{name}" is used twice; each needs its own name')
        for number, name in enumerate(names)
        if name in names[:number]
    ]
    if record.readings:
        faults += [
            Fault(
                f"weathers[{number}].readings",
                f"all of {weather.name} is before {record.readings[-1].at}, the last measured "
                "reading; a forecast must lie after it",
            )
            for number, weather in enumerate(record.weathers)
            if weather.readings[-1].at <= record.readings[-1].at
        ]
    if faults:
        raise InputRefused(faults)
    return record


def _not_rising(readings: Sequence[ReadingDocument], path: str) -> list[Fault]:
    return [
        Fault(
            f"{path}[{number}].at",
            f"{after.at} was given after {before.at}; readings must rise in time",
        )
        for number, (before, after) in enumerate(pairwise(readings), start=1)
        if after.at <= before.at
    ]
