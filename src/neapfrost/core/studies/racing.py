"""Racing or qualifying: the same corners with race fuel, worn tyres, close behind another."""

from dataclasses import dataclass, replace

from neapfrost.core.lap.altered_road import following
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.solve import driven as whole
from neapfrost.core.lap.solve import solve_many


@dataclass(frozen=True)
class RaceState:
    """What is otherwise in a race.

    Fuel on board [kg], the share of the grip that worn tyres still have, and the shares of
    downforce (in corners) and drag (before them) that are left close behind another vehicle.
    """

    fuel_kg: float
    grip_left: float = 0.95
    downforce_left: float = 0.75
    drag_left: float = 0.85


@dataclass(frozen=True)
class RacingLaps:
    """The lap with each difference alone and with all of them; None where none is possible."""

    fuel: DrivenLap | None
    tyres: DrivenLap | None
    behind: DrivenLap | None
    together: DrivenLap | None


def racing_laps(driven: DrivenLap, state: RaceState) -> RacingLaps:
    """Drive the lap with race fuel, worn tyres, close behind another, and all three."""
    vehicle = replace(driven.drive.vehicle, fuel_kg=state.fuel_kg)
    worn = replace(
        driven.drive.conditions,
        grip_factor=driven.drive.conditions.grip_factor * state.grip_left,
    )
    path = driven.lap.path
    road = following(path, driven.road, state.downforce_left, state.drag_left)
    drive = driven.drive
    fuel, tyres, behind, together = solve_many(
        [
            replace(drive, vehicle=vehicle),
            replace(drive, conditions=worn),
            replace(drive, road=road),
            replace(drive, vehicle=vehicle, conditions=worn, road=road),
        ],
        whole,
    )
    return RacingLaps(fuel, tyres, behind, together)
