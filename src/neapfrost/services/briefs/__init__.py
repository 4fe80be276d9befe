"""The sheet that a driver takes along."""
