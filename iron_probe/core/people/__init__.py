"""Who works in a yard, and what each may do."""
