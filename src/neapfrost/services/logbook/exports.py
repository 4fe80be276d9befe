"""Runs in open formats: documents, laps and corners as tables, a lap's channels."""

import json

import numpy as np

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.escaping import sheet_text
from neapfrost.services.logbook.against import lap_numbered
from neapfrost.services.logbook.kept import driven_log, plan_of_run, read_run
from neapfrost.services.logbook.several import lost_s
from neapfrost.store.database import Store


def run_json(store: Store, run_id: int) -> str:
    """A run as a document. Raises NotThere."""
    run, _ = read_run(store, run_id)
    return json.dumps(run.model_dump(mode="json"), indent=2, ensure_ascii=False) + "\n"


def run_csv(store: Store, run_id: int) -> str:
    """The laps of a run, with every corner of each that was measured, in SI."""
    run, _ = read_run(store, run_id)
    names = list(dict.fromkeys(corner.name for lap in run.laps for corner in lap.corners))
    sectors = max((len(lap.sectors_s) for lap in run.laps), default=0)
    head: list[object] = ["Lap", "Kind", "Time [s]"]
    head += [f"Sector {number + 1} [s]" for number in range(sectors)]
    for name in names:
        head += [f"{name}, minimum [m/s]", f"{name}, brake to corner [m]", f"{name}, gear"]
        head += [f"{name}, loss [s]"]
    rows = [head]
    for lap in run.laps:
        row: list[object] = [lap.number, lap.kind, lap.lap_time_s]
        row += [*lap.sectors_s, *[None] * (sectors - len(lap.sectors_s))]
        there = {corner.name: corner for corner in lap.corners}
        for name in names:
            corner = there.get(name)
            if corner is None:
                row += [None] * 4
                continue
            row += [corner.min_speed_ms, corner.brake_start_to_corner_m, corner.gear]
            row += [round(lost_s(corner), 5)]
        rows.append(row)
    return sheet_text(rows)


def channels_csv(store: Store, run_id: int, number: int) -> str:
    """A lap's channels along the circuit, in SI; one row a sample.

    Raises NotThere, StoreTrouble where the log is gone, InputRefused for a lap that was typed.
    """
    run, plan = plan_of_run(store, run_id)
    lap = driven_log(store, run, plan, lap_numbered(run, number))
    if lap is None:
        raise InputRefused([Fault("lap", f"lap {number} was typed; it has no channels")])
    inside = (lap.at_m >= 0.0) & (lap.at_m <= lap.length_m)
    columns = {
        "Place [m]": np.round(lap.at_m, 3),
        "Time [s]": np.round(lap.t_s, 4),
        "Speed [m/s]": np.round(lap.v_ms, 4),
        "Along [m/s2]": np.round(lap.ax_ms2, 4),
    }
    if lap.gear is not None:
        columns["Gear"] = lap.gear
    if lap.throttle is not None:
        columns["Throttle [share]"] = np.round(lap.throttle, 4)
    if lap.brake is not None:
        columns["Brake [share of the hardest]"] = np.round(lap.brake, 4)
    rows: list[list[object]] = [list(columns)]
    rows += [list(row) for row in zip(*(c[inside].tolist() for c in columns.values()), strict=True)]
    return sheet_text(rows)
