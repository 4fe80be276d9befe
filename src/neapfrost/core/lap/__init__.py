"""A lap: driven, read corner by corner, drawn, compared, and driven many times."""
