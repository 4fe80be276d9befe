"""The plan document: one JSON object that holds everything that determines a lap."""

from typing import Annotated, Literal

from pydantic import Field

from neapfrost.core.constants import SEGMENTS_MOST, STATIONS_MOST
from neapfrost.formats.car_document import CarDocument
from neapfrost.formats.document import Bank, Document, Grade, Grip, Key, Name, Position, Seconds
from neapfrost.formats.result import LineEnd

PLAN_FORMAT = "neapfrost/plan"
PLAN_VERSION = 1

#: One standard deviation of a surveyed figure: of a grade in percentage points, of the others in
#: per cent of themselves. None: the usual one; 0: known for certain.
Uncertainty = Annotated[float, Field(ge=0, le=50)]


#: Marks a piece of road that several layouts of one venue have in common.
Stretch = Annotated[str, Field(min_length=1, max_length=60)]


class StraightDocument(Document):
    """A straight."""

    kind: Literal["straight"]
    length_m: Annotated[float, Field(gt=0, le=50_000)]
    grade_pct: Grade = 0.0
    grip_factor: Grip = 1.0
    width_m: Annotated[float, Field(gt=0, le=200)] | None = None
    length_uncertainty_pct: Uncertainty | None = None
    grade_uncertainty_pct: Uncertainty | None = None
    stretch: Stretch | None = None


class CornerDocument(Document):
    """A corner as driven; `banking_deg` is positive when it helps this corner."""

    kind: Literal["corner"]
    name: Name
    direction: Literal["left", "right"]
    radius_m: Annotated[float, Field(gt=1, le=20_000)]
    angle_deg: Annotated[float, Field(gt=0, le=360)]
    end_radius_m: Annotated[float, Field(gt=1, le=20_000)] | None = None
    transition_m: Annotated[float, Field(ge=0, le=5_000)] = 0.0
    end_transition_m: Annotated[float, Field(ge=0, le=5_000)] | None = None
    banking_deg: Bank = 0.0
    grade_pct: Grade = 0.0
    grip_factor: Grip = 1.0
    width_m: Annotated[float, Field(gt=0, le=200)] | None = None
    radius_uncertainty_pct: Uncertainty | None = None
    angle_uncertainty_pct: Uncertainty | None = None
    grade_uncertainty_pct: Uncertainty | None = None
    note: Annotated[str, Field(max_length=500)] = ""
    stretch: Stretch | None = None


SegmentDocument = Annotated[StraightDocument | CornerDocument, Field(discriminator="kind")]


HalfWidth = Annotated[float, Field(gt=0, le=100)]


class StretchDocument(Document):
    """A named corner of a path given by stations."""

    name: Name
    begins_at_m: Position
    ends_at_m: Position


class StationsDocument(Document):
    """A driven path or a road's middle as measured, linear between stations.

    Of a road the widths are those from the middle to each edge; where they are not given, half of
    the circuit's `width_m`.
    """

    at_m: Annotated[list[Position], Field(min_length=2, max_length=STATIONS_MOST)]
    curvature_per_m: list[Annotated[float, Field(ge=-1, le=1)]]
    bank_left_deg: list[Bank] | None = None
    grade_pct: list[Grade] | None = None
    grip_factor: list[Grip] | None = None
    width_left_m: list[HalfWidth] | None = None
    width_right_m: list[HalfWidth] | None = None
    road_at_m: list[Position] | None = None
    offset_m: list[Annotated[float, Field(ge=-200, le=200)]] | None = None
    corners: list[StretchDocument] | None = None


class ElevationPoint(Document):
    """Height of the road at a position."""

    at_m: Position
    z_m: Annotated[float, Field(ge=-1_000, le=9_000)]


class BoardDocument(Document):
    """A board beside the road, for one corner."""

    label: Annotated[str, Field(min_length=1, max_length=40)]
    corner: Name | None = None
    at_m: Position


