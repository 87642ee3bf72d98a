"""A simulated machine by other means than the engine's: ngspice with device models of its own, for trials, practice and stand-in meters.

It sees circuit sheets and nothing else of the core, so that what it shows is evidence about the engine and never its echo.
"""
