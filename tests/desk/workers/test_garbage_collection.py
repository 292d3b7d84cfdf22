"""Garbage is collected in the window's thread only."""

import gc
import threading
import unittest

from mossy_bridge.desk.workers.garbage_collection import YOUNG, Collector, collect
from mossy_bridge.reach.survey.gc_pause import gc_paused
from tests.support.qt import DeskCase


class Cycle:
    """Something that only a collection finds."""

    died_in = None

    def __init__(self):
        self.me = self

    def __del__(self):
        Cycle.died_in = threading.current_thread()


class Collecting(DeskCase):
    def test_no_thread_but_the_windows_collects(self):
        self.assertEqual(len(self.app.findChildren(Collector)), 1)
        self.assertFalse(gc.isenabled())
        gc.collect()

        def work():
            Cycle()
            return [[] for _ in range(4 * YOUNG)]

        thread = threading.Thread(target=work)
        Cycle()
        thread.start()
        thread.join()
        self.assertIsNone(Cycle.died_in)
        kept = [[] for _ in range(2 * YOUNG)]
        collect()
        self.assertEqual(Cycle.died_in, threading.main_thread())
        self.assertEqual(len(kept), 2 * YOUNG)

    def test_none_is_collected_while_a_long_computation_makes_values(self):
        gc.collect()
        Cycle.died_in = None
        Cycle()
        with gc_paused():
            kept = [[] for _ in range(2 * YOUNG)]
            collect()
            self.assertIsNone(Cycle.died_in)
        gc.collect()
        self.assertIsNotNone(Cycle.died_in)
        self.assertEqual(len(kept), 2 * YOUNG)


if __name__ == "__main__":
    unittest.main()
