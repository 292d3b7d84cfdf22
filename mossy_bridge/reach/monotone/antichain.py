"""Antichains of sets: the maximal, or the minimal, ones of the sets added, with insertion by subsumption.

Sets are the bits of an integer, ordered by inclusion. This is the data structure of antichain algorithms (De Wulf,
Doyen, Henzinger and Raskin 2006): an upward- or downward-closed collection is represented by its few extreme elements.
Adding is ``O(elements)`` operations on integers.
"""

from collections.abc import Iterator


class Antichain:
    """Sets none of which includes another."""

    __slots__ = ("elements",)

    def __init__(self) -> None:
        self.elements: list[int] = []

    def __iter__(self) -> Iterator[int]:
        return iter(self.elements)

    def __contains__(self, bits: int) -> bool:
        return bits in self.elements

    def __len__(self) -> int:
        return len(self.elements)


class MaximalSets(Antichain):
    """The maximal ones of the sets added."""

    __slots__ = ()

    def add(self, bits: int) -> bool:
        """Adds a set unless one that includes it is there; drops those that it includes. Whether it was added."""
        for other in self.elements:
            if bits | other == other:
                return False
        self.elements = [other for other in self.elements if other | bits != bits]
        self.elements.append(bits)
        return True


class MinimalSets(Antichain):
    """The minimal ones of the sets added."""

    __slots__ = ()

    def add(self, bits: int) -> bool:
        """Adds a set unless one that it includes is there; drops those that include it. Whether it was added."""
        for other in self.elements:
            if bits & other == other:
                return False
        self.elements = [other for other in self.elements if other & bits != bits]
        self.elements.append(bits)
        return True
