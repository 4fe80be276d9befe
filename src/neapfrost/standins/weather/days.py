"""The days a simulated station can have: seeded, so that the same one comes again."""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from neapfrost.core.weather.along_session import Reading


@dataclass(frozen=True)
class Sky:
    """The weather at an hour of the day without its unrest."""

    air_temp_c: float
    pressure_hpa: float
    humidity_pct: float
    wind_speed_ms: float
    wind_from_deg: float
    track_temp_c: float
    rain_mm_h: float = 0.0
    gust_factor: float = 1.35


@dataclass(frozen=True)
class Day:
    """A day to choose: in words, the hour its record begins at, and its sky at any hour."""

    says: str
    begins_h: float
    sky: Callable[[float], Sky]


def _risen(hour: float, middle_h: float, lasts_h: float) -> float:
    """From 0 to 1 around a middle, smoothly, most of it within `lasts_h`."""
    return 1.0 / (1.0 + math.exp(-6.0 * (hour - middle_h) / lasts_h))


def _sun(hour: float) -> float:
    """How high the sun stands, 0 to 1, with its height at one o'clock."""
    return max(math.sin(math.pi * (hour - 6.0) / 14.0), 0.0)


def _settled(hour: float) -> Sky:
    sun = _sun(hour - 1.0)
    return Sky(
        air_temp_c=13.0 + 9.0 * sun,
        pressure_hpa=1019.0 - 0.15 * (hour - 9.0),
        humidity_pct=74.0 - 26.0 * sun,
        wind_speed_ms=2.2 + 0.8 * sun,
        wind_from_deg=265.0 + 6.0 * math.sin(hour),
        track_temp_c=15.0 + 20.0 * sun,
    )


def _sea_breeze(hour: float) -> Sky:
    calm = _settled(hour)
    in_from_sea = _risen(hour, 12.0, 0.6)
    return Sky(
        air_temp_c=calm.air_temp_c - 2.5 * in_from_sea,
        pressure_hpa=calm.pressure_hpa,
        humidity_pct=calm.humidity_pct + 14.0 * in_from_sea,
        # The old wind dies before the new one comes from the other side.
        wind_speed_ms=abs(2.6 - 8.4 * in_from_sea) + 0.2,
        wind_from_deg=(265.0 if in_from_sea < 2.6 / 8.4 else 80.0) + 5.0 * math.sin(hour),
        track_temp_c=calm.track_temp_c - 2.0 * in_from_sea,
        gust_factor=1.35 + 0.15 * in_from_sea,
    )


def _shower(hour: float) -> Sky:
    calm = _settled(hour)
    front = 13.6
    before, behind = _risen(hour, front - 0.6, 0.8), _risen(hour, front, 0.25)
    raining = math.exp(-(((hour - front - 0.25) / 0.28) ** 2))
    rain = 5.5 * raining if raining > 0.08 else 0.0
    cloud = max(before - 0.7 * _risen(hour, front + 1.4, 0.8), 0.0)
    return Sky(
        air_temp_c=calm.air_temp_c - 5.0 * behind + 1.0 * (before - behind),
        pressure_hpa=calm.pressure_hpa - 3.0 * before + 3.5 * behind,
        humidity_pct=min(calm.humidity_pct + 30.0 * behind + 6.0 * before, 98.0),
        wind_speed_ms=3.0 + 3.5 * before + 1.5 * (before - behind),
        wind_from_deg=215.0 + 78.0 * behind,
        track_temp_c=calm.track_temp_c - 7.0 * cloud - 7.0 * behind,
        rain_mm_h=rain,
        gust_factor=1.5 + 0.4 * raining,
    )


def _drying(hour: float) -> Sky:
    calm = _settled(hour)
    raining = 1.0 - _risen(hour, 9.75, 0.3)
    rain = 3.0 * raining if raining > 0.1 else 0.0
    clear = _risen(hour, 11.0, 1.5)
    return Sky(
        air_temp_c=12.0 + 6.5 * clear * _sun(hour),
        pressure_hpa=1006.0 + 4.0 * clear,
        humidity_pct=94.0 - 34.0 * clear,
        wind_speed_ms=2.0 + 3.5 * clear,
        wind_from_deg=190.0 + 70.0 * clear,
        track_temp_c=12.5 + (calm.track_temp_c - 17.0) * clear,
        rain_mm_h=rain,
        gust_factor=1.45,
    )


