"""Routes of a plan's car: built from what is known, shown, edited, compared, out as files."""

from typing import Annotated, Literal

from fastapi import APIRouter, Body, HTTPException, Query, Request, Response
from pydantic import BaseModel, ConfigDict, Field
from starlette.concurrency import run_in_threadpool

from neapfrost.api.documents import written
from neapfrost.api.files import a_file, download
from neapfrost.api.plans import Kept
from neapfrost.api.spoken import Spoken
from neapfrost.core.car.tyre_code import rolling_radius_m
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.studies.brakes import BrakeStudy
from neapfrost.formats.car_document import CarDocument, TorquePoint
from neapfrost.formats.car_file import read_car, write_car
from neapfrost.formats.document import Name
from neapfrost.formats.result import Revisions
from neapfrost.formats.torque_csv import read_torque_csv, write_torque_csv
from neapfrost.services.cars.areas import AreaQuestion, area_m2
from neapfrost.services.cars.brakes import plan_brake_study
from neapfrost.services.cars.build import QuickBuilt, QuickCar
from neapfrost.services.cars.compare import (
    CarComparison,
    CarSide,
    comparison_csv,
    comparison_markdown,
)
from neapfrost.services.cars.edits import CarEdit
from neapfrost.services.cars.plot_svg import plot_svg
from neapfrost.services.cars.plots import CarReport, Plot, car_report, plot_csv
from neapfrost.services.figures.register import FigureRow, figure_rows
from neapfrost.services.plans.car_edit import choose_new_car, compared_cars, edit_car, rebuilt_car
from neapfrost.services.plans.exchange import kept_plan
from neapfrost.services.plans.workbench import OpenPlan, spoken

router = APIRouter()


class _Request(BaseModel):
    model_config = ConfigDict(extra="forbid")


class EditCarRequest(_Request):
    """An edit of the car, its setup or its tyres, and the revisions it was made on."""

    base: Revisions
    edit: CarEdit


class NewCarRequest(_Request):
    """A car to keep as a new one and to choose."""

    base: Revisions
    car: CarDocument


class CompareCarsRequest(_Request):
    """The two sides to compare."""

    a: CarSide
    b: CarSide


class Found(BaseModel):
    """A figure that was asked for."""

    value: float


class TorqueText(_Request):
    """A torque curve as text."""

    text: Annotated[str, Field(max_length=100_000)]


@router.post("/api/cars/quick")
def build_car(
    store: Kept, wanted: QuickCar, plan_id: Annotated[int | None, Query(ge=1)] = None
) -> QuickBuilt:
    """A car from what is known of it, and what it would change of a plan's; nothing is kept."""
    return rebuilt_car(store, plan_id, wanted)


@router.get("/api/figures")
def list_figures(kind: Literal["car", "motorcycle"] = "car") -> list[FigureRow]:
    """Every figure that can be changed, with what is usual for a kind of vehicle."""
    return figure_rows(kind)


@router.post("/api/cars/area")
def find_area(question: AreaQuestion) -> Found:
    """ClA or CdA from a force at a speed, or from a coefficient and a frontal area."""
    found = area_m2(question)
    if found is None:
        raise InputRefused(
            [
                Fault(
                    "area",
                    "a force with its speed, or a coefficient with its frontal area, is expected",
                )
            ]
        )
    return Found(value=found)


@router.get("/api/cars/tyre")
def find_radius(code: Annotated[str, Query(max_length=40)]) -> Found:
    """The rolling radius of a tyre's code [m]."""
    return Found(value=rolling_radius_m(code))


@router.post("/api/cars/torque")
def read_torque(request: Annotated[TorqueText, Body()]) -> list[TorquePoint]:
    """A torque curve from text in columns."""
    return read_torque_csv(request.text)


@router.get("/api/plans/{plan_id}/car", response_model=CarReport)
def plan_car(store: Kept, plan_id: int, units: Spoken) -> Response:
    """What the plan's car does by itself, with the plan’s setup."""
    return written(car_report(kept_plan(store, plan_id), units))


