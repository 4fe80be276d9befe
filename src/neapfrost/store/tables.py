"""Tables of the store: eight kinds of item, the revisions of each, and what belongs to each plan.

To a plan belong its steps, and what somebody has learned of it by heart.
"""

from datetime import datetime
from typing import Literal

from sqlalchemy import ForeignKey, Index, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

Kind = Literal["car", "circuit", "conditions", "weather", "plan", "run", "event", "fit"]


class Base(DeclarativeBase):
    """Root of the tables."""


class Item(Base):
    """What every kind of item has; `newest` is the number of its newest revision.

    A deleted item keeps its rows, with the time of its deletion, so that it can be brought back.
    """

    __abstract__ = True

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(index=True)
    newest: Mapped[int]
    made_at: Mapped[datetime]
    changed_at: Mapped[datetime]
    deleted_at: Mapped[datetime | None]


class Circuit(Item):
    """A circuit, with what one searches by."""

    __tablename__ = "circuits"

    length_m: Mapped[float]
    corner_count: Mapped[int]
    closed: Mapped[bool]


class Car(Item):
    """A vehicle, with what one searches by."""

    __tablename__ = "cars"

    vehicle_kind: Mapped[str]
    mass_kg: Mapped[float]
    peak_power_kw: Mapped[float]


class ConditionsItem(Item):
    """Named conditions, with what one searches by."""

    __tablename__ = "conditions"

    air_temp_c: Mapped[float]
    wind_speed_ms: Mapped[float]
    wetness_pct: Mapped[float]


class Weather(Item):
    """A record of the weather along a session: when it begins, as text, and its readings."""

    __tablename__ = "weathers"

    begins_at: Mapped[str]
    reading_count: Mapped[int]
    weather_count: Mapped[int]


class Plan(Item):
    """A plan, what it puts together, and the baseline its lap is compared with (JSON, or none).

    No lap answers to its weather, which the plan is looked at along. A plan that follows the
    station is told when what the station reads has moved its calls.
    """

    __tablename__ = "plans"

    car_id: Mapped[int] = mapped_column(ForeignKey("cars.id"), index=True)
    circuit_id: Mapped[int] = mapped_column(ForeignKey("circuits.id"), index=True)
    conditions_id: Mapped[int] = mapped_column(ForeignKey("conditions.id"), index=True)
    weather_id: Mapped[int | None] = mapped_column(ForeignKey("weathers.id"), index=True)
    follows_station: Mapped[bool] = mapped_column(default=False)
    baseline: Mapped[str | None]


class Run(Item):
    """A run as it was driven, the plan it is held against, and what one searches by.

    `session` is the number of one of its event's sessions.
    """

    __tablename__ = "runs"

    plan_id: Mapped[int | None] = mapped_column(ForeignKey("plans.id"), index=True)
    event_id: Mapped[int | None] = mapped_column(ForeignKey("events.id"), index=True)
    session: Mapped[int | None]
    circuit: Mapped[str] = mapped_column(index=True)
    car: Mapped[str]
    driven_at: Mapped[str]
    lap_count: Mapped[int]
    best_lap_s: Mapped[float | None]


class Event(Item):
    """An event, whose document holds its sessions; `held_on` is its first day, as text."""

    __tablename__ = "events"

    circuit: Mapped[str | None]
    held_on: Mapped[str | None]


class Fit(Item):
    """What some runs taught of a plan's figures."""

    __tablename__ = "fits"

    plan_id: Mapped[int | None] = mapped_column(ForeignKey("plans.id"), index=True)
    circuit: Mapped[str]
    car: Mapped[str]


class Revision(Base):
    """One state of an item: its document as JSON text. Written once, never changed."""

    __abstract__ = True

    id: Mapped[int] = mapped_column(primary_key=True)
    item_id: Mapped[int]
    number: Mapped[int]
    document: Mapped[str]
    content_hash: Mapped[str] = mapped_column(index=True)
    remark: Mapped[str]
    made_at: Mapped[datetime]


class CircuitRevision(Revision):
    """A state of a circuit."""

    __tablename__ = "circuit_revisions"
    __table_args__ = (UniqueConstraint("item_id", "number"),)

    item_id: Mapped[int] = mapped_column(ForeignKey("circuits.id"))


class CarRevision(Revision):
    """A state of a car."""

    __tablename__ = "car_revisions"
    __table_args__ = (UniqueConstraint("item_id", "number"),)

    item_id: Mapped[int] = mapped_column(ForeignKey("cars.id"))


class ConditionsRevision(Revision):
    """A state of conditions."""

    __tablename__ = "conditions_revisions"
    __table_args__ = (UniqueConstraint("item_id", "number"),)

    item_id: Mapped[int] = mapped_column(ForeignKey("conditions.id"))


