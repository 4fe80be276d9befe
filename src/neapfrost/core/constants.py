"""Settled figures that every part of the model shares."""

STANDARD_GRAVITY_MS2 = 9.80665

#: No vehicle is followed beyond this speed; a corner whose limit lies above it has no limit.
SPEED_CEILING_MS = 200.0

#: An axle's load over its reference load is floored here before load sensitivity is applied.
LOAD_RATIO_FLOOR = 0.05

#: A downshift is made once the engine would turn at no more than this share of the rev limit.
DOWNSHIFT_REV_SHARE = 0.97

#: Braking zones closer together than this are one; shorter than the second are none [s].
ZONES_MERGE_WITHIN_S = 0.3
ZONE_SHORTEST_S = 0.1

#: Overrun torque at the rev limit where none is stated, as a share of the peak torque.
DEFAULT_OVERRUN_SHARE = 0.12

#: Share of a corner's peak curvature at which it begins, ends and is turned into.
CORNER_EDGE_SHARE = 0.10

#: A corner that turns so far or farther keeps its straights when its radius is changed [degrees].
STRAIGHTS_HELD_FROM_DEG = 160.0

#: On a measured path a bend is a corner when its radius falls below this [m].
CORNER_LARGEST_RADIUS_M = 800.0

#: Length over which bank is built up before a corner that has no transition [m].
BANK_APPROACH_M = 20.0

#: How far the speed must have risen above the minimum for the throttle point [m/s].
THROTTLE_RISE_MS = 0.1

#: A speed this close above a corner's minimum counts as having reached it [m/s]: a constant
#: radius is held a few hundredths below the speed it is entered with.
MINIMUM_REACHED_MS = 0.05

#: A braking zone that ends this close to a corner is still that corner's [m].
CORNER_REACH_M = 5.0

LAP_SHORTEST_M = 100.0
LAP_LONGEST_M = 50_000.0
SEGMENTS_MOST = 2_000
STATIONS_MOST = 200_000
DEFAULT_STEP_M = 1.0
STEP_RANGE_M = (0.1, 10.0)
