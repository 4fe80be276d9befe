"""A car by itself: built, plotted, compared, its brakes."""
