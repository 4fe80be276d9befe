"""A torque curve through a peak power and a peak torque."""

import math

import numpy as np

WATTS_PER_RPM_NM = math.pi / 30.0
#: Peak torque times the power peak's engine speed over the peak power: 1 is a torque that still
#: rises there, 1.5 one that has fallen since standstill.
RATIO_LEAST, RATIO_MOST = 1.02, 1.45
#: Torque at no speed is this much below the peak, as a share of it.
LOW_FALL = 0.35
#: The curve begins at this share of the power peak's engine speed.
BEGINS_AT = 0.28
POINTS = 9


def torque_curve(
    peak_power_w: float, power_rpm: float, rev_limit_rpm: float, ratio: float
) -> tuple[tuple[float, float], ...]:
    """(rpm, Nm) points of a curve whose power peaks at `power_rpm` with `peak_power_w`.

    Above the torque peak it is the parabola T = T_p(1 - c((n - n_T)/(n_P - n_T))²) whose power has
    its peak at n_P: c = (1 - x)/(3 - x) with x = n_T/n_P, and T_p = P/ω_P·(3 - x)/2, so that the
    `ratio` T_p·ω_P/P alone decides where torque peaks. Below the peak it falls by 35 % to nothing.
    """
    ratio = min(max(ratio, RATIO_LEAST), RATIO_MOST)
    x = 3.0 - 2.0 * ratio
    peak_nm = ratio * peak_power_w / (power_rpm * WATTS_PER_RPM_NM)
    torque_rpm = x * power_rpm
    fall = (1.0 - x) / (3.0 - x)
    begins = min(BEGINS_AT * power_rpm, 0.9 * torque_rpm)
    rpm = np.unique(
        np.concatenate(
            (
                np.linspace(begins, torque_rpm, POINTS // 2),
                np.linspace(torque_rpm, power_rpm, POINTS // 2),
                [max(rev_limit_rpm, power_rpm + 1.0)],
            )
        )
    )
    above = 1.0 - fall * ((rpm - torque_rpm) / (power_rpm - torque_rpm)) ** 2
    below = 1.0 - LOW_FALL * ((torque_rpm - rpm) / torque_rpm) ** 2
    torque = peak_nm * np.where(rpm >= torque_rpm, above, below)
    return tuple(zip(rpm.tolist(), torque.tolist(), strict=True))
