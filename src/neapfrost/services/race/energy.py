"""Deployment: where a store's energy is spent for the least lap time, and the ways by feel."""

from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.arrays import Floats
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.altered_road import steps_between
from neapfrost.core.lap.drive import Drive
from neapfrost.core.race.energy import (
    Deployed,
    Store,
    evenly,
    from_the_exits,
    in_uses,
    in_zones,
    with_own_road,
    without,
)
from neapfrost.core.race.within_store import deployed_within
from neapfrost.formats.car_document import EnergyDocument
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.plan_setup import in_effect
from neapfrost.services.laps.planned import planned
from neapfrost.services.trade.run import Course, Run
from neapfrost.services.words.race import describe_energy

#: Places of the lap that the curve along it is told at.
POINTS = 600
#: Shares of what the store holds that a lap may end emptier, for what a race shares out.
SHARES = (-0.25, 0.0, 0.25, 0.5, 0.75, 1.0)


class Zone(BaseModel):
    """From one place of the lap to another [m]."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    from_m: float
    to_m: float


class EnergyRequest(BaseModel):
    """How much emptier the store may be at the end of the lap [MJ], and zones painted by hand.

    `uses` bounds on how many straights it is spent, null: on any.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    emptier_mj: Annotated[float, Field(ge=-1_000, le=1_000)] = 0.0
    zones: Annotated[list[Zone], Field(max_length=40)] = []
    uses: Annotated[int | None, Field(ge=1, le=40)] = None


class EnergyWay(BaseModel):
    """A way to spend it: its lap, against the best, what is spent and what the store gains.

    `fits` says whether the store holds what that asks of it along the lap.
    """

    way: str
    lap_s: float
    behind_s: float
    spent_mj: float
    recovered_mj: float
    balance_mj: float
    fits: bool


class EnergyPlace(BaseModel):
    """A stretch on which energy is spent: from where to where, and what it brings.

    `worth_ms_per_kj` is what a kilojoule brings there on average; `corner` whose exit it begins
    behind.
    """

    from_m: float
    to_m: float
    corner: str
    seconds: float
    spent_mj: float
    worth_ms_per_kj: float


class EnergyCurve(BaseModel):
    """Along the lap: place, power at the tyres, worth of a kilojoule out of the store, charge."""

    s_m: list[float]
    power_kw: list[float]
    worth_ms_per_kj: list[float]
    charge_mj: list[float]
    speed_ms: list[float]


class EnergyShare(BaseModel):
    """A lap that ends so much emptier, and its time."""

    emptier_mj: float
    lap_s: float
    price_ms_per_kj: float


class Energy(BaseModel):
    """A deployment: the lap with and without, its price, and others beside it.

    `swing_mj` is how much the store has to hold for it, `fits` whether it does.
    """

    without_s: float
    lap_s: float
    gain_s: float
    price_ms_per_kj: float
    spent_mj: float
    recovered_mj: float
    from_engine_mj: float
    emptier_mj: float
    swing_mj: float
    usable_mj: float
    fits: bool
    curve: EnergyCurve
    places: list[EnergyPlace]
    ways: list[EnergyWay]
    shares: list[EnergyShare] = []
    said: list[str]


def store_record(energy: EnergyDocument) -> Store:
    """The core's store."""
    never = float("inf")
    return Store(
        power_w=tuple((point.speed_ms, 1000.0 * point.power_kw) for point in energy.power),
        efficiency=energy.efficiency,
        usable_j=1e6 * energy.usable_mj,
        recovery_w=1000.0 * energy.recovery_kw,
        recovery_front=1.0 if energy.recovery_axle == "front" else 0.0,
        recovery_share=energy.recovery_share,
        engine_w=1000.0 * energy.engine_charging_kw,
        discharge_w=never if energy.discharge_kw is None else 1000.0 * energy.discharge_kw,
        charge_w=never if energy.charge_kw is None else 1000.0 * energy.charge_kw,
        spent_most_j=never if energy.spent_most_mj is None else 1e6 * energy.spent_most_mj,
        recovered_most_j=never
        if energy.recovered_most_mj is None
        else 1e6 * energy.recovered_most_mj,
    )


def energy_course(plan: PlanDocument, wanted: EnergyRequest) -> Course:
    """How a deployment is looked for. Raises InputRefused for a car without a store."""
    energy = in_effect(plan).car.energy
    if energy is None:
        raise InputRefused(
            [Fault("car.energy", "this car has no energy store; add one in the Race view")]
        )
    store = store_record(energy)

    def drive(run: Run) -> None:
        own = with_own_road(planned(plan).drive)
        plain = without(own, store)
        run.count()
        balance = -1e6 * wanted.emptier_mj
        if wanted.uses is None:
            best = deployed_within(own, store, balance)
        else:
            best = in_uses(own, store, wanted.uses, balance)
        told = energy_told(store, plain, best)
        run.count(energy=told)
        ways = _ways(own, store, best, wanted)
        by_exits_s = ways[0].behind_s
        said = describe_energy(told.gain_s, told.spent_mj, told.price_ms_per_kj, by_exits_s)
        told = told.model_copy(update={"ways": ways, "said": said})
        run.count(energy=told)
        shares: list[EnergyShare] = []
        for share in SHARES:
            emptier = share * energy.usable_mj
            lap = deployed_within(own, store, -1e6 * emptier)
            shares.append(
                EnergyShare(
                    emptier_mj=-lap.balance_j / 1e6,
                    lap_s=lap.lap.lap_time_s,
                    price_ms_per_kj=1e6 * lap.price_s_per_j,
                )
            )
            told = told.model_copy(update={"shares": list(shares)})
            run.count(energy=told)

    return Course(3 + len(SHARES), drive)


