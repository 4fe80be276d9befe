"""Ballast: its mass, and what it does to the weight on the front axle."""


def with_ballast(
    mass_kg: float, front_fraction: float, ballast_kg: float, ballast_front_fraction: float
) -> tuple[float, float]:
    """Mass [kg] and front share of the weight with ballast aboard: moments about the rear axle."""
    mass = mass_kg + ballast_kg
    front = front_fraction * mass_kg + ballast_front_fraction * ballast_kg
    return mass, front / mass
