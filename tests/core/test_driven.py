"""Logs laid along a circuit, their laps, corners and losses: against what was really driven."""

from collections.abc import Sequence
from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from neapfrost.core.arrays import Floats
from neapfrost.core.driven.alignment import Aligned, align
from neapfrost.core.driven.laps import (
    DrivenLog,
    as_if_logged,
    find_laps,
    lap_of_log,
)
from neapfrost.core.driven.log import Log, averaged_over, checked_log, filled, travelled_m
from neapfrost.core.driven.losses import losses, running_loss_s
from neapfrost.core.driven.measures import measure_corners, more_neither_s, sources
from neapfrost.core.errors import InputRefused
from neapfrost.core.lap.compare import DrivenLap
from neapfrost.core.lap.drive import Drive
from neapfrost.core.lap.record import Lap
from neapfrost.core.lap.solve import drive_lap, solve
from neapfrost.demo.plans import PLAN_IDS, composed
from neapfrost.formats.logs.text import look_at_log, read_log
from neapfrost.services.laps.planned import planned
from neapfrost.standins.logger.driver import Hidden, driven_laps, hidden_by
from neapfrost.standins.logger.instruments import (
    BEGINS_S,
    Instruments,
    log_text,
    logged,
    truth,
)

AS_STATED = Hidden(1.0, 1.0, 1.0, 1.0, 1.0, 0.0, 0.0)
CLEAN = Instruments(place_sd_m=0.0, speed_sd_ms=0.0, g_sd=0.0, lag_s=0.0, gaps=0, rate_hz=50.0)


@cache
def drive_of(name: str) -> Drive:
    return planned(composed(name)).drive


@cache
def laps_of(name: str, count: int, seed: int) -> tuple[Lap, ...]:
    return tuple(driven_laps(drive_of(name), count, seed))


def read(
    laps: Sequence[Lap], seed: int, tools: Instruments, stops: Sequence[int] = ()
) -> tuple[Log, Floats]:
    """A log as it is read from its file, and where each of its samples really was [m]."""
    text = log_text(logged(laps, seed, tools, stops)).encode()
    log = read_log(text, look_at_log(text))
    clock, at, _ = truth(laps, tools.rate_hz, stops)
    return log, np.interp(log.t_s - BEGINS_S, clock, at)


def apart_m(aligned: Aligned, true_m: Floats, length_m: float) -> Floats:
    """How far each sample is laid from where it was [m]; whole laps do not count."""
    apart = aligned.at_m - true_m
    found: Floats = apart - np.round(np.median(apart) / length_m) * length_m
    return found


@pytest.mark.parametrize("name", ["k4-dry", "k4-samphire", "dunlin-heath"])
def test_a_log_with_positions_is_laid_within_two_metres(name: str) -> None:
    laps = laps_of(name, 3, 5)
    log, true_m = read(laps, 5, Instruments(place_sd_m=1.0))
    aligned = align(log, laps[0].path)
    apart = apart_m(aligned, true_m, laps[0].path.length_m)
    assert np.percentile(np.abs(apart), 90) < 2.0
    assert aligned.alike > 0.95


@pytest.mark.parametrize("name", ["k4-dry", "k4-samphire"])
def test_a_log_without_positions_is_laid_within_five_metres_where_corners_are(name: str) -> None:
    """With a distance that drifts by 2 %; between the corners nothing but the speed is known."""
    laps = laps_of(name, 3, 6)
    log, true_m = read(laps, 6, Instruments(places=False, speed_factor=1.02))
    path = laps[0].path
    aligned = align(log, path)
    apart = np.abs(apart_m(aligned, true_m, path.length_m))
    within = true_m % path.length_m
    near = np.zeros(len(within), dtype=bool)
    for corner in path.corners:
        near |= (within > corner.begins_at_m - 100.0) & (within < corner.ends_at_m)
    assert np.percentile(apart[near], 90) < 5.0
    assert aligned.scale == pytest.approx(1.0 / 1.02, abs=0.004)
    assert 0.0 < aligned.misfit_m < 5.0


def test_an_acceleration_logged_the_other_way_round_is_noticed() -> None:
    laps = laps_of("k4-dry", 3, 6)
    log, true_m = read(laps, 6, Instruments(places=False))
    assert log.ay_ms2 is not None
    turned = align(replace(log, ay_ms2=-log.ay_ms2), laps[0].path)
    assert turned.mirrored
    assert np.median(np.abs(apart_m(turned, true_m, laps[0].path.length_m))) < 4.0


