"""Rules between the fields of a car and its setups."""

from collections.abc import Iterator

from neapfrost.core.errors import Fault
from neapfrost.core.measures import speed
from neapfrost.formats.car_document import CarDocument


def attitude_faults(car: CarDocument) -> Iterator[Fault]:
    """Speeds of the air's table that do not rise."""
    speeds = [point.speed_ms for point in car.attitude.by_speed]
    for index in range(1, len(speeds)):
        if speeds[index] <= speeds[index - 1]:
            yield Fault(
                f"car.attitude.by_speed[{index}].speed_ms",
                f"{speed(speeds[index], None)} was given after {speed(speeds[index - 1], None)}; "
                "the speeds must rise from point to point",
            )


def setup_faults(car: CarDocument, setup: str | None) -> Iterator[Fault]:
    """Names that are given twice, and setups that name what the car does not have."""
    tables = {
        "wings": [wing.name for wing in car.wings],
        "gear_sets": [gears.name for gears in car.gear_sets],
        "compounds": [compound.name for compound in car.compounds],
        "setups": [one.name for one in car.setups],
    }
    for table, names in tables.items():
        for index, name in enumerate(names):
            if name in names[:index]:
                yield Fault(
                    f"car.{table}[{index}].name",
                    f'"{name}" was given twice; every name once is expected',
                )
    for index, one in enumerate(car.setups):
        if one.brakes_ideal and one.brake_front_fraction is not None:
            yield Fault(
                f"car.setups[{index}].brakes_ideal",
                "ideal brake bias and a stated share exclude each other; keep one of them",
            )
        for field, table in (
            ("wing", "wings"),
            ("gear_set", "gear_sets"),
            ("compound", "compounds"),
        ):
            wanted = getattr(one, field)
            if wanted is not None and wanted not in tables[table]:
                have = ", ".join(tables[table]) or "none"
                yield Fault(
                    f"car.setups[{index}].{field}",
                    f'"{wanted}" was given; the car has {have}',
                )
    for index, compound in enumerate(car.compounds):
        if compound.window_high_c < compound.window_low_c:
            yield Fault(
                f"car.compounds[{index}].window_high_c",
                f"{compound.window_high_c:g} was given; at least {compound.window_low_c:g} is "
                "expected",
            )
        places = [point.wetness_pct for point in compound.wetness or []]
        if places != sorted(set(places)):
            yield Fault(
                f"car.compounds[{index}].wetness", "the wetness must rise from point to point"
            )
    if setup is not None and setup not in tables["setups"]:
        have = ", ".join(tables["setups"]) or "none"
        yield Fault("setup", f'"{setup}" was given; the car has the setups: {have}')
