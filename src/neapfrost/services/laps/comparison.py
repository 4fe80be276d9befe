"""A predicted lap against another one, as the interface shows it."""

import numpy as np
from pydantic import BaseModel

from neapfrost.core.lap.compare import CornerDifference, compare_laps
from neapfrost.core.units import Units
from neapfrost.formats.result import Action, CornerResultPart, Trend
from neapfrost.services.laps.predict import Prediction
from neapfrost.services.words.corners import brake_moved, gear_moved, speed_moved
from neapfrost.services.words.saying import Saying


class CornerComparison(BaseModel):
    """What a corner does otherwise than in the baseline; differences are present minus baseline.

    `braking_earlier_m` is null unless both laps brake. `time_s` runs from lifting for this corner
    to lifting for the next, so that the corners add up to the lap. `…_moved` say it in words.
    """

    base_action: Action
    base_trend: Trend | None
    base_gear_before: int
    base_gear: int
    braking_earlier_m: float | None
    min_speed_ms: float
    exit_speed_ms: float
    time_s: float
    brake_moved: str = ""
    speed_moved: str = ""
    gear_moved: str = ""


class Comparison(BaseModel):
    """The lap against its baseline.

    `base_speed_ms` and `time_s` stand at the positions of the lap's trace. They and `corners` are
    null between different courses, where only the lap times can be set side by side.
    """

    base_lap_time_s: float
    lap_s: float
    sectors_s: list[float]
    time_s: list[float] | None
    base_speed_ms: list[float] | None
    corners: list[CornerComparison] | None


def compare(present: Prediction, base: Prediction, units: Units = "metric") -> Comparison:
    """Set a predicted lap against another, in words of a person's units as well."""
    before_s = base.result.lap_time_s
    at_m = np.array(present.result.trace.s_m)
    difference = compare_laps(present.driven, base.driven, at_m)
    if difference is None:
        return Comparison(
            base_lap_time_s=before_s,
            lap_s=present.result.lap_time_s - before_s,
            sectors_s=[],
            time_s=None,
            base_speed_ms=None,
            corners=None,
        )
    return Comparison(
        base_lap_time_s=before_s,
        lap_s=difference.lap_s,
        sectors_s=list(difference.sectors_s),
        time_s=np.round(difference.time_s, 5).tolist(),
        base_speed_ms=np.round(difference.base_speed_ms, 3).tolist(),
        corners=[
            _told(corner, now, Saying(units))
            for corner, now in zip(difference.corners, present.result.corners, strict=True)
        ],
    )


def _told(corner: CornerDifference, now: CornerResultPart, say: Saying) -> CornerComparison:
    earlier = corner.braking_earlier_m
    return CornerComparison.model_validate(
        {
            **vars(corner),
            "brake_moved": brake_moved(
                now.action, corner.base_action, corner.base_trend, earlier, say
            ),
            "speed_moved": speed_moved(corner.min_speed_ms, say),
            "gear_moved": gear_moved(now.gear, corner.base_gear),
        }
    )
