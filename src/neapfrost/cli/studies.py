"""Sweeps and rankings on the terminal."""

from rich.console import Console
from rich.table import Table

from neapfrost.core.learned.figures import WINDS
from neapfrost.formats.fit import FitDocument
from neapfrost.services.studies.jobs import StudyJob
from neapfrost.services.words.saying import Saying
from neapfrost.services.words.trade import describe_value


def print_sweep(job: StudyJob) -> None:
    """Laps along one figure, the best marked, and what is to be said of them."""
    sweep = job.sweep
    assert sweep is not None  # as of every sweep that was driven
    console, say = Console(width=110), Saying()
    table = Table(title=f"Lap time over {sweep.axis.label.lower()}", box=None)
    for head in (sweep.axis.label, "Lap [s]", "Change [s]", "± [s]", "Top [km/h]", "Fuel [l]", ""):
        table.add_column(head, justify="left" if head in ("", sweep.axis.label) else "right")
    for index, point in enumerate(sweep.points):
        value = describe_value(sweep.axis, point.value, say)
        if point.figures is None or point.change_s is None:
            table.add_row(value, "", "", "", "", "", point.trouble or "")
            continue
        band = point.change_band
        table.add_row(
            value,
            f"{point.figures.lap_time_s:.3f}",
            f"{point.change_s:+.3f}",
            "" if band is None else f"{0.5 * (band.high - band.low):.3f}",
            say.number(point.figures.top_speed_ms, 1),
            f"{point.figures.fuel_litres:.2f}",
            "quickest" if index == sweep.best else "",
        )
    console.print(table)
    for sentence in sweep.said:
        console.print(sentence)


def print_ranking(job: StudyJob) -> None:
    """Steps by what they gain, and the next one to try."""
    ranking = job.ranking
    assert ranking is not None  # as of every ranking that was driven
    console = Console(width=110)
    table = Table(title="Sensitivities: gain per step", box=None)
    for head in ("Change", "Gain [s]", "± [s]", "Opposite step [s]", "Laps to confirm"):
        table.add_column(head, justify="left" if head == "Change" else "right")
    for row in ranking.rows:
        band = row.gain_band
        table.add_row(
            row.said,
            f"{row.gain_s:+.3f}",
            "" if band is None else f"{0.5 * (band.high - band.low):.3f}",
            "" if row.other_s is None else f"{-row.other_s:+.3f}",
            "" if row.laps_to_see is None else f"2 × {row.laps_to_see}",
        )
    console.print(table)
    for sentence in ranking.said:
        console.print(sentence)


def print_fit(fit: FitDocument) -> None:
    """Figures with their intervals, and everything that is said of them."""
    console = Console(width=110)
    table = Table(title="Model fit", box=None)
    for head in ("Figure", "Difference", "±", "Before ±", ""):
        table.add_column(head, justify="left" if head in ("Figure", "") else "right")
    for one in fit.figures:
        wind = one.name in WINDS
        values = (one.value, one.within, one.stated_within)
        shown = [f"{v:.2f} m/s" if wind else f"{100.0 * v:.1f} %" for v in values]
        table.add_row(one.label, *shown, one.claim.replace("_", " "))
    console.print(table)
    for sentence in (*fit.said, *(part.said for part in fit.parts), *fit.apart):
        console.print(sentence)
