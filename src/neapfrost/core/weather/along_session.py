"""Weather, water and track at any moment of a session, from readings."""

import bisect
from collections.abc import Sequence
from dataclasses import dataclass, replace

from neapfrost.core.weather.track_state import Rubber, grip_factor, laps_after
from neapfrost.core.weather.water import DEEPEST, Drying, depth_after, drying_rates, wetness_pct
from neapfrost.core.wind import components_ms, from_components

#: Below this the wind has no direction of its own [m/s].
CALM_MS = 1e-9


@dataclass(frozen=True)
class Reading:
    """What a station reads at a moment; `at_s` counts from any midnight.

    `pressure_hpa` None: not read. `gust_ms` is the speed of the gusts. Rain falls as read until the
    next reading.
    """

    at_s: float
    air_temp_c: float
    pressure_hpa: float | None
    humidity_pct: float
    wind_speed_ms: float
    wind_from_deg: float
    gust_ms: float
    track_temp_c: float
    rain_mm_h: float


@dataclass(frozen=True)
class State:
    """A moment of a session: its reading, water on the line and beside it, rubber on the track.

    Wetness in percent; `rubber_factor` is the track's grip against one that is rubbered in.
    """

    reading: Reading
    line_pct: float
    beside_pct: float
    laps: float
    rubber_factor: float


def along_session(
    readings: Sequence[Reading], drying: Drying, rubber: Rubber, at_s: Sequence[float]
) -> list[State]:
    """The session at some moments, which must not go back in time; `readings` rise in time.

    Before the first reading it is as at the first, after the last one as at the last, with its rain
    going on. Between two, all but the rain is linear, the wind as a vector; water and rubber are
    solved exactly for even rain and the drying in the middle of each step.
    """
    edges = sorted({*(one.at_s for one in readings), *at_s})
    first = readings[0].at_s
    line = beside = drying.wet_at_start_pct / 100.0 * drying.full_depth_mm
    laps, before = rubber.laps_before, first
    deepest = DEEPEST * drying.full_depth_mm
    wanted, found = list(at_s), []
    for edge in edges:
        if edge > before:
            middle = reading_at(readings, 0.5 * (before + edge))
            rates = drying_rates(drying, middle.wind_speed_ms, middle.track_temp_c)
            rain, lasts = middle.rain_mm_h, edge - before
            line = min(depth_after(line, rain, rates.line_per_s, lasts), deepest)
            beside = min(depth_after(beside, rain, rates.beside_per_s, lasts), deepest)
            laps = laps_after(rubber, laps, drying.cars_per_min, rain, lasts)
            before = edge
        while wanted and wanted[0] <= edge:
            found.append(
                State(
                    replace(reading_at(readings, edge), at_s=wanted.pop(0)),
                    wetness_pct(drying, line),
                    wetness_pct(drying, beside),
                    laps,
                    grip_factor(rubber, laps),
                )
            )
    return found


def averaged(readings: Sequence[Reading], half_s: float) -> list[Reading]:
    """Readings as means over so long to either side [s], the wind as a vector; rain as it fell."""
    found = []
    for reading in readings:
        first = bisect.bisect_left(readings, reading.at_s - half_s, key=_when)
        near = readings[first : bisect.bisect_right(readings, reading.at_s + half_s, key=_when)]

        def mean(name: str, near: Sequence[Reading] = near) -> float:
            return float(sum(getattr(one, name) for one in near)) / len(near)

        winds = [components_ms(one.wind_speed_ms, one.wind_from_deg) for one in near]
        speed, from_deg = from_components(
            *(sum(part) / len(near) for part in zip(*winds, strict=True))
        )
        pressures = [one.pressure_hpa for one in near if one.pressure_hpa is not None]
        found.append(
            replace(
                reading,
                air_temp_c=mean("air_temp_c"),
                pressure_hpa=sum(pressures) / len(pressures) if pressures else None,
                humidity_pct=mean("humidity_pct"),
                wind_speed_ms=speed,
                wind_from_deg=from_deg if speed >= CALM_MS else reading.wind_from_deg,
                gust_ms=max(one.gust_ms for one in near),
                track_temp_c=mean("track_temp_c"),
            )
        )
    return found


def reading_at(readings: Sequence[Reading], at_s: float) -> Reading:
    """What a station would read between its readings; the rain as read last."""
    number = bisect.bisect_right(readings, at_s, key=_when)
    if number == 0:
        return replace(readings[0], at_s=at_s)
    before = readings[number - 1]
    if number == len(readings):
        return replace(before, at_s=at_s)
    after = readings[number]
    share = (at_s - before.at_s) / (after.at_s - before.at_s)

    def between(a: float, b: float) -> float:
        return a + share * (b - a)

    ends = [components_ms(one.wind_speed_ms, one.wind_from_deg) for one in (before, after)]
    north, east = (between(ends[0][axis], ends[1][axis]) for axis in (0, 1))
    speed, from_deg = from_components(north, east)
    if speed < CALM_MS:
        from_deg = before.wind_from_deg
    pressure = before.pressure_hpa
    if pressure is not None and after.pressure_hpa is not None:
        pressure = between(pressure, after.pressure_hpa)
    return Reading(
        at_s=at_s,
        air_temp_c=between(before.air_temp_c, after.air_temp_c),
        pressure_hpa=pressure,
        humidity_pct=between(before.humidity_pct, after.humidity_pct),
        wind_speed_ms=speed,
        wind_from_deg=from_deg,
        gust_ms=max(between(before.gust_ms, after.gust_ms), speed),
        track_temp_c=between(before.track_temp_c, after.track_temp_c),
        rain_mm_h=before.rain_mm_h,
    )


def _when(reading: Reading) -> float:
    return reading.at_s
