"""A survey's budget of time, and its cancellation."""

import time
from collections.abc import Callable
from dataclasses import dataclass, field

from mossy_bridge.reach.system.program_graph import Stopper


class Cancelled(Exception):  # noqa: N818 - not an error, but a request
    """The survey was given up."""


@dataclass(frozen=True)
class Budget:
    """Seconds to spend, counted from its making."""

    seconds: float
    cancelled: Callable[[], bool] = lambda: False
    clock: Callable[[], float] = time.monotonic
    begun: float = field(init=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "begun", self.clock())

    def until(self, share: float) -> Stopper:
        """True once the share of the budget is spent, or it was cancelled."""
        end = self.begun + self.seconds * share
        return lambda: self.clock() >= end or self.cancelled()

    def check(self) -> None:
        """Raises :class:`Cancelled` if it was."""
        if self.cancelled():
            raise Cancelled

    @property
    def spent(self) -> float:
        """Seconds since it was begun."""
        return self.clock() - self.begun
