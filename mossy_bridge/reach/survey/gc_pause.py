"""Long computations without garbage collection."""

import gc
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def gc_paused() -> Iterator[None]:
    """For long computations that make hardly any cycles: among so many values looking for garbage takes a quarter of
    the time, and stops a window. What they made counts as old at the end, so that it is not looked through at once."""
    were = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        gc.unfreeze()
        if were:
            gc.enable()
