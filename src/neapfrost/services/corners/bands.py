"""The band of a plan's figures: a batch of laps with what is uncertain drawn at random."""

from collections.abc import Callable
from functools import lru_cache
from threading import Lock

import numpy as np
from pydantic import BaseModel

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.solve import never, solve
from neapfrost.core.studies.bands import DOUBT_SHARE, Bands, Drawn, draw, drawn_laps
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.laps.planned import planned
from neapfrost.services.laps.predict import TRACE_POINTS, Prediction, recall
from neapfrost.services.laps.uncertainty import Band, uncertainty_of

#: The laps of a batch are driven on this grid; their spread is laid about the plan's own figures.
BATCH_STEP_M = 2.0


class GearShare(BaseModel):
    """Share of the laps in a gear."""

    gear: int
    share_pct: float


class CornerBand(BaseModel):
    """A corner's bands; the brake start is null where fewer than nine in ten laps brake.

    `gear_in_doubt` says that more than one lap in ten takes another gear than the plan.
    """

    min_speed_ms: Band
    brake_start_to_corner_m: Band | None
    braked_pct: float
    gears: list[GearShare]
    gear_in_doubt: bool


class BandTrace(BaseModel):
    """The band of the speed at the positions of the lap's trace."""

    s_m: list[float]
    low_v_ms: list[float]
    high_v_ms: list[float]


class PlanBands(BaseModel):
    """10-90 bands of a plan: so many laps, drawn with a seed, give the same ones again."""

    laps: int
    seed: int
    lap_time_s: Band
    sector_times_s: list[Band]
    corners: list[CornerBand]
    trace: BandTrace


def plan_bands(plan: PlanDocument, stopped: Callable[[], bool] = never) -> PlanBands:
    """The bands of a plan, kept for when they are asked for again.

    Raises InputRefused as `recall` does, and Stopped when `stopped` says so in between.
    """
    key = plan.model_dump_json()
    with _lock:
        known = _kept.get(key)
    if known is not None:
        return known
    found = _bands_of(plan, stopped)
    with _lock:
        if len(_kept) >= KEPT_MOST:
            _kept.pop(next(iter(_kept)))
        _kept[key] = found
    return found


KEPT_MOST = 24
_kept: dict[str, PlanBands] = {}
_lock = Lock()


def _bands_of(plan: PlanDocument, stopped: Callable[[], bool]) -> PlanBands:
    prediction = recall(plan, TRACE_POINTS)
    drive = _coarse(plan.model_dump_json())
    wanted, count = plan.uncertainty, len(drive.path.corners)
    draws = draw(uncertainty_of(plan), count, wanted.laps, wanted.seed)
    certain = Drawn(1.0, 1.0, 1.0, (0.0, 0.0), np.ones(count))
    bands = drawn_laps(drive, draws, stopped)
    middle = drawn_laps(drive, [certain, certain], stopped)
    if bands is None or middle is None:
        raise InputRefused(
            [
                Fault(
                    "uncertainty",
                    "almost no lap is possible this far from the plan's figures; enter smaller "
                    "uncertainties",
                )
            ]
        )
    return _told(prediction, bands, middle, wanted.seed, drive.path.s_m)


@lru_cache(maxsize=8)
def _coarse(plan_json: str) -> Drive:
    """A plan's drive on the batch's grid, with its orders where the plan's own lap has them."""
    made = planned(PlanDocument.model_validate_json(plan_json), BATCH_STEP_M)
    return solve(made.drive).drive


def _told(
    prediction: Prediction, bands: Bands, middle: Bands, seed: int, grid: Floats
) -> PlanBands:
    """The spread of the batch about its own middle lap, laid about the plan's figures."""
    result = prediction.result

    def about(own: float, rows: Floats, centre: float) -> Band:
        return Band(low=own + float(rows[0]) - centre, high=own + float(rows[2]) - centre)

    corners = []
    for number, corner in enumerate(result.corners):
        brake = None
        rows = bands.brake_start_to_corner_m[:, number]
        centre = middle.brake_start_to_corner_m[1, number]
        if corner.brake_start_to_corner_m is not None and np.isfinite([*rows, centre]).all():
            brake = about(corner.brake_start_to_corner_m, rows, float(centre))
        gears = bands.gears[number]
        # The plan's own gear at the slowest point, as the batch reads it.
        own_gear = max(middle.gears[number], key=lambda gear: middle.gears[number][gear])
        corners.append(
            CornerBand(
                min_speed_ms=about(
                    corner.min_speed_ms,
                    bands.min_speed_ms[:, number],
                    float(middle.min_speed_ms[1, number]),
                ),
                brake_start_to_corner_m=brake,
                braked_pct=100.0 * float(bands.braked_share[number]),
                gears=[
                    GearShare(gear=gear, share_pct=100.0 * share) for gear, share in gears.items()
                ],
                gear_in_doubt=1.0 - gears.get(own_gear, 0.0) > DOUBT_SHARE,
            )
        )
    at = np.array(result.trace.s_m)
    return PlanBands(
        laps=bands.laps,
        seed=seed,
        lap_time_s=about(result.lap_time_s, bands.lap_time_s, float(middle.lap_time_s[1])),
        sector_times_s=[
            about(own, bands.sector_times_s[:, n], float(middle.sector_times_s[1, n]))
            for n, own in enumerate(result.sector_times_s)
        ],
        corners=corners,
        trace=_trace(at, np.array(result.trace.v_ms), bands, middle, grid),
    )


def _trace(at: Floats, v: Floats, bands: Bands, middle: Bands, grid: Floats) -> BandTrace:
    def edge(row: int) -> list[float]:
        spread = np.interp(at, grid, bands.speed_ms[row] - middle.speed_ms[1])
        values: list[float] = np.round(v + spread, 3).tolist()
        return values

    return BandTrace(s_m=at.tolist(), low_v_ms=edge(0), high_v_ms=edge(2))
