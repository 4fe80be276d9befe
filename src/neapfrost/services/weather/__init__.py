"""The weather along a session, what comes of it, and the station it is read from."""
