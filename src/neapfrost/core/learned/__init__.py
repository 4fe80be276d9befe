"""What driven laps teach of the figures a plan was made with, by least squares."""
