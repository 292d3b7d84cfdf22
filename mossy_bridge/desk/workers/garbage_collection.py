"""Garbage is collected in the window's thread, and nowhere else.

Python collects in whatever thread makes the next object. Widgets in cycles would then be taken apart beside the window
while it uses them, which ends the program. So collecting by itself is turned off, and a timer does it.
"""

import gc

from PyQt6.QtCore import QObject, QTimer

from mossy_bridge.reach.survey.gc_pause import is_gc_paused

EVERY_MS = 100
FEW = 500
"""Something goes on where there are so many more objects than a moment ago."""
OLD, QUIET = 1_000, 100
"""After something went on so many times, and then nothing so many times in a row, all objects are looked through: among
hundreds of thousands of values that a survey keeps, that takes a tenth of a second and more."""


class Collector(QObject):
    """Collects now and then."""

    def __init__(self, parent: QObject):
        super().__init__(parent)
        self._busy = self._quiet = 0
        gc.disable()
        timer = QTimer(self)
        timer.timeout.connect(self.collect)
        timer.start(EVERY_MS)

    def collect(self) -> None:
        """Collects what is due; nothing while a computation makes values by the hundred thousand, for to look through
        those would take long."""
        if is_gc_paused():
            return
        busy = gc.get_count()[0] > FEW
        gc.collect(0)  # what is new
        gc.freeze()
        gc.unfreeze()  # together they make old what is left, without looking at it
        self._busy, self._quiet = self._busy + busy, 0 if busy else self._quiet + 1
        if self._busy > OLD and self._quiet > QUIET:
            gc.collect()
            self._busy = 0
