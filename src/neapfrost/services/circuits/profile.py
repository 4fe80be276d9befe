"""Heights along a circuit, and how far what stands beside it stands before its corners."""

from collections.abc import Sequence

import numpy as np
from pydantic import BaseModel

from neapfrost.core.path.build import build_path
from neapfrost.formats.plan import BoardDocument, CircuitDocument, ReferenceDocument
from neapfrost.formats.plan_records import circuit_record

STEP_M = 5.0
POINTS_MOST = 700


class Profile(BaseModel):
    """Height [m] and grade [%] along the circuit."""

    at_m: list[float]
    z_m: list[float]
    grade_pct: list[float]


def height_profile(circuit: CircuitDocument) -> Profile:
    """The road's height and grade, as the lap has them."""
    path = build_path(circuit_record(circuit), STEP_M)
    count = min(len(path.s_m), POINTS_MOST)
    pick = np.unique(np.linspace(0, len(path.s_m) - 1, count).astype(np.int64))
    grade = 100.0 * np.tan(np.append(path.slope.angle_start, path.slope.angle_end[-1]))
    base = 0.0
    if circuit.elevation:
        base = circuit.elevation[0].z_m - float(
            np.interp(circuit.elevation[0].at_m, path.s_m, path.z_m)
        )
    return Profile(
        at_m=np.round(path.s_m[pick], 1).tolist(),
        z_m=np.round(path.z_m[pick] + base, 2).tolist(),
        grade_pct=np.round(grade[pick], 2).tolist(),
    )


def metres_before(
    circuit: CircuitDocument, marks: Sequence[BoardDocument | ReferenceDocument]
) -> list[float | None]:
    """How far each mark stands before the nearest corner of its name [m]."""
    path = build_path(circuit_record(circuit), 50.0)
    found: list[float | None] = []
    for mark in marks:
        distances = [
            path.ring.apart(mark.at_m, corner.begins_at_m)
            for corner in path.corners
            if corner.name == mark.corner
        ]
        found.append(min(distances, key=abs, default=None))
    return found