def test_a_log_of_another_circuit_or_of_nothing_is_refused() -> None:
    log, _ = read(laps_of("k4-samphire", 3, 6), 6, Instruments(places=False))
    with pytest.raises(InputRefused, match="another"):
        align(log, drive_of("k4-dry").path)
    with pytest.raises(InputRefused, match="neither positions nor lateral acceleration"):
        align(replace(log, ay_ms2=None), drive_of("k4-samphire").path)
    with pytest.raises(InputRefused, match="samples were read"):
        checked_log(Log(np.arange(10.0), np.ones(10)))
    with pytest.raises(InputRefused, match="never moves"):
        checked_log(Log(np.arange(300.0), np.zeros(300)))
    with pytest.raises(InputRefused, match="it must rise"):
        checked_log(Log(np.concatenate((np.arange(299.0), [5.0])), np.full(300, 30.0)))


def test_laps_are_split_and_stops_and_ways_out_and_in_told_apart() -> None:
    laps = laps_of("dunlin-heath", 10, 7)
    log, _ = read(laps, 7, Instruments(), stops=[4, 7])
    path = laps[0].path
    found = find_laps(log, align(log, path), path.length_m)
    kinds = [lap.kind for lap in found]
    assert sum(kind in ("stop", "slow", "out", "in") for kind in kinds) >= 4
    timed = [lap.lap_time_s for lap in found if lap.kind == "timed"]
    # Laps 2, 3; 6; 9 have neither a stop nor the way to or from one.
    for number in (1, 2, 5, 8):
        nearest = min(abs((time or 0.0) - laps[number].lap_time_s) for time in timed)
        assert nearest < 0.15


def clean_lap(name: str) -> tuple[DrivenLog, DrivenLap]:
    """A lap that is driven as predicted and logged without any fault."""
    drive = drive_of(name)
    laps = [solve(drive)] * 3
    log, _ = read(laps, 1, CLEAN)
    aligned = align(log, drive.path)
    found = find_laps(log, aligned, drive.path.length_m)
    best = min((lap for lap in found if lap.kind == "timed"), key=lambda lap: lap.lap_time_s or 0.0)
    return lap_of_log(log, aligned, best, drive.path.length_m), drive_lap(drive)


@pytest.mark.parametrize("name", ["k4-dry", "turnstone-qualifying"])
def test_corners_of_a_clean_log_are_measured_as_they_were_predicted(name: str) -> None:
    driven, predicted = clean_lap(name)
    for corner, plan in zip(
        measure_corners(driven, predicted.lap.path), predicted.corners, strict=True
    ):
        assert 3.6 * abs(corner.min_speed_ms - plan.min_speed_ms) < 1.0, corner.name
        assert 3.6 * abs(corner.exit_speed_ms - plan.exit_speed_ms) < 1.5, corner.name
        if plan.action == "brake":
            assert corner.action == "brake", corner.name
            assert plan.brake_start_to_corner_m is not None
            assert corner.brake_start_to_corner_m == pytest.approx(
                plan.brake_start_to_corner_m, abs=3.0
            ), corner.name
            assert corner.gear == plan.gear, corner.name
    assert driven.lap_time_s == pytest.approx(predicted.lap.lap_time_s, abs=0.02)


def test_losses_add_up_to_the_difference_of_the_laps() -> None:
    laps = laps_of("k4-dry", 3, 5)
    log, _ = read(laps, 5, Instruments())
    path = laps[0].path
    aligned = align(log, path)
    predicted = drive_lap(drive_of("k4-dry"))
    for lap in find_laps(log, aligned, path.length_m):
        if lap.lap_time_s is None:
            continue
        driven = lap_of_log(log, aligned, lap, path.length_m)
        total = sum(loss.all_s for loss in losses(driven, predicted))
        change = driven.lap_time_s - predicted.lap.lap_time_s
        assert total == pytest.approx(change, abs=1e-3)
        ends = running_loss_s(driven, predicted.lap, np.array([0.0, path.length_m - 1e-6]))
        assert ends == pytest.approx([0.0, change], abs=2e-3)


def test_a_predicted_lap_measured_as_a_log_loses_nothing_and_names_its_channels() -> None:
    predicted = drive_lap(drive_of("k4-dry"))
    same = as_if_logged(predicted.lap)
    assert max(abs(loss.all_s) for loss in losses(same, predicted)) < 1e-6
    corners = measure_corners(same, predicted.lap.path)
    # Both pedals let go of for the last 40 m before a corner is that much longer with neither.
    first = predicted.lap.path.corners[0].begins_at_m
    gone = (same.at_m > first - 40.0) & (same.at_m < first)
    assert same.throttle is not None
    assert same.brake is not None
    coasted = replace(
        same,
        throttle=np.where(gone, 0.0, same.throttle),
        brake=np.where(gone, 0.0, same.brake),
    )
    slower = measure_corners(coasted, predicted.lap.path)
    longer = more_neither_s(slower[0], corners[0])
    expected = float(np.diff(same.time_at(np.array([first - 40.0, first])))[0])
    assert longer == pytest.approx(expected, abs=0.06)
    assert more_neither_s(slower[3], corners[3]) == 0.0
    told = sources(same)
    assert told["braking"] == "brake"
    bare = replace(same, brake=None, gear=None, throttle=None)
    assert sources(bare) == {
        "speeds": "speed",
        "times": "speed and place",
        "braking": "deceleration",
    }
    for corner, plan in zip(
        measure_corners(bare, predicted.lap.path), predicted.corners, strict=True
    ):
        assert corner.gear is None
        assert corner.neither_s is None
        # A hard touch of the brake is found by what it does; its very beginning is not.
        if plan.brake_start_to_corner_m is not None and (plan.braking_distance_m or 0.0) > 40.0:
            assert corner.brake_start_to_corner_m == pytest.approx(
                plan.brake_start_to_corner_m, abs=12.0
            )


