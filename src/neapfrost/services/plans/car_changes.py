"""What has changed of a plan's car, in words, for the label of a step."""

from typing import Any

from neapfrost.formats.json_merge import differences
from neapfrost.formats.plan import PlanDocument
from neapfrost.services.figures.figure import Owner
from neapfrost.services.figures.register import figures_of
from neapfrost.services.plans.conflicts import told

#: The tables of a car whose rows go by name, and what a row is called.
TABLES: dict[str, tuple[str, Owner]] = {
    "wings": ("Wing", "wing"),
    "gear_sets": ("Gear set", "gear_set"),
    "compounds": ("Compound", "compound"),
    "setups": ("Setup", "setup"),
}
#: Fields of these rows that are no figures.
WORDS = {
    "gear_set": "gear set",
    "warm_up": "warm-up",
    "wetness": "grip in water",
    "brakes_ideal": "ideal brakes",
}


def car_changes(before: PlanDocument, after: PlanDocument) -> list[str]:
    """Differences of two plans' cars, setups and tyres as phrases."""
    said = []
    names = {setup.name for setup in after.car.setups}
    if before.setup != after.setup and (before.setup is None or before.setup in names):
        said.append(f"Setup {before.setup or 'none'} to {after.setup or 'none'}")
    laps = [plan.conditions.tyre_lap for plan in (before, after)]
    if laps[0] != laps[1]:
        said.append("Tyres " + " to ".join(_tyres(lap) for lap in laps))
    first, second = (plan.car.model_dump(mode="json") for plan in (before, after))
    for table, (word, owner) in TABLES.items():
        said += _table(word, owner, first.pop(table), second.pop(table))
    for car in (first, second):
        car.pop("known")  # what was entered; what came of it is what changes the lap
    curve = [car["engine"].pop("torque_curve") for car in (first, second)]
    if curve[0] != curve[1]:
        said.append(f"Torque curve of {len(curve[1])} points")
    return [*said, *told(differences({"car": first}, {"car": second}))]


def _table(
    word: str, owner: Owner, before: list[dict[str, Any]], after: list[dict[str, Any]]
) -> list[str]:
    """Rows added, taken away, renamed or changed."""
    old, new = ({row["name"]: row for row in rows} for rows in (before, after))
    gone, come = [n for n in old if n not in new], [n for n in new if n not in old]
    if len(before) == len(after) and len(gone) == len(come) == 1:
        return [f"{word} {gone[0]} named {come[0]}"]
    said = [f"{word} {name} removed" for name in gone]
    said += [f"{word} {name} added" for name in come]
    for name, row in new.items():
        if name not in old or old[name] == row:
            continue
        for difference in differences(old[name], row):
            field = str(difference.path[0])
            if field == "record":
                said.append(f"{name}: {difference.path[-1]} recorded")
            else:
                (text,) = told([difference])
                figure = figures_of(owner).get(field)
                label = WORDS.get(field, field) if figure is None else figure.label.lower()
                said.append(f"{name}: {label}{text[text.index(':') + 1 :]}")
    return said


def _tyres(lap: int | None) -> str:
    return "warm and new" if lap is None else "out lap" if lap == 0 else f"lap {lap}"
