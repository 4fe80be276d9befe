"""A forecast typed in words: "dry, then rain from minute 70, 4 mm/h, 40 %", one on each line."""

import re
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.units import (
    FAHRENHEIT_AT_ZERO,
    FAHRENHEIT_PER_CELSIUS,
    INCH_M,
    KMH_PER_MS,
    MS_PER_KNOT,
    MS_PER_MPH,
)
from neapfrost.formats.document import NAME_MOST
from neapfrost.formats.faults import validated
from neapfrost.formats.weather import ReadingDocument, WeatherDocument

#: Rain that a word means, where no figure is typed [mm/h]; the longest words first.
RAIN_MM_H = {
    "heavy rain": 10.0,
    "light rain": 1.0,
    "drizzle": 0.5,
    "shower": 4.0,
    "rain": 4.0,
    "wet": 4.0,
    "dry": 0.0,
}
#: How long a shower lasts that nobody says the end of [min].
SHOWER_MIN = 15.0
#: A forecast goes on for so long after its last change, and for so long at the least [min].
AFTER_LAST_MIN, AT_LEAST_MIN = 60.0, 180.0
WINDS_MS = {
    "m/s": 1.0,
    "km/h": 1.0 / KMH_PER_MS,
    "kmh": 1.0 / KMH_PER_MS,
    "mph": MS_PER_MPH,
    "knots": MS_PER_KNOT,
    "kn": MS_PER_KNOT,
    "kt": MS_PER_KNOT,
}
POINTS = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")
EXPECTED = (
    "write what it is (dry, drizzle, light rain, rain, heavy rain, shower), when (from minute 70, "
    "from 14:30, until minute 90, for 20 min), and figures (4 mm/h, 18 °C, track 25 °C, "
    "wind 5 m/s from 240, 40 %)"
)

_N = r"(-?\d+(?:[.,]\d+)?)"
_CHANCE = re.compile(rf"{_N}\s*(?:%|percent|per cent)(?:\s*chance)?")
_WIND = re.compile(
    rf"wind\s+{_N}\s*(m/s|km/h|kmh|mph|knots|kn|kt)\b"
    rf"(?:\s+from\s+(?:the\s+)?(?:{_N}\s*(?:°|deg(?:rees)?)?|([a-z]+(?:-[a-z]+)?)))?"
)
_RATE = re.compile(rf"{_N}\s*(mm|in)\s*(?:/|per|an)\s*h(?:our)?\b")
_TRACK = re.compile(rf"track\s+{_N}\s*°?\s*(c|f)\b")
_AIR = re.compile(rf"(?:air\s+)?{_N}\s*°?\s*(c|f)\b")
_WHEN = r"(?:(\d{1,2}):(\d{2})|(?:minute|min)\s+" + _N + rf"|{_N}\s*(min(?:utes?)?|h(?:ours?)?)\b)"
_FROM = re.compile(rf"\b(?:from|at|after)\s+{_WHEN}")
_UNTIL = re.compile(rf"\b(?:until|till|to)\s+{_WHEN}")
_FOR = re.compile(rf"\bfor\s+{_N}\s*(min(?:utes?)?|h(?:ours?)?)\b")
_WORD = re.compile(rf"\b({'|'.join(RAIN_MM_H)})s?\b")
_IDLE = re.compile(r"\b(?:then|and|it|is|becomes|gets|a|an|the|chance|of|with)\b|[:\s]")


