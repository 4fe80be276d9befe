"""Points along a road made into straights and corners."""
