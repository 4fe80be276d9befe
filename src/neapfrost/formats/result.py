"""The result document: a predicted lap as JSON."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

RESULT_FORMAT = "neapfrost/result"
RESULT_VERSION = 1

Action = Literal["flat", "lift", "brake", "through"]
Trend = Literal["rising", "falling"]
Cause = Literal["front", "rear", "power", "unloading", "lean", "none"]


class ResultPart(BaseModel):
    """What all parts share."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True)


class DownshiftResult(ResultPart):
    """Where a downshift falls, into which gear, and the engine speed after it."""

    at_m: float
    to_gear: int
    rpm_after: float


class BoardCallResult(ResultPart):
    """Brake start said by something one can see."""

    label: str
    metres: float
    side: Literal["before", "past"]


class CornerResultPart(ResultPart):
    """One corner in the order of the driver's actions; null where a figure has no meaning.

    A corner passed `through` has no minimum of its own; `trend` says whether the speed rises or
    falls where it begins.
    """

    name: str
    direction: Literal["left", "right"]
    action: Action
    trend: Trend | None = None
    begins_at_m: float
    ends_at_m: float
    angle_deg: float
    turn_in_at_m: float
    turn_in_speed_ms: float
    apex_at_m: float
    min_speed_ms: float
    min_speed_at_m: float
    limited_by: Cause
    lateral_g: float
    lift_at_m: float | None
    brake_start_at_m: float | None
    brake_start_to_corner_m: float | None
    brake_start_speed_ms: float | None
    braking_distance_m: float | None
    braking_time_s: float | None
    peak_decel_g: float | None
    brake_energy_kj: float | None
    gear_before: int
    gear: int
    downshifts: list[DownshiftResult]
    throttle_at_m: float | None
    full_throttle_at_m: float | None
    exit_speed_ms: float
    time_in_corner_s: float
    board_call: BoardCallResult | None
    grip_left_pct: float | None
    overspeed_ms: float | None
    lean_deg: float | None = None


class Trace(ResultPart):
    """The lap point by point.

    `brake_pct` is of the largest force that brakes and tyres could give straight ahead there.
    """

    s_m: list[float]
    x_m: list[float]
    y_m: list[float]
    curvature_per_m: list[float]
    v_ms: list[float]
    t_s: list[float]
    ax_g: list[float]
    ay_g: list[float]
    gear: list[int]
    rpm: list[float]
    throttle_pct: list[float]
    brake_pct: list[float]


#: How a search for a line ended: it settled; it did not, and the best so far was kept; or a line
#: that was known already was quicker than all it found.
LineEnd = Literal["settled", "best_so_far", "known_line"]
LineName = Literal["centre", "short", "widest", "late_apex", "fastest"]


class LineResult(ResultPart):
    """The line of a lap on a road: which was wanted, which is driven.

    `changed_since` names what is no longer as it was when the line was computed,
    `lost_wishes` the corners for which something is asked and that are no more, `ended` how the
    search for it ended; null where no search is followed or its end was not kept.
    """

    wanted: LineName
    driven: LineName
    changed_since: list[str]
    lost_wishes: list[str] = []
    ended: LineEnd | None = None


class Revisions(ResultPart):
    """Which stored revisions a lap came from; null for a plan that is not stored."""

    car: int | None = None
    circuit: int | None = None
    conditions: int | None = None
    plan: int | None = None


class ResultDocument(ResultPart):
    """A predicted lap."""

    format: Literal["neapfrost/result"] = "neapfrost/result"
    version: Literal[1] = 1
    plan_name: str
    solver_version: str
    step_m: float
    revisions: Revisions = Field(default_factory=Revisions)
    lap_time_s: float
    sector_times_s: list[float]
    length_m: float
    map_gap_m: float
    top_speed_ms: float
    mean_speed_ms: float
    full_throttle_pct: float
    upshift_count: int
    downshift_count: int
    brake_energy_kj: float
    air_density_kgm3: float
    lift_cost_s: Annotated[float, Field(description="What lifting instead of braking costs")]
    fuel_kg: Annotated[float, Field(description="Fuel burnt in the lap")] = 0.0
    fuel_litres: float = 0.0
    corners: list[CornerResultPart]
    line: LineResult | None = None
    trace: Trace
    warnings: list[str]
