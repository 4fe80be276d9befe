"""Compile every kernel once, so that no user waits for it."""

from neapfrost.demo.plans import composed, demo_plans
from neapfrost.services.laps.predict import predict_lap
from neapfrost.services.race.work import work_of
from neapfrost.services.studies.race_alone import whole_race


def main() -> None:
    for plan in demo_plans():
        predict_lap(plan.document)
    # A race has kernels of its own: stops, the tyres' work, a machine beside the engine.
    prototype = composed("phalarope-race-wind")
    whole_race(prototype)
    work_of(prototype)


if __name__ == "__main__":
    main()
