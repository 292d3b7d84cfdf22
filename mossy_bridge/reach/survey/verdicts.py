"""Verdicts: answers with routes, one by one and about everything of a kind."""

from collections.abc import Callable, ItemsView, Iterator, Mapping, Sequence, ValuesView
from functools import cached_property
from typing import Any, Literal, TypeVar

from msgspec import Struct

from mossy_bridge.reach.system.routes import Route, is_shortest

__all__ = ["NO", "UNKNOWN", "Answer", "Route", "Verdict", "Verdicts", "is_shortest"]

Key = TypeVar("Key")
Answer = Literal["yes", "no", "unknown"]


class Verdict(Struct, frozen=True, eq=False, dict=True):
    """An answer, with a route exactly where it is yes. The route is traced when it is first asked for: those of a
    large flow are long and many."""

    answer: Answer
    find: Callable[..., Route] = tuple
    of: tuple[Any, ...] = ()
    """What ``find`` is called with to find the route."""

    @cached_property
    def route(self) -> Route:
        """The moves that show it."""
        return self.find(*self.of)

    @property
    def trace(self) -> Callable[[], Route]:
        """What finds the route when somebody looks at it; ``tuple`` where there is none."""
        return tuple if self.find is tuple else lambda: self.route


UNKNOWN = Verdict("unknown")
NO = Verdict("no")


class Verdicts(Mapping[Key, Verdict]):
    """The verdicts about everything of one kind. Its names and their numbers are shared by all surveys about the same
    things; ``found`` has the verdicts by number."""

    def __init__(self, numbers: Mapping[Key, int], found: Sequence[Verdict]):
        self.numbers, self.found = numbers, found

    def __getitem__(self, name: Key) -> Verdict:
        return self.found[self.numbers[name]]

    def __iter__(self) -> Iterator[Key]:
        return iter(self.numbers)

    def __len__(self) -> int:
        return len(self.numbers)

    def values(self) -> ValuesView[Verdict]:
        """The verdicts, by number."""
        return _Values(self)

    def items(self) -> ItemsView[Key, Verdict]:
        """The names, each with its verdict."""
        return _Items(self)

    def overlaid(self, others: Mapping[Key, Verdict]) -> "Verdicts[Key]":
        """The same with other verdicts in the place of some."""
        found = list(self.found)
        for name, verdict in others.items():
            if name in self.numbers:
                found[self.numbers[name]] = verdict
        return Verdicts(self.numbers, found)


# a view of a mapping asks for each value by its name, which takes far longer


class _Values(ValuesView[Verdict]):
    _mapping: Verdicts[Any]

    def __contains__(self, verdict: object) -> bool:
        return verdict in self._mapping.found

    def __iter__(self) -> Iterator[Verdict]:
        return iter(self._mapping.found)


class _Items(ItemsView[Key, Verdict]):
    _mapping: Verdicts[Key]

    def __iter__(self) -> Iterator[tuple[Key, Verdict]]:
        return zip(self._mapping.numbers, self._mapping.found, strict=True)
