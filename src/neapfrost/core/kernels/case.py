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
    # What a cornering axle drags: its lateral share squared over its cornering stiffness per load,
    # 0 for nothing; the moment [Nm] that a locked axle puts up against turning.
    CORNERING_FRONT,
    CORNERING_REAR,
    SCRUB,
    # A round tyre's radius over the height of the centre of gravity above its middle.
    CROWN,
    # ½ρ·CdA that a rider who sits up adds under braking, and its height over the wheelbase.
    SITS_UP,
    SITS_UP_ARM,
    # Equivalent mass of the wheels over the vehicle's, and whether the engine turns along while
    # braking (1), or the clutch is out (0).
    ROTATING_WHEELS,
    CLUTCH_IN,
    # Shares of the downforce that go with each m/s² of braking and of turning.
    LIFT_BRAKING,
    LIFT_TURNING,
    # 1 where the air's figures go with the speed, by the table AERO.
    AERO_BY_SPEED,
) = range(43)
FIGURES = 43

# Blocks with one figure a gear, first gear first: RPM_PER_MS turns road speed into engine speed,
# FORCE_PER_NM engine torque into force at the tyres, OVERRUN_PER_MS road speed into its force;
# ROTATING is the equivalent mass of all that turns, engine included, over the vehicle's.
GEARS_MOST = 16
RPM_PER_MS, FORCE_PER_NM, OVERRUN_PER_MS, UPSHIFT_W, LIMITER_W, ROTATING = range(
    FIGURES, FIGURES + 6 * GEARS_MOST, GEARS_MOST
)

# Friction over load, from SENSITIVE_FROM times the reference load on: (value, change to the next
# cell by the slope here) for each node, SENSITIVE_CELLS cells of which a unit has SENSITIVE_PER.
SENSITIVE_FROM, SENSITIVE_PER, SENSITIVE_CELLS = 0.5, 128.0, 512
SENSITIVE = FIGURES + 6 * GEARS_MOST

# The air's figures over speed, from 0 in steps of AERO_STEP_MS: factors on downforce and on drag,
# and the front axle's share of the downforce.
AERO_STEP_MS, AERO_NODES = 2.0, 101
AERO = SENSITIVE + 2 * (SENSITIVE_CELLS + 1)

# The torque curve, last: rpm and Nm of one point after the other.
TORQUE_CURVE = AERO + 3 * AERO_NODES
