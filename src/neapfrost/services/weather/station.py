"""A weather station on this machine: where it is, what it reads now, and its record."""

import json
import time
from ipaddress import ip_address
from typing import Annotated, Literal
from urllib.parse import urlsplit

import httpx
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy.orm import Session

from neapfrost.core.errors import Fault, InputRefused
from neapfrost.formats.faults import validated
from neapfrost.formats.weather import ReadingDocument
from neapfrost.formats.weather_csv import BYTES_MOST, look_at_weather, read_weather_csv
from neapfrost.services.weather.moments import USUAL_THRESHOLD_M, SessionRequest
from neapfrost.store.database import Store, reading, writing
from neapfrost.store.steps import get_mark, set_mark

SETTING = "station"
#: Whoever does not answer within this time is gone [s].
ANSWERS_WITHIN_S = 2.0
#: And whoever has not told all by then [s].
ANSWER_MOST_S = 4.0
#: A stream on which nothing comes for so long is gone, even if nobody closed it [s].
SILENT_FOR_S = 25.0


class StationSettings(BaseModel):
    """Where the station is, null for none; and by how much a braking point has to move to be told.

    An address is on this machine alone: http://127.0.0.1:8790.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    address: Annotated[str | None, Field(max_length=200)] = None
    threshold_m: Annotated[float | None, Field(gt=0, le=200)] = None

    @property
    def threshold(self) -> float:
        """By how much a braking point has to move, as told or as usual [m]."""
        return USUAL_THRESHOLD_M if self.threshold_m is None else self.threshold_m


class StationLook(BaseModel):
    """The station as it is now: none is set, it answers, or it is gone and `trouble` says how."""

    address: str | None
    threshold_m: float
    state: Literal["none", "answers", "gone"]
    name: str = ""
    simulated: bool = False
    day: str = ""
    pace: float = 1.0
    reading: ReadingDocument | None = None
    trouble: str = ""


class StationGone(Exception):
    """The station does not answer, or not as one does; `sentence` says how."""

    def __init__(self, sentence: str) -> None:
        super().__init__(sentence)
        self.sentence = sentence


class _About(BaseModel):
    """What a station says of itself; whatever it leaves out is as usual."""

    name: Annotated[str, Field(max_length=200)] = "Weather station"
    simulated: bool = False
    day: Annotated[str, Field(max_length=300)] = ""
    pace: Annotated[float, Field(gt=0, le=100_000)] = 1.0


def station_settings(store: Store) -> StationSettings:
    """The settings as they are kept."""
    with reading(store) as session:
        return _settings(session)


def with_threshold(wanted: SessionRequest, settings: StationSettings) -> SessionRequest:
    """What is asked of a session, with the threshold that is set where it names none."""
    if wanted.threshold_m is not None:
        return wanted
    return wanted.model_copy(update={"threshold_m": settings.threshold})


def set_station(store: Store, settings: StationSettings) -> StationSettings:
    """Keep the settings. Raises InputRefused for an address that is not on this machine."""
    kept = settings.model_copy(update={"address": loopback_address(settings.address)})
    with writing(store) as session:
        set_mark(session, SETTING, kept.model_dump_json())
    return kept


def loopback_address(text: str | None) -> str | None:
    """An address with its scheme and port. Raises InputRefused unless it is of this machine."""
    if text is None or not text.strip():
        return None
    given = text.strip().rstrip("/")
    if "://" not in given:
        given = f"http://{given}"
    expected = "http://127.0.0.1 and a port is expected, as http://127.0.0.1:8790"
    try:
        url = urlsplit(given)
        port = url.port
    except ValueError:
        raise InputRefused([Fault("address", f'"{text[:60]}" was given; {expected}')]) from None
    host = url.hostname
    if url.scheme != "http" or url.path or url.query or url.username or not port or not host:
        raise InputRefused([Fault("address", f'"{text[:60]}" was given; {expected}')])
    if not _is_this_machine(host):
        raise InputRefused(
            [
                Fault(
                    "address",
                    f'"{host}" was given; a station is read on this machine only: {expected}',
                )
            ]
        )
    return f"http://{f'[{host}]' if ':' in host else host}:{port}"


def look_at_station(settings: StationSettings) -> StationLook:
    """The station as it is now."""
    look = StationLook(address=settings.address, threshold_m=settings.threshold, state="none")
    if settings.address is None:
        return look
    try:
        about = _about(settings.address)
        now = present_reading(settings.address)
    except StationGone as gone:
        return look.model_copy(update={"state": "gone", "trouble": gone.sentence})
    return look.model_copy(update={"state": "answers", "reading": now, **about.model_dump()})


def present_reading(address: str) -> ReadingDocument:
    """What the station reads now. Raises StationGone."""
    return reading_from(_got(address, "/reading").decode("utf-8", "replace"))


def reading_from(text: str) -> ReadingDocument:
    """A reading as the station tells it, as JSON. Raises StationGone for what is none."""
    try:
        return validated(ReadingDocument, json.loads(text))
    except ValueError as error:
        faults = error.faults if isinstance(error, InputRefused) else []
        said = f" ({faults[0]})" if faults else ""
        raise StationGone(f"the station sent something that is not a reading{said}") from None


def station_record(address: str) -> list[ReadingDocument]:
    """Everything the station has read. Raises StationGone."""
    data = _got(address, "/record.csv")
    try:
        return read_weather_csv(data, look_at_weather(data), "2000-01-01")
    except InputRefused as error:
        raise StationGone(f"the station's record cannot be read: {error.faults[0]}") from None


def _settings(session: Session) -> StationSettings:
    kept = get_mark(session, SETTING)
    return StationSettings() if kept is None else StationSettings.model_validate_json(kept)


def _about(address: str) -> _About:
    try:
        return _About.model_validate_json(_got(address, "/"))
    except ValueError:
        raise StationGone(f"what answers at {address} is not a weather station") from None


def _got(address: str, path: str) -> bytes:
    """What a station answers, up to what a record may be long. Raises StationGone."""
    try:
        with (
            # Nothing of the surroundings: no proxy, no credentials, no way off this machine.
            httpx.Client(trust_env=False, timeout=ANSWERS_WITHIN_S) as client,
            client.stream("GET", f"{address}{path}") as reply,
        ):
            if reply.status_code != 200:
                raise StationGone(f"what answers at {address} is not a weather station")
            data = bytearray()
            until = time.monotonic() + ANSWER_MOST_S
            for part in reply.iter_bytes():
                data += part
                if time.monotonic() > until:
                    raise StationGone(f"the station at {address} answers too slowly")
                if len(data) > BYTES_MOST:
                    raise StationGone("the station's answer is too long for a record")
            return bytes(data)
    except (httpx.HTTPError, httpx.InvalidURL, OSError):
        raise StationGone(f"no station answers at {address}") from None


def _is_this_machine(host: str) -> bool:
    if host == "localhost":
        return True
    try:
        return ip_address(host).is_loopback
    except ValueError:
        return False