def energy_told(store: Store, plain: Deployed, best: Deployed) -> Energy:
    """A deployment as it is told."""
    gain = plain.lap.lap_time_s - best.lap.lap_time_s
    price = 1e6 * best.price_s_per_j
    spent = best.spent_j / 1e6
    return Energy(
        without_s=plain.lap.lap_time_s,
        lap_s=best.lap.lap_time_s,
        gain_s=gain,
        price_ms_per_kj=price,
        spent_mj=spent,
        recovered_mj=best.recovered_j / 1e6,
        from_engine_mj=best.from_engine_j / 1e6,
        emptier_mj=-best.balance_j / 1e6,
        swing_mj=best.swing_j / 1e6,
        usable_mj=store.usable_j / 1e6,
        fits=_fits(store, best),
        curve=_curve(best),
        places=_places(best, store),
        ways=[],
        said=describe_energy(gain, spent, price, 0.0),
    )


def _fits(store: Store, lap: Deployed) -> bool:
    return lap.swing_j <= store.usable_j + 1.0


def _ways(drive: Drive, store: Store, best: Deployed, wanted: EnergyRequest) -> list[EnergyWay]:
    """Ways by feel against the best, the one from every exit on first."""
    balance = -1e6 * wanted.emptier_mj
    ways = [
        (
            "from every corner exit, for the same time on each straight",
            from_the_exits(drive, store, balance),
        ),
        ("evenly, wherever the throttle is open", evenly(drive, store, balance)),
    ]
    if wanted.zones:
        steps = np.unique(
            np.concatenate(
                [steps_between(drive.path, zone.from_m, zone.to_m) for zone in wanted.zones]
            )
        )
        ways.append(("in the typed zones", in_zones(drive, store, steps, balance)))
    return [
        EnergyWay(
            way=name,
            lap_s=lap.lap.lap_time_s,
            behind_s=lap.lap.lap_time_s - best.lap.lap_time_s,
            spent_mj=lap.spent_j / 1e6,
            recovered_mj=lap.recovered_j / 1e6,
            balance_mj=lap.balance_j / 1e6,
            fits=_fits(store, lap),
        )
        for name, lap in ways
    ]


def _curve(best: Deployed) -> EnergyCurve:
    path, lap = best.lap.path, best.lap
    at = np.linspace(0.0, path.length_m, POINTS)
    step = np.clip(np.searchsorted(path.s_m, at, side="right") - 1, 0, len(best.power_w) - 1)

    def listed(values: Floats, decimals: int) -> list[float]:
        return [float(one) for one in np.round(values, decimals)]

    return EnergyCurve(
        s_m=listed(at, 2),
        power_kw=listed(best.power_w[step] / 1000.0, 2),
        worth_ms_per_kj=listed(1e6 * best.worth_s_per_j[step], 4),
        charge_mj=listed(np.interp(at, lap.s_m, best.charge_j) / 1e6, 5),
        speed_ms=listed(np.interp(at, lap.s_m, lap.v_ms), 3),
    )


def _places(best: Deployed, store: Store) -> list[EnergyPlace]:
    """Stretches in a row with power, each by the corner that it begins behind."""
    path = best.lap.path
    on = best.power_w > 0.0
    n = len(on)
    if not on.any():
        return []
    first = int(np.argmin(on)) if path.closed and not on.all() else 0
    groups: list[list[int]] = []
    previous = -2
    for offset in range(n):
        k = (first + offset) % n
        if not on[k]:
            continue
        if groups and (k == previous + 1 or (previous == n - 1 and k == 0)):
            groups[-1].append(k)
        else:
            groups.append([k])
        previous = k
    found = []
    for group in groups:
        steps = np.array(group)
        seconds = best.lap.solved.time_s[steps + 1] - best.lap.solved.time_s[steps]
        spent = np.minimum(best.power_w[steps] * seconds / store.efficiency, best.spare_j[steps])
        total = float(spent.sum())
        if total < 1.0:
            continue
        worth = float((spent * best.worth_s_per_j[steps]).sum()) / total
        from_m = float(path.s_m[group[0]])
        found.append(
            EnergyPlace(
                from_m=from_m,
                to_m=float(path.s_m[group[-1] + 1]),
                corner=_corner_before(best, from_m),
                seconds=float(seconds.sum()),
                spent_mj=total / 1e6,
                worth_ms_per_kj=1e6 * worth,
            )
        )
    return found


def _corner_before(best: Deployed, at_m: float) -> str:
    path = best.lap.path
    if not path.corners:
        return ""
    return min(path.corners, key=lambda corner: path.ring.ahead(corner.begins_at_m, at_m)).name
