"""What a person reads about a lap: every sentence and label, in a person's units."""
