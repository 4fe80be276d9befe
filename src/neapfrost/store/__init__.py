"""What is kept: circuits, cars, conditions and plans in one SQLite file, every revision of each."""
