"""A vehicle found from what is known of it: a least-squares fit of the model to statements.

Figures that statements leave open keep to what is usual for such a vehicle, each with a range
(Bayesian least squares, A. Tarantola, Inverse Problem Theory, SIAM, 2005): they are given back as
assumptions. Statements that cannot all be true are found by leaving each one out in turn.
"""

import math
from dataclasses import dataclass, field, replace

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.atmosphere import density_kgm3
from neapfrost.core.car.quantity import Quantity
from neapfrost.core.car.starting_car import (
    CG_HEIGHT_M,
    CORNERING_STIFFNESS,
    LIMIT_OVER_TOP_SPEED,
    LOAD_SENSITIVITY,
    MAX_LEAN_DEG,
    ROLLING_RADIUS_M,
    ROLLING_RESISTANCE,
    SITS_UP,
    SITS_UP_HEIGHT_M,
    TYRE_WIDTH_M,
    lift_area_m2,
    starting_figures,
    usual_inertia,
)
from neapfrost.core.car.starting_kinds import (
    DOWNFORCE_SPEED_MS,
    STARTING,
    StartingKind,
    model_kind,
    usual_front,
)
from neapfrost.core.car.statements import KNOWN_TO, Measured, Statement
from neapfrost.core.car.torque_shape import RATIO_LEAST, RATIO_MOST, torque_curve
from neapfrost.core.constants import STANDARD_GRAVITY_MS2
from neapfrost.core.records import (
    Aero,
    Aspiration,
    Brakes,
    Conditions,
    Engine,
    Gearbox,
    Intake,
    Tyres,
    Vehicle,
    VehicleKind,
)

#: A statement this many of its own standard deviations off, and by this share, is contradicted.
CONTRADICTED_SIGMAS, CONTRADICTED_SHARE = 2.5, 0.03
#: A figure is known where the statements leave at most this much of its usual range.
KNOWN_SHARE = 0.5
UNREACHED = 0.5  # misfit as a share where the model never gets there
DIFFERENCE = 1e-3
#: What is told of a usual range begins no lower than this.
LEAST = {"getaway_s": 0.0, "torque_ratio": RATIO_LEAST}
ROUNDS_MOST, OTHERS_ROUNDS = 25, 12
LOWEST_CG_M = 0.15
#: A figure so many spreads from the usual is strained; eased, where a doubtful statement is left
#: out, below the second. So many statements are doubted at the most.
STRAINED, EASED, DOUBTED_MOST = 1.9, 1.6, 5


@dataclass(frozen=True)
class Known:
    """What is said outright: it is taken as it stands.

    `starting` is the kind of vehicle, whose proportions and usual figures it has. `power_rpm` None
    takes the usual one. `driven_rear` is the rear axle's share of the drive. `ratios`, first gear
    first, and `final_drive` are found where they are not stated. `intake` says in which air power
    and torque are stated; the rest is taken as seen in everyday air.
    """

    starting: StartingKind = "car"
    driven_rear: float = 1.0
    gears: int = 6
    power_rpm: float | None = None
    rev_limit_rpm: float | None = None
    rolling_radius_m: float | None = None
    fuel_kg: float = 20.0
    driver_kg: float = 80.0
    intake: Intake = field(default_factory=lambda: Intake(Aspiration.NATURAL))
    ratios: tuple[float, ...] = ()
    final_drive: float | None = None

    @property
    def kind(self) -> VehicleKind:
        """What the model takes it for."""
        return VehicleKind(model_kind(self.starting))


@dataclass(frozen=True)
class Usual:
    """A figure of the fit: what is usual and its spread, in its logarithm where `log`.

    One whose spread is 0 is stated, or follows from what is, and stays as it stands.
    """

    name: str
    value: float
    spread: float
    log: bool = True


@dataclass(frozen=True)
class Assumption:
    """A figure that the statements leave open: its value, its usual range and how sure it is.

    `kept_share` is how much of the usual range is left, from 0 (known) to 1 (a mere assumption).
    """

    name: str
    value: float
    low: float
    high: float
    kept_share: float


@dataclass(frozen=True)
class Row:
    """A statement beside what the model now does; None where it never gets there."""

    statement: Statement
    model: float | None
    misfit: float


