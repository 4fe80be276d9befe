"""A tyre's rolling radius from the code on its wall."""

import re

from neapfrost.core.errors import Fault, InputRefused

MM_PER_INCH = 25.4
#: A rolling tyre's radius over its unloaded one: it settles under load, more than it grows.
ROLLING_SHARE = 0.97


def rolling_radius_m(code: str) -> float:
    """Rolling radius [m] of a code such as 205/55 R16 (width mm, wall %, rim inch).

    r = 0.97·(rim/2 + width·wall/100). Raises InputRefused for another text.
    """
    found = re.search(
        r"(\d{2,3})\s*/\s*(\d{2,3})\s*(?:Z?R|B|-|\s)\s*(\d{1,2}(?:[.,]5)?)", code.strip().upper()
    )
    if found is None:
        raise InputRefused(
            [Fault("tyre_code", f'"{code}" was given; a code such as 205/55 R16 is expected')]
        )
    width, wall, rim = (float(part.replace(",", ".")) for part in found.groups())
    if not (80 <= width <= 455 and 20 <= wall <= 100 and 8 <= rim <= 26):
        raise InputRefused(
            [
                Fault(
                    "tyre_code",
                    f'"{code}" was given; a width of 80 to 455 mm, a wall of 20 to 100 % and a rim '
                    "of 8 to 26 inches are expected",
                )
            ]
        )
    return ROLLING_SHARE * (0.5 * rim * MM_PER_INCH + width * wall / 100.0) / 1000.0
