"""Columns of numbers, and the few operations on them that everything here is made of."""

import numpy as np
from numpy.typing import NDArray

Numbers = NDArray[np.int64]
Ints = NDArray[np.int32]
Bools = NDArray[np.bool_]
Words = NDArray[np.uint64]
"""One row for each state, one column for each 64 bits of its word."""


def spans(first: NDArray[np.integer], end: NDArray[np.integer]) -> Numbers:
    """The numbers of many ranges, one after the other."""
    length = end - first
    total = int(length.sum())
    begin = np.repeat(first - (np.cumsum(length) - length), length)
    found: Numbers = np.arange(total) + begin
    return found


def grouped(values: NDArray[np.integer], count: int) -> tuple[Numbers, Numbers]:
    """Positions ordered by value, equal ones in their order, and where each value from 0 to ``count`` begins."""
    order = np.argsort(values, kind="stable")
    return order, np.concatenate([[0], np.cumsum(np.bincount(values, minlength=count))])


def distinct(numbers: NDArray[np.integer], mark: Bools) -> Numbers:
    """Each of the numbers once, all of them marked."""
    mark[numbers] = True
    if len(numbers) < 2:
        return numbers.astype(np.int64)
    ordered = np.sort(numbers).astype(np.int64)
    found: Numbers = ordered[np.concatenate([[True], ordered[1:] != ordered[:-1]])]
    return found


def or_into(found: Words, places: NDArray[np.integer], bits: Words) -> None:
    """Adds sets of bits to those at some places, which may repeat."""
    for column in range(found.shape[1]):
        np.bitwise_or.at(found[:, column], places, bits[:, column])