@dataclass(frozen=True)
class Phase:
    """The weather from a minute on; a figure that is not typed is as before."""

    minute: float
    rain_mm_h: float = 0.0
    figures: dict[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class _Sentence:
    """A line as far as it is read."""

    phases: tuple[Phase, ...]
    chance_pct: float | None = None
    #: Where what follows begins, if it says nothing else: what came before ended there.
    next_min: float | None = None


def typed_forecasts(text: str, base: ReadingDocument) -> list[WeatherDocument]:
    """Forecasts of a text, a line each; minutes count from the reading that they go on from.

    What is left of the chances goes to lines without one, in equal parts. Raises InputRefused
    naming the line and the words that are not understood.
    """
    faults: list[Fault] = []
    read: list[tuple[str, _Sentence]] = []
    for number, line in enumerate(text.splitlines(), start=1):
        if not line.strip():
            continue
        try:
            read.append((line.strip(), _sentence(line, base)))
        except ValueError as trouble:
            faults.append(Fault("text", f"line {number}: {trouble}"))
    if not read and not faults:
        faults.append(Fault("text", f"nothing was typed; {EXPECTED}"))
    stated = sum(one.chance_pct or 0.0 for _, one in read)
    if stated > 100.0 + 1e-9:
        faults.append(
            Fault("text", f"the chances add up to {stated:g} %; together they are at most 100 %")
        )
    if faults:
        raise InputRefused(faults)
    open_lines = sum(one.chance_pct is None for _, one in read)
    rest = (100.0 - stated) / open_lines if open_lines else 0.0
    return [
        WeatherDocument(
            name=_name(line),
            chance_pct=rest if one.chance_pct is None else one.chance_pct,
            readings=_readings(one.phases, base),
        )
        for line, one in read
    ]


def _name(line: str) -> str:
    """The line without its chance, as a name."""
    plain = _CHANCE.sub("", line).strip(" ,;:.")
    plain = re.sub(r"\s*,\s*(?=,|$)", "", plain)
    return (plain[:1].upper() + plain[1:])[:NAME_MOST]


def _sentence(line: str, base: ReadingDocument) -> _Sentence:
    """A line's phases and chance. Raises ValueError with a sentence."""
    found = _Sentence((Phase(0.0, base.rain_mm_h),))
    # A comma between digits belongs to a number.
    for part in re.split(r"[;\n]|,(?!\d)|\.(?=\s|$)|(?=\bthen\b)", line.lower()):
        if part.strip():
            found = _with_part(found, part, base)
    return found


def _with_part(found: _Sentence, part: str, base: ReadingDocument) -> _Sentence:
    """The sentence with one more part of it."""
    rest = part
    figures: dict[str, float] = {}

    def take(pattern: re.Pattern[str]) -> re.Match[str] | None:
        nonlocal rest
        match = pattern.search(rest)
        if match:
            rest = rest[: match.start()] + " " + rest[match.end() :]
        return match

    chance = take(_CHANCE)
    if wind := take(_WIND):
        figures["wind_speed_ms"] = _number(wind[1]) * WINDS_MS[wind[2]]
        if wind[3] or wind[4]:
            figures["wind_from_deg"] = _direction(wind[3], wind[4])
    rate = take(_RATE)
    if track := take(_TRACK):
        figures["track_temp_c"] = _celsius(track)
    if air := take(_AIR):
        figures["air_temp_c"] = _celsius(air)
    begins, ends, lasts = take(_FROM), take(_UNTIL), take(_FOR)
    word = take(_WORD)
    left = _IDLE.sub("", rest)
    if left:
        raise ValueError(f'"{part.strip()[:60]}" is not understood; {EXPECTED}')
    if rate and not word and not begins and found.phases[-1].rain_mm_h == 0.0:
        return _raining_harder(found, _rate(rate), chance)
    last = found.phases[-1]
    falls = RAIN_MM_H[word[1]] if word else last.rain_mm_h
    if rate:
        falls = _rate(rate)
    minute = last.minute
    if begins:
        minute = _minute(begins, base)
    elif word and found.next_min is not None:
        minute = found.next_min
    elif word and falls != last.rain_mm_h and (len(found.phases) > 1 or "then" in part):
        raise ValueError(f'"{part.strip()[:60]}" has no time; write "from minute 70"')
    if minute < last.minute:
        raise ValueError(
            f'"{part.strip()[:60]}" lies before what is typed before it; write the first first'
        )
    phase = Phase(minute, falls, {**last.figures, **figures})
    phases = (*found.phases[:-1], phase) if minute == last.minute else (*found.phases, phase)
    end = _end(ends, lasts, word, minute, base)
    if end is not None and falls > 0.0:
        if end <= minute:
            raise ValueError(f'"{part.strip()[:60]}" ends before it begins; write a later end')
        phases = (*phases, replace(phase, minute=end, rain_mm_h=0.0))
    return _Sentence(
        phases,
        found.chance_pct if chance is None else _number(chance[1]),
        end if falls <= 0.0 else None,
    )


def _raining_harder(found: _Sentence, falls: float, chance: re.Match[str] | None) -> _Sentence:
    """A rate of its own belongs to the rain before it, also where that has ended again."""
    wet = [n for n, phase in enumerate(found.phases) if phase.rain_mm_h > 0.0] or [0]
    phases = tuple(
        replace(phase, rain_mm_h=falls) if n == wet[-1] else phase
        for n, phase in enumerate(found.phases)
    )
    stated = found.chance_pct if chance is None else _number(chance[1])
    return _Sentence(phases, stated, found.next_min)


def _rate(match: re.Match[str]) -> float:
    """Rain as typed in mm or inches an hour [mm/h]."""
    return _number(match[1]) * (1000.0 * INCH_M if match[2] == "in" else 1.0)


def _end(
    ends: re.Match[str] | None,
    lasts: re.Match[str] | None,
    word: re.Match[str] | None,
    minute: float,
    base: ReadingDocument,
) -> float | None:
    """The minute at which what a part says is over; None where it goes on."""
    if ends:
        return _minute(ends, base)
    if lasts:
        return minute + _number(lasts[1]) * (60.0 if lasts[2].startswith("h") else 1.0)
    return minute + SHOWER_MIN if word and word[1] == "shower" else None


def _minute(when: re.Match[str], base: ReadingDocument) -> float:
    """Minutes after the reading that is gone on from; a time of day is the next such."""
    hour, minute, counted, amount, unit = when.groups()
    if hour is None:
        return _number(counted or amount) * (60.0 if (unit or "").startswith("h") else 1.0)
    if int(hour) > 23 or int(minute) > 59:
        raise ValueError(f"{hour}:{minute} is no time of day; write it as 14:30")
    start = datetime.fromisoformat(base.at)
    at = start.replace(hour=int(hour), minute=int(minute), second=0)
    return (at - start).total_seconds() / 60.0 % (24.0 * 60.0)


def _direction(degrees: str | None, point: str | None) -> float:
    """Where a wind comes from [°], of a number or a point of the compass."""
    if degrees:
        return _number(degrees) % 360.0
    if point not in POINTS:
        raise ValueError(f'"{point}" is no direction; write degrees, or north-east')
    return 45.0 * POINTS.index(point)


def _celsius(match: re.Match[str]) -> float:
    """A temperature as typed in °C or °F [°C]."""
    value = _number(match[1])
    if match[2] == "c":
        return value
    return (value - FAHRENHEIT_AT_ZERO) / FAHRENHEIT_PER_CELSIUS


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def _readings(phases: tuple[Phase, ...], base: ReadingDocument) -> list[ReadingDocument]:
    """Readings of the phases, each at its beginning, and one at the end. Raises InputRefused."""
    start = datetime.fromisoformat(base.at)
    end = max(AT_LEAST_MIN, phases[-1].minute + AFTER_LAST_MIN)
    return [
        validated(
            ReadingDocument,
            {
                **base.model_dump(),
                **phase.figures,
                "at": (start + timedelta(minutes=phase.minute)).isoformat(),
                "rain_mm_h": phase.rain_mm_h,
            },
            "text",
        )
        for phase in (*phases, replace(phases[-1], minute=end))
    ]
