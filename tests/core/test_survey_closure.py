"""Rings that should close: known gaps, known answers, and properties of the adjustment."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from neapfrost.core.errors import InputRefused
from neapfrost.core.path.circuit import Bend, Circuit, Segment, Straight
from neapfrost.core.survey.closure import (
    Adjustment,
    Figure,
    close_ring,
    closure_gap,
    survey_figures,
    with_figures,
)


def ring(*segments: Segment, closed: bool = True) -> Circuit:
    return Circuit("Ring", closed, tuple(segments))


def rounded_square(side: float = 200.0, radius: float = 40.0) -> Circuit:
    corners = (Bend(f"C{number}", 1, radius, 90.0) for number in range(4))
    return ring(*(piece for corner in corners for piece in (Straight(side), corner)))


def moved(circuit: Circuit, number: int, **figures: float) -> Circuit:
    segments = list(circuit.segments)
    segments[number] = replace(segments[number], **figures)  # type: ignore[arg-type]
    return replace(circuit, segments=tuple(segments))


def test_a_ring_that_closes_has_no_gap_and_is_left_alone() -> None:
    circuit = rounded_square()
    gap = closure_gap(circuit)
    assert gap.distance_m == pytest.approx(0.0, abs=1e-6)
    assert (gap.heading_deg, gap.height_m) == pytest.approx((0.0, 0.0), abs=1e-9)
    assert close_ring(circuit, survey_figures(circuit)).changes == ()


def test_gaps_of_known_faults() -> None:
    # The first straight runs ahead; the second one, after a quarter to the left, to the left.
    longer = closure_gap(moved(rounded_square(), 0, length_m=207.0))
    assert (longer.ahead_m, longer.left_m) == pytest.approx((7.0, 0.0), abs=1e-6)
    aside = closure_gap(moved(rounded_square(), 2, length_m=197.0))
    assert (aside.ahead_m, aside.left_m) == pytest.approx((0.0, -3.0), abs=1e-6)
    # A last corner that turns 3° too far changes no place but its own end.
    turned = closure_gap(moved(rounded_square(), 7, angle_deg=93.0))
    assert turned.heading_deg == pytest.approx(3.0)
    # One of four sides climbs by 2 %: its length times the sine, whatever the blends.
    climbing = closure_gap(moved(rounded_square(), 0, grade_pct=2.0))
    assert climbing.height_m == pytest.approx(200.0 * math.sin(math.atan(0.02)), rel=0.01)


def test_two_opposite_sides_share_a_fault_by_their_uncertainty() -> None:
    """With everything else locked the answer is one line of algebra."""
    circuit = moved(rounded_square(), 0, length_m=212.0)
    free = {
        (0, "length_m"): 8.0,
        (4, "length_m"): 4.0,
        (2, "length_m"): 1.0,
        (6, "length_m"): 1.0,
        # At the very end these two move nothing but heading and height.
        (7, "angle_deg"): 1.0,
        (7, "grade_pct"): 1.0,
    }
    figures = tuple(
        replace(figure, sigma=free.get((figure.segment, figure.name), 0.0))
        for figure in survey_figures(circuit)
    )
    after = {
        (one.figure.segment, one.figure.name): one.after
        for one in close_ring(circuit, figures).changes
    }
    # 12 m in all, by variance 64 : 16.
    assert after[0, "length_m"] == pytest.approx(212.0 - 9.6, abs=0.002)
    assert after[4, "length_m"] == pytest.approx(200.0 + 2.4, abs=0.002)
    assert set(after) == {(0, "length_m"), (4, "length_m")}


def closed(adjustment: Adjustment) -> bool:
    gap = closure_gap(adjustment.circuit)
    return gap.distance_m < 0.01 and abs(gap.heading_deg) < 1e-3 and abs(gap.height_m) < 0.01


@settings(max_examples=15)
@given(st.lists(st.floats(-1.0, 1.0), min_size=12, max_size=12))
def test_a_measured_ring_closes_and_no_nearer_one_does(errors: list[float]) -> None:
    true = rounded_square(260.0, 55.0)
    exact = survey_figures(true)
    noisy = np.array([f.value + e * f.sigma for f, e in zip(exact, errors * 3, strict=False)])
    circuit = with_figures(true, exact[: len(noisy)], noisy)
    figures = survey_figures(circuit)
    adjustment = close_ring(circuit, figures)
    assert closed(adjustment)
    cost = sum(one.sigmas**2 for one in adjustment.changes)
    # The truth closes as well: the adjustment may not be farther from the measurements than it.
    truth = sum(
        ((a.value - b.value) / b.sigma) ** 2
        for a, b in zip(exact, figures, strict=True)
        if b.sigma > 0.0
    )
    assert cost <= truth * (1.0 + 1e-6) + 1e-9


def test_locked_figures_stay_and_a_second_radius_keeps_its_ratio() -> None:
    circuit = moved(rounded_square(), 1, end_radius_m=60.0, angle_deg=88.0)
    figures = survey_figures(circuit, {(0, "length_m"): 0.0, (3, "angle_deg"): 0.0})
    adjustment = close_ring(circuit, figures)
    assert closed(adjustment)
    first, bend, last = (adjustment.circuit.segments[number] for number in (0, 1, 3))
    assert isinstance(first, Straight)
    assert first.length_m == 200.0
    assert isinstance(last, Bend)
    assert last.angle_deg == 90.0
    assert isinstance(bend, Bend)
    assert bend.end_radius_m == pytest.approx(1.5 * bend.radius_m)
    assert bend.radius_m != 40.0


def test_a_gross_fault_is_a_suspect() -> None:
    adjustment = close_ring(
        moved(rounded_square(), 0, length_m=420.0),
        survey_figures(moved(rounded_square(), 0, length_m=420.0)),
    )
    assert closed(adjustment)
    assert {one.figure.segment for one in adjustment.suspects} >= {0}
    worst = max(adjustment.suspects, key=lambda one: abs(one.sigmas))
    assert abs(worst.sigmas) > 3.0


def test_heights_from_points_leave_the_grades_alone() -> None:
    circuit = replace(
        moved(rounded_square(), 0, length_m=205.0, grade_pct=3.0),
        elevation=((0.0, 10.0), (300.0, 14.0), (700.0, 9.0)),
    )
    figures = survey_figures(circuit)
    assert all(figure.name != "grade_pct" for figure in figures)
    assert closed(close_ring(circuit, figures))


@pytest.mark.parametrize(
    ("circuit", "why"),
    [
        (ring(Straight(500.0), Bend("A", 1, 50.0, 90.0), closed=False), "need not close"),
        (ring(Straight(900.0), Bend("A", 1, 50.0, 90.0)), "no figures near these"),
    ],
)
def test_what_cannot_close_is_refused(circuit: Circuit, why: str) -> None:
    with pytest.raises(InputRefused, match=why):
        close_ring(circuit, survey_figures(circuit))


def test_too_few_free_figures_are_refused() -> None:
    circuit = moved(rounded_square(), 0, length_m=210.0)
    figures = tuple(Figure(f.segment, f.name, f.value, 0.0) for f in survey_figures(circuit))
    with pytest.raises(InputRefused, match="only 0 figures are free"):
        close_ring(circuit, figures)
