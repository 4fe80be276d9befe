"""Compile every kernel once, so that no user waits for it."""

from neapfrost.demo.plans import demo_plans
from neapfrost.services.laps.predict import predict_lap


def main() -> None:
    for plan in demo_plans():
        predict_lap(plan.document)


if __name__ == "__main__":
    main()
