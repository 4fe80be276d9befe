"""Sweeps, maps and rankings as CSV: units in the headers, points as decimals."""

from neapfrost.formats.escaping import sheet_text
from neapfrost.services.studies.jobs import StudyJob
from neapfrost.services.trade.axes import Axis
from neapfrost.services.trade.gears import GearStudy
from neapfrost.services.trade.grid import Grid
from neapfrost.services.trade.ranking import Ranking
from neapfrost.services.trade.search import Search
from neapfrost.services.trade.sweep import Sweep
from neapfrost.services.weather.session import Session, SessionPoint
from neapfrost.services.weather.weathers import Weathers
from neapfrost.services.weather.winds import WindStudy


def table_csv(job: StudyJob) -> str:
    """What a study has come to so far, a row for each lap."""
    if job.sweep is not None:
        return sheet_text(_sweep_rows(job.sweep))
    if job.grid is not None:
        return sheet_text(_grid_rows(job.grid))
    if job.ranking is not None:
        return sheet_text(_ranking_rows(job.ranking))
    if job.search is not None:
        return sheet_text(_search_rows(job.search))
    if job.gears is not None:
        return sheet_text(_gear_rows(job.gears))
    if job.winds is not None:
        return sheet_text(_wind_rows(job.winds))
    if job.session is not None:
        return sheet_text(_session_rows(job.session))
    if job.weathers is not None:
        return sheet_text(_weathers_rows(job.weathers))
    return ""


def _heading(axis: Axis) -> str:
    return f"{axis.label} [{axis.unit}]" if axis.unit else axis.label


def _sweep_rows(sweep: Sweep) -> list[list[object]]:
    corners = [one.label for one in sweep.stretches if not one.straight]
    head: list[object] = [
        _heading(sweep.axis),
        "Lap [s]",
        "Change [s]",
        "Change, low [s]",
        "Change, high [s]",
        "Top speed [m/s]",
        "Engine speed there [rpm]",
        "Fuel [l]",
        *(f"Sector {n + 1} [s]" for n in range(len(sweep.present.sectors_s))),
        *(f"{one.label} [s]" for one in sweep.stretches),
        *(f"{board.label} [m/s]" for board in sweep.boards),
    ]
    for name in corners:
        head += [f"{name}, minimum [m/s]", f"{name}, gear", f"{name}, brake to corner [m]"]
    rows = [head]
    for point in sweep.points:
        figures = point.figures
        if figures is None:
            rows.append([point.value, point.trouble])
            continue
        band = point.change_band
        row: list[object] = [
            point.value,
            figures.lap_time_s,
            point.change_s,
            None if band is None else band.low,
            None if band is None else band.high,
            figures.top_speed_ms,
            figures.top_rpm,
            figures.fuel_litres,
            *figures.sectors_s,
            *figures.stretches_s,
            *figures.board_speeds_ms,
        ]
        for corner in figures.corners:
            row += [corner.min_speed_ms, corner.gear, corner.brake_start_to_corner_m]
        rows.append(row)
    return rows


def _grid_rows(grid: Grid) -> list[list[object]]:
    rows: list[list[object]] = [
        [
            _heading(grid.x),
            _heading(grid.y),
            "Lap [s]",
            "Top speed [m/s]",
            "Engine speed there [rpm]",
            "Fuel [l]",
        ]
    ]
    for row, y in enumerate(grid.y_values):
        for column, x in enumerate(grid.x_values):
            rows.append(
                [
                    x,
                    y,
                    grid.lap_time_s[row][column],
                    grid.top_speed_ms[row][column],
                    grid.top_rpm[row][column],
                    grid.fuel_litres[row][column],
                ]
            )
    return rows


def _ranking_rows(ranking: Ranking) -> list[list[object]]:
    rows: list[list[object]] = [
        [
            "Change",
            "Gain [s]",
            "Gain, low [s]",
            "Gain, high [s]",
            "Opposite step [s]",
            "Clearly more than the next",
            "Laps before and after to confirm",
            *(f"{one.label} [s]" for one in ranking.stretches),
        ]
    ]
    for row in ranking.rows:
        band = row.gain_band
        rows.append(
            [
                row.said,
                row.gain_s,
                None if band is None else band.low,
                None if band is None else band.high,
                row.other_s,
                None if row.sure is None else "yes" if row.sure else "no",
                row.laps_to_see,
                *row.stretches_s,
            ]
        )
    return rows


