"""ngspice that is ended where it never answers, so that one odd circuit does not hold the bay of a process for ever."""

import threading

from iron_probe.rig.spice import Spice

HANGS_S = 60.0
"""What it has not answered after so long [s] it never will: what the bay asks takes milliseconds, a crank a second (chosen here)."""


class WatchedSpice(Spice):
    """As any other, with a limit to each answer. RigError where it was ended, as where it ended by itself."""

    def _ask(self, commands: list[str]) -> str:
        limit = threading.Timer(HANGS_S, self._process.kill)
        limit.daemon = True
        limit.start()
        try:
            return super()._ask(commands)
        finally:
            limit.cancel()
