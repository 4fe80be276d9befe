"""A solved lap: how speed, gears and pedals go along it, point by point."""

import math
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import Any

import numpy as np

from neapfrost.core.arrays import Floats, Integers
from neapfrost.core.errors import LapImpossible
from neapfrost.core.kernels import solve as kernel_solve
from neapfrost.core.kernels import zones as z
from neapfrost.core.kernels.along_lap import times_at
from neapfrost.core.kernels.bundles import GEAR, UPSHIFTS, Course
from neapfrost.core.kernels.case import MASS, ROTATING_WHEELS
from neapfrost.core.kernels.profile import (
    ACROSS,
    ALONG,
    ASKED,
    BRAKE,
    FORCE,
    FULL_SHARE,
    LOAD,
    POINT_ROWS,
    RPM,
    SHIFTING,
    SPEED,
    THROTTLE,
    TYRE_LIMITED,
    Grid,
    along_the_lap,
)
from neapfrost.core.kernels.profile import FULL as FULL_THROTTLE
from neapfrost.core.kernels.solve import SolvedLap
from neapfrost.core.kernels.zone_samples import begin_zones, place_samples, unfolded_m
from neapfrost.core.lap.drive import Drive, Packed
from neapfrost.core.lap.pack_road import pack_road, straightened_road
from neapfrost.core.measures import metres
from neapfrost.core.path.build import Path

FULL = FULL_SHARE


@dataclass(frozen=True)
class Zone:
    """A stretch without throttle before a lowest point; positions [m] and times [s] unfolded.

    `lifted` is a zone driven on the closed throttle alone. `gear_before` counts from 1.
    """

    lift_at_m: float
    brake_start_at_m: float
    brake_end_at_m: float
    lifted: bool
    gear_before: int


@dataclass(frozen=True, eq=False)
class Lap:
    """A solved lap at m points from start to finish.

    Shapes (m,): position [m], speed [m/s], time [s], gear (from 1), rpm, along and across
    acceleration [m/s²], throttle and brake as shares, `on_full_throttle` (the pedal is down: full
    drive, a running upshift, or the limiter), `shifting` (an upshift is running), `tyre_limited`
    (the tyres bound the drive), tyre force, what engine and brakes give for it at the wheels, with
    what turns along, and normal force [N]. Values that belong to an interval
    stand at its first point. `step`, `share` place each point on the path's grid. `drive` is what
    it was driven with; `packed` and `solved` are the solver's own arrays, for whoever explains or
    extends the lap.
    """

    drive: Drive
    packed: Packed
    solved: SolvedLap
    s_m: Floats
    v_ms: Floats
    t_s: Floats
    gear: Integers
    rpm: Floats
    ax_ms2: Floats
    ay_ms2: Floats
    throttle: Floats
    on_full_throttle: Floats
    brake: Floats
    shifting: Floats
    tyre_limited: Floats
    force_n: Floats
    asked_n: Floats
    normal_n: Floats
    step: Integers
    share: Floats
    zones: tuple[Zone, ...]
    upshift_count: int
    lift_cost_s: float
    settled: bool

    @property
    def path(self) -> Path:
        """The path it was driven over."""
        return self.drive.path

    @cached_property
    def course(self) -> Course:
        """What it was driven over and under, as the kernels hand it on."""
        work, solved = self.packed, self.solved
        return Course(
            work.case,
            work.road,
            work.lengths,
            solved.limit_w,
            solved.stride_limit_w,
            solved.ceiling_w,
            work.closed,
        )

    @property
    def lap_time_s(self) -> float:
        """Time from start to finish [s]."""
        return float(self.t_s[-1])

    @cached_property
    def braking_n(self) -> Floats:
        """What brakes and a machine that recovers hold the wheels with [N]; (m - 1,) intervals.

        The force at the tyres, and what slows the turning wheels along with it.
        """
        case = self.packed.case
        turned = case[ROTATING_WHEELS] * case[MASS] * self.ax_ms2[:-1]
        held = np.where(self.brake[:-1] > 0.0, -self.force_n[:-1] - turned, 0.0)
        return held.clip(min=0.0)

    @cached_property
    def brake_work_j(self) -> Floats:
        """Work of the brakes from the start of the lap to each point [J]; shape (m,)."""
        braking = self.braking_n
        return np.concatenate(([0.0], np.cumsum(braking * np.diff(self.s_m))))


