"""Use cases of a race: fuel, stints and stops, tyres and water, energy, passing; the race sheet."""
