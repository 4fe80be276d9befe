"""How often the truth lies in a plan's band: wanted are four times in five.

`python -m bench.band_coverage` prints a table for docs/performance.md. A truth is the plan with
other grip, downforce, power, wind and radii, each drawn as its ± says, on a circuit whose corners
are redrawn as a person would redraw them: segments edited, path built anew, driven on a 1 m grid.
"""

import numpy as np

from neapfrost.core.errors import LapImpossible
from neapfrost.core.lap.corners import corner_results
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.solve import solve
from neapfrost.core.studies.bands import Drawn, Uncertainty, draw, varied
from neapfrost.demo.plans import demo_plan
from neapfrost.formats.plan import CircuitDocument, PlanDocument
from neapfrost.services.circuits.carrying import corner_segments
from neapfrost.services.circuits.radius_edit import radius_edited_at
from neapfrost.services.corners.bands import plan_bands
from neapfrost.services.laps.planned import planned

TRUTHS = 200
PLANS = ("k4-dry", "dunlin-hill", "sanderling-hill", "phalarope-qualifying")
SEED = 20_000  # far from any seed a plan has


def truth(plan: PlanDocument, one: Drawn) -> tuple[Drive, list[float]]:
    """The drive of one truth, and how far each corner begins earlier than the plan says [m]."""
    circuit, earlier = plan.circuit, []
    for number, index in enumerate(corner_segments(circuit)):
        before = _straight_m(circuit, index - 1)
        radius_m = circuit.segments[index].radius_m * float(one.radii[number])  # type: ignore[index, union-attr]
        edited = radius_edited_at(circuit, index, radius_m, False)
        circuit = CircuitDocument.model_validate(edited.value)
        earlier.append(before - _straight_m(circuit, index - 1))
    drive = planned(plan.model_copy(update={"circuit": circuit})).drive
    same = Drawn(one.grip, one.downforce, one.power, one.wind_ms, np.ones(len(earlier)))
    return varied(drive, same)[0], earlier


def _straight_m(circuit: CircuitDocument, index: int) -> float:
    segments = circuit.segments or []
    return float(getattr(segments[index % len(segments)], "length_m", 0.0) or 0.0)


def row(plan_id: str) -> str:
    """A plan's row: shares of truths within the bands of lap, minimum speeds and brake starts."""
    held = demo_plan(plan_id)
    assert held is not None
    plan = held.document
    bands = plan_bands(plan)
    wanted = plan.uncertainty
    uncertainty = Uncertainty(
        wanted.grip_pct / 100.0,
        wanted.downforce_pct / 100.0,
        wanted.power_pct / 100.0,
        wanted.wind_ms,
        wanted.radius_pct / 100.0,
    )
    laps, speeds, brakes = [], [], []
    for one in draw(uncertainty, len(bands.corners), TRUTHS, SEED):
        drive, earlier = truth(plan, one)
        try:
            lap = solve(drive)
        except LapImpossible:
            continue
        laps.append(bands.lap_time_s.low <= lap.lap_time_s <= bands.lap_time_s.high)
        for corner, band, moved in zip(
            corner_results(lap, []), bands.corners, earlier, strict=True
        ):
            low, high = band.min_speed_ms.low, band.min_speed_ms.high
            speeds.append(low <= corner.min_speed_ms <= high)
            start, told = corner.brake_start_to_corner_m, band.brake_start_to_corner_m
            if start is not None and told is not None:
                brakes.append(told.low <= start + moved <= told.high)
    shares = " | ".join(f"{100.0 * np.mean(inside):.0f} %" for inside in (laps, speeds, brakes))
    return f"| {plan.name} | {len(laps)} | {shares} |"


if __name__ == "__main__":
    print("| plan | truths | lap | minimum speeds | brake starts |")
    print("| --- | ---: | ---: | ---: | ---: |")
    for plan_id in PLANS:
        print(row(plan_id), flush=True)
