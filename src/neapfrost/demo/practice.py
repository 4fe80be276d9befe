"""Somebody in the demo world who learns a lap by heart."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Practice:
    """Who learns which demo plan; evenings: days ago, share right, share of the lap gone over."""

    driver: str
    plan_id: str
    seed: int
    evenings: tuple[tuple[int, float, float], ...]


PRACTICE = Practice(
    driver="Ottoline",
    plan_id="k4-samphire",
    seed=11,
    evenings=((4, 0.35, 0.6), (3, 0.6, 1.0), (1, 0.85, 0.9)),
)
