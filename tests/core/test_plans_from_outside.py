"""Plans that were found from outside to move with the grid, or to break a rule of the lap."""

from pathlib import Path

from core.test_trace_rules import USE_MOST_AT_JUMPS, axle_use
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.solve import drive_lap
from neapfrost.formats.plan_file import read_plan
from neapfrost.services.laps.planned import planned

CASES = Path(__file__).parents[1] / "cases"


def driven_at(name: str, step_m: float) -> DrivenLap:
    plan = read_plan((CASES / name).read_bytes())
    return drive_lap(planned(plan, step_m).drive)


def test_a_downshift_that_is_just_reached_does_not_hang_on_the_grid() -> None:
    """A plan from outside that was 0.14 % quicker at 0.5 m: another gear at its first corner."""
    laps = [driven_at("lap_moves_with_step_5033.json", step_m) for step_m in (2.0, 1.0, 0.5)]
    times = [one.lap.lap_time_s for one in laps]
    assert max(times) - min(times) < 3e-3
    assert len({tuple(corner.gear for corner in one.corners) for one in laps}) == 1


def test_downshifts_are_done_by_the_slowest_point() -> None:
    """A plan from outside whose gears shift in no time, held for 300 m on part throttle."""
    for step_m in (2.0, 1.0, 0.5):
        driven = driven_at("downshift_after_slowest_5007.json", step_m)
        ring = driven.lap.path.ring
        for corner in driven.corners:
            for shift in corner.downshifts:
                after = float(ring.apart(corner.min_speed_at_m, shift.at_m))
                assert after < 1.0 + step_m, (corner.name, shift)


def test_a_step_that_ends_in_a_jump_of_curvature_keeps_its_bound() -> None:
    """A plan from outside; the method says by how much such a step may ask too much of a tyre."""
    found = [
        axle_use(driven_at("grip_exceeded_5024.json", step_m).lap).max() for step_m in (1.0, 0.25)
    ]
    assert found[0] < USE_MOST_AT_JUMPS
    assert found[1] < found[0]
