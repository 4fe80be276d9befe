"""What is drilled: the corners of a plan's lap, or of one of its first laps, and their cards."""

from dataclasses import dataclass
from typing import Annotated, get_args

from pydantic import Field

from neapfrost.core.drill.cards import (
    SAID_M,
    Beside,
    Card,
    Spread,
    brake_figure,
    cards_of,
    gear_choice,
    speed_figure,
)
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.core.lap.boards import Mark
from neapfrost.core.lap.corners import CornerResult
from neapfrost.core.path.ring import Ring
from neapfrost.core.studies.first_laps import SHARES, Confidence
from neapfrost.core.units import Units
from neapfrost.formats.circuit_facts import note_of
from neapfrost.formats.plan import PlanDocument
from neapfrost.formats.result import CornerResultPart
from neapfrost.services.corners.bands import CornerBand, plan_bands
from neapfrost.services.corners.first_laps import (
    StepCorner,
    StepLap,
    call_before,
    first_laps,
    plan_of_step,
)
from neapfrost.services.laps.predict import TRACE_POINTS, Prediction, recall
from neapfrost.services.words.cautions import describe_hazards
from neapfrost.services.words.corners import braking_place, sentence_for
from neapfrost.services.words.drill import step_sentence
from neapfrost.services.words.saying import Saying

#: The plan's own lap; the first laps are told by how well one knows the circuit, and by number.
PLANNED = "plan"

LapKey = Annotated[str, Field(pattern=r"^(plan|(new|some|known)-[1-9])$")]


@dataclass(frozen=True, eq=False)
class DrilledCorner:
    """A corner as it is drilled: its cards, how it is said, and what is dangerous there.

    `corner` is the plan's, `told` what is done there on the lap that is drilled.
    """

    number: int
    corner: CornerResult
    told: CornerResultPart
    cards: tuple[Card, ...]
    hazards: tuple[str, ...]
    sentence: str

    def card(self, kind: str) -> Card | None:
        """Its card of a kind; None where that is not asked here."""
        return next((one for one in self.cards if one.kind == kind), None)


@dataclass(frozen=True, eq=False)
class Setting:
    """A plan's lap with everything that is asked of it.

    `prediction` is the plan's own lap, which errors are priced by; `driven` the lap that is run.
    """

    plan: PlanDocument
    lap: str
    prediction: Prediction
    driven: Prediction
    corners: tuple[DrilledCorner, ...]
    ring: Ring
    say: Saying

    def marks_of(self, corner: DrilledCorner, without: str | None = None) -> list[Mark]:
        """What one can see before a corner, without one that is missing."""
        return [
            mark
            for mark in self.prediction.marks
            if mark.corner == corner.corner.name and mark.label != without
        ]

    def place_said(
        self, corner: DrilledCorner, to_corner_m: float, without: str | None = None
    ) -> str:
        """A place before a corner by what stands nearest to it: "19 m past 100"."""
        call = call_before(corner.corner, to_corner_m, self.marks_of(corner, without), self.ring)
        return braking_place(call, to_corner_m, self.say)


def setting_of(plan: PlanDocument, lap: str, units: Units) -> Setting:
    """What is drilled of a plan. Raises InputRefused for a lap that it does not have."""
    prediction = recall(plan, TRACE_POINTS)
    say = Saying(units)
    ring = Ring(prediction.result.length_m, plan.circuit.closed)
    step, driven = None, prediction
    if lap != PLANNED:
        confidence, number = _step_of(lap)
        step = first_laps(plan, confidence, units).laps[number - 1]
        driven = recall(plan_of_step(plan, confidence, number), TRACE_POINTS)
    bands = plan_bands(plan).corners
    corners = tuple(
        _corner(plan, prediction, number, bands[number], step, ring, say)
        for number in range(len(prediction.driven.corners))
    )
    return Setting(plan, lap, prediction, driven, corners, ring, say)


def lap_choices() -> list[tuple[str, Confidence | None, int]]:
    """Every lap that can be drilled: the plan's, then each of the first laps."""
    steps = [
        (f"{confidence}-{number}", confidence, number)
        for confidence in get_args(Confidence)
        for number in range(1, len(SHARES[confidence]) + 1)
    ]
    return [(PLANNED, None, 0), *steps]


def _step_of(lap: str) -> tuple[Confidence, int]:
    known = {key: (confidence, number) for key, confidence, number in lap_choices() if confidence}
    confidence, number = known.get(lap, (None, 0))
    if confidence is None:
        raise InputRefused(
            [Fault("lap", f'"{lap}" was given; one of {", ".join([PLANNED, *known])} is expected')]
        )
    return confidence, number


def _corner(
    plan: PlanDocument,
    prediction: Prediction,
    number: int,
    band: CornerBand,
    step: StepLap | None,
    ring: Ring,
    say: Saying,
) -> DrilledCorner:
    corners, told = prediction.driven.corners, prediction.result.corners[number]
    note = note_of(plan.circuit, told.name)
    spread = _spread(band)
    sentence = sentence_for(told, say, ring)
    if step is None:
        beside = Beside(note.look_at, note.kerb, note.limit)
        cards = cards_of(number, corners, list(prediction.marks), spread, beside, ring)
    else:
        own = step.corners[number]
        planned, told = told, _on_step(told, own)
        cards = _step_cards(number, told, planned, spread)
        sentence = step_sentence(step.number, told, own.said, say)
    hazards = tuple(describe_hazards(note))
    return DrilledCorner(number, corners[number], told, cards, hazards, sentence)


def _on_step(planned: CornerResultPart, own: StepCorner) -> CornerResultPart:
    """A corner as it is driven on one of the first laps, as far as that is told."""
    changed = ("action", "trend", "brake_start_to_corner_m", "board_call", "min_speed_ms", "gear")
    return planned.model_copy(update={field: getattr(own, field) for field in changed})


def _spread(band: CornerBand) -> Spread:
    brake, slow = band.brake_start_to_corner_m, band.min_speed_ms
    return Spread(
        None if brake is None else (brake.low, brake.high),
        (slow.low, slow.high),
        tuple((one.gear, one.share_pct) for one in band.gears) if band.gear_in_doubt else (),
    )


def _step_cards(
    number: int, told: CornerResultPart, planned: CornerResultPart, spread: Spread
) -> tuple[Card, ...]:
    """Where, in which gear and how slow on one of the first laps, in bands as wide as the plan's.

    What stands beside the corner does not change from lap to lap and is asked of the plan.
    """
    cards = []
    start, base = told.brake_start_to_corner_m, planned.brake_start_to_corner_m
    if start is not None:
        band = _moved(spread.brake_to_corner_m, 0.0 if base is None else start - base)
        cards.append(Card(number, "brake", (brake_figure(start, band, SAID_M),)))
    cards.append(Card(number, "gear", choice=gear_choice(told.gear, ())))
    if told.action in ("brake", "lift"):
        band = _moved(spread.min_speed_ms, told.min_speed_ms - planned.min_speed_ms)
        cards.append(Card(number, "speed", (speed_figure(told.min_speed_ms, band),)))
    return tuple(cards)


def _moved(band: tuple[float, float] | None, by: float) -> tuple[float, float] | None:
    return None if band is None else (band[0] + by, band[1] + by)
