"""Speed, measured as ratios side by side."""
