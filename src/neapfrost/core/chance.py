"""How sure one has to be, said once: intervals, differences that are called one, and scatter."""

from scipy.stats import t as student

#: A stated interval holds so often: four times in five.
HELD = 0.8
#: A difference is called one where chance would not make it in so many cases.
SURE = 0.99
#: Scatter of normal figures for each median distance from their median, which no mistake widens.
MIDDLE_SD = 1.4826


def half_width(held: float, free: int) -> float:
    """Half of the width, in standard errors, that holds so often with so many free (Student)."""
    return float(student.ppf(0.5 + 0.5 * held, free))
