"""Columns of a table taken and put back."""

import numpy as np

from iron_probe.core.solve.columns import columns, put_columns


def test_columns_are_taken_in_their_order_and_copied() -> None:
    table = np.arange(12.0).reshape(3, 4)
    taken = columns(table, np.array([2, 0, 2]))
    assert taken.tolist() == table[:, [2, 0, 2]].tolist()
    taken[:] = -1
    assert table.min() == 0


def test_columns_are_put_back_where_they_came_from() -> None:
    table = np.zeros((2, 4), dtype=bool)
    put_columns(table, np.array([1, 3]), np.array([[True, False], [False, True]]))
    assert table.tolist() == [[False, True, False, False], [False, False, False, True]]


def test_none_of_no_rows() -> None:
    assert columns(np.zeros((0, 4)), np.array([1], dtype=np.int64)).shape == (0, 1)