@dataclass(frozen=True)
class Contradiction:
    """A statement the others speak against: what they say it would be."""

    statement: Statement
    others_say: float | None


@dataclass(frozen=True)
class Built:
    """The vehicle found, and how far it can be trusted."""

    vehicle: Vehicle
    rows: tuple[Row, ...]
    contradictions: tuple[Contradiction, ...]
    assumptions: tuple[Assumption, ...]


def usual_figures(known: Known) -> tuple[Usual, ...]:
    """What is usual where nothing is said, by kind of vehicle."""
    bike = known.kind is VehicleKind.MOTORCYCLE
    usual = (
        Usual("mass_kg", 190.0 if bike else 1250.0, 0.25 if bike else 0.4),
        Usual("peak_power_w", 130e3 if bike else 180e3, 0.5 if bike else 0.7),
        Usual("torque_ratio", 1.14, 0.09),
        Usual("mu_lateral", 1.25 if bike else 1.15, 0.2),
        Usual("grip_along_ratio", 1.04, 0.06),
        Usual(
            "front_weight_fraction", usual_front(known.starting, known.driven_rear), 0.03, log=False
        ),
        (
            # Lifting a wheel, not the tyres, ends what a motorcycle can do along the road.
            Usual("cg_height_m", CG_HEIGHT_M[known.kind], 0.05, log=False)
            if bike
            # Fixed brakes leave some of the rear's grip unused, on the safe side of the ideal.
            else Usual(
                "brake_front_fraction",
                min(usual_front(known.starting, known.driven_rear) + 0.19, 0.9),
                0.05,
                False,
            )
        ),
        Usual("lift_area_m2", 0.02 if bike else 0.15, 0.05 if bike else 0.12, log=False),
        Usual("drag_area_m2", 0.36 if bike else 0.72, 0.2 if bike else 0.3),
        Usual("efficiency", 0.93 if bike else 0.91, 0.03),
        Usual("upshift_s", 0.06 if bike else 0.2, 0.5),
        # Before the vehicle pulls as hard as it can; in times that are spoken of, not in the model.
        Usual("getaway_s", 0.25, 0.2, log=False),
        Usual("first_gear_ms", 29.0 if bike else 18.0, 0.2),
        Usual("top_gear_ms", 80.0 if bike else 72.0, 0.3),
    )
    of_its_kind = _of_its_kind(known)
    return tuple(
        replace(figure, value=of_its_kind.get(figure.name, figure.value)) for figure in usual
    )


def _of_its_kind(known: Known) -> dict[str, float]:
    """What is usual of a kind with figures of its own, where that is known better than of a car."""
    if known.starting in ("car", "motorcycle"):
        return {}
    starting = STARTING[known.starting]
    figures = starting_figures(
        known.kind, starting.mass_kg, 1000.0 * starting.power_kw, starting.top_speed_ms
    )
    newtons = STANDARD_GRAVITY_MS2 * starting.downforce_kg
    top = LIMIT_OVER_TOP_SPEED * starting.top_speed_ms
    return {
        "mass_kg": starting.mass_kg,
        "peak_power_w": 1000.0 * starting.power_kw,
        "mu_lateral": starting.lateral_g,
        "lift_area_m2": lift_area_m2(newtons, DOWNFORCE_SPEED_MS),
        "drag_area_m2": figures.drag_area_m2,
        "top_gear_ms": top,
        # A lone gear runs from standstill to the top.
        **({"first_gear_ms": top} if starting.gears == 1 else {}),
    }


