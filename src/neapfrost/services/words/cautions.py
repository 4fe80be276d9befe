"""What stands on every sheet that may be taken to a vehicle, and what is dangerous at a corner."""

from neapfrost.formats.plan import CornerNoteDocument

CAUTIONS = (
    "These are calculated figures, without bumps, transients or tyre temperature: the best a model "
    "can do, not a promise. Begin with the first-lap points and go on only when the lap before was "
    "easy.",
    "The circuit's rules, its marshals and flags, scrutineers, licensed instructors and the "
    "maker's limits come first. On public roads none of this applies.",
)

HAZARDS = {"blind": "blind", "wall": "wall", "no_run_off": "no run-off"}


def describe_hazards(note: CornerNoteDocument) -> list[str]:
    """What asks for more margin at a corner, each in a word or two."""
    return [word for field, word in HAZARDS.items() if getattr(note, field)]
