"""Kinds of vehicles that a first plan begins with: usual figures of each, and its proportions.

They are typical of a kind and of no vehicle; whatever is known better is typed over them.
"""

from dataclasses import dataclass
from typing import Any, Literal, get_args

from neapfrost.core.car.starting_car import CG_HEIGHT_M, WHEELBASE_M
from neapfrost.core.units import KMH_PER_MS

#: The speed at which people state a downforce [m/s].
DOWNFORCE_SPEED_MS = 200.0 / KMH_PER_MS

DrivenWheels = Literal["rear", "front", "all"]
DRIVEN_REAR: dict[DrivenWheels, float] = {"rear": 1.0, "front": 0.0, "all": 0.6}

StartingKind = Literal["car", "kart", "single_seater", "gt", "motorcycle"]


@dataclass(frozen=True)
class Starting:
    """A kind: what it is called, what stands in the form, and what the form does not ask.

    `downforce_kg` is at 200 km/h; `gears` None: as many as are usual.
    """

    label: str
    mass_kg: float
    power_kw: float
    top_speed_kmh: float
    lateral_g: float
    downforce_kg: float
    wheelbase_m: float
    cg_height_m: float
    front: float | None = None
    gears: int | None = None

    @property
    def top_speed_ms(self) -> float:
        """The top speed [m/s]."""
        return self.top_speed_kmh / KMH_PER_MS


CAR = (WHEELBASE_M["car"], CG_HEIGHT_M["car"])
BIKE = (WHEELBASE_M["motorcycle"], CG_HEIGHT_M["motorcycle"])
STARTING: dict[StartingKind, Starting] = {
    "car": Starting("club racer", 1000, 180, 240, 1.2, 0, *CAR),
    "kart": Starting("kart", 85, 21, 115, 1.9, 0, 1.05, 0.22, front=0.43, gears=1),
    "single_seater": Starting("single-seater", 570, 200, 255, 1.6, 450, 2.75, 0.30, front=0.45),
    "gt": Starting("GT car", 1250, 400, 285, 1.45, 550, 2.65, 0.43, front=0.49),
    "motorcycle": Starting("motorcycle", 175, 110, 270, 1.15, 0, *BIKE, front=0.51),
}


def rear_drive(kind: StartingKind, driven: DrivenWheels) -> float:
    """The rear axle's share of the drive."""
    return 1.0 if kind == "motorcycle" else DRIVEN_REAR[driven]


def usual_front(kind: StartingKind, rear_drive: float) -> float:
    """Weight share of the front axle: a driven axle carries the engine more often than not."""
    stated = STARTING[kind].front
    return 0.62 - 0.14 * rear_drive if stated is None else stated


def model_kind(kind: StartingKind) -> Literal["car", "motorcycle"]:
    """What the model takes a kind of vehicle for."""
    return "motorcycle" if kind == "motorcycle" else "car"


def starting_table() -> list[dict[str, Any]]:
    """Each kind as the first steps show it, in their order."""
    return [
        {
            "kind": kind,
            "label": STARTING[kind].label,
            "two_wheels": kind == "motorcycle",
            "mass": STARTING[kind].mass_kg,
            "power": STARTING[kind].power_kw,
            "topSpeed": STARTING[kind].top_speed_ms,
            "lateral": STARTING[kind].lateral_g,
            "downforce": STARTING[kind].downforce_kg,
        }
        for kind in get_args(StartingKind)
    ]
