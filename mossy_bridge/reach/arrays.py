"""Columns of numbers, and the few operations on them that everything here is made of."""

import numpy as np
from numpy.typing import NDArray

from mossy_bridge.reach.limits import Limits

Numbers = NDArray[np.int64]
Ints = NDArray[np.int32]
Bools = NDArray[np.bool_]
Vectors = NDArray[np.uint64]
"""One transition for each state, one column for each 64 bits of its vector."""


def spans(first: NDArray[np.integer], end: NDArray[np.integer]) -> Numbers:
    """The numbers of many ranges, one after the other."""
    length = end - first
    total = int(length.sum())
    begin = np.repeat(first - (np.cumsum(length) - length), length)
    found: Numbers = np.arange(total) + begin
    return found


def grouped(values: NDArray[np.integer], count: int, limits: Limits) -> tuple[NDArray[np.integer], Numbers]:
    """Positions ordered by value, equal ones in their order, and where each value from 0 to ``count`` begins."""
    if len(values) <= limits.counting_sort:
        order = np.argsort(values, kind="stable")
        return order, np.concatenate([[0], np.cumsum(np.bincount(values, minlength=count))])
    from scipy.sparse import coo_array  # counts instead of comparing; loading it takes longer than a short sort

    place = np.arange(len(values), dtype=np.int32)
    matrix = coo_array((np.ones(len(values), dtype=np.int8), (values, place)), shape=(count, len(values))).tocsr()
    return matrix.indices, matrix.indptr.astype(np.int64)


def first_places(values: NDArray[np.integer], count: int, limits: Limits) -> Numbers:
    """For each value from 0 to ``count`` where it stands first, -1 where it does not."""
    found = np.full(count, -1, dtype=np.int64)
    for begin in range(0, len(values), limits.piece):
        piece = values[begin : begin + limits.piece]
        first = np.full(count, -1, dtype=np.int64)
        first[piece[::-1]] = np.arange(begin + len(piece) - 1, begin - 1, -1)  # what is written last stays
        found = np.where(found < 0, first, found)
        if (found >= 0).all():
            break
    return found


def begins(ascending: NDArray[np.integer], count: int, limits: Limits) -> Numbers:
    """Where each value from 0 to ``count`` begins among ascending ones, and after the last where they end."""
    found = np.zeros(count + 1, dtype=np.int64)
    for begin in range(0, len(ascending), limits.piece):
        piece = ascending[begin : begin + limits.piece]
        low = int(piece[0])
        many = np.bincount(piece - low)
        found[low + 1 : low + 1 + len(many)] += many
    return np.cumsum(found, out=found)


def unique(numbers: NDArray[np.integer]) -> Numbers:
    """Each of the numbers once, ascending. NumPy's own loads its masked arrays for that, which takes longer than a
    small survey."""
    ordered = np.sort(numbers).astype(np.int64)
    found: Numbers = ordered[np.concatenate([[True], ordered[1:] != ordered[:-1]])] if len(ordered) else ordered
    return found


def distinct(numbers: NDArray[np.integer], mark: Bools) -> Numbers:
    """Each of the numbers once, ascending, and all of them marked."""
    mark[numbers] = True
    if 8 * len(numbers) > len(mark):
        among = np.zeros(len(mark), dtype=np.bool_)
        among[numbers] = True
        return np.flatnonzero(among)
    return unique(numbers)


def or_into(found: Vectors, places: NDArray[np.integer], bits: Vectors) -> None:
    """Adds sets of bits to those at some places, which may repeat."""
    for column in range(found.shape[1]):
        np.bitwise_or.at(found[:, column], places, bits[:, column])
