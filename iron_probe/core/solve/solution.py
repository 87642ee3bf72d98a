"""What solving a circuit yields, and how instruments read it."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.network import Network
from iron_probe.core.limits import FLOATING_OHM, METER_INPUT_OHM


class Symptom(StrEnum):
    """What the machine does with the controls where they stand; the words a technician uses."""

    NOTHING = "nothing"
    CLICK = "click"
    CHATTER = "chatter"
    NO_TURN = "no_turn"
    SLOW = "slow"
    CRANKS = "cranks"


def shown_v(open_v: NDArray[Any], source_ohm: NDArray[Any]) -> NDArray[Any]:
    """What a voltmeter shows [V] of volts that stand open behind a resistance [Ω]: its input loads what it reads."""
    input_ohm = float(METER_INPUT_OHM)  # a plain float keeps single precision single
    return open_v * (input_ohm / (input_ohm + source_ohm))


def swing(away_v: NDArray[Any]) -> NDArray[Any]:
    """Half of what a meter swings over three positions, of which two (2, ...) are given from the third."""
    return np.maximum(np.abs(away_v).max(axis=0), np.abs(away_v[0] - away_v[1])) / 2


@dataclass(frozen=True, slots=True, kw_only=True)
class Solution:
    """One operating state solved for V variants.

    `volts` (points, V) [V] against battery minus; `amps` (branches, V) [A] from start to end of each branch;
    `closed` (branches, V) whether a branch conducts; `own_ohm` (points, V) [Ω] from each point to battery minus with
    sources at rest; `pulled_in` (coils, V);
    `chatter` (V,) whether it never settles, `chattering` (V,) number of the coil that moves, or -1;
    `turning` (V,) speed of the starter as a share of its normal speed, 0 when it stands; `rounds` (V,) solves it took.
    In a chattering variant volts and amps are means over the last three positions of its rattle, and `away_v` (2, points, V) [V] is how
    far two of them lie from the third.
    """

    network: Network
    state: str
    volts: Floats
    amps: Floats
    closed: NDArray[np.bool_]
    own_ohm: Floats
    pulled_in: NDArray[np.bool_]
    chatter: NDArray[np.bool_]
    away_v: Floats
    chattering: NDArray[np.int64]
    turning: Floats
    rounds: NDArray[np.int64]

    def between(self, red: str, black: str) -> Floats:
        """What a 10 MΩ voltmeter shows (V,) [V], red lead on `red`, black on `black`.

        The meter and the way through both points form a divider; two floating points on one piece of wire differ by
        nothing, so their mutual resistance never matters.
        """
        r, b = self.network.find_point(red), self.network.find_point(black)
        return self.meter_volts(np.array([r]), np.array([b]))[0]

    def meter_volts(self, red: NDArray[np.int64], black: NDArray[np.int64]) -> Floats:
        """Voltmeter readings (pairs, V) [V] for arrays of point numbers."""
        return shown_v(self.volts[red] - self.volts[black], self.own_ohm[red] + self.own_ohm[black])

    def current(self, branch: str) -> Floats:
        """Current (V,) [A] through a branch, from its start to its end."""
        return self.amps[self.network.find_branch(branch)]

    def floating(self, point: str) -> NDArray[np.bool_]:
        """Whether a point hangs free (V,), so that a voltmeter there shows a ghost."""
        return self.own_ohm[self.network.find_point(point)] > FLOATING_OHM

    def drop(self, branch: str) -> Floats:
        """Voltage (V,) [V] across a branch, start over end."""
        number = self.network.find_branch(branch)
        return self.volts[self.network.start[number]] - self.volts[self.network.end[number]]

    def watts(self, branch: str) -> Floats:
        """Power (V,) [W] a branch takes up; negative in a source."""
        return self.drop(branch) * self.current(branch)
