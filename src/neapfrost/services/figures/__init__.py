"""The register of figures: every figure a person changes, one row each."""