def _search_rows(search: Search) -> list[list[object]]:
    rows: list[list[object]] = [
        [
            *(_heading(axis) for axis in search.axes),
            "Lap [s]",
            "Change [s]",
            "Change, low [s]",
            "Change, high [s]",
            "Mean of the draws [s]",
            "Slowest tenth from [s]",
            "No slower than the best",
            "Top speed [m/s]",
            "Fuel [l]",
            "Session mean [s]",
            "Session worst [s]",
        ]
    ]
    for one in search.found:
        values = {setting.axis: setting.value for setting in one.settings}
        band = one.change_band
        rows.append(
            [
                *(values.get(axis.name) for axis in search.axes),
                one.lap_time_s,
                one.change_s,
                None if band is None else band.low,
                None if band is None else band.high,
                one.mean_s,
                one.bad_s,
                "yes" if one.even else "no",
                one.top_speed_ms,
                one.fuel_litres,
                one.session_s,
                one.worst_s,
            ]
        )
    return rows


def _gear_rows(study: GearStudy) -> list[list[object]]:
    count = max([len(one.ratios) for one in study.choices] or [0])
    rows: list[list[object]] = [
        [
            "Gears",
            "Lap [s]",
            "Change [s]",
            "Top speed [m/s]",
            "Engine there [% of the limit]",
            "In a tow [% of the limit]",
            "Shifts in corners",
            "Final drive",
            *(f"Gear {number + 1}" for number in range(count)),
        ]
    ]
    for one in study.choices:
        rows.append(
            [
                one.name,
                one.lap_time_s,
                one.change_s,
                one.top_speed_ms,
                one.top_rpm_pct,
                one.tow_rpm_pct,
                "; ".join(one.shifts_in_corners),
                one.final_drive,
                *one.ratios,
            ]
        )
    return rows


def _wind_rows(study: WindStudy) -> list[list[object]]:
    head: list[object] = ["Wind from [°]"]
    head += [f"{corner.name} flat up to [m/s]" for corner in study.corners]
    rows = [head]
    for number, direction in enumerate(study.directions_deg):
        rows.append([direction, *(corner.from_ms[number] for corner in study.corners)])
    return rows


#: Columns of a moment: its heading and its name.
MOMENT_COLUMNS = (
    ("Time", "at"),
    ("Air [°C]", "air_temp_c"),
    ("Pressure [hPa]", "pressure_hpa"),
    ("Humidity [%]", "humidity_pct"),
    ("Wind [m/s]", "wind_speed_ms"),
    ("Wind from [°]", "wind_from_deg"),
    ("Gusts [m/s]", "gust_ms"),
    ("Road [°C]", "track_temp_c"),
    ("Rain [mm/h]", "rain_mm_h"),
    ("Line wet [%]", "line_pct"),
    ("Off line wet [%]", "beside_pct"),
    ("Rubber [of 1]", "rubber_factor"),
)


def _moment_head(corners: list[str], compounds: list[str]) -> list[object]:
    head: list[object] = [heading for heading, _ in MOMENT_COLUMNS]
    head += ["Lap [s]", "Top speed [m/s]", *(f"{name} [s]" for name in compounds)]
    for name in corners:
        head += [f"{name}, action", f"{name}, minimum [m/s]", f"{name}, brake to corner [m]"]
    return head


def _moment_row(point: SessionPoint) -> list[object]:
    row: list[object] = []
    for _, name in MOMENT_COLUMNS:
        value = getattr(point, name)
        row.append(round(value, 5) if isinstance(value, float) else value)
    figures = point.figures
    if figures is None:
        return [*row, point.trouble]
    row += [figures.lap_time_s, figures.top_speed_ms, *point.compounds_s]
    for corner in figures.corners:
        row += [corner.action, corner.min_speed_ms, corner.brake_start_to_corner_m]
    return row


def _session_rows(session: Session) -> list[list[object]]:
    rows = [_moment_head(session.corners, session.compounds)]
    rows += [_moment_row(point) for point in session.points]
    rows += [[], ["Time", "Corner", "Change"]]
    for mark in session.marks:
        corner = "" if mark.corner is None else session.corners[mark.corner]
        rows.append([mark.at, corner, mark.said])
    return rows


def _weathers_rows(weathers: Weathers) -> list[list[object]]:
    rows = [["Weather", "Chance [%]", *_moment_head(weathers.corners, weathers.compounds)]]
    for side in weathers.sides:
        rows += [[side.name, 100.0 * side.share, *_moment_row(point)] for point in side.points]
    rows.append([])
    rows += [[sentence] for pair in weathers.pairs for sentence in pair.said]
    return rows