def test_channels_are_filled_and_averaged() -> None:
    t = np.arange(5.0)
    assert filled(t, np.array([0.0, np.nan, 2.0, np.nan, 4.0])).tolist() == [0, 1, 2, 3, 4]
    assert averaged_over(t, np.array([0.0, 3.0, 0.0, 3.0, 0.0]), 3.0)[2] == pytest.approx(2.0)
    with pytest.raises(InputRefused, match="has no numbers"):
        filled(t, np.full(5, np.nan))
    log = Log(t, np.array([0.0, 10.0, 10.0, 10.0, 0.0]))
    assert travelled_m(log)[-1] == pytest.approx(30.0)


def test_the_simulated_run_is_the_same_for_the_same_seed_and_learns() -> None:
    drive = drive_of("dunlin-heath")
    once, again = (driven_laps(drive, 3, 9) for _ in range(2))
    assert [lap.lap_time_s for lap in once] == [lap.lap_time_s for lap in again]
    assert once[0].lap_time_s > once[2].lap_time_s
    assert hidden_by(9) == hidden_by(9) != hidden_by(10)
    stated = driven_laps(drive, 1, 9, AS_STATED)[0]
    assert stated.lap_time_s > solve(drive).lap_time_s
    text = log_text(logged(once, 9, Instruments(stuck="Gear", places=False)))
    assert text == log_text(logged(again, 9, Instruments(stuck="Gear", places=False)))
    assert "Latitude" not in text


@pytest.mark.parametrize("places", [True, False])
def test_an_open_course_is_timed_from_pulling_away_to_its_end(places: bool) -> None:
    drive = drive_of("dunlin-hill")
    (lap,) = driven_laps(drive, 1, 3, AS_STATED)
    tools = Instruments(places=places, speed_factor=1.0 if places else 1.015)
    log, true_m = read([lap], 3, tools)
    aligned = align(log, drive.path)
    (found,) = find_laps(log, aligned, drive.path.length_m, closed=False)
    assert found.lap_time_s == pytest.approx(lap.lap_time_s, abs=0.08)
    on_it = (true_m > 5.0) & (true_m < drive.path.length_m - 5.0)
    assert np.percentile(np.abs(aligned.at_m - true_m)[on_it], 90) < (2.0 if places else 5.0)
    driven = lap_of_log(log, aligned, found, drive.path.length_m)
    predicted = drive_lap(drive)
    lost = losses(driven, predicted)
    change = driven.lap_time_s - predicted.lap.lap_time_s
    assert sum(one.all_s for one in lost) == pytest.approx(change, abs=1e-3)
    same = measure_corners(as_if_logged(predicted.lap), drive.path)
    # Held back by part of the throttle is no lift in a log.
    pairs = [(a, b) for a, b in zip(same, predicted.corners, strict=True) if a.action == b.action]
    assert len(pairs) >= len(same) - 1
    for own, there in pairs:
        assert own.min_speed_ms == pytest.approx(there.min_speed_ms, abs=0.3)
    short = log.between(0, int(np.searchsorted(true_m, drive.path.length_m - 30.0)))
    assert find_laps(short, align(short, drive.path), drive.path.length_m, closed=False) == ()


def test_every_demo_lap_is_measured_in_a_log_as_it_was_told() -> None:
    apart = []
    for name in PLAN_IDS:
        predicted = drive_lap(drive_of(name))
        same = measure_corners(as_if_logged(predicted.lap), predicted.lap.path)
        for own, there in zip(same, predicted.corners, strict=True):
            # Driven into while still gaining speed: a log tells the lowest after the lift.
            gains = there.lift_at_m is not None and there.lift_at_m > there.min_speed_at_m
            if not (there.action == "lift" and gains):
                assert abs(own.min_speed_ms - there.min_speed_ms) < 0.2, (name, own.name)
            if there.brake_start_to_corner_m is not None:
                assert own.brake_start_to_corner_m is not None, (name, own.name)
                apart.append(own.brake_start_to_corner_m - there.brake_start_to_corner_m)
    # The pedal counts from 4 % of its hardest on, which comes a moment after its touch; a touch
    # before the last one may be of this corner in the model and of another one in a log.
    off = np.array(apart)
    assert np.mean((off > -6.0) & (off < 3.0)) > 0.95
    assert np.mean(np.abs(off) < 30.0) > 0.98
