"""Some variants out of many: columns taken and put back, at the speed of memory."""

from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Ints
from iron_probe.core.solve.compiled import compiled

Number = TypeVar("Number", bound=np.generic)


@compiled
def columns(values: NDArray[Number], which: Ints) -> NDArray[Number]:
    """Some columns (rows, which) of a table (rows, V), copied."""
    taken = np.empty((values.shape[0], len(which)), values.dtype)
    for row in range(values.shape[0]):
        for k in range(len(which)):
            taken[row, k] = values[row, which[k]]
    return taken


@compiled
def put_columns(values: NDArray[Number], which: Ints, changed: NDArray[Number]) -> None:
    """Write some columns (rows, which) of a table (rows, V) anew."""
    for row in range(values.shape[0]):
        for k in range(len(which)):
            values[row, which[k]] = changed[row, k]
