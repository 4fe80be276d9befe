"""The figures of a lap that a change is weighed by."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.record import Lap, engine_work_j, sector_times_s
from neapfrost.core.trade.stretches import Stretch, stretch_times_s


@dataclass(frozen=True)
class WeighedCorner:
    """What is done at a corner: its minimum [m/s], gear, action, metres from brake to corner."""

    min_speed_ms: float
    gear: int
    action: str
    brake_start_to_corner_m: float | None


@dataclass(frozen=True, eq=False)
class Weighed:
    """A lap in the figures that a change is weighed by.

    Times [s]: `sectors_s`, `stretches_s` (k,); `ends_ms` (k,) are the speeds where those end;
    `top_rpm` is the engine's speed at the top speed; `work_j` the engine's work at its crank;
    `speeds_ms` (b,) at the places asked for.
    """

    lap_time_s: float
    sectors_s: tuple[float, ...]
    stretches_s: Floats
    ends_ms: Floats
    top_speed_ms: float
    top_rpm: float
    work_j: float
    speeds_ms: Floats
    corners: tuple[WeighedCorner, ...]


def weighed(driven: DrivenLap, cut: tuple[Stretch, ...], at_m: Sequence[float] = ()) -> Weighed:
    """A lap weighed over the stretches of another over the same path; speeds at places [m]."""
    lap = driven.lap
    fastest = int(np.argmax(lap.v_ms))
    return Weighed(
        lap_time_s=lap.lap_time_s,
        sectors_s=sector_times_s(lap),
        stretches_s=stretch_times_s(lap, cut),
        ends_ms=_speeds_at(lap, [_on_lap(lap, stretch.to_m) for stretch in cut]),
        top_speed_ms=float(lap.v_ms[fastest]),
        top_rpm=float(lap.rpm[fastest]),
        work_j=engine_work_j(lap, lap.drive.vehicle.engine.efficiency),
        speeds_ms=_speeds_at(lap, at_m),
        corners=tuple(
            WeighedCorner(one.min_speed_ms, one.gear, one.action, one.brake_start_to_corner_m)
            for one in driven.corners
        ),
    )


def _on_lap(lap: Lap, at_m: float) -> float:
    """A place as the lap has it; the end of a lap is its end and not its beginning."""
    length = lap.path.length_m
    return at_m if at_m <= length or not lap.path.closed else at_m - length


def gained_m(own_s: float, rival_s: float, rival_end_ms: float) -> float:
    """Metres that one gains on a rival over a stretch: the time between them at the rival's speed.

    Both enter it at the same moment, each at his own speed; positive where one comes closer.
    """
    return (rival_s - own_s) * rival_end_ms


def gained_by_end_speed_m(own_s: float, own_end_ms: float, rival_end_ms: float) -> float:
    """Metres gained on a rival of whom only the speed at the end of a straight is known.

    He leaves the corner beside one and as quick, and gains speed as evenly: ½ (v − v_r) t.
    """
    return 0.5 * (own_end_ms - rival_end_ms) * own_s


def _speeds_at(lap: Lap, at_m: Sequence[float]) -> Floats:
    """Speeds at places [m/s]: w is linear between the points of a lap."""
    speeds: Floats = np.sqrt(np.interp(np.asarray(at_m, dtype=np.float64), lap.s_m, lap.v_ms**2))
    return speeds
