"""What readings can show of solved variants of a machine, kept small."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Bools
from iron_probe.core.solve.solution import Solution
from iron_probe.core.solve.symptom import symptom_codes

SINGLE = np.float32


@dataclass(frozen=True, slots=True)
class Prediction:
    """Solved variants of one state, kept small: `volts`, `own_ohm` (points, V), `amps` (branches, V), `heard` (V,) symptom codes, `chatter` (V,),
    `away_v` (2, points, V) how far two positions of a rattle lie from its third."""

    volts: NDArray[np.float32]
    own_ohm: NDArray[np.float32]
    amps: NDArray[np.float32]
    heard: NDArray[np.int8]
    chatter: NDArray[np.bool_]
    away_v: NDArray[np.float16]

    @staticmethod
    def of(solution: Solution) -> "Prediction":
        """Take from a solution what readings can show."""
        return Prediction(
            solution.volts.astype(SINGLE),
            solution.own_ohm.astype(SINGLE),
            solution.amps.astype(SINGLE),
            symptom_codes(solution).astype(np.int8),
            solution.chatter,
            _where_it_chatters(solution.chatter, solution.away_v),
        )

    def take(self, which: NDArray[np.int64]) -> "Prediction":
        """Some variants only."""
        chatter = self.chatter[which]
        return Prediction(
            self.volts[:, which],
            self.own_ohm[:, which],
            self.amps[:, which],
            self.heard[which],
            chatter,
            _where_it_chatters(chatter, self.away_v, which),
        )


def _where_it_chatters(chatter: Bools, away_v: NDArray[Any], which: NDArray[np.int64] | None = None) -> NDArray[np.float16]:
    """How far positions lie apart (2, points, V), of all variants or of those named: only where one chatters is it anything."""
    found = np.zeros((*away_v.shape[:2], len(chatter)), dtype=np.float16)
    swings = np.flatnonzero(chatter)
    found[:, :, swings] = away_v[:, :, swings if which is None else which[swings]]
    return found


def join(parts: Sequence[Prediction]) -> Prediction:
    """Predictions side by side."""
    return Prediction(
        np.concatenate([p.volts for p in parts], axis=1),
        np.concatenate([p.own_ohm for p in parts], axis=1),
        np.concatenate([p.amps for p in parts], axis=1),
        np.concatenate([p.heard for p in parts]),
        np.concatenate([p.chatter for p in parts]),
        np.concatenate([p.away_v for p in parts], axis=2),
    )
