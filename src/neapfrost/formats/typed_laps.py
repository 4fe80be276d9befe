"""Laps typed one under another: a time, sectors if they are known, and a mark."""

import re
from dataclasses import dataclass

from neapfrost.formats.run import LapKind, RunLapDocument

#: What a letter or a word at a lap says of it.
MARKS: dict[str, LapKind] = {
    "o": "out",
    "out": "out",
    "i": "in",
    "in": "in",
    "t": "traffic",
    "traffic": "traffic",
    "v": "void",
    "void": "void",
    "s": "slow",
    "slow": "slow",
}
#: A lap's sectors add up to its time within so much [s].
SECTORS_WITHIN_S = 0.02


@dataclass(frozen=True)
class TypedLaps:
    """The laps that were understood, and a sentence for each line that was not."""

    laps: tuple[RunLapDocument, ...]
    faults: tuple[str, ...]


def typed_laps(text: str) -> TypedLaps:
    """Laps of a text, a line each: "1:32.418 31.2 30.9 30.3 t", or a mark alone."""
    laps: list[RunLapDocument] = []
    faults: list[str] = []
    for number, line in enumerate(text.splitlines(), start=1):
        if not line.strip():
            continue
        found = _lap(line, len(laps) + 1)
        if isinstance(found, str):
            faults.append(f"line {number}: {found}")
        else:
            laps.append(found)
    return TypedLaps(tuple(laps), tuple(faults))


def time_of(text: str) -> float | None:
    """Seconds of 1:32.418, 1.32,418, 92.418 or 1:02:03.4; None for what is no time."""
    plain = text.strip().replace(",", ".")
    if re.fullmatch(r"\d{1,2}\.\d{2}\.\d{1,4}", plain):
        plain = plain.replace(".", ":", 1)
    if not re.fullmatch(r"(\d{1,2}:){0,2}\d{1,4}(\.\d{1,4})?", plain):
        return None
    seconds = 0.0
    for part in plain.split(":"):
        seconds = 60.0 * seconds + float(part)
    return seconds if seconds > 0.0 else None


def _lap(line: str, number: int) -> RunLapDocument | str:
    times: list[float] = []
    kind: LapKind = "timed"
    for word in line.split():
        mark = MARKS.get(word.casefold())
        if mark is not None:
            kind = mark
            continue
        time = time_of(word)
        if time is None:
            return (
                f'"{word[:30]}" is neither a time nor a mark; 1:32.418 is one, and o, i, t, v '
                "mark a lap as out, in, traffic or void"
            )
        times.append(time)
    if not times:
        return RunLapDocument(number=number, kind=kind)
    lap, sectors = times[0], times[1:]
    if sectors and abs(sum(sectors) - lap) > SECTORS_WITHIN_S:
        return (
            f"its sectors add up to {sum(sectors):.3f} s, the lap is {lap:.3f} s; the lap's time "
            "comes first, then all of its sectors"
        )
    timed = None if kind in ("out", "in") else lap
    return RunLapDocument(number=number, kind=kind, lap_time_s=timed, sectors_s=sectors)
