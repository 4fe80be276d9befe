"""A session, and weathers side by side, as pictures of their own: lap times over the clock."""

from collections.abc import Sequence

from neapfrost.formats.svg import (
    INK,
    RULE,
    SECOND,
    add_path,
    add_text,
    line_through,
    number,
    picture,
    ticks,
    written,
)
from neapfrost.formats.weather import moment_of, seconds_of
from neapfrost.services.weather.session import Session, SessionPoint
from neapfrost.services.weather.weathers import Weathers

WIDTH, HEIGHT, LEFT, RIGHT, ABOVE, BELOW = 860.0, 420.0, 78.0, 30.0, 64.0, 74.0
#: So many marks are named under the picture.
MARKS_MOST = 40
HOUR_S = 3600.0
DASHES = ("none", "7 4", "2 3", "11 3 2 3", "4 4", "1 4")


def session_svg(session: Session) -> str:
    """Lap time along the session, the rain under it, and what changes when."""
    curves = [("", session.points)]
    return _drawn("Lap time along the session", session.said[:1], curves, _marks(session))


def weathers_svg(weathers: Weathers) -> str:
    """Lap time in each forecast."""
    curves = [(side.name, side.points) for side in weathers.sides]
    said = [sentence for pair in weathers.pairs for sentence in pair.said]
    return _drawn("Lap time in each forecast", weathers.said[:1], curves, said)


def _marks(session: Session) -> list[str]:
    return [mark.said for mark in session.marks[:MARKS_MOST]]


def _drawn(
    title: str,
    said: Sequence[str],
    curves: Sequence[tuple[str, Sequence[SessionPoint]]],
    under: Sequence[str],
) -> str:
    root = picture(title, WIDTH, "sans-serif")
    add_text(root, 24.0, 24.0, title, font_size=17)
    if said:
        add_text(root, 24.0, 44.0, said[0], fill=SECOND)
    points = [point for _, along in curves for point in along]
    times = [one.figures.lap_time_s for one in points if one.figures is not None] or [0.0, 1.0]
    moments = [seconds_of(point.at) for point in points] or [0.0, HOUR_S]
    low, high = min(times), max(times)
    begin, end = min(moments), max(moments)
    across = (WIDTH - LEFT - RIGHT) / max(end - begin, 1.0)
    up = (HEIGHT - ABOVE - BELOW) / max(high - low, 1e-6)

    def place(at_s: float, time_s: float) -> tuple[float, float]:
        return LEFT + (at_s - begin) * across, HEIGHT - BELOW - (time_s - low) * up

    hour = -(-begin // HOUR_S) * HOUR_S
    while hour <= end:
        x, _ = place(hour, low)
        add_path(root, f"M{number(x)} {number(ABOVE)}V{number(HEIGHT - BELOW)}", stroke=RULE)
        word = moment_of(hour)[11:16]
        add_text(root, x, HEIGHT - BELOW + 18.0, word, text_anchor="middle")
        hour += HOUR_S
    for value in ticks(low, high):
        _, y = place(begin, value)
        add_path(root, f"M{number(LEFT)} {number(y)}H{number(WIDTH - RIGHT)}", stroke=RULE)
        add_text(root, LEFT - 8.0, y + 4.0, f"{value:g} s", text_anchor="end")
    for (name, along), dash in zip(curves, DASHES, strict=False):
        driven = [
            place(seconds_of(one.at), one.figures.lap_time_s)
            for one in along
            if one.figures is not None
        ]
        if driven:
            add_path(root, line_through(driven), stroke_width=2.0, stroke_dasharray=dash)
            add_text(root, driven[-1][0] - 4.0, driven[-1][1] - 8.0, name, text_anchor="end")
        for one in along:
            if one.rain_mm_h > 0.0:
                x, _ = place(seconds_of(one.at), low)
                foot = HEIGHT - BELOW + 26.0
                drop = min(4.0 + 3.0 * one.rain_mm_h, 30.0)
                add_path(root, f"M{number(x + 2)} {number(foot)}l-4 {number(drop)}", stroke=INK)
    y = HEIGHT
    for sentence in under:
        add_text(root, LEFT, y, sentence)
        y += 18.0
    return written(root, y + 12.0)
