"""Iron Probe: fault finding on battery, starting and charging circuits with a model that can be solved."""