def lap_of(drive: Drive, work: Packed, solved: SolvedLap) -> Lap:
    """The lap that the kernel has solved, point by point."""
    path, case, road = drive.path, work.case, work.road
    placed = sample_places_m(path, solved)
    s, point_w = _join_points(path, solved, placed)
    step, gear = np.empty(len(s), dtype=np.int64), np.empty(len(s), dtype=np.int64)
    share, rows = np.empty(len(s)), np.empty((POINT_ROWS, len(s)))
    own = road is pack_road(path)[0]
    # Where the zone's own downshifts are made is the business of the corner's result.
    along_the_lap(
        case,
        road,
        _own_straightened(path) if own else straightened_road(road),
        Grid(path.s_m, path.curvature_start, path.curvature_end, solved.track, solved.waiting_s),
        s,
        point_w,
        step,
        share,
        gear,
        rows,
    )
    return Lap(
        drive=replace(drive, road=road),
        packed=work,
        solved=solved,
        s_m=s,
        v_ms=rows[SPEED],
        t_s=_times(np.diff(s), point_w),
        gear=gear,
        rpm=rows[RPM],
        ax_ms2=rows[ALONG],
        ay_ms2=rows[ACROSS],
        throttle=rows[THROTTLE],
        on_full_throttle=rows[FULL_THROTTLE],
        brake=rows[BRAKE],
        shifting=rows[SHIFTING],
        tyre_limited=rows[TYRE_LIMITED],
        force_n=rows[FORCE],
        asked_n=rows[ASKED],
        normal_n=rows[LOAD],
        step=step,
        share=share,
        zones=_zones(path, work, solved, placed),
        upshift_count=int(solved.track[:-1, UPSHIFTS].sum()),
        lift_cost_s=float(solved.lap_time_s - solved.pure_time_s),
        settled=int(solved.status) != kernel_solve.UNSETTLED,
    )


@lru_cache(maxsize=16)
def _own_straightened(path: Path) -> Floats:
    """A path's own packed road with nothing asked for sideways; kept, not to be written to."""
    return straightened_road(pack_road(path)[0])


def lap_time_of(path: Path, solved: SolvedLap, placed: Floats) -> float:
    """Time of a lap [s], the same number that the whole lap has; `placed` are its samples."""
    s, point_w = _join_points(path, solved, placed)
    return float(_times(np.diff(s), point_w)[-1])


def refuse_failure(path: Path, solved: SolvedLap) -> None:
    """Say where and why no lap is possible. Raises LapImpossible."""
    status, at_m = int(solved.status), float(path.s_m[solved.trouble])
    if status == kernel_solve.NO_LIMIT_FOUND:
        raise LapImpossible(
            "circuit",
            f"at {metres(at_m)} the vehicle slides off the bank even at walking pace; the bank "
            "needs more grip than the tyres have",
        )
    if status == kernel_solve.STUCK:
        raise LapImpossible(
            "car",
            f"the vehicle comes to a stop at {metres(at_m)}: its driving force does not "
            "overcome the resistance there",
        )


def _times(length: Floats, w: Floats) -> Floats:
    """Running time [s]: over an interval of constant acceleration 2Δs/(v₁ + v₂)."""
    v = np.sqrt(w)
    return np.concatenate(([0.0], np.cumsum(2.0 * length / np.maximum(v[:-1] + v[1:], 1e-9))))