class ReferenceDocument(Document):
    """Something else to brake by: the end of a kerb, a bridge, a seam."""

    label: Annotated[str, Field(min_length=1, max_length=80)]
    corner: Name | None = None
    at_m: Position
    note: Annotated[str, Field(max_length=500)] = ""


class EdgeDocument(Document):
    """What lies along one edge of a road between two positions, and what a vehicle may do there.

    A kerb lies outside the edge, dust inside it, each `width_m` wide; a wall stands on it, and the
    vehicle keeps `distance_m` from it. On a closed circuit a stretch may end before it begins.
    """

    side: Literal["left", "right"]
    kind: Literal["kerb", "dust", "wall"]
    from_m: Position
    to_m: Position
    width_m: Annotated[float, Field(ge=0, le=20)] = 1.0
    use: Literal["take", "straddle", "keep_off"] = "take"
    grip_factor: Annotated[float, Field(gt=0, le=1)] = 0.85
    distance_m: Annotated[float, Field(ge=0, le=20)] = 0.5


Note = Annotated[str, Field(max_length=200)]


class CornerNoteDocument(Document):
    """What one knows of a corner's place: where to look, its kerb and limit, what lies beside it.

    `blind`, `wall` and `no_run_off` ask for extra margin on the first laps.
    """

    corner: Annotated[str, Field(min_length=1, max_length=200)]
    look_at: Note = ""
    kerb: Note = ""
    limit: Note = ""
    blind: bool = False
    wall: bool = False
    no_run_off: bool = False


class LaneDocument(Document):
    """A lane of a banked corner: metres outside of the stated radius, its own bank and grip.

    `bank_change_deg` is added to the stated bank, `grip_factor` multiplies the surface's grip.
    """

    name: Annotated[Name, Field(min_length=1)]
    outside_m: Annotated[float, Field(ge=-40, le=40)] = 0.0
    bank_change_deg: Annotated[float, Field(ge=-30, le=30)] = 0.0
    grip_factor: Grip = 1.0


BoardUnit = Literal["m", "yd", "ft"]


class CircuitDocument(Document):
    """A closed circuit or an open course, by segments or by stations.

    Layouts of one venue name the same `venue`; segments of the same `stretch` are the same road.
    `segments_describe` says of stations as well what they are: the driven path, or a road's middle.
    A stop costs `pit_loss_s` without standing; where that is null it follows from the pit lane's
    length, its limit, and where it leaves the road and comes back.
    """

    name: Name
    venue: Name | None = None
    closed: bool = True
    width_m: Annotated[float, Field(gt=0, le=200)] = 12.0
    north_deg: Annotated[float, Field(ge=-360, le=360)] = 0.0
    altitude_m: Annotated[float, Field(ge=-500, le=6_000)] = 0.0
    start_speed_ms: Annotated[float, Field(ge=0, le=150)] | None = None
    segments_describe: Literal["driven", "road"] = "driven"
    segments: Annotated[list[SegmentDocument], Field(max_length=SEGMENTS_MOST)] | None = None
    grade_blend_m: Annotated[float, Field(ge=1, le=2_000)] = 60.0
    stations: StationsDocument | None = None
    elevation: Annotated[list[ElevationPoint], Field(max_length=20_000)] | None = None
    sectors_at_m: Annotated[list[Position], Field(max_length=50)] = Field(default_factory=list)
    boards: Annotated[list[BoardDocument], Field(max_length=1_000)] = Field(default_factory=list)
    board_unit: BoardUnit = "m"
    references: Annotated[list[ReferenceDocument], Field(max_length=1_000)] = Field(
        default_factory=list
    )
    start_lat_deg: Annotated[float, Field(ge=-90, le=90)] | None = None
    start_lon_deg: Annotated[float, Field(ge=-180, le=180)] | None = None
    pit_loss_s: Annotated[float, Field(ge=0, le=600)] | None = None
    pit_lane_m: Annotated[float, Field(gt=0, le=5_000)] | None = None
    pit_limit_ms: Annotated[float, Field(gt=1, le=100)] | None = None
    pit_entry_at_m: Position | None = None
    pit_exit_at_m: Position | None = None
    lanes: Annotated[list[LaneDocument], Field(max_length=8)] = Field(default_factory=list)
    edges: Annotated[list[EdgeDocument], Field(max_length=1_000)] = Field(default_factory=list)
    corner_notes: Annotated[list[CornerNoteDocument], Field(max_length=SEGMENTS_MOST)] = Field(
        default_factory=list
    )
    note: Annotated[str, Field(max_length=2000)] = ""