class WeatherRevision(Revision):
    """A state of a record of the weather."""

    __tablename__ = "weather_revisions"
    __table_args__ = (UniqueConstraint("item_id", "number"),)

    item_id: Mapped[int] = mapped_column(ForeignKey("weathers.id"))


class PlanRevision(Revision):
    """A state of a plan."""

    __tablename__ = "plan_revisions"
    __table_args__ = (UniqueConstraint("item_id", "number"),)

    item_id: Mapped[int] = mapped_column(ForeignKey("plans.id"))


class RunRevision(Revision):
    """A state of a run."""

    __tablename__ = "run_revisions"
    __table_args__ = (UniqueConstraint("item_id", "number"),)

    item_id: Mapped[int] = mapped_column(ForeignKey("runs.id"))


class EventRevision(Revision):
    """A state of an event."""

    __tablename__ = "event_revisions"
    __table_args__ = (UniqueConstraint("item_id", "number"),)

    item_id: Mapped[int] = mapped_column(ForeignKey("events.id"))


class FitRevision(Revision):
    """A state of a fit."""

    __tablename__ = "fit_revisions"
    __table_args__ = (UniqueConstraint("item_id", "number"),)

    item_id: Mapped[int] = mapped_column(ForeignKey("fits.id"))


class Step(Base):
    """One thing done to a plan or to what it stands on, for undo, redo and the history.

    `state` is "done", "undone" or "dropped" (an undone step that a newer one made unreachable).
    `car`, `circuit`, `conditions`, `plan` are the revisions the plan stood on once it was done.
    One act may write several steps, a part each: they name the first of them as their `act`, and
    are undone and redone together.
    """

    __tablename__ = "plan_steps"
    __table_args__ = (Index("ix_plan_steps_plan", "plan_id", "state", "id"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    plan_id: Mapped[int] = mapped_column(ForeignKey("plans.id"))
    state: Mapped[str]
    label: Mapped[str]
    kind: Mapped[str]
    item_id: Mapped[int]
    before: Mapped[int]
    after: Mapped[int]
    car: Mapped[int]
    circuit: Mapped[int]
    conditions: Mapped[int]
    plan: Mapped[int]
    lap_before_s: Mapped[float | None]
    lap_after_s: Mapped[float | None]
    made_at: Mapped[datetime]
    act: Mapped[int | None]


class DrillCard(Base):
    """How well somebody knows one thing of one corner of a plan.

    `lap` is "plan", or which of the first laps; `memory` and `right` are JSON: what the scheduler
    keeps, and what was right when it was last answered. Moments are UTC.
    """

    __tablename__ = "drill_cards"
    __table_args__ = (UniqueConstraint("plan_id", "driver", "lap", "corner", "kind"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    plan_id: Mapped[int] = mapped_column(ForeignKey("plans.id"))
    driver: Mapped[str]
    lap: Mapped[str]
    corner: Mapped[str]
    kind: Mapped[str]
    memory: Mapped[str]
    right: Mapped[str]
    inside: Mapped[bool]
    answers: Mapped[int]
    due_at: Mapped[datetime]


class DrillAnswer(Base):
    """One answer as it was given. Written once, never changed.

    `given`, `right`, `off` are JSON: what was answered, what was right, how far off its figures
    were. `way` is "recall" or "rhythm".
    """

    __tablename__ = "drill_answers"
    __table_args__ = (Index("ix_drill_answers_plan", "plan_id", "driver", "id"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    plan_id: Mapped[int] = mapped_column(ForeignKey("plans.id"))
    driver: Mapped[str]
    lap: Mapped[str]
    corner: Mapped[str]
    kind: Mapped[str]
    way: Mapped[str]
    given: Mapped[str]
    right: Mapped[str]
    off: Mapped[str]
    inside: Mapped[bool]
    dangerous: Mapped[bool]
    price_s: Mapped[float | None]
    took_s: Mapped[float | None]
    answered_at: Mapped[datetime]


class Mark(Base):
    """A fact about the store itself, or a setting of the application, by name."""

    __tablename__ = "marks"

    name: Mapped[str] = mapped_column(primary_key=True)
    value: Mapped[str]


ITEM_TABLES: dict[Kind, type[Item]] = {
    "car": Car,
    "circuit": Circuit,
    "conditions": ConditionsItem,
    "weather": Weather,
    "plan": Plan,
    "run": Run,
    "event": Event,
    "fit": Fit,
}
REVISION_TABLES: dict[Kind, type[Revision]] = {
    "car": CarRevision,
    "circuit": CircuitRevision,
    "conditions": ConditionsRevision,
    "weather": WeatherRevision,
    "plan": PlanRevision,
    "run": RunRevision,
    "event": EventRevision,
    "fit": FitRevision,
}
