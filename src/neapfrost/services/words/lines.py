"""How a search for a line ended, in words."""

from neapfrost.formats.result import LineEnd

#: What stands beside the line's name; nothing beside one that a search has settled on.
REMARKS: dict[LineEnd | None, str] = {
    "settled": "",
    None: "",
    "best_so_far": "best so far",
    "known_line": "a line known before",
}
SENTENCES: dict[LineEnd, str] = {
    "settled": "The search for this line has converged.",
    "best_so_far": (
        "The search for this line has not converged: this is the best so far, and a quicker one "
        "may exist."
    ),
    "known_line": (
        "No search found a quicker line than one already known, which is used; a quicker one may "
        "exist."
    ),
}