class ConditionsDocument(Document):
    """Air, wind, track and tyres. `pressure_hpa` null: the standard atmosphere's at the altitude.

    `tyre_lap` is the lap on these tyres (0 the out lap), null: warm and new. It counts with a
    compound. `grip_factor` is the track's when it is rubbered in, `rubber_factor` the share of that
    which it has now.
    """

    name: Name = ""
    air_temp_c: Annotated[float, Field(ge=-40, le=60)] = 20.0
    pressure_hpa: Annotated[float, Field(ge=400, le=1_100)] | None = None
    humidity_pct: Annotated[float, Field(ge=0, le=100)] = 50.0
    wind_speed_ms: Annotated[float, Field(ge=0, le=60)] = 0.0
    wind_from_deg: Annotated[float, Field(ge=-360, le=360)] = 0.0
    track_temp_c: Annotated[float, Field(ge=-40, le=90)] = 28.0
    wetness_pct: Annotated[float, Field(ge=0, le=100)] = 0.0
    grip_factor: Grip = 1.0
    rubber_factor: Annotated[float, Field(ge=0.5, le=1.1)] = 1.0
    tyre_lap: Annotated[int, Field(ge=0, le=500)] | None = None


class UseDocument(Document):
    """Share of the tyres' limit that the driver uses."""

    braking: Annotated[float, Field(gt=0, le=1.2)] = 1.0
    cornering: Annotated[float, Field(gt=0, le=1.2)] = 1.0
    traction: Annotated[float, Field(gt=0, le=1.2)] = 1.0


class DriverDocument(Document):
    """How the vehicle is driven."""

    use: UseDocument = Field(default_factory=UseDocument)
    entry_exponent: Annotated[float, Field(ge=1, le=4)] = 2.0
    exit_exponent: Annotated[float, Field(ge=1, le=4)] = 2.0
    brake_ramp_s: Seconds = 0.2
    transition_s: Seconds = 0.1
    lift_threshold_ms: Annotated[float, Field(ge=0, le=20)] = 1.5
    gear_school: Literal["fastest", "lower", "higher"] = "fastest"


LineKind = Literal["centre", "short", "widest", "late_apex", "fastest"]


class LineCornerDocument(Document):
    """What is asked of the line at one corner, by its number (0 is the first) and its name.

    With a name it stays with the corner of that name when others are put in or taken out.
    Where its apex lies as a share of the turned angle, and the driven radius at its tightest.
    """

    corner: Annotated[int, Field(ge=0, le=SEGMENTS_MOST)]
    name: Name | None = None
    apex_no_earlier_pct: Annotated[float, Field(ge=0, le=100)] | None = None
    apex_no_later_pct: Annotated[float, Field(ge=0, le=100)] | None = None
    radius_m: Annotated[float, Field(gt=2.5, le=20_000)] | None = None


class LineHoldDocument(Document):
    """The line held at an offset from the road's middle (left positive) at a road position."""

    at_m: Position
    offset_m: Annotated[float, Field(ge=-100, le=100)]