def build_vehicle(known: Known, figures: dict[str, float]) -> Vehicle:
    """The vehicle of some figures; ratios in geometric progression from first gear to top."""
    bike = known.kind is VehicleKind.MOTORCYCLE
    starting = STARTING[known.starting]
    power_rpm = known.power_rpm or (11_500.0 if bike else 6_500.0)
    limit = max(known.rev_limit_rpm or 1.07 * power_rpm, power_rpm)
    radius = known.rolling_radius_m or ROLLING_RADIUS_M[known.kind]
    ratios, final = _gears(known, figures, limit * math.pi / 30.0 * radius)
    front = min(max(figures["front_weight_fraction"], 0.2), 0.8)
    front_stiffness, rear_stiffness = CORNERING_STIFFNESS[known.kind]
    brakes = min(max(figures.get("brake_front_fraction", 0.6), 0.3), 0.98)
    return Vehicle(
        name="",
        kind=known.kind,
        mass_kg=figures["mass_kg"],
        driver_kg=known.driver_kg,
        fuel_kg=known.fuel_kg,
        wheelbase_m=starting.wheelbase_m,
        cg_height_m=max(figures.get("cg_height_m", starting.cg_height_m), LOWEST_CG_M),
        front_weight_fraction=front,
        tyres=Tyres(
            figures["mu_lateral"],
            figures["mu_lateral"] * figures["grip_along_ratio"],
            LOAD_SENSITIVITY[known.kind],
            radius,
            ROLLING_RESISTANCE,
            cornering_stiffness_front=front_stiffness,
            cornering_stiffness_rear=rear_stiffness,
            width_m=TYRE_WIDTH_M if bike else 0.0,
        ),
        aero=Aero(
            figures["lift_area_m2"],
            figures["drag_area_m2"],
            0.45,
            braking_drag_area_m2=SITS_UP * figures["drag_area_m2"] if bike else None,
            braking_drag_height_m=SITS_UP_HEIGHT_M,
        ),
        engine=Engine(
            torque_curve(figures["peak_power_w"], power_rpm, limit, figures["torque_ratio"]),
            limit,
            min(figures["efficiency"], 1.0),
            intake=known.intake,
        ),
        gearbox=Gearbox(
            ratios,
            final,
            figures["upshift_s"],
            0.06 if bike else 0.18,
        ),
        rear_drive_fraction=1.0 if bike else known.driven_rear,
        brakes=Brakes(None if bike else brakes, None),
        max_lean_deg=MAX_LEAN_DEG if bike else None,
        inertia=usual_inertia(known.kind, figures["mass_kg"], figures["peak_power_w"], radius),
    )


def _gears(
    known: Known, figures: dict[str, float], direct_ms: float
) -> tuple[tuple[float, ...], float]:
    """Ratios and final drive, as stated as far as they are.

    Without ratios the top gear is 1, the others lie in geometric progression down to the first.
    `direct_ms` is the speed at the rev limit with nothing geared down.
    """
    final = known.final_drive
    if known.ratios:
        return known.ratios, final or direct_ms / (figures["top_gear_ms"] * known.ratios[-1])
    first = figures["first_gear_ms"]
    top = max(figures["top_gear_ms"] if final is None else direct_ms / final, 1.05 * first)
    step = (top / first) ** (1.0 / max(known.gears - 1, 1))
    ratios = tuple(step ** (known.gears - 1 - gear) for gear in range(known.gears))
    return ratios, final or direct_ms / top


def quick_build(
    known: Known, statements: tuple[Statement, ...], conditions: Conditions | None = None
) -> Built:
    """The vehicle that statements speak of, what they leave open, and where they disagree."""
    air = conditions or Conditions()
    eased = _usual_for(known, statements)
    usual = _stated(eased, known, statements, air)
    found, jacobian = _fitted(known, usual, statements, air)
    contradictions: tuple[Contradiction, ...] = ()
    rows = _rows(known, usual, found, statements, air)
    if any(_is_off(row) for row in rows) or np.abs(found).max() > STRAINED:
        contradictions = _contradictions(known, eased, statements, air, rows)
    return Built(
        vehicle=build_vehicle(known, _figures(usual, found)),
        rows=rows,
        contradictions=contradictions,
        assumptions=_assumptions(usual, found, jacobian, len(statements)),
    )


