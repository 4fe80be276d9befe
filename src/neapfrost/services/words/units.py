"""All that can be chosen of units, for a page that shows figures in them."""

from typing import Any

from neapfrost.core.units import (
    CHOICES,
    FOLLOWS,
    KIND_LABELS,
    PRESET_LABELS,
    PRESETS,
    ROUND_SPEEDS,
    Kind,
    Unit,
    system,
)


def units_table() -> dict[str, Any]:
    """Kinds with their units, those that follow another one, presets, and round speeds."""
    return {
        "kinds": {
            kind: {"label": KIND_LABELS[kind], "units": [_told(unit) for unit in some]}
            for kind, some in CHOICES.items()
        },
        "follows": {
            kind: {"of": leading, "units": {key: _told(unit) for key, unit in some.items()}}
            for kind, (leading, some) in FOLLOWS.items()
        },
        "roundSpeeds": {key: list(speeds[:2]) for key, speeds in ROUND_SPEEDS.items()},
        "presets": {name: {"label": PRESET_LABELS[name], "keys": _keys(name)} for name in PRESETS},
    }


def _told(unit: Unit) -> dict[str, Any]:
    return {"key": unit.key, "symbol": unit.symbol, "size": unit.size, "zero": unit.zero}


def _keys(preset: str) -> dict[Kind, str]:
    return {kind: system(preset)[kind].key for kind in CHOICES}
