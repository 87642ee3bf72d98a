"""Arrays by what they hold."""

from base64 import b64decode, b64encode
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import PlainSerializer, PlainValidator

Floats = NDArray[np.float64]
Singles = NDArray[np.float32]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]


def _text_of(values: Floats) -> str:
    return b64encode(values.astype("<f4").tobytes()).decode()


def _read(text: str | Floats) -> Floats:
    return np.frombuffer(b64decode(text, validate=True), dtype="<f4").astype(np.float64) if isinstance(text, str) else text


Packed = Annotated[Floats, PlainValidator(_read), PlainSerializer(_text_of, return_type=str)]
"""Floats that are written as text in single precision, where what holds them is written as JSON."""
