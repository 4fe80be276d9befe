"""Compute the lines of the demo plans anew, after their road, car or conditions have changed."""

import json
from pathlib import Path

from neapfrost.demo import plans
from neapfrost.demo.plans import composed, line_names
from neapfrost.formats.plan import LineDocument
from neapfrost.services.lines.search import computed_line, line_for

LINES = Path(plans.__file__).parent / "data" / "lines"


def main() -> None:
    for plan_id, name in line_names():
        plan = composed(plan_id, with_line=False).model_copy(update={"line": LineDocument()})
        line = computed_line(plan, *line_for(plan, "fastest"))
        (LINES / f"{name}.json").write_text(json.dumps(line.model_dump(mode="json")) + "\n")
        print(f"{name}: {len(line.road_at_m)} nodes, {line.ended}")


if __name__ == "__main__":
    main()