def _usual_for(known: Known, statements: tuple[Statement, ...]) -> tuple[Usual, ...]:
    """Usual figures, moved to what goes with the statements.

    A top gear is geared for the top speed, and the power for the mass where one of both is said.
    """
    said = {s.quantity: s.value for s in statements}
    usual = {figure.name: figure for figure in usual_figures(known)}
    if Quantity.MASS in said:
        usual["mass_kg"] = Usual("mass_kg", said[Quantity.MASS], 0.25)
    if Quantity.POWER in said:
        usual["peak_power_w"] = Usual("peak_power_w", said[Quantity.POWER], 0.4)
    elif Quantity.TORQUE in said:
        rpm = known.power_rpm or 6_500.0
        power = said[Quantity.TORQUE] * rpm * math.pi / 30.0 / usual["torque_ratio"].value
        usual["peak_power_w"] = Usual("peak_power_w", power, 0.3)
    if Quantity.TOP_GEAR in said:
        usual["top_gear_ms"] = Usual("top_gear_ms", said[Quantity.TOP_GEAR], 0.3)
    elif Quantity.TOP_SPEED in said:
        # Usually the top gear would run a little past the top speed before the limiter ends it.
        usual["top_gear_ms"] = Usual("top_gear_ms", 1.05 * said[Quantity.TOP_SPEED], 0.025)
    for quantity in (Quantity.LATERAL_SLOW, Quantity.LATERAL_FAST):
        if quantity in said and quantity is Quantity.LATERAL_SLOW:
            usual["mu_lateral"] = replace(usual["mu_lateral"], value=said[quantity])
    if Quantity.DOWNFORCE in said or Quantity.LATERAL_FAST in said:
        usual["lift_area_m2"] = replace(usual["lift_area_m2"], spread=2.0)
    return tuple(usual.values())


def _stated(
    usual: tuple[Usual, ...], known: Known, statements: tuple[Statement, ...], air: Conditions
) -> tuple[Usual, ...]:
    """Figures of the fit, of which those that are stated themselves stay as they stand."""
    said: dict[Quantity, Statement] = {}
    for statement in statements:
        said.setdefault(statement.quantity, statement)
    value = {figure.name: figure.value for figure in usual}
    fixed: dict[str, float] = {}
    if Quantity.MASS in said:
        fixed["mass_kg"] = said[Quantity.MASS].value
    if Quantity.POWER in said:
        fixed["peak_power_w"] = said[Quantity.POWER].value
    if Quantity.POWER in said and Quantity.TORQUE in said and known.power_rpm:
        at_power = said[Quantity.POWER].value / (known.power_rpm * math.pi / 30.0)
        ratio = said[Quantity.TORQUE].value / at_power
        if RATIO_LEAST <= ratio <= RATIO_MOST:
            fixed["torque_ratio"] = ratio
    if Quantity.DOWNFORCE in said:
        downforce = said[Quantity.DOWNFORCE]
        half_rho = 0.5 * density_kgm3(air, 0.0)
        fixed["lift_area_m2"] = downforce.value / (half_rho * (downforce.at or 50.0) ** 2)
    if Quantity.TOP_GEAR in said:
        fixed["top_gear_ms"] = said[Quantity.TOP_GEAR].value
    # Gears that are stated leave nothing to find of these.
    if known.final_drive is not None:
        fixed["top_gear_ms"] = value["top_gear_ms"]
    if known.ratios:
        fixed["first_gear_ms"] = value["first_gear_ms"]
    return tuple(
        replace(figure, value=fixed[figure.name], spread=0.0) if figure.name in fixed else figure
        for figure in usual
    )


def _figures(usual: tuple[Usual, ...], x: Floats) -> dict[str, float]:
    return {
        figure.name: (
            figure.value * math.exp(figure.spread * moved)
            if figure.log
            else figure.value + figure.spread * moved
        )
        for figure, moved in zip(usual, x.tolist(), strict=True)
    }


def _misfit(row_value: float | None, statement: Statement) -> float:
    """How far the model is from a statement, as the logarithm of their ratio."""
    if row_value is None or row_value <= 0.0:
        return UNREACHED
    return math.log(row_value / statement.value)


def _fitted(
    known: Known,
    usual: tuple[Usual, ...],
    statements: tuple[Statement, ...],
    air: Conditions,
    rounds: int = ROUNDS_MOST,
) -> tuple[Floats, Floats]:
    """Figures in spreads from the usual ones, and how the weighted misfits change with them."""

    def residuals(x: Floats) -> Floats:
        measured = _measured(known, _figures(usual, x), air)
        said = [
            _misfit(measured.of(statement), statement) / KNOWN_TO[statement.quantity]
            for statement in statements
        ]
        return np.concatenate((said, x))

    # Loaded once it is wanted: it takes a second, which every start of the application would wait.
    from scipy.optimize import least_squares

    # A soft edge: one statement that cannot be true does not bend all of the others.
    answer = least_squares(
        residuals,
        np.zeros(len(usual)),
        bounds=(-4.0, 4.0),
        loss="soft_l1",
        f_scale=2.0,
        diff_step=np.array([DIFFERENCE]),
        x_scale=1.0,
        max_nfev=rounds,
    )
    plain = _slopes(residuals, answer.x)
    return answer.x, plain


