"""What was learned taken into the plan: new revisions of what is blamed, with the evidence kept."""

from collections.abc import Sequence
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.wind import components_ms, from_components
from neapfrost.formats.car_document import CarDocument
from neapfrost.formats.fit import (
    Blamed,
    FigureName,
    FitDocument,
    FitFigureDocument,
    FitTakenDocument,
)
from neapfrost.formats.plan import (
    CircuitDocument,
    ConditionsDocument,
    DriverDocument,
    PlanDocument,
    UncertaintyDocument,
)
from neapfrost.formats.result import Revisions
from neapfrost.services.plans.parts import content_of
from neapfrost.services.plans.workbench import OpenPlan, keep_document
from neapfrost.services.words.learned import LABELS
from neapfrost.store.database import Store, reading, writing
from neapfrost.store.items import add_item, get_document, get_item, list_items
from neapfrost.store.tables import Fit

#: What may be blamed for each figure, the usual first.
BLAMES: dict[FigureName, tuple[Blamed, ...]] = {
    "grip": ("circuit", "car", "conditions", "driver"),
    "along": ("car", "driver"),
    "downforce": ("car",),
    "drag": ("car",),
    "power": ("car",),
    "mass": ("car",),
    "wind_north": ("conditions",),
    "wind_east": ("conditions",),
}
#: Which of the plan's uncertainties a figure narrows.
NARROWS: dict[FigureName, str] = {
    "grip": "grip_pct",
    "downforce": "downforce_pct",
    "power": "power_pct",
}
#: No uncertainty is written as less than this [%, m/s].
LEAST = 0.1


class Taken(BaseModel):
    """A figure to be taken over, and what is blamed for it."""

    model_config = ConfigDict(extra="forbid")

    name: FigureName
    blamed: Blamed


class BlameChoice(BaseModel):
    """What may be blamed for a figure."""

    name: FigureName
    label: str
    blames: list[Blamed]


class KeptFit(BaseModel):
    """The evidence of a change, as it is listed."""

    id: int
    name: str
    made_at: str
    taken: list[str]


TakenList = Annotated[list[Taken], Field(max_length=len(BLAMES))]


def blame_choices() -> list[BlameChoice]:
    """What may be blamed for each figure, the usual first."""
    return [
        BlameChoice(name=name, label=LABELS[name], blames=list(blames))
        for name, blames in BLAMES.items()
    ]


def take_fit(
    store: Store, plan_id: int, base: Revisions, fit: FitDocument, taken: Sequence[Taken]
) -> OpenPlan:
    """Write what is taken over of a fit, narrow the plan's band, and keep the evidence.

    Raises as `keep_changes` does, and InputRefused where a figure cannot be blamed so, or where the
    plan has changed since the fit.
    """
    _refuse(fit, base, taken)
    by_name = {one.name: one for one in fit.figures}

    def changed(plan: PlanDocument) -> PlanDocument:
        after = plan
        for one in taken:
            after = _blamed(after, by_name[one.name], one.blamed)
        return after.model_copy(update={"uncertainty": narrowed(plan.uncertainty, fit, taken)})

    def said(before: PlanDocument, after: PlanDocument) -> list[str]:
        del before, after
        names = ", ".join(LABELS[one.name].lower() for one in taken) or "the band"
        return [f"Fitted to {len(fit.runs)} runs: {names}"]

    opened = keep_document(store, plan_id, base, changed, said)
    document = fit.model_copy(
        update={"taken": [FitTakenDocument(name=one.name, blamed=one.blamed) for one in taken]}
    )
    with writing(store) as session:
        content = content_of("fit", document.model_dump(mode="json"))
        fit_id = add_item(session, "fit", content, "Applied")
        item = get_item(session, "fit", fit_id)
        assert isinstance(item, Fit)  # as all items of this kind
        item.plan_id = plan_id
    return opened


def kept_fits(store: Store, plan_id: int) -> list[KeptFit]:
    """The evidence behind a plan's figures, the newest first."""
    with reading(store) as session:
        found = []
        for item in list_items(session, "fit"):
            if not isinstance(item, Fit) or item.plan_id != plan_id:
                continue
            fit = FitDocument.model_validate(get_document(session, "fit", item.id))
            found.append(
                KeptFit(
                    id=item.id,
                    name=fit.name,
                    made_at=fit.made_at,
                    taken=[f"{LABELS[one.name]}: {one.blamed}" for one in fit.taken],
                )
            )
        return found


def kept_fit(store: Store, fit_id: int) -> FitDocument:
    """The evidence of a change. Raises NotThere."""
    with reading(store) as session:
        return FitDocument.model_validate(get_document(session, "fit", fit_id))


