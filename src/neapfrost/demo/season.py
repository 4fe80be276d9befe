"""The season of the demo world: five events, their runs, and the logs that go with them.

Logs and what was measured in them lie beside this module, made once by `scripts/drive_season.py`:
driving them anew at every first start would take a minute.
"""

import gzip
import json
from dataclasses import dataclass, field
from importlib.resources import files
from typing import Any, Literal

SessionKind = Literal["test", "practice", "qualifying", "race"]


@dataclass(frozen=True)
class Truth:
    """How a day and its car differ from the sheet: factors, and the wind to add [m/s]."""

    grip: float = 1.0
    downforce: float = 1.0
    drag: float = 1.0
    power: float = 1.0
    mass: float = 1.0
    north_ms: float = 0.0
    east_ms: float = 0.0
    used: float = 0.992
    along: float = 1.0


@dataclass(frozen=True)
class SeasonRun:
    """A run of an event: its session from 1, hour and minute, and how it was driven.

    `typed` is the text of laps of a run without a logger; else `seed` and `laps` drove it, with or
    without positions. `said` is what else stands in its document.
    """

    name: str
    session: int
    clock: str
    seed: int = 0
    laps: int = 6
    fuel_kg: float | None = None
    places: bool = True
    speed_factor: float = 1.0
    typed: str | None = None
    said: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class SeasonEvent:
    """An event: on which demo plan, when, in which sessions, and what the day was really like."""

    id: str
    name: str
    plan_id: str
    held_on: str
    sessions: tuple[SessionKind, ...]
    truth: Truth
    runs: tuple[SeasonRun, ...]
    remarks: str = ""


def _tyres(name: str, before: int) -> dict[str, Any]:
    return {"set": name, "laps_before": before}


SEASON: tuple[SeasonEvent, ...] = (
    SeasonEvent(
        "samphire-test",
        "Samphire, opening test",
        "k4-samphire",
        "2025-04-05",
        ("test", "test"),
        Truth(0.982, 0.94, 1.05, 0.985, 1.005, -1.1, 0.6),
        (
            SeasonRun("First run", 1, "09:40", 301, said={"tyres": _tyres("A", 0)}),
            SeasonRun("Same again", 1, "10:25", 302, said={"tyres": _tyres("A", 6)}),
            SeasonRun(
                "Twelve kilos more", 1, "11:15", 303, fuel_kg=36.0, said={"tyres": _tyres("A", 12)}
            ),
            SeasonRun(
                "Fuel out, bar up, pressures down",
                2,
                "14:05",
                304,
                said={
                    "tyres": _tyres("A", 18),
                    "record": {"Bar front": "5 of 5", "Pressure front": "1.50 bar warm"},
                    "remarks": "Two things at once, for want of time. Better in Windpump, or is "
                    "it the fuel?",
                },
            ),
            SeasonRun("Bar back", 2, "15:00", 305, said={"tyres": _tyres("A", 24)}),
            SeasonRun(
                "New set",
                2,
                "16:10",
                306,
                said={
                    "tyres": _tyres("B", 0),
                    "seen": [
                        {
                            "corner": "Marl Pit",
                            "fault": "over_slowed",
                            "remark": "waits for the kerb",
                        }
                    ],
                },
            ),
        ),
        "Ring newly laid between Saltern and Windpump.",
    ),
    SeasonEvent(
        "heath-club-day",
        "Crake Heath, club day",
        "dunlin-heath",
        "2025-05-10",
        ("practice", "qualifying", "race"),
        Truth(0.935, 1.0, 1.07, 0.95, 1.01, 0.5, -0.4),
        (
            SeasonRun("Out of the box", 1, "09:10", 311, 7),
            SeasonRun("Second run", 1, "10:00", 312, 7),
            SeasonRun(
                "Third run",
                1,
                "10:50",
                313,
                7,
                said={"remarks": "Slower than the plan everywhere. Is it the car or the road?"},
            ),
            SeasonRun("Qualifying", 2, "13:20", 314, 6),
            SeasonRun(
                "Race, first laps",
                3,
                "15:30",
                typed="o\n1:02.4 t\n1:01.9 t\n1:01.2\n1:00.9\n1:01.0\n1:00.8\n1:01.1\ni",
                said={
                    "seen": [
                        {"corner": "Harrow", "braking_said": "95", "fault": "braked_early"},
                    ],
                    "remarks": "No logger in the race.",
                },
            ),
        ),
    ),
    SeasonEvent(
        "heath-damp",
        "Crake Heath, damp morning",
        "dunlin-heath-damp",
        "2025-06-14",
        ("test",),
        Truth(1.03, 1.0, 0.99, 1.0, 1.0, -0.6, 1.0, 0.985),
        (
            SeasonRun("Wet line", 1, "09:00", 321),
            SeasonRun("Drying", 1, "09:40", 322),
            SeasonRun(
                "Pressures down",
                1,
                "10:20",
                323,
                said={"record": {"Pressure front": "1.1 bar warm"}},
            ),
            SeasonRun(
                "Last before the rain",
                1,
                "11:00",
                324,
                said={
                    "seen": [{"corner": "Quarry", "fault": "ran_wide", "remark": "standing water"}]
                },
            ),
        ),
        "Damp all morning, a dry line from the third run on.",
    ),
    SeasonEvent(
        "fen-weekend",
        "Sallow Fen, race weekend",
        "k4-dry",
        "2025-07-19",
        ("practice", "qualifying", "race"),
        Truth(1.012, 0.985, 0.975, 1.01, 1.0, 1.3, -0.8),
        (
            SeasonRun(
                "Practice 1",
                1,
                "10:00",
                331,
                5,
                places=False,
                speed_factor=1.022,
                said={"remarks": "Receiver dead all weekend: distance from wheel speed only."},
            ),
            SeasonRun("Practice 2", 1, "11:30", 332, 5, places=False, speed_factor=1.022),
            SeasonRun("Qualifying, first set", 2, "14:00", 333, 4, None, False, 1.022),
            SeasonRun("Qualifying, second set", 2, "14:30", 334, 4, None, False, 1.022),
            SeasonRun("Race, first stint", 3, "10:15", 335, 6, 52.0, False, 1.022),
        ),
    ),
    SeasonEvent(
        "fen-motorcycles",
        "Sallow Fen, motorcycle days",
        "sanderling-fen",
        "2025-08-23",
        ("practice", "practice"),
        Truth(0.975, 1.0, 1.04, 1.02, 1.0, 0.4, 1.1),
        (
            SeasonRun("Saturday 1", 1, "09:30", 341, 4),
            SeasonRun("Saturday 2", 1, "11:00", 342, 4),
            SeasonRun(
                "Saturday 3", 1, "14:30", 343, 4, said={"record": {"Shock rebound": "14 clicks"}}
            ),
            SeasonRun("Sunday 1", 2, "09:30", 344, 4),
            SeasonRun("Sunday 2", 2, "11:00", 345, 4),
        ),
    ),
)


def season_log(event: SeasonEvent, number: int) -> bytes:
    """The log of an event's run (0 is the first), as its logger wrote it."""
    return gzip.decompress(_file(event, number, "csv.gz"))


def season_measured(event: SeasonEvent, number: int) -> dict[str, Any]:
    """What was measured in the log of an event's run."""
    value: dict[str, Any] = json.loads(gzip.decompress(_file(event, number, "json.gz")))
    return value


def _file(event: SeasonEvent, number: int, ending: str) -> bytes:
    folder = files(__package__) / "data" / "season"
    return (folder / f"{event.id}-{number + 1}.{ending}").read_bytes()