class ComputedLineDocument(Document):
    """A line as it was computed, node by node along the road.

    `edges_m` are the positions where the road's segments met then; `made_for` marks what the line
    was computed for, part by part; `ended` how the search ended, null where that was not kept.
    """

    kind: LineKind
    ended: LineEnd | None = None
    road_at_m: Annotated[list[Position], Field(min_length=2, max_length=STATIONS_MOST)]
    offset_m: list[Annotated[float, Field(ge=-100, le=100)]]
    heading_rad: list[Annotated[float, Field(ge=-1.5, le=1.5)]]
    curvature_per_m: list[Annotated[float, Field(ge=-1, le=1)]]
    edges_m: Annotated[list[Position], Field(max_length=SEGMENTS_MOST + 1)]
    made_for: dict[Key, Annotated[str, Field(max_length=64)]] = Field(default_factory=dict)


class LineDocument(Document):
    """The line wanted on a road, and the line as last computed."""

    kind: LineKind = "fastest"
    margin_m: Annotated[float, Field(ge=0, le=20)] = 0.0
    corners: Annotated[list[LineCornerDocument], Field(max_length=SEGMENTS_MOST)] = Field(
        default_factory=list
    )
    holds: Annotated[list[LineHoldDocument], Field(max_length=1_000)] = Field(default_factory=list)
    computed: ComputedLineDocument | None = None


class CornerOrderDocument(Document):
    """What is driven otherwise at one corner, by its name and number (0 is the first).

    `braking` is the share of the possible braking that is used on the way there, `entry_exponent`
    how braking is combined with cornering, `grip_factor` multiplies the surface's grip in the
    corner. `driven_radius_m` is for driven segments; a road's line has wishes of its own.
    """

    corner: Annotated[int, Field(ge=0, le=SEGMENTS_MOST)]
    name: Name
    gear: Annotated[int, Field(ge=1, le=16)] | None = None
    braking: Annotated[float, Field(ge=0.2, le=1)] | None = None
    entry_exponent: Annotated[float, Field(ge=1, le=4)] | None = None
    grip_factor: Annotated[float, Field(ge=0.2, le=2)] | None = None
    driven_radius_m: Annotated[float, Field(gt=1, le=20_000)] | None = None


class UncertaintyDocument(Document):
    """Uncertainty: half-widths within which the truth lies four times in five.

    Grip, downforce, power and wind are common to the lap; each corner's radius is its own.
    """

    grip_pct: Annotated[float, Field(ge=0, le=30)] = 3.0
    downforce_pct: Annotated[float, Field(ge=0, le=50)] = 5.0
    power_pct: Annotated[float, Field(ge=0, le=30)] = 2.0
    wind_ms: Annotated[float, Field(ge=0, le=20)] = 1.0
    radius_pct: Annotated[float, Field(ge=0, le=30)] = 2.0
    laps: Annotated[int, Field(ge=20, le=1_000)] = 200
    seed: Annotated[int, Field(ge=0, le=1_000_000)] = 1


Margin = Annotated[float, Field(ge=0, le=300)]


class FirstLapsDocument(Document):
    """How many metres the brakes come earlier than planned on the first laps, at the least [m].

    They do not shrink where less grip also means that one arrives slower.
    """

    first_m: Margin = 15.0
    second_m: Margin = 10.0
    later_m: Margin = 5.0


class FlapZoneDocument(Document):
    """Where a flap may be open, from one place of the lap to another [m]."""

    from_m: Position
    to_m: Position


Laps = Annotated[int, Field(ge=1, le=2_000)]


