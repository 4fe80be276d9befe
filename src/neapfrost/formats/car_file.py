"""Reading and writing a car by itself."""

import json

from neapfrost.core.errors import InputRefused
from neapfrost.formats.car_document import CarDocument
from neapfrost.formats.faults import validated
from neapfrost.formats.json_text import parse_json_object
from neapfrost.formats.plan_rules import car_faults


def read_car(data: bytes) -> CarDocument:
    """Read a car from a file's bytes. Raises InputRefused with every fault by its field's path."""
    car = validated(CarDocument, parse_json_object(data))
    faults = car_faults(car)
    if faults:
        raise InputRefused(faults)
    return car


def write_car(car: CarDocument) -> bytes:
    """Write a car as indented JSON; reading it back gives the same car."""
    return (json.dumps(car.model_dump(mode="json"), indent=2, ensure_ascii=False) + "\n").encode()
