"""Garbage is collected in the window's thread only."""

import gc
import threading
import unittest

from PyQt6.QtCore import Qt

from mossy_bridge.desk.workers.garbage_collection import FEW, OLD, QUIET, Collector
from mossy_bridge.reach.survey.gc_pause import gc_paused
from tests.support.qt import DeskCase

SPARE = 200
"""So many lists Python makes of those it has kept, uncounted."""


class Cycle:
    """Something that only a collection finds."""

    died_in = None

    def __init__(self):
        self.me = self

    def __del__(self):
        Cycle.died_in = threading.current_thread()


class Collecting(DeskCase):
    def setUp(self):
        super().setUp()
        self.collector = Collector(self.window)
        Cycle.died_in = None

    def test_no_thread_but_the_windows_collects(self):
        own = self.app.findChildren(Collector, options=Qt.FindChildOption.FindDirectChildrenOnly)
        self.assertEqual(len(own), 1)
        self.assertFalse(gc.isenabled())
        gc.collect()

        def work():
            Cycle()
            return [[] for _ in range(20 * FEW)]

        thread = threading.Thread(target=work)
        Cycle()
        thread.start()
        thread.join()
        self.assertIsNone(Cycle.died_in)
        kept = [[] for _ in range(10 * FEW)]
        self.collector.collect()
        self.assertEqual(Cycle.died_in, threading.main_thread())
        self.assertEqual(len(kept), 10 * FEW)

    def test_none_is_collected_while_a_long_computation_makes_values(self):
        gc.collect()
        Cycle()
        with gc_paused():
            kept = [[] for _ in range(10 * FEW)]
            self.collector.collect()
            self.assertIsNone(Cycle.died_in)
        gc.collect()
        self.assertIsNotNone(Cycle.died_in)
        self.assertEqual(len(kept), 10 * FEW)

    def test_what_was_left_before_is_looked_at_once_nothing_goes_on(self):
        cycle = Cycle()
        kept = []
        for _ in range(OLD + 1):
            kept += [[] for _ in range(FEW + SPARE)]
            self.collector.collect()
            kept.clear()
        del cycle
        kept += [[] for _ in range(FEW + SPARE)]
        self.collector.collect()
        self.assertIsNone(Cycle.died_in)
        for _ in range(QUIET):
            self.collector.collect()
            self.assertIsNone(Cycle.died_in)
        self.collector.collect()
        self.assertEqual(Cycle.died_in, threading.main_thread())


if __name__ == "__main__":
    unittest.main()