@router.post("/api/plans/{plan_id}/car", response_model=OpenPlan)
def change_car(store: Kept, plan_id: int, units: Spoken, request: EditCarRequest) -> Response:
    """Edit the car, choose a setup, or say how old the tyres are."""
    return written(spoken(edit_car(store, plan_id, request.base, request.edit), units))


@router.post("/api/plans/{plan_id}/car/new", response_model=OpenPlan)
def take_new_car(store: Kept, plan_id: int, units: Spoken, request: NewCarRequest) -> Response:
    """Keep a car as a new one, and drive the plan with it."""
    return written(spoken(choose_new_car(store, plan_id, request.base, request.car), units))


@router.post(
    "/api/plans/{plan_id}/car/import",
    response_model=OpenPlan,
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {"application/json": {"schema": {"type": "object"}}},
        }
    },
)
async def import_car(store: Kept, plan_id: int, request: Request) -> Response:
    """Keep a car's document as a new car, and drive the plan with it as it stands now."""
    data = await request.body()
    return await run_in_threadpool(
        lambda: written(choose_new_car(store, plan_id, None, read_car(data)))
    )


@router.get("/api/plans/{plan_id}/car/document")
def car_file(store: Kept, plan_id: int) -> Response:
    """The car's document."""
    car = kept_plan(store, plan_id).car
    return Response(
        write_car(car),
        media_type="application/json",
        headers={"content-disposition": 'attachment; filename="car.json"'},
    )


@router.get("/api/plans/{plan_id}/car/torque.csv", response_class=Response, responses=a_file("csv"))
def torque_file(store: Kept, plan_id: int) -> Response:
    """The torque curve as CSV."""
    return download(
        write_torque_csv(kept_plan(store, plan_id).car.engine.torque_curve), "torque.csv"
    )


@router.get(
    "/api/plans/{plan_id}/car/plots/{plot}.{kind}",
    response_class=Response,
    responses=a_file("csv", "svg"),
)
def plot_file(store: Kept, plan_id: int, plot: Plot, kind: Literal["csv", "svg"]) -> Response:
    """One of the car's plots as a file."""
    report = car_report(kept_plan(store, plan_id))
    data = next((one for one in report.plots if one.plot == plot), None)
    if data is None:
        raise HTTPException(404, f'there is no plot "{plot}" of this car')
    return download(plot_csv(data) if kind == "csv" else plot_svg(data), f"{plot}.{kind}")


@router.get("/api/plans/{plan_id}/car/brakes")
def plan_brakes(store: Kept, plan_id: int) -> BrakeStudy:
    """Which axle locks first where, and what the brake distribution costs."""
    return plan_brake_study(kept_plan(store, plan_id))


@router.post("/api/plans/{plan_id}/car/compare", response_model=CarComparison)
def compare_two(store: Kept, plan_id: int, request: CompareCarsRequest) -> Response:
    """Two revisions or setups of the car side by side on the plan's circuit."""
    return written(compared_cars(store, plan_id, request.a, request.b))


@router.get(
    "/api/plans/{plan_id}/car/comparison.{kind}",
    response_class=Response,
    responses=a_file("csv", "md"),
)
def comparison_file(
    store: Kept,
    plan_id: int,
    kind: Literal["csv", "md"],
    a_revision: int | None = None,
    a_setup: Name | None = None,
    b_revision: int | None = None,
    b_setup: Name | None = None,
) -> Response:
    """Two revisions or setups side by side as a file."""
    a = CarSide(revision=a_revision, setup=a_setup)
    b = CarSide(revision=b_revision, setup=b_setup)
    found = compared_cars(store, plan_id, a, b)
    text = comparison_csv(found) if kind == "csv" else comparison_markdown(found)
    return download(text, f"setups.{kind}")
