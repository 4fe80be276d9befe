"""What a lap is asked: calls at corners, what a little more is worth, bands, first laps, brakes."""
