"""Files and documents spoiled at random: whatever comes, a result or a sentence, never a failure.

`python scripts/battering.py 60` batters for so many seconds and tells every failure with its seed;
the tests do the same for a moment. What is spoiled: bytes and lines of track files, fields of
GeoJSON and of plans (type, sign, size, removal), encodings.
"""

import copy
import json
import random
import sys
import time
import traceback
from collections.abc import Callable, Iterable, Iterator
from typing import Any

from neapfrost.core.errors import InputRefused, LapImpossible
from neapfrost.demo.plans import demo_plan, demo_plans
from neapfrost.formats.plan_file import read_plan, write_plan
from neapfrost.services.imports.preview import ImportOptions, look_and_show
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.maps.exports import exported

#: Values that belong nowhere in particular.
ODD: tuple[Any, ...] = (
    None, True, False, 0, -1, 1, -32768, 1e9, -1e9, 1e-12, 1e308, 10**400, 2**63, "", "x", " ",
    "=1+1", "\ud800", "\x00", "a" * 500, [], [[]], {}, [None], {"type": "x"}, [1], [[1, 2]],
)  # fmt: skip
ENCODINGS = ("utf-8-sig", "utf-16", "utf-32", "latin-1", "cp1252")
SENTENCE_MOST = 300
#: What one of them may take of a processor, however busy the machine is with other work [s].
WORK_MOST_S = 20.0


def places(value: Any) -> list[tuple[Any, Any]]:
    """Every container of a document with each of its keys."""
    found = []
    keys = (
        value.keys()
        if isinstance(value, dict)
        else range(len(value))
        if isinstance(value, list)
        else ()
    )
    for key in list(keys)[:40]:
        found.append((value, key))
        found += places(value[key])
    return found


def spoiled_document(lot: random.Random, document: Any) -> Any:
    """A document with one to three of its fields changed, scaled, taken out or doubled."""
    document = copy.deepcopy(document)
    for _ in range(lot.randint(1, 3)):
        found = places(document)
        if not found:
            break
        container, key = lot.choice(found)
        old = container[key]
        match lot.randrange(5):
            case 0:
                container[key] = copy.deepcopy(lot.choice(ODD))
            case 1 if isinstance(old, int | float) and abs(old) < 1e300 and old is not True:
                container[key] = old * lot.choice((-1, 0, 1e3, 1e-3, 3.2808, 1e6))
            case 2:
                del container[key]
            case 3 if isinstance(container, list):
                container.insert(key, old)
            case _:
                if isinstance(container, dict):
                    container[f"{key}x"] = old
    return document


def spoiled_bytes(lot: random.Random, data: bytes) -> bytes:
    """A file cut, with lines lost, doubled or swapped, cells spoiled, or in another encoding."""
    lines = data.split(b"\n")
    for _ in range(lot.randint(1, 4)):
        at = lot.randrange(max(1, len(lines)))
        match lot.randrange(9):
            case 0:
                lines = lines[: max(1, at)]
            case 1:
                lines[at : at + lot.randint(1, 20)] = []
            case 2:
                lines[at:at] = lines[at : at + 1] * lot.randint(1, 30)
            case 3 if lines:
                cells = lines[at % len(lines)].split(b",")
                cells[lot.randrange(len(cells))] = str(lot.choice(ODD)).encode("utf-8", "replace")
                lines[at % len(lines)] = b",".join(cells)
            case 4:
                return b"\r".join(lines)
            case 5:
                text = b"\n".join(lines).decode("utf-8", "replace")
                return text.encode(lot.choice(ENCODINGS), "replace")
            case 6:
                lines = [line.replace(b".", b",") for line in lines]
            case 7 if lines:
                number = at % len(lines)
                line = bytearray(lines[number])
                if line:
                    line[lot.randrange(len(line))] = lot.randrange(256)
                lines[number] = bytes(line)
            case _:
                lines = lines[: lot.choice((0, 1, 2, 9, 11))] or [b""]
        if not lines:
            lines = [b""]
    return b"\n".join(lines)


def tracks() -> list[tuple[str, bytes]]:
    """Good files to begin with: each form that is read."""
    plan = demo_plan("dunlin-heath")
    road = demo_plan("garganey-samphire")
    assert plan is not None
    assert road is not None
    return [
        ("a.gpx", exported(plan.document, "gpx").encode()),
        ("a.geojson", exported(road.document, "geojson").encode()),
        ("a.csv", exported(plan.document, "points.csv").encode()),
        ("s.csv", exported(plan.document, "segments.csv").encode()),
    ]


def batter_file(lot: random.Random, files: list[tuple[str, bytes]]) -> None:
    """Read one spoiled file. Raises whatever is no refusal, and for a sentence too long."""
    name, data = lot.choice(files)
    if name.endswith("json") and lot.random() < 0.7:
        document = spoiled_document(lot, json.loads(data))
        data = json.dumps(document).encode("utf-8", "surrogatepass")
    else:
        data = spoiled_bytes(lot, data)
    refusal_of(lambda: look_and_show("x", name, data, ImportOptions(), None, lambda _: None))


def batter_plan(lot: random.Random, plans: list[Any]) -> None:
    """Predict one spoiled plan. Raises as `batter_file` does."""
    document = spoiled_document(lot, lot.choice(plans))
    data = json.dumps(document).encode("utf-8", "surrogatepass")
    refusal_of(lambda: predict_lap(read_plan(data)))


def refusal_of(task: Callable[[], object]) -> None:
    """Do something that may be refused in sentences. Raises ValueError for a bad sentence."""
    try:
        task()
    except (InputRefused, LapImpossible) as refused:
        for fault in getattr(refused, "faults", []):
            if len(fault.message) > SENTENCE_MOST or not fault.message.strip():
                raise ValueError(f"a sentence of {len(fault.message)}: {fault.message}") from None


def seeds_for(seconds: float, first: int = 0) -> Iterator[int]:
    """Seeds from the first on, for so long."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        yield first
        first += 1


def batter(seeds: Iterable[int]) -> list[str]:
    """Batter once with each seed; every failure as its seed and where it was."""
    files = tracks()
    plans = [json.loads(write_plan(plan.document)) for plan in demo_plans()[1:7]]
    failures, seen, count = [], set(), 0
    for seed in seeds:
        lot = random.Random(seed)
        begun = time.process_time()
        try:
            if seed % 3 == 0:
                batter_plan(lot, plans)
            else:
                batter_file(lot, files)
            took = time.process_time() - begun
            if took > WORK_MOST_S:
                raise TimeoutError(f"{took:.1f} s")
        except Exception as error:
            last = traceback.extract_tb(error.__traceback__)[-1]
            where = f"{type(error).__name__} {last.filename.rsplit('/', 1)[-1]}:{last.lineno}"
            if where not in seen:
                failures.append(f"{seed}: {where}: {str(error)[:120]}")
            seen.add(where)
        count += 1
    print(f"{count} spoiled, {len(failures)} kinds of failure")
    return failures


if __name__ == "__main__":
    print(*batter(seeds_for(float(sys.argv[1]), int((sys.argv[2:] or ["0"])[0]))), sep="\n")
