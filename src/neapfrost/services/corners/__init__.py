"""One corner of a plan: calls, worth, racing, first laps, bands, the working."""
