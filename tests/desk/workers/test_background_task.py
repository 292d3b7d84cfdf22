"""What is computed beside the window: brought when done, dropped when it is not asked for any more."""

import threading
import unittest

from mossy_bridge.desk.workers.background_task import Background
from mossy_bridge.desk.workers.condition_query import Inquiry
from tests.support.build import deed, flow, play_level, way
from tests.support.qt import DeskCase


class Backgrounds(DeskCase):
    def setUp(self):
        super().setUp()
        self.background, self.results = Background(), []
        self.background.done.connect(self.results.append)

    def test_a_result_is_brought_and_a_fault_too(self):
        self.background.compute(lambda: 6 * 7)
        self.assertTrue(self.background.busy)
        self.wait_until(lambda: self.results, "the result")
        self.assertEqual((self.results, self.background.busy), ([42], False))
        self.background.compute(lambda: 1 / 0)
        self.wait_until(lambda: len(self.results) == 2, "the fault")
        self.assertIsInstance(self.results[1], ZeroDivisionError)
        self.assertEqual(self.faults, ["ZeroDivisionError: division by zero"])  # told, too
        self.faults.clear()

    def test_only_what_was_asked_last_is_brought(self):
        gate = threading.Event()
        self.background.compute(lambda: gate.wait(5) and "first")
        self.background.compute(lambda: "second")
        self.wait_until(lambda: self.results, "the second")
        gate.set()
        self.background.compute(lambda: "third")
        self.wait_until(lambda: "third" in self.results, "the third")
        self.assertNotIn("first", self.results)

    def test_an_inquiry_tells_whoever_asked_last(self):
        f = flow(play_level("a", way("x", "won"), deeds=[deed("d", "gain f")]), facts=("f",))
        inquiry, told = Inquiry(), []
        inquiry.ask(f, "has f", "a", told.append)
        self.wait_until(lambda: told, "an answer")
        self.assertEqual((told[0].here, [str(move) for move in told[0].route]), ("sometimes", ["deed a.d"]))
        inquiry.ask(f, "lacks f", "a", told.append)
        inquiry.forget()
        self.wait_until(lambda: not inquiry._background.busy, "the end")
        self.assertEqual(len(told), 1)


if __name__ == "__main__":
    unittest.main()