def places_on_grid(path: Path, s: Floats) -> tuple[Integers, Floats]:
    """Grid step of each position and its share of that step."""
    step = np.clip(path.s_m.searchsorted(s, side="right") - 1, 0, len(path.s_m) - 2)
    share = (s - path.s_m[step]) / (path.s_m[step + 1] - path.s_m[step])
    return step.astype(np.int64), share


def sample_places_m(path: Path, solved: SolvedLap) -> Floats:
    """Positions of the zones' samples, unfolded [m]; shape (m, r), of which the rows count."""
    placed = np.empty(solved.samples.shape[:2])
    place_samples(path.s_m, solved.rows, solved.samples, placed)
    return placed


def node_m(path: Path, node: int) -> float:
    """Position of a node that may lie in another lap [m]."""
    laps, within = divmod(node, len(path.s_m) - 1) if path.closed else (0, node)
    return float(path.s_m[within] + laps * path.length_m)


def node_before(path: Path, at_m: float) -> int:
    """Last grid node at or before a place, unfolded like the place."""
    laps = math.floor(at_m / path.length_m) if path.closed else 0
    within = at_m - laps * path.length_m
    node = int(path.s_m.searchsorted(within + 1e-9, side="right")) - 1
    return node + laps * (len(path.s_m) - 1)


def along_grid(first: Floats, last: Floats, step: Any, share: Any) -> Any:
    """Values at places of the grid, of a column with values at both ends of each step."""
    return first[step] + share * (last[step] - first[step])


def _join_points(path: Path, solved: SolvedLap, placed: Floats) -> tuple[Floats, Floats]:
    """Positions and squared speeds of the lap: the grid's nodes, with each zone's own samples.

    Between lift and ceiling a zone's samples, which are `placed`, replace the nodes; where a zone
    has none, the crossing itself is put in.
    """
    length = path.length_m
    w = solved.node_w
    keep = np.ones(len(path.s_m), dtype=bool)
    extra_s: list[Any] = []
    extra_w: list[Any] = []
    for number, count in enumerate(solved.rows.tolist()):
        if count == 0:
            zone = solved.zones[number]
            k = int(zone[z.FIRST_STEP]) % (len(path.s_m) - 1)
            extra_s.append([unfolded_m(path.s_m, k, max(zone[z.JOIN], 0.0))])
            extra_w.append([zone[z.MET_W]])
            continue
        at = placed[number, :count]
        speed_w = solved.samples[number, :count, z.SPEED_W]
        inside = at[0] > 1e-6 and at[-1] < length - 1e-6
        for shift in (0.0,) if inside else (-length, 0.0, length):
            first = path.s_m.searchsorted(at[0] - 1e-9 - shift, side="right")
            keep[first : path.s_m.searchsorted(at[-1] + 1e-9 - shift)] = False
            # The line itself needs a point when a zone lies across it.
            for line in (0.0, length):
                if shift != 0.0 and at[0] < line + shift < at[-1]:
                    extra_s.append([line])
                    extra_w.append([float(np.interp(line + shift, at, speed_w))])
        extra_s.append(at if inside else path.ring.fold(at))
        extra_w.append(speed_w)
    s = np.concatenate((path.s_m[keep], *extra_s))
    point_w = np.concatenate((w[keep], *extra_w))
    if path.closed and not keep[0]:
        s, point_w = _with_line(s, point_w, length)
    order = np.argsort(s, kind="stable")
    s, point_w = s[order], point_w[order]
    apart = np.concatenate(([True], np.diff(s) > 1e-7))
    apart[-1] = True
    s, point_w = s[apart], point_w[apart]
    if len(s) > 1 and s[-1] - s[-2] <= 1e-7:
        s, point_w = np.delete(s, -2), np.delete(point_w, -2)
    return s, point_w


