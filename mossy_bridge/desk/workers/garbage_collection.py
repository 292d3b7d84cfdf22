"""Garbage is collected in the window's thread, and nowhere else.

Python collects in whatever thread makes the next object. Widgets in cycles would then be taken apart beside the window
while it uses them, which ends the program. So collecting by itself is turned off, and a timer does it.
"""

import gc

from PyQt6.QtCore import QObject, QTimer

from mossy_bridge.reach.survey.gc_pause import is_gc_paused

EVERY_MS = 100
YOUNG, MIDDLE, OLD = 10_000, 200, 400
"""From so many new objects on the youngest are looked through, after so many times those that were left, and after so
many of these all: among hundreds of thousands of values that a survey keeps, that takes a tenth of a second."""


class Collector(QObject):
    """Collects now and then."""

    def __init__(self, parent: QObject):
        super().__init__(parent)
        gc.disable()
        timer = QTimer(self)
        timer.timeout.connect(collect)
        timer.start(EVERY_MS)


def collect() -> None:
    """Collects what is due; nothing while a computation makes values by the hundred thousand, for to look through those
    would take long."""
    if is_gc_paused():
        return
    young, middle, old = gc.get_count()
    if old > OLD and middle > MIDDLE:
        gc.collect(2)
    elif middle > MIDDLE:
        gc.collect(1)
    elif young > YOUNG:
        gc.collect(0)
