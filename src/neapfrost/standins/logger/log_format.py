"""The kinds of files that the simulated logger writes."""

from enum import StrEnum


class LogFormat(StrEnum):
    """A kind of file, by what its name usually ends in."""

    CSV = "csv"
    MF4 = "mf4"
    FIT = "fit"
    NMEA = "nmea"
    PARQUET = "parquet"
    XLSX = "xlsx"
