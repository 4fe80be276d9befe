"""A lap in words, for whoever looks at it: its corners, its notes, and the whole in a sentence."""

from collections.abc import Sequence

from pydantic import BaseModel

from neapfrost.core.units import Units
from neapfrost.formats.result import ResultDocument
from neapfrost.services.words.corners import CornerWords, corner_words
from neapfrost.services.words.notes import Note, describe_note
from neapfrost.services.words.saying import Saying


class LapWords(BaseModel):
    """What is said of a lap in a person's units."""

    units: Units
    corners: list[CornerWords]
    notes: list[str]
    summary: str


def lap_words(result: ResultDocument, notes: Sequence[Note], units: Units) -> LapWords:
    """A lap in words."""
    say = Saying(units)
    return LapWords(
        units=units,
        corners=[corner_words(corner, say) for corner in result.corners],
        notes=[describe_note(note, say) for note in notes],
        summary=(
            f"{say.length(result.length_m)} in {lap_time(result.lap_time_s)}; top speed "
            f"{say.speed(result.top_speed_ms)}, mean {say.speed(result.mean_speed_ms)}; full "
            f"throttle on {result.full_throttle_pct:.0f} % of the way; {result.upshift_count} "
            f"upshifts and {result.downshift_count} downshifts; "
            f"{result.brake_energy_kj / 1000:.1f} MJ into the brakes."
        ),
    )


def lap_time(lap_s: float) -> str:
    """m:ss.mmm."""
    minutes, rest = divmod(round(1000 * lap_s), 60_000)
    return f"{minutes}:{rest // 1000:02d}.{rest % 1000:03d}"