def _evening(hour: float) -> Sky:
    gone = _risen(hour, 18.6, 2.6)
    return Sky(
        air_temp_c=22.0 - 9.0 * gone,
        pressure_hpa=1016.0 + 0.2 * (hour - 16.0),
        humidity_pct=48.0 + 34.0 * gone,
        wind_speed_ms=3.4 - 2.7 * gone,
        wind_from_deg=250.0 - 25.0 * gone,
        track_temp_c=37.0 - 22.0 * gone,
    )


DAYS: dict[str, Day] = {
    "settled": Day("a settled day, warming until the early afternoon", 9.0, _settled),
    "sea-breeze": Day("a land wind that the sea breeze turns round at noon", 9.0, _sea_breeze),
    "shower": Day("a front with a shower at half past one", 9.0, _shower),
    "drying": Day("rain until a quarter to ten, then a drying road", 9.0, _drying),
    "evening": Day("an evening that cools down from four o'clock on", 16.0, _evening),
}

#: How far readings wander about the sky, and the share of it that stays from one to the next.
UNREST = {"air": 0.25, "pressure": 0.05, "humidity": 1.0, "wind": 0.4, "from": 6.0, "track": 0.5}
STAYS = 0.85


def without_unrest(day: str, at_s: float) -> Reading:
    """What a day's forecast says for a time after its midnight [s]: smooth, as forecasts are."""
    sky = DAYS[day].sky(at_s / 3600.0 % 24.0)
    return Reading(
        at_s=at_s,
        air_temp_c=round(sky.air_temp_c, 1),
        pressure_hpa=round(sky.pressure_hpa, 1),
        humidity_pct=round(sky.humidity_pct, 0),
        wind_speed_ms=round(sky.wind_speed_ms, 1),
        wind_from_deg=round(sky.wind_from_deg, 0) % 360.0,
        gust_ms=round(sky.wind_speed_ms * sky.gust_factor, 1),
        track_temp_c=round(sky.track_temp_c, 1),
        rain_mm_h=round(sky.rain_mm_h, 1),
    )


class StationDay:
    """The readings of a day one after another, as often and as long as somebody asks for them."""

    def __init__(self, day: str, seed: int, begins_s: float, every_s: float = 60.0) -> None:
        """`begins_s` is the first reading's time since some midnight [s]."""
        self._sky = DAYS[day].sky
        self._chance = np.random.default_rng(seed)
        self._unrest = dict.fromkeys(UNREST, 0.0)
        self._begins_s, self._every_s = begins_s, every_s
        self._readings: list[Reading] = []

    def readings(self, count: int) -> list[Reading]:
        """The first so many readings of the day."""
        while len(self._readings) < count:
            self._readings.append(self._next())
        return self._readings[:count]

    def _next(self) -> Reading:
        at_s = self._begins_s + len(self._readings) * self._every_s
        sky = self._sky(at_s / 3600.0 % 24.0)
        fresh = math.sqrt(1.0 - STAYS**2)
        for name, far in UNREST.items():
            pushed = far * float(self._chance.standard_normal())
            self._unrest[name] = STAYS * self._unrest[name] + fresh * pushed
        unrest = self._unrest
        wind = max(sky.wind_speed_ms + unrest["wind"], 0.0)
        gusty = 1.0 + (sky.gust_factor - 1.0) * (1.0 + 0.3 * float(self._chance.random()))
        return Reading(
            at_s=at_s,
            air_temp_c=round(sky.air_temp_c + unrest["air"], 1),
            pressure_hpa=round(sky.pressure_hpa + unrest["pressure"], 1),
            humidity_pct=round(min(max(sky.humidity_pct + unrest["humidity"], 5.0), 100.0), 0),
            wind_speed_ms=round(wind, 1),
            wind_from_deg=round((sky.wind_from_deg + unrest["from"]) % 360.0, 0) % 360.0,
            gust_ms=round(wind * gusty, 1),
            track_temp_c=round(sky.track_temp_c + unrest["track"], 1),
            rain_mm_h=round(sky.rain_mm_h, 1),
        )
