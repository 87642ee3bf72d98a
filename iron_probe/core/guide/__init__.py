"""The route of a job through its work, and the one step to take now."""
