"""Lanes of a circuit, and its pit lane, set on its sheet."""

import pytest
from pydantic import TypeAdapter

from neapfrost.core.errors import InputRefused
from neapfrost.core.measures import said as in_units
from neapfrost.demo.plans import composed
from neapfrost.formats.plan import CircuitDocument
from neapfrost.services.circuits.circuit_edit import CircuitEdit, edited_circuit
from neapfrost.services.race.setting import pit_loss_s

EDIT: TypeAdapter[CircuitEdit] = TypeAdapter(CircuitEdit)


def edited(circuit: CircuitDocument, **edit: object) -> tuple[CircuitDocument, str]:
    value, said, _ = edited_circuit(circuit, EDIT.validate_python(edit))
    return CircuitDocument.model_validate(value), said


def test_lanes_are_added_changed_and_taken_away() -> None:
    circuit = composed("garganey-bowl").circuit
    before = len(circuit.lanes)
    lane = {"name": "Rail", "outside_m": 9.0, "bank_change_deg": 2.0, "grip_factor": 0.97}
    more, said = edited(circuit, op="put_lane", lane=lane)
    assert said == "Lane Rail added"
    assert more.lanes[-1].outside_m == 9.0
    higher, said = edited(more, op="set_lane", number=before, lane={**lane, "bank_change_deg": 3.0})
    assert (higher.lanes[before].bank_change_deg, said) == (3.0, "Lane Rail changed")
    gone, said = edited(higher, op="remove_lane", number=before)
    assert (gone.lanes, said) == (circuit.lanes, "Lane Rail removed")
    with pytest.raises(InputRefused, match=f"there are {before} lanes, counted from 0"):
        edited(circuit, op="remove_lane", number=before)


def test_a_pit_lane_and_its_limit_tell_what_a_stop_costs() -> None:
    plan = composed("dunlin-heath")
    circuit, _ = edited(plan.circuit, op="fact", fact="pit_loss_s", value=None)
    circuit, said = edited(circuit, op="fact", fact="pit_lane_m", value=320.0)
    assert in_units(said) == "Pit-lane length not stated to 320 m"
    circuit, _ = edited(circuit, op="fact", fact="pit_limit_ms", value=16.0)
    loss_s, source = pit_loss_s(plan.model_copy(update={"circuit": circuit}), 40.0)
    # 320 m at 16 m/s instead of 40, and 24² / (2 a v) at each end.
    assert loss_s > 320.0 / 16.0 - 320.0 / 40.0
    assert source == "from the pit lane’s length and limit"