def _with_line(s: Floats, w: Floats, length: float) -> tuple[Floats, Floats]:
    """Points at both ends of a closed lap where a zone's samples took the line's own nodes."""
    order = np.argsort(s)
    around = np.concatenate((s[order][-1:] - length, s[order], s[order][:1] + length))
    values = np.concatenate((w[order][-1:], w[order], w[order][:1]))
    missing = [line for line in (0.0, length) if not np.any(np.abs(s - line) < 1e-9)]
    return (
        np.concatenate((s, missing)),
        np.concatenate((w, np.interp(missing, around, values))),
    )


def zone_starts_m(path: Path, work: Packed, solved: SolvedLap, placed: Floats) -> Floats:
    """Where each zone's throttle is shut and where its brakes come, unfolded [m]; shape (m, 2)."""
    begins = np.empty((len(solved.zones), 2))
    begin_zones(
        work.case,
        work.road,
        path.s_m,
        solved.zones,
        solved.rows,
        solved.samples,
        placed,
        begins,
    )
    return begins


def _zones(path: Path, work: Packed, solved: SolvedLap, placed: Floats) -> tuple[Zone, ...]:
    found = []
    count = len(path.s_m) - 1
    begins = zone_starts_m(path, work, solved, placed).tolist()
    for number, (zone, (lift, brake)) in enumerate(zip(solved.zones, begins, strict=True)):
        first = solved.samples[number, 0, z.STEP] if solved.rows[number] else zone[z.FIRST_STEP]
        gear = int(solved.track[int(first) % count, GEAR]) + 1
        end = node_m(path, int(zone[z.LAST_NODE]))
        found.append(Zone(lift, brake, end, bool(zone[z.LIFTED] > 0.0), gear))
    return tuple(found)


def mean_speed_ms(lap: Lap) -> float:
    """Length over time [m/s]."""
    return lap.path.length_m / lap.lap_time_s


def full_throttle_share(lap: Lap) -> float:
    """Share of the lap's length driven on full throttle."""
    length = np.diff(lap.s_m)
    return float((length * lap.on_full_throttle[:-1]).sum() / lap.path.length_m)


def sector_times_s(lap: Lap) -> tuple[float, ...]:
    """Times of the stretches between start, sector lines and finish [s]; empty without lines."""
    if not lap.path.sectors_at_m:
        return ()
    lines = np.array([0.0, *lap.path.sectors_at_m, lap.path.length_m])
    return tuple(float(t) for t in np.diff(time_at(lap, lines)))


def time_at(lap: Lap, at_m: Floats) -> Floats:
    """Running time at positions [s], constant acceleration between points."""
    times = np.empty(len(at_m))
    times_at(lap.s_m, lap.v_ms, lap.t_s, lap.ax_ms2, at_m, times)
    return times


def elapsed_s(lap: Lap, at_m: Floats) -> Floats:
    """Running time at places that may lie beyond the line [s]."""
    laps, within = lap.path.ring.laps_and_place(at_m)
    if not lap.path.closed:
        within = np.clip(within, 0.0, lap.path.length_m)
    return time_at(lap, within) + laps * lap.lap_time_s


def speeds_at(lap: Lap, at_m: Floats) -> Floats:
    """Speed at places that may lie beyond the line [m/s]."""
    speeds: Floats = np.interp(lap.path.ring.fold(at_m), lap.s_m, lap.v_ms)
    return speeds


def engine_work_j(lap: Lap, efficiency: float) -> float:
    """Work of the engine at its crank over the lap [J]: what drives, over the efficiency."""
    driving = np.where(lap.shifting[:-1] > 0.0, 0.0, lap.asked_n[:-1]).clip(min=0.0)
    return float((driving * np.diff(lap.s_m)).sum()) / efficiency


def is_finite(lap: Lap) -> bool:
    """Whether every figure of the lap is a number; the solver never returns anything else."""
    return bool(np.isfinite(lap.v_ms).all() and math.isfinite(lap.lap_time_s))