def narrowed(
    before: UncertaintyDocument, fit: FitDocument, taken: Sequence[Taken]
) -> UncertaintyDocument:
    """The plan's band after a fit: narrower where a figure was taken over, or found as stated."""
    names = {one.name for one in taken}
    known = {
        one.name: one
        for one in fit.figures
        if one.claim == "as_stated" or (one.claim == "otherwise" and one.name in names)
    }
    update = {}
    for name, field in NARROWS.items():
        if name in known:
            stated: float = getattr(before, field)
            update[field] = min(stated, max(round(100.0 * known[name].within, 2), LEAST))
    winds = [known[name].within for name in ("wind_north", "wind_east") if name in known]
    if len(winds) == 2:
        update["wind_ms"] = min(before.wind_ms, max(round(max(winds), 2), LEAST))
    return before.model_copy(update=update)


def _refuse(fit: FitDocument, base: Revisions, taken: Sequence[Taken]) -> None:
    if fit.revisions != base:
        raise InputRefused([Fault("fit", "the plan has changed since this fit; run the fit again")])
    known = {one.name for one in fit.figures}
    for one in taken:
        if one.name not in known or one.blamed not in BLAMES[one.name]:
            may = ", ".join(BLAMES[one.name])
            raise InputRefused(
                [
                    Fault(
                        "taken",
                        f"{LABELS[one.name]} cannot be applied to the {one.blamed}; choose {may}",
                    )
                ]
            )


def _blamed(plan: PlanDocument, figure: FitFigureDocument, blamed: Blamed) -> PlanDocument:
    factor = 1.0 + figure.value
    if figure.name in ("wind_north", "wind_east"):
        return plan.model_copy(update={"conditions": _windy(plan.conditions, figure)})
    if blamed == "conditions":
        air = plan.conditions
        gripping = {"grip_factor": _times(air.grip_factor, factor)}
        return plan.model_copy(update={"conditions": air.model_copy(update=gripping)})
    if blamed == "circuit":
        return plan.model_copy(update={"circuit": _gripping(plan.circuit, factor)})
    if blamed == "driver":
        return plan.model_copy(update={"driver": _using(plan.driver, figure.name, factor)})
    return plan.model_copy(update={"car": _car(plan.car, figure.name, factor)})


def _times(value: float, factor: float) -> float:
    return round(value * factor, 4)


def _windy(air: ConditionsDocument, figure: FitFigureDocument) -> ConditionsDocument:
    north, east = components_ms(air.wind_speed_ms, air.wind_from_deg)
    north += figure.value if figure.name == "wind_north" else 0.0
    east += figure.value if figure.name == "wind_east" else 0.0
    speed, from_deg = from_components(north, east)
    wind = {"wind_speed_ms": round(speed, 2), "wind_from_deg": round(from_deg, 1)}
    return air.model_copy(update=wind)


def _gripping(circuit: CircuitDocument, factor: float) -> CircuitDocument:
    if circuit.segments is not None:
        segments = [
            one.model_copy(update={"grip_factor": _times(one.grip_factor, factor)})
            for one in circuit.segments
        ]
        return circuit.model_copy(update={"segments": segments})
    stations = circuit.stations
    assert stations is not None  # as a circuit without segments
    grips = stations.grip_factor or [1.0] * len(stations.at_m)
    gripping = {"grip_factor": [_times(one, factor) for one in grips]}
    return circuit.model_copy(update={"stations": stations.model_copy(update=gripping)})


def _using(driver: DriverDocument, name: FigureName, factor: float) -> DriverDocument:
    use = driver.use
    fields = ("cornering",) if name == "grip" else ("braking", "traction")
    changed = {field: min(_times(getattr(use, field), factor), 1.2) for field in fields}
    return driver.model_copy(update={"use": use.model_copy(update=changed)})


def _car(car: CarDocument, name: FigureName, factor: float) -> CarDocument:
    if name == "mass":
        return car.model_copy(update={"mass_kg": _times(car.mass_kg, factor)})
    if name == "power":
        curve = [
            point.model_copy(update={"torque_nm": _times(point.torque_nm, factor)})
            for point in car.engine.torque_curve
        ]
        engine = car.engine.model_copy(update={"torque_curve": curve})
        return car.model_copy(update={"engine": engine})
    if name in ("grip", "along"):
        fields = ("mu_lateral", "mu_longitudinal") if name == "grip" else ("mu_longitudinal",)
        tyres = {
            field: _times(value, factor)
            for field in fields
            for value in [getattr(car.tyres, field)]
            if value is not None
        }
        return car.model_copy(update={"tyres": car.tyres.model_copy(update=tyres)})
    # Every wing step is the same bodywork: what was misjudged of one was of all.
    field = "lift_area_m2" if name == "downforce" else "drag_area_m2"
    wings = [
        wing.model_copy(update={field: _times(getattr(wing, field), factor)}) for wing in car.wings
    ]
    aero = car.aero.model_copy(update={field: _times(getattr(car.aero, field), factor)})
    return car.model_copy(update={"aero": aero, "wings": wings})
