"""Lanes of a banked circuit: the lap in each, in lines that change lanes, and over a long run."""

from dataclasses import dataclass, replace

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.compare import DrivenLap, same_places
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.record import time_at
from neapfrost.core.lap.solve import drive_lap
from neapfrost.core.path.build import Path, build_path
from neapfrost.core.race.lanes import Lane, in_lane, in_plan
from neapfrost.core.race.tyre_work import tyre_work
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_records import circuit_record
from neapfrost.services.laps.planned import planned
from neapfrost.services.race.laps import tyre_figures, without_compound
from neapfrost.services.race.tyres import own_tyre, race_tyres
from neapfrost.services.trade.run import Course, Run
from neapfrost.services.words.race import describe_lanes

#: Laps of a run where nobody says how many.
USUAL_RUN = 25
#: Ages of a set at which a lap is solved, as shares of the run; between them it is read.
AT_AGES = (0.0, 0.5, 1.0)
#: Places of the lap at which a line is drawn.
PLACES = 240
#: Throttle of a half lift, and effort of a dragged brake.
HALF_THROTTLE, DRAGGED = 0.5, 0.3
#: Speed to shed up to which the throttle alone is closed, where nobody brakes [m/s].
NEVER_BRAKED_MS = 20.0


class LanesRequest(BaseModel):
    """Laps of a run on one set."""

    model_config = ConfigDict(extra="forbid")

    laps: int = Field(default=USUAL_RUN, ge=2, le=500)


class LanePoint(BaseModel):
    """A lap of a run: which, its time, and where the throttle is shut before each corner [m].

    Null where it is not.
    """

    lap: int
    time_s: float
    lift_to_corner_m: list[float | None]
    min_speed_ms: list[float]


class LaneAlong(BaseModel):
    """A line in plan [m], and the time it has lost so far to the quickest run's first lap [s]."""

    x_m: list[float]
    y_m: list[float]
    lost_s: list[float]


class LaneLine(BaseModel):
    """A way round: a lane, or entered in one and left in another.

    Energy into each tyre in a lap [kJ], how evenly axles and sides share it, the fade that comes
    of it, and the time of the whole run. `run_lost_s` is what it has lost to the quickest run
    before its first lap and after each.
    """

    name: str
    lap_s: float
    behind_s: float
    length_m: float
    each_kj: list[float]
    front_pct: float
    right_pct: float
    fade_pct: float
    run_s: float
    run_behind_s: float
    run_lost_s: list[float]
    points: list[LanePoint]
    along: LaneAlong


class LiftWay(BaseModel):
    """A way to slow down for the turns, and its lap."""

    way: str
    lap_s: float | None
    behind_s: float | None


class Lanes(BaseModel):
    """Every way round, the quickest run first; `at_m` are the places of each `along`."""

    laps: int
    at_m: list[float]
    corners: list[str]
    compound: str
    lines: list[LaneLine]
    lifts: list[LiftWay]
    said: list[str]


@dataclass(frozen=True)
class Line:
    """A lane to enter in and one to leave in."""

    enters: Lane
    leaves: Lane

    @property
    def name(self) -> str:
        """The lane, or both."""
        if self.enters == self.leaves:
            return self.enters.name
        return f"{self.enters.name} to {self.leaves.name}"


@dataclass(frozen=True)
class LaneRun:
    """A line as it is driven: the way, what comes of it, the lap on a fresh set, all its laps."""

    way: Line
    line: LaneLine
    first: DrivenLap
    times_s: Floats


def lanes_of(plan: PlanDocument) -> list[Line]:
    """Every lane, and every change from one to another. Raises InputRefused without lanes."""
    if not plan.circuit.lanes or not plan.circuit.segments:
        raise InputRefused(
            [
                Fault(
                    "circuit.lanes",
                    "this circuit has no lanes; add them, each with its offset from the stated "
                    "radius, its bank and its grip",
                )
            ]
        )
    lanes = [Lane(**lane.model_dump()) for lane in plan.circuit.lanes]
    same = [Line(lane, lane) for lane in lanes]
    return same + [Line(a, b) for a in lanes for b in lanes if a != b]


def lanes_course(plan: PlanDocument, wanted: LanesRequest) -> Course:
    """How the lanes are driven. Raises InputRefused for a circuit without any."""
    lines = lanes_of(plan)

    def drive(run: Run) -> None:
        base = without_compound(plan)
        stated = drive_lap(
            replace(base, path=build_path(circuit_record(plan.circuit)), road=None, lengths_m=None)
        )
        at_m = np.linspace(0.0, stated.lap.path.length_m, PLACES + 1)
        found: list[LaneRun] = []
        told = Lanes(
            laps=wanted.laps,
            at_m=[float(one) for one in at_m],
            corners=[corner.name for corner in base.path.corners],
            compound="",
            lines=[],
            lifts=[],
            said=[],
        )
        for line in lines:
            found.append(lane_run(plan, base, line, wanted.laps))
            told = told.model_copy(update={"lines": _compared(found, stated, at_m)})
            run.count(lanes=told)
        tyres = race_tyres(plan, wanted.laps, 0.0)
        lifts = lift_ways(plan)
        slowing = len({way.lap_s for way in lifts}) > 1
        said = describe_lanes(
            [(one.name, one.run_behind_s, one.behind_s) for one in told.lines], wanted.laps, slowing
        )
        told = told.model_copy(
            update={
                "compound": tyres[own_tyre(plan, tyres)].name,
                "lifts": lifts if slowing else [],
                "said": said,
            }
        )
        run.count(lanes=told)

    return Course(len(lines) + 1, drive)


