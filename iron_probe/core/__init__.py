"""Pure computation: no web, no database, no clock, no file access."""
