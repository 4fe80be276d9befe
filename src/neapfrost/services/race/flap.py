"""A flap open in stated zones: what all of them and each of them are worth."""

from dataclasses import replace

from pydantic import BaseModel

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.altered_road import steps_between, with_flap
from neapfrost.core.lap.solve import drive_lap, lap_time_s, solve_many
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_setup import in_effect
from neapfrost.services.laps.planned import planned
from neapfrost.services.trade.run import Course, Run
from neapfrost.services.words.race import describe_flap


class FlapZone(BaseModel):
    """A zone and what the flap gains in it alone [s]; null where no lap is possible."""

    from_m: float
    to_m: float
    gain_s: float | None


class Flap(BaseModel):
    """The lap with the flap open in all zones, against the lap with it shut."""

    shut_s: float
    open_s: float | None
    top_speed_ms: float
    shut_top_speed_ms: float
    zones: list[FlapZone]
    said: list[str]


def flap_course(plan: PlanDocument) -> Course:
    """How a flap is weighed. Raises InputRefused for a car without one, and without zones."""
    flap = in_effect(plan).car.flap
    if flap is None:
        raise InputRefused([Fault("car.flap", "this car has no flap; add one first")])
    zones = plan.race.flap_zones
    if not zones:
        raise InputRefused(
            [Fault("race.flap_zones", "no zone is stated; type where it may be open")]
        )
    left = flap.downforce_left_pct / 100.0, flap.drag_left_pct / 100.0

    def drive(run: Run) -> None:
        shut = drive_lap(planned(plan).drive)
        path = shut.lap.path
        steps = [steps_between(path, zone.from_m, zone.to_m) for zone in zones]
        roads = [with_flap(shut.road, one, *left) for one in steps]
        every = shut.road
        for one in steps:
            every = with_flap(every, one, *left)
        drives = [replace(shut.drive, road=road) for road in (*roads, every)]
        times = solve_many(drives, lap_time_s)
        opened = drive_lap(drives[-1]) if times[-1] is not None else shut
        own = shut.lap.lap_time_s
        gains = [None if time is None else own - time for time in times[:-1]]
        top, before = float(opened.lap.v_ms.max()), float(shut.lap.v_ms.max())
        told = Flap(
            shut_s=own,
            open_s=times[-1],
            top_speed_ms=top,
            shut_top_speed_ms=before,
            zones=[
                FlapZone(from_m=zone.from_m, to_m=zone.to_m, gain_s=gain)
                for zone, gain in zip(zones, gains, strict=True)
            ],
            said=[describe_flap(None if times[-1] is None else own - times[-1], len(zones))],
        )
        run.count(flap=told)

    return Course(len(zones) + 1, drive)
