"""What a tyre compound's state makes of its grip: warm-up, fade, track temperature, water."""

from dataclasses import dataclass

from neapfrost.core.surface import DRY_TYRE_WETNESS_CURVE, wetness_grip


@dataclass(frozen=True)
class Compound:
    """Grip against the vehicle's stated one, and how it changes.

    `warm_up` are the factors of the out lap (0) and of the laps until it is warm; from then on
    every lap takes `fade_share`. Every 10 °C outside the window take `off_window_share`.
    """

    grip_factor: float
    warm_up: tuple[float, ...]
    fade_share: float
    window_c: tuple[float, float]
    off_window_share: float
    wetness: tuple[tuple[float, float], ...] = DRY_TYRE_WETNESS_CURVE


#: Grip never falls below this share of a compound's own.
LEAST_SHARE = 0.2


@dataclass(frozen=True)
class TyreState:
    """The factors of a compound's grip: its own, warm-up or wear, track temperature, water."""

    compound: float
    laps: float
    temperature: float
    water: float

    @property
    def dry(self) -> float:
        """All but the water."""
        return self.compound * self.laps * self.temperature

    @property
    def all(self) -> float:
        """Everything together."""
        return self.dry * self.water


def tyre_state(
    compound: Compound, lap: int | None, track_temp_c: float, wetness_pct: float
) -> TyreState:
    """The factors on a lap (0: the out lap; None: warm and new), at a track state."""
    low, high = compound.window_c
    off_c = max(low - track_temp_c, track_temp_c - high, 0.0)
    return TyreState(
        compound=compound.grip_factor,
        laps=lap_factor(compound, lap),
        temperature=max(1.0 - compound.off_window_share * off_c / 10.0, LEAST_SHARE),
        water=wetness_grip(wetness_pct, compound.wetness),
    )


def lap_factor(compound: Compound, lap: int | None) -> float:
    """Warm-up or wear on a lap; 1 where none is asked for."""
    if lap is None:
        return 1.0
    if lap < len(compound.warm_up):
        return compound.warm_up[lap]
    return max(1.0 - compound.fade_share * (lap - len(compound.warm_up)), LEAST_SHARE)
