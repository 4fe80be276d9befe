"""The simulated weather station that runs beside the demo world."""

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime, timedelta

from neapfrost.cli.listening import listening
from neapfrost.services.weather.station import StationSettings, set_station, station_settings
from neapfrost.standins.weather.station import RunningStation, Station
from neapfrost.store.database import Store, reading, writing
from neapfrost.store.steps import get_mark, set_mark

MARK = "demo-station"
#: Its day, the hour it begins at, and how fast it goes: the wind turns after some minutes.
DAY, BEGINS_H, SEED, PACE = "sea-breeze", 11.25, 3, 15.0


@contextmanager
def demo_station(store: Store) -> Iterator[None]:
    """Run a station, and set its address unless somebody has set another one."""
    midnight = datetime.now().replace(hour=0, minute=0, second=0, microsecond=0)
    station = Station(day=DAY, begins=midnight + timedelta(hours=BEGINS_H), seed=SEED, pace=PACE)
    with listening(0) as listener:
        running = RunningStation(station, listener)
        running.start()
        try:
            settings = station_settings(store)
            with reading(store) as session:
                own = settings.address in (None, get_mark(session, MARK))
            if own:
                kept = settings.model_copy(update={"address": running.address})
                set_station(store, StationSettings(**kept.model_dump()))
                with writing(store) as session:
                    set_mark(session, MARK, running.address)
            print("A simulated weather station runs with it, at fifteen times real time.")
            yield
        finally:
            running.stop()
