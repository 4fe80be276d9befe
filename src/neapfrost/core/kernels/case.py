"""Places of the figures in a packed case: vehicle, air, track state and driver, one flat array."""

IDEAL_BRAKES = -1.0  # stands for the front share of brakes that use each axle to its own limit

# Places of the figures in a packed case, SI units. Squared speeds [m²/s²] end in _W.
(
    MASS,
    MOTORCYCLE,
    FRONT_WEIGHT,
    FRONT_AERO,
    CG_OVER_WHEELBASE,
    HALF_RHO_CLA,
    HALF_RHO_CDA,
    ROLLING,
    MU_LATERAL,
    MU_BRAKING,
    MU_TRACTION,
    LOAD_SENSITIVITY,
    FRONT_REFERENCE,
    REAR_REFERENCE,
    ENTRY_EXPONENT,
    EXIT_EXPONENT,
    BRAKE_FRONT,
    BRAKE_MOST,
    DRIVE_REAR,
    LEAN_TANGENT,
    WIND_NORTH,
    WIND_EAST,
    REV_LIMIT,
    UPSHIFT_S,
    DOWNSHIFT_S,
    BRAKE_RAMP_S,
    TRANSITION_S,
    LIFT_THRESHOLD,
    SCHOOL,
    GEARS,
    LOWEST_RPM,
    POINTS,
) = range(32)

# Blocks with one figure a gear, first gear first: RPM_PER_MS turns road speed into engine speed,
# FORCE_PER_NM engine torque into force at the tyres, OVERRUN_PER_MS road speed into its force.
GEARS_MOST = 16
RPM_PER_MS, FORCE_PER_NM, OVERRUN_PER_MS, UPSHIFT_W, LIMITER_W = range(
    32, 32 + 5 * GEARS_MOST, GEARS_MOST
)

# Friction over load, from SENSITIVE_FROM times the reference load on: (value, change to the next
# cell by the slope here) for each node, SENSITIVE_CELLS cells of which a unit has SENSITIVE_PER.
SENSITIVE_FROM, SENSITIVE_PER, SENSITIVE_CELLS = 0.5, 128.0, 512
SENSITIVE = 32 + 5 * GEARS_MOST

# The torque curve, last: rpm and Nm of one point after the other.
TORQUE_CURVE = SENSITIVE + 2 * (SENSITIVE_CELLS + 1)
