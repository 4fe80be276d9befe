"""The lap in real time: where one is when, what is called, what stands there, and its rhythm."""

import json
from datetime import datetime
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from neapfrost.core.drill.cards import LIFT_M, SAID_M, THROTTLE_M
from neapfrost.core.drill.price import Price, brake_early, brake_late, throttle_late
from neapfrost.core.drill.rhythm import (
    DEEDS,
    Beat,
    Deed,
    Held,
    Press,
    beats_of,
    held_against,
    timed,
)
from neapfrost.core.drill.spoken import begins_s
from neapfrost.core.lap.record import elapsed_s
from neapfrost.services.drill.answering import Driver
from neapfrost.services.drill.setting import PLANNED, DrilledCorner, LapKey, Setting
from neapfrost.services.words.drill import (
    DEED_LABELS,
    describe_call,
    describe_held,
    describe_rhythm,
    price_words,
)
from neapfrost.store.database import Store, writing
from neapfrost.store.tables import DrillAnswer


class RunBeat(BaseModel):
    """Something that is done at a place and a time of the lap."""

    corner: int
    deed: Deed
    label: str
    at_m: float
    at_s: float
    gear: int | None


class RunDeed(BaseModel):
    """Something that can be pressed."""

    deed: Deed
    label: str


class RunCall(BaseModel):
    """What is said of a corner, from when until one is there [s]; before 0 on the lap before."""

    corner: int
    begins_s: float
    until_s: float
    said: str


class RunBoard(BaseModel):
    """A board or reference that is passed."""

    label: str
    at_m: float


class RunCorner(BaseModel):
    """A corner of the lap that is run, from where one first does something for it."""

    name: str
    direction: str
    from_m: float
    begins_m: float
    ends_m: float
    slowest_m: float
    min_speed_ms: float


class DrillRun(BaseModel):
    """A lap in real time: place and speed over time, what is done, said and passed."""

    lap_time_s: float
    length_m: float
    closed: bool
    s_m: list[float]
    t_s: list[float]
    v_ms: list[float]
    x_m: list[float]
    y_m: list[float]
    gear: list[int]
    beats: list[RunBeat]
    calls: list[RunCall]
    boards: list[RunBoard]
    corners: list[RunCorner]
    deeds: list[RunDeed]


class RunPress(BaseModel):
    """A key pressed at a time of the lap [s]."""

    model_config = ConfigDict(extra="forbid")

    deed: Deed
    at_s: Annotated[float, Field(ge=-10, le=100_000)]


class RhythmGiven(BaseModel):
    """What was pressed on a stretch of the lap; kept where it is over."""

    model_config = ConfigDict(extra="forbid")

    driver: Driver = ""
    lap: LapKey = PLANNED
    presses: Annotated[list[RunPress], Field(max_length=1_000)]
    from_s: Annotated[float, Field(ge=0)] = 0.0
    until_s: Annotated[float, Field(ge=0)] | None = None
    deeds: list[Deed] = list(DEEDS)
    keep: bool = False


class RhythmBeat(BaseModel):
    """A beat and how its press was; null and "not pressed" where none came."""

    corner: int
    name: str
    deed: Deed
    label: str
    off_s: float | None
    off_m: float | None
    inside: bool
    dangerous: bool
    said: str
    price: str


class Rhythm(BaseModel):
    """A stretch of the lap by its rhythm."""

    said: str
    cost_s: float
    beats: list[RhythmBeat]


def drill_run(setting: Setting) -> DrillRun:
    """The lap that is drilled, in real time."""
    result, lap = setting.driven.result, setting.driven.driven.lap
    trace = result.trace
    beats = _beats(setting)
    needed = [
        float(elapsed_s(lap, np.array([_from_m(setting, corner)]))[0]) for corner in setting.corners
    ]
    # A corner whose braking begins before the line is called at the end of the lap.
    order = sorted(range(len(needed)), key=lambda n: needed[n])
    words = [describe_call(corner.told, setting.say) for corner in setting.corners]
    begins = begins_s([needed[n] for n in order], [words[n] for n in order], result.lap_time_s)
    return DrillRun(
        lap_time_s=result.lap_time_s,
        length_m=result.length_m,
        closed=setting.ring.closed,
        s_m=trace.s_m,
        t_s=trace.t_s,
        v_ms=trace.v_ms,
        x_m=trace.x_m,
        y_m=trace.y_m,
        gear=trace.gear,
        beats=[
            RunBeat(
                corner=beat.corner,
                deed=beat.deed,
                label=_describe_deed(beat),
                at_m=beat.at_m,
                at_s=beat.at_s,
                gear=beat.gear,
            )
            for beat in beats
        ],
        calls=[
            RunCall(corner=n, begins_s=begin, until_s=needed[n], said=words[n])
            for n, begin in zip(order, begins, strict=True)
        ],
        boards=[RunBoard(label=mark.label, at_m=mark.at_m) for mark in setting.prediction.marks],
        corners=[_run_corner(setting, corner) for corner in setting.corners],
        deeds=[RunDeed(deed=deed, label=DEED_LABELS[deed]) for deed in DEEDS],
    )


