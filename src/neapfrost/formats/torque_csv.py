"""A torque curve as text: rpm and Nm (or kW, lb ft) in columns."""

import math
import re

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.car_document import TorquePoint
from neapfrost.formats.escaping import sheet_text

NM_PER_LBFT = 1.3558179483
POINTS_MOST = 500


def read_torque_csv(text: str) -> list[TorquePoint]:
    """Points of a pasted or read table, a header or none; rising in rpm.

    The second column is torque in Nm, or in lb ft or power in kW where the header says so.
    Separators are commas, semicolons, tabs or spaces; with the latter three commas are decimals.
    Raises InputRefused with line and column.
    """
    lines = [(n, line) for n, line in enumerate(text.splitlines(), start=1) if line.strip()]
    if not lines:
        raise InputRefused([Fault("torque_curve", "nothing was given; rpm and Nm are expected")])
    separator = next((s for s in (";", "\t") if s in lines[0][1]), None)
    if separator is None:
        separator = "," if "," in lines[0][1] else " "
    head = lines[0][1].lower()
    has_head = bool(re.search(r"[a-z]", head))
    unit = "kw" if "kw" in head else "lbft" if re.search(r"lb|ft", head) else "nm"
    points: list[TorquePoint] = []
    for number, line in lines[1 if has_head else 0 :]:
        cells = [c for c in line.strip().split(separator) if c.strip()]
        if len(cells) < 2:
            raise InputRefused(
                [
                    Fault(
                        f"line {number}",
                        f'"{line.strip()[:40]}" is not rpm and torque',
                    )
                ]
            )
        rpm, second = (_number(cells[i], separator, number, i + 1) for i in (0, 1))
        if unit == "kw":
            second = second * 1000.0 / (rpm * math.pi / 30.0) if rpm > 0.0 else 0.0
        elif unit == "lbft":
            second *= NM_PER_LBFT
        if rpm <= 0.0 or second <= 0.0:
            raise InputRefused(
                [Fault(f"line {number}", f"{rpm:g}, {second:g} were given; above 0 is expected")]
            )
        if points and rpm <= points[-1].rpm:
            raise InputRefused(
                [
                    Fault(
                        f"line {number}, column 1",
                        f"{rpm:g} was given after {points[-1].rpm:g}; the points must rise in rpm",
                    )
                ]
            )
        points.append(TorquePoint(rpm=rpm, torque_nm=second))
    if not 2 <= len(points) <= POINTS_MOST:
        raise InputRefused(
            [
                Fault(
                    "torque_curve",
                    f"{len(points)} points were given; 2 to {POINTS_MOST} may be",
                )
            ]
        )
    return points


def write_torque_csv(points: list[TorquePoint]) -> str:
    """The curve as rpm and Nm; reading it back gives the same points."""
    rows = [(repr(point.rpm), repr(point.torque_nm)) for point in points]
    return sheet_text([("rpm", "torque_nm"), *rows])


def _number(cell: str, separator: str, line: int, column: int) -> float:
    text = cell.strip().strip('"')
    try:
        return float(text if separator == "," else text.replace(",", "."))
    except ValueError:
        raise InputRefused(
            [Fault(f"line {line}, column {column}", f'"{text[:40]}" is not a number')]
        ) from None
