"""A circuit edited: straights and corners, and all that stands beside the road."""
