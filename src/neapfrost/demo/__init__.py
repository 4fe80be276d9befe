"""The invented world that ships with Neapfrost: circuits, cars and plans under made-up names."""