def _slopes(residuals: object, x: Floats) -> Floats:
    """The residuals' slopes without the loss's own weights, by difference quotients."""
    assert callable(residuals)
    here = residuals(x)
    columns = []
    for index in range(len(x)):
        moved = x.copy()
        moved[index] += 10.0 * DIFFERENCE
        columns.append((residuals(moved) - here) / (10.0 * DIFFERENCE))
    return np.column_stack(columns)


def _measured(known: Known, figures: dict[str, float], air: Conditions) -> Measured:
    return Measured(build_vehicle(known, figures), air, max(figures["getaway_s"], 0.0))


def _rows(
    known: Known,
    usual: tuple[Usual, ...],
    x: Floats,
    statements: tuple[Statement, ...],
    air: Conditions,
) -> tuple[Row, ...]:
    measured = _measured(known, _figures(usual, x), air)
    rows = []
    for statement in statements:
        value = measured.of(statement)
        misfit = math.nan if value is None else value / statement.value - 1.0
        rows.append(Row(statement, value, UNREACHED if value is None else misfit))
    return tuple(rows)


def _is_off(row: Row) -> bool:
    sigmas = abs(row.misfit) / KNOWN_TO[row.statement.quantity]
    return sigmas > CONTRADICTED_SIGMAS and abs(row.misfit) > CONTRADICTED_SHARE


def _contradictions(
    known: Known,
    eased: tuple[Usual, ...],
    statements: tuple[Statement, ...],
    air: Conditions,
    rows: tuple[Row, ...],
) -> tuple[Contradiction, ...]:
    """Statements without which all the others agree, each with what those say of it.

    Where none alone is at fault, the ones that are off themselves are named.
    """
    told: list[tuple[float, Contradiction]] = []
    doubted = sorted(rows, key=lambda row: -abs(row.misfit) / KNOWN_TO[row.statement.quantity])
    for row in doubted[:DOUBTED_MOST]:
        statement = row.statement
        others = tuple(one for one in statements if one is not statement)
        if not others:
            continue
        # What is usual stays as all statements put it, or a power left out would have no range.
        usual = _stated(eased, known, others, air)
        x, _ = _fitted(known, usual, others, air, OTHERS_ROUNDS)
        left = _rows(known, usual, x, others, air)
        if any(_is_off(one) for one in left) or np.abs(x).max() > EASED:
            continue
        said = _measured(known, _figures(usual, x), air).of(statement)
        if said is not None and abs(said / statement.value - 1.0) < CONTRADICTED_SHARE:
            continue
        told.append((float((x**2).sum()), Contradiction(statement, said)))
    if told:
        # The one without which the others are least strained is the likeliest to be wrong.
        return tuple(one for _, one in sorted(told, key=lambda pair: pair[0])[:2])
    return tuple(Contradiction(row.statement, row.model) for row in rows if _is_off(row))


def _assumptions(
    usual: tuple[Usual, ...], x: Floats, jacobian: Floats, said: int
) -> tuple[Assumption, ...]:
    """Figures of which much of the usual range is left, the least known first."""
    normal = jacobian.T @ jacobian
    left = np.sqrt(np.diag(np.linalg.inv(normal)))
    values = _figures(usual, x)
    lows, highs = _figures(usual, -2.0 * np.ones(len(x))), _figures(usual, 2.0 * np.ones(len(x)))
    found = [
        Assumption(
            figure.name,
            values[figure.name],
            max(lows[figure.name], LEAST.get(figure.name, -math.inf)),
            highs[figure.name],
            float(share),
        )
        for figure, share in zip(usual, left.tolist(), strict=True)
        if share > KNOWN_SHARE and figure.spread > 0.0
    ]
    return tuple(sorted(found, key=lambda one: -one.kept_share))
