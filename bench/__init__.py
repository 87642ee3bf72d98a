"""Measured comparisons, printed as ratios and written to docs/bench.md."""