class RaceDocument(Document):
    """What is otherwise in a race than on this lap, and the race's own rules; all are the user's.

    The race ends by `laps`, `distance_km` or `minutes`, whichever comes first; without any of them
    it has so many laps as are usual. `fuel_kg` null: a full tank. Shares left: of the grip on worn
    tyres; of downforce in the corners and drag before them close behind another vehicle, which
    come back over `wake_m`.

    Fuel: laps behind the car that leads to the start, and behind a slow car, take their shares of a
    racing lap's fuel and of its time. A stop stands for tyres, for litres (null: none may be taken
    in), at once or one after the other, and at least `stop_least_s`. `null` leaves a rule out:
    stops from lap to lap, so many at least and at most, compounds, the longest drive of one driver
    and the rest between two of his.
    """

    laps: Laps | None = None
    distance_km: Annotated[float, Field(gt=0, le=20_000)] | None = None
    minutes: Annotated[float, Field(gt=0, le=3_000)] | None = None
    fuel_kg: Annotated[float, Field(ge=0, le=500)] | None = None
    grip_left_pct: Annotated[float, Field(ge=50, le=100)] = 95.0
    downforce_left_pct: Annotated[float, Field(ge=0, le=100)] = 75.0
    drag_left_pct: Annotated[float, Field(ge=20, le=100)] = 85.0
    wake_m: Annotated[float, Field(gt=0.5, le=500)] = 40.0
    gap_s: Annotated[float, Field(gt=0, le=10)] = 0.6
    later_braking_m: Annotated[float, Field(ge=0, le=100)] = 8.0
    inside_radius_pct: Annotated[float, Field(ge=40, le=100)] = 88.0
    laps_in_hand: Annotated[float, Field(ge=0, le=20)] = 1.0
    formation_laps: Annotated[float, Field(ge=0, le=10)] = 1.0
    formation_fuel_pct: Annotated[float, Field(ge=0, le=150)] = 60.0
    slow_laps: Annotated[int, Field(ge=0, le=500)] = 0
    slow_fuel_pct: Annotated[float, Field(ge=0, le=150)] = 55.0
    slow_time_pct: Annotated[float, Field(ge=100, le=1_000)] = 145.0
    slow_phase_laps: Laps = 4
    tyres_s: Annotated[float, Field(ge=0, le=600)] = 12.0
    litres_per_s: Annotated[float, Field(gt=0, le=100)] | None = None
    stop_at_once: bool = False
    stop_least_s: Annotated[float, Field(ge=0, le=3_600)] = 0.0
    stop_from_lap: Laps | None = None
    stop_to_lap: Laps | None = None
    stops_least: Annotated[int, Field(ge=0, le=40)] | None = None
    stops_most: Annotated[int, Field(ge=0, le=40)] | None = None
    compounds_least: Annotated[int, Field(ge=1, le=6)] | None = None
    keep_tyres: bool = False
    drivers: Annotated[int, Field(ge=1, le=10)] = 1
    drive_longest_min: Annotated[float, Field(gt=0, le=3_000)] | None = None
    rest_least_min: Annotated[float, Field(gt=0, le=3_000)] | None = None
    rival_lap: Laps | None = None
    rival_gap_s: Annotated[float, Field(ge=-600, le=600)] = 0.0
    rival_pace_s: Annotated[float, Field(ge=-60, le=60)] = 0.0
    starts_at: Annotated[str, Field(max_length=40)] | None = None
    flap_zones: Annotated[list[FlapZoneDocument], Field(max_length=20)] = Field(
        default_factory=list
    )


class PlanDocument(Document):
    """Everything that determines a lap; `line` is for a road, `setup` one of the car's by name."""

    format: Literal["neapfrost/plan"]
    version: Literal[1]
    name: Name = ""
    car: CarDocument
    circuit: CircuitDocument
    conditions: ConditionsDocument = Field(default_factory=ConditionsDocument)
    driver: DriverDocument = Field(default_factory=DriverDocument)
    line: LineDocument | None = None
    setup: Name | None = None
    corners: Annotated[list[CornerOrderDocument], Field(max_length=SEGMENTS_MOST)] = Field(
        default_factory=list
    )
    uncertainty: UncertaintyDocument = Field(default_factory=UncertaintyDocument)
    first_laps: FirstLapsDocument = Field(default_factory=FirstLapsDocument)
    race: RaceDocument = Field(default_factory=RaceDocument)
