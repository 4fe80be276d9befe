"""Columns of a packed road: what it does to forces, at both ends of every step.

Each row holds sixteen figures. With w = v² the normal acceleration is N0 + N2·w (downforce
aside), the lateral one Y0 + Y2·w, both along the road's own axes; SLOPE is g·sin γ; NORTH and
EAST are the direction of travel; GRIP is the surface's grip factor.

The last eight say what is otherwise at a place than on the rest of the lap, the same at both ends
of a step: factors on downforce (LIFT) and on drag (DRAG), the share of the possible braking that
is used (BRAKING), the exponent of combined braking and cornering (ENTRY, 0: the driver's own), the
gear a corner is to be left in (CORNER_GEAR) and the highest gear to be taken (TOP_GEAR), counted
from 0, -1: as is quickest; the power that a machine beside the engine gives at the tyres while the
throttle is down (ELECTRIC) [W], below 0 where it takes some; and for how much longer than the
change of pedals asks the vehicle coasts before a zone that begins there (COAST) [s].
"""

(
    N0,
    N2,
    Y0,
    Y2,
    SLOPE,
    NORTH,
    EAST,
    GRIP,
    LIFT,
    DRAG,
    BRAKING,
    ENTRY,
    CORNER_GEAR,
    TOP_GEAR,
    ELECTRIC,
    COAST,
) = range(16)
COEFFICIENTS = 16
#: The first so many bear on how fast a place can be held.
BEARING_ON_LIMIT = ENTRY + 1
