"""Meters on the screens: agents that join, figures as they come, a bar of them on every page of a job."""