def rhythm(
    store: Store, plan_id: int, setting: Setting, given: RhythmGiven, moment: datetime
) -> Rhythm:
    """Hold what was pressed against the lap; kept, where it is to be, as answers of their own."""
    lap = setting.driven.driven.lap
    until_s = lap.lap_time_s if given.until_s is None else given.until_s
    beats = [
        beat
        for beat in _beats(setting)
        if beat.deed in given.deeds and given.from_s <= beat.at_s <= until_s
    ]
    presses = [Press(one.deed, one.at_s) for one in given.presses]
    bands = [_band_m(setting, beat) for beat in beats]
    held, stray = held_against(lap, beats, presses, bands)
    prices = [_price(setting, one) for one in held]
    told = [
        RhythmBeat(
            corner=one.beat.corner,
            name=setting.corners[one.beat.corner].corner.name,
            deed=one.beat.deed,
            label=_describe_deed(one.beat),
            off_s=one.off_s,
            off_m=one.off_m,
            inside=one.inside,
            dangerous=one.dangerous,
            said=describe_held(one, setting.say),
            price=price_words([price], setting.say),
        )
        for one, price in zip(held, prices, strict=True)
    ]
    if given.keep:
        _keep(store, plan_id, setting, given, list(zip(held, prices, strict=True)), moment)
    cost_s = sum(price.cost_s or 0.0 for price in prices)
    return Rhythm(
        said=describe_rhythm(held, len(stray), cost_s),
        cost_s=cost_s,
        beats=told,
    )


def _beats(setting: Setting) -> tuple[Beat, ...]:
    """What is done along the lap; on one of the first laps at the places told for it."""
    lap = setting.driven.driven.lap
    planned = beats_of(lap, setting.driven.driven.corners)
    if setting.lap == PLANNED:
        return planned
    rest = [(b.corner, b.deed, b.at_m, b.gear) for b in planned if b.deed != "brake"]
    brakes: list[tuple[int, Deed, float, int | None]] = [
        (corner.number, "brake", _from_m(setting, corner), None)
        for corner in setting.corners
        if corner.told.brake_start_to_corner_m is not None
    ]
    return timed(lap, [*rest, *brakes])


def _from_m(setting: Setting, corner: DrilledCorner) -> float:
    """Where one first does something for a corner: brakes or lifts; else where it begins [m]."""
    own, to_corner_m = corner.corner, corner.told.brake_start_to_corner_m
    if to_corner_m is not None:
        return setting.ring.fold(own.begins_at_m - to_corner_m)
    if setting.lap == PLANNED and own.lift_at_m is not None:
        return own.lift_at_m
    return own.begins_at_m


def _band_m(setting: Setting, beat: Beat) -> float:
    """How far off a press may be: as wide as the card's band on its narrower side [m]."""
    card = setting.corners[beat.corner].card("brake") if beat.deed == "brake" else None
    if card is not None:
        (figure,) = card.figures
        return min(figure.value - figure.low, figure.high - figure.value)
    return {"brake": LIFT_M, "throttle": THROTTLE_M}.get(beat.deed, SAID_M)


def _price(setting: Setting, held: Held) -> Price:
    off_m, driven = held.off_m, setting.prediction.driven
    if off_m is None or held.inside or setting.lap != PLANNED:
        return Price()
    if held.beat.deed == "brake":
        early = brake_early if off_m < 0.0 else brake_late
        return early(driven, held.beat.corner, abs(off_m))
    if held.beat.deed == "throttle" and off_m > 0.0:
        return throttle_late(driven, held.beat.corner, off_m)
    return Price()


def _describe_deed(beat: Beat) -> str:
    label = DEED_LABELS[beat.deed]
    return label if beat.gear is None else f"{label} to {beat.gear}"


def _run_corner(setting: Setting, corner: DrilledCorner) -> RunCorner:
    own, told = corner.corner, setting.driven.result.corners[corner.number]
    return RunCorner(
        name=own.name,
        direction=own.direction,
        from_m=_from_m(setting, corner),
        begins_m=own.begins_at_m,
        ends_m=own.ends_at_m,
        slowest_m=told.min_speed_at_m,
        min_speed_ms=corner.told.min_speed_ms,
    )


def _keep(
    store: Store,
    plan_id: int,
    setting: Setting,
    given: RhythmGiven,
    held: list[tuple[Held, Price]],
    moment: datetime,
) -> None:
    """Presses as answers: they are practised with the calls at hand, and move no card."""
    with writing(store) as session:
        for one, price in held:
            if one.off_s is None:
                continue
            session.add(
                DrillAnswer(
                    plan_id=plan_id,
                    driver=given.driver.strip(),
                    lap=setting.lap,
                    corner=setting.corners[one.beat.corner].corner.name,
                    kind=one.beat.deed,
                    way="rhythm",
                    given=json.dumps(round(one.beat.at_s + one.off_s, 3)),
                    right=json.dumps(round(one.beat.at_s, 3)),
                    off=json.dumps([one.off_s, one.off_m]),
                    inside=one.inside,
                    dangerous=one.dangerous,
                    price_s=price.cost_s,
                    took_s=None,
                    answered_at=moment,
                )
            )
