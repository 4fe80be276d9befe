"""Documents that Neapfrost reads and writes. Nothing here starts the solver."""
