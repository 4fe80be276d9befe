"""How hard the lap solver works, counted: a slow-down by accident is seen on any machine."""

import subprocess
import sys
from pathlib import Path

import pytest

SCRIPT = Path(__file__).parents[2] / "scripts" / "count_evaluations.py"

#: Evaluations of loads and grip; a lap of the coupé has four rounds, one on a computed line bends
#: at every node.
COUNTED = {"dunlin-heath": 14_200, "garganey-damp": 26_100, "k4-samphire": 32_200}


def test_a_lap_asks_no_more_of_the_tyres_than_it_did() -> None:
    told = subprocess.run(
        [sys.executable, SCRIPT, *COUNTED], capture_output=True, text=True, check=True
    ).stdout.split()
    found = {plan: int(count) for plan, count in zip(told[::2], told[1::2], strict=True)}
    assert found == {plan: pytest.approx(count, rel=0.1) for plan, count in COUNTED.items()}
