"""Long computations without garbage collection."""

import gc
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def gc_paused() -> Iterator[None]:
    """Pauses garbage collection for a computation that makes hardly any cycles: among so many values it takes a quarter
    of the time, and blocks the window. What was made is moved to the oldest generation, so that it is not scanned at
    once."""
    were = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        gc.unfreeze()
        if were:
            gc.enable()