def _compared(found: list[LaneRun], stated: DrivenLap, at_m: Floats) -> list[LaneLine]:
    """Lines with what they lose to the quickest run and lap so far, the quickest run first."""
    runs = sorted(found, key=lambda one: one.line.run_s)
    best_lap = min(one.line.lap_s for one in found)
    clocks = [
        time_at(one.first.lap, np.interp(at_m, *same_places(stated, one.first))) for one in runs
    ]
    return [
        one.line.model_copy(
            update={
                "run_behind_s": one.line.run_s - runs[0].line.run_s,
                "behind_s": one.line.lap_s - best_lap,
                "run_lost_s": [0.0, *np.cumsum(one.times_s - runs[0].times_s).tolist()],
                "along": _along(one.way, stated.lap.path, at_m, clock - clocks[0]),
            }
        )
        for one, clock in zip(runs, clocks, strict=True)
    ]


def _along(line: Line, path: Path, at_m: Floats, lost_s: Floats) -> LaneAlong:
    x_m, y_m = in_plan(path, line.enters, line.leaves, at_m)
    return LaneAlong(x_m=x_m.tolist(), y_m=y_m.tolist(), lost_s=lost_s.tolist())


def lane_run(plan: PlanDocument, base: Drive, line: Line, laps: int) -> LaneRun:
    """A run in one lane, or in a line that changes lanes."""
    circuit = in_lane(circuit_record(plan.circuit), line.enters, line.leaves)
    path = build_path(circuit)
    drive = replace(base, path=path, road=None, lengths_m=None)
    figures = tyre_figures(plan)
    first = drive_lap(drive)
    work = tyre_work(first.lap, figures)
    tyres = race_tyres(plan, laps, work.total_mj)
    tyre = tyres[own_tyre(plan, tyres)]
    warm = tyre.warm_age
    grips = tyre.grips(laps + warm, plan.conditions.wetness_pct)[warm : warm + laps]
    ages = sorted({min(round(share * (laps - 1)), laps - 1) for share in AT_AGES})
    solved = [_at(drive, float(grips[age])) for age in ages]
    times = np.interp(np.arange(laps), ages, np.array([lap.lap.lap_time_s for lap in solved]))
    each = tyre_work(solved[0].lap, figures).each_j
    total = max(float(each.sum()), 1e-9)
    told = LaneLine(
        name=line.name,
        lap_s=solved[0].lap.lap_time_s,
        behind_s=0.0,
        length_m=path.length_m,
        each_kj=[float(one) / 1000.0 for one in each],
        front_pct=100.0 * float(each[0] + each[1]) / total,
        right_pct=100.0 * float(each[1] + each[3]) / total,
        fade_pct=100.0 * tyre.fade_share,
        run_s=float(times.sum()),
        run_behind_s=0.0,
        run_lost_s=[],
        points=[
            LanePoint(
                lap=age + 1,
                time_s=lap.lap.lap_time_s,
                lift_to_corner_m=[_lift_m(lap, number) for number in range(len(lap.corners))],
                min_speed_ms=[corner.min_speed_ms for corner in lap.corners],
            )
            for age, lap in zip(ages, solved, strict=True)
        ],
        along=LaneAlong(x_m=[], y_m=[], lost_s=[]),
    )
    return LaneRun(line, told, solved[0], times)


def lift_ways(plan: PlanDocument) -> list[LiftWay]:
    """The turns slowed for in several ways, in the plan's own lane."""
    drive = planned(plan).drive
    engine = drive.vehicle.engine
    peak = max(torque for _, torque in engine.torque_curve)
    half = replace(engine, overrun_torque_nm=engine.overrun_nm - HALF_THROTTLE * peak)
    never = replace(drive.driver, lift_threshold_ms=NEVER_BRAKED_MS)
    dragged = replace(
        drive.driver,
        lift_threshold_ms=0.0,
        use=replace(drive.driver.use, braking=DRAGGED * drive.driver.use.braking),
    )
    ways = (
        ("as in the plan", drive),
        ("throttle closed, no brake", replace(drive, driver=never)),
        (
            "half throttle, no brake",
            replace(drive, driver=never, vehicle=replace(drive.vehicle, engine=half)),
        ),
        ("light brake drag", replace(drive, driver=dragged)),
    )
    times: list[float | None] = []
    for _, one in ways:
        try:
            times.append(drive_lap(one).lap.lap_time_s)
        except InputRefused:
            times.append(None)
    known = [time for time in times if time is not None]
    best = min(known) if known else 0.0
    return [
        LiftWay(way=way, lap_s=time, behind_s=None if time is None else time - best)
        for (way, _), time in zip(ways, times, strict=True)
    ]


def _at(drive: Drive, grip: float) -> DrivenLap:
    air = replace(drive.conditions, grip_factor=drive.conditions.grip_factor * grip)
    return drive_lap(replace(drive, conditions=air))


def _lift_m(lap: DrivenLap, number: int) -> float | None:
    corner = lap.corners[number]
    if corner.lift_at_m is None:
        return None
    return float(lap.lap.path.ring.apart(corner.lift_at_m, corner.begins_at_m))
