"""Long computations without garbage collection."""

import gc
from collections.abc import Iterator
from contextlib import contextmanager

_under_way: set[object] = set()


@contextmanager
def gc_paused() -> Iterator[None]:
    """Pauses garbage collection for a computation that makes hardly any cycles: among so many values it takes a quarter
    of the time, and blocks the window. What was made is moved to the oldest generation, so that it is not scanned at
    once."""
    were, computation = gc.isenabled(), object()
    _under_way.add(computation)
    gc.disable()
    try:
        yield
    finally:
        _under_way.discard(computation)
        gc.freeze()
        gc.unfreeze()
        if were:
            gc.enable()


def is_gc_paused() -> bool:
    """Whether such a computation is under way in some thread. Whoever collects by hand should wait for its end."""
    return bool(_under_way)
