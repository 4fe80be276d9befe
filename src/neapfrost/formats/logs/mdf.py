"""ASAM MDF measurement files (versions 3 and 4): channels of many rates put onto one base."""

import gc
import io
import sys
from typing import Any

import numpy as np

from neapfrost.core.arrays import Floats
from neapfrost.core.driven.one_base import Series, base_of, on_base, rising
from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.logs.channels import ROWS_MOST, channel_named, too_many_samples
from neapfrost.formats.logs.table import CHANNELS_MOST, LoggedTable, named, numbered

#: What the files begin with; the second was never closed by whoever wrote it.
MARKS = (b"MDF     ", b"UnFinMF ")


def read_mdf(data: bytes) -> LoggedTable:
    """All channels of numbers of a file, on the highest rate of those that a lap is read from.

    Raises InputRefused for a file that is damaged, or without such channels.
    """
    channels, begun, version, trouble = _opened(data)
    if trouble:
        raise InputRefused(
            [Fault("", f"the MDF file is damaged or incomplete ({trouble}); export it again")]
        )
    if not channels:
        raise InputRefused(
            [Fault("", "the MDF file has no channel of numbers; a speed over time is needed")]
        )
    return _on_one_base(channels, (("Recorded", begun), ("Format", f"MDF {version}")))


def _opened(data: bytes) -> tuple[list[tuple[str, Series]], str, str, str]:
    """Channels, when they were recorded, the format's version; and what is wrong, if anything is.

    A file that its library fails to open fails once more when it is let go of, which says nothing.
    """
    from asammdf import MDF

    hook, sys.unraisablehook = sys.unraisablehook, lambda _: None
    try:
        with MDF(io.BytesIO(data)) as file:
            begun = file.header.start_time.isoformat(sep=" ", timespec="seconds")
            return _channels(file), begun, str(file.version), ""
    except MemoryError:
        raise
    except Exception as error:  # a damaged file fails in whatever way its reader does
        return [], "", "", f"{type(error).__name__}: {error}".splitlines()[0][:120]
    finally:
        gc.collect()
        sys.unraisablehook = hook


def _channels(file: Any) -> list[tuple[str, Series]]:
    found: list[tuple[str, Series]] = []
    for group in range(len(file.groups)):
        master = file.masters_db.get(group)
        for index in range(len(file.groups[group].channels)):
            if index == master or len(found) >= CHANNELS_MOST:
                continue
            signal = file.get(group=group, index=index)
            values = np.asarray(signal.samples)
            if values.dtype.kind in "SUO":
                # A state told in words, as a gear may be, is a number underneath.
                values = np.asarray(file.get(group=group, index=index, raw=True).samples)
            if values.ndim != 1 or values.dtype.kind not in "biuf" or len(values) < 2:
                continue
            times: Floats = np.asarray(signal.timestamps, dtype=np.float64)
            series = rising(times, values.astype(np.float64))
            if len(series.t_s) > 1:
                found.append((named(signal.name, signal.unit or ""), series))
    return found


def _on_one_base(
    channels: list[tuple[str, Series]], about: tuple[tuple[str, str], ...]
) -> LoggedTable:
    useful = [series for name, series in channels if channel_named(name) is not None]
    base = base_of(useful or [series for _, series in channels], ROWS_MOST)
    if base is None:
        raise too_many_samples()
    rates = sorted({round(series.rate_hz, 1) for _, series in channels}, reverse=True)
    own = 1.0 / float(base[1] - base[0]) if len(base) > 1 else 0.0
    count = "1 channel" if len(channels) == 1 else f"{len(channels)} channels"
    if len(rates) > 1:
        listed = ", ".join(f"{rate:g}" for rate in rates[:6])
        said = (
            f"{count} logged at {listed} Hz were put onto {own:g} Hz: linear between samples, "
            "gears and switches held until the next."
        )
    else:
        said = f"{count} at {own:g} Hz."
    names = ["Time [s]", *(name for name, _ in channels)]
    columns = (base - base[0], *(on_base(series, base) for _, series in channels))
    return LoggedTable(numbered(names), columns, about, (said,))
