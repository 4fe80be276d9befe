"""Use cases: what the interface and the command line ask for."""
