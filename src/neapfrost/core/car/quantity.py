"""What people state of a vehicle; alone, for documents name it and must not wait for the solver."""

from enum import StrEnum


class Quantity(StrEnum):
    """What a statement is about; SI units, masses in kg, accelerations in g."""

    MASS = "mass_kg"
    POWER = "peak_power_w"
    TORQUE = "peak_torque_nm"
    TOP_SPEED = "top_speed_ms"
    TOP_GEAR = "top_gear_ms"
    TIME_TO_SPEED = "time_to_speed_s"
    TIME_TO_DISTANCE = "time_to_distance_s"
    BRAKING = "braking_distance_m"
    LATERAL_SLOW = "lateral_slow_g"
    LATERAL_FAST = "lateral_fast_g"
    DOWNFORCE = "downforce_n"
