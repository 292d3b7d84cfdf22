"""What is computed beside the window: brought when done, dropped when it is not asked for any more."""

import threading
import time
import unittest
from unittest import mock

from mossy_bridge.desk.workers import background_task, condition_query
from mossy_bridge.desk.workers.background_task import BackgroundTask
from mossy_bridge.desk.workers.condition_query import ConditionQuery
from mossy_bridge.reach.survey.budget import Cancelled
from tests.support.build import deed, flow, play_level, way
from tests.support.qt import DeskCase


class Tasks(DeskCase):
    def setUp(self):
        super().setUp()
        self.task, self.results, self.failures, self.reports = BackgroundTask(self.window), [], [], []
        self.task.done.connect(self.results.append)
        self.task.failed.connect(self.failures.append)
        self.task.reported.connect(self.reports.append)

    def test_a_result_is_brought_and_a_fault_is_told(self):
        self.task.ask(lambda job: job.report("half") or 6 * 7)
        self.assertTrue(self.task.busy)
        self.wait_until(lambda: self.results, "the result")
        self.assertEqual((self.reports, self.results, self.task.busy), (["half"], [42], False))
        self.task.ask(lambda _: 1 / 0)
        self.wait_until(lambda: self.failures, "the fault")
        self.assertIsInstance(self.failures[0], ZeroDivisionError)
        self.assertEqual(self.results, [42])
        self.assertEqual(self.faults, ["ZeroDivisionError: division by zero"])
        self.faults.clear()

    def test_a_newer_question_cancels_the_older_ones_and_one_thread_is_enough(self):
        begun, threads, most = [], set(), [0]

        def work(name):
            def run(job):
                begun.append(name)
                threads.add(threading.current_thread())
                most[0] = max(most[0], sum(thread.is_alive() for thread in threads))
                while not job.cancelled() and name != "last":
                    time.sleep(0.001)
                job.report(name)
                if job.cancelled():
                    raise Cancelled
                return name

            return run

        self.task.ask(work("first"))
        self.wait_until(lambda: begun, "the first")
        for number in range(8):
            self.task.ask(work(f"middle {number}"))
        self.task.ask(work("last"))
        self.wait_until(lambda: self.results, "the last")
        self.assertEqual((begun, self.results, self.reports), (["first", "last"], ["last"], ["last"]))
        self.assertEqual(most, [1])

    def test_work_goes_on_once_what_it_shows_is_shown(self):
        order = []
        self.task.reported.connect(lambda value: (time.sleep(0.02), order.append(value)))

        def work(job):
            job.report("told")
            job.show("shown")
            order.append("went on")

        self.task.ask(work)
        self.wait_until(lambda: self.results, "the result")
        self.assertEqual(order, ["told", "shown", "went on"])

    def test_nobody_waits_for_what_will_never_be_shown(self):
        for give_up in (self.task.stop, self.task.cancel):
            went_on, waiting = threading.Event(), threading.Event()

            def work(job, went_on=went_on, waiting=waiting):
                waiting.set()
                job.show("nothing")
                went_on.set()

            self.task.ask(work)
            self.assertTrue(waiting.wait(5))
            give_up()
            self.assertTrue(went_on.wait(5))
            self.wait_until(lambda: not self.task.busy, "the end")
        self.assertEqual((self.reports, self.results), ([], []))

    def test_work_that_nobody_shows_goes_on_all_the_same(self):
        went_on = threading.Event()

        def work(job):
            job.show("nothing")
            went_on.set()

        with mock.patch.object(background_task, "LONGEST_WAIT", 0.01):
            self.task.ask(work)
            self.assertTrue(went_on.wait(5))  # while no event is handled here
        self.wait_until(lambda: self.results, "the end")

    def test_stopped_it_brings_nothing_any_more(self):
        gate = threading.Event()
        self.task.ask(lambda _: gate.wait(5) and "result")
        gate.set()
        self.task.stop()
        self.assertFalse(self.task.busy)
        self.task.ask(lambda _: "another")
        self.wait_until(lambda: self.results, "another")
        self.assertEqual(self.results, ["another"])


class Queries(DeskCase):
    def test_whoever_asked_last_is_told(self):
        f = flow(play_level("a", way("x", "won"), deeds=[deed("d", "gain f")]), facts=("f",))
        query, told = ConditionQuery(self.window), []
        query.ask(f, "has f", "a", told.append)
        self.wait_until(lambda: told, "an answer")
        self.assertEqual((told[0].here, [str(move) for move in told[0].route]), ("sometimes", ["deed a.d"]))
        query.ask(f, "lacks f", "a", told.append)
        query.forget()
        self.wait_until(lambda: not query.busy, "the end")
        self.assertEqual(len(told), 1)

    def test_a_failure_is_told_too(self):
        query, told = ConditionQuery(self.window), []
        with mock.patch.object(condition_query, "where_condition_holds", side_effect=RuntimeError("planted")):
            query.ask(flow(), "always", "", told.append)
            self.wait_until(lambda: told, "an answer")
        self.assertEqual((told, self.faults), ([None], ["RuntimeError: planted"]))
        self.faults.clear()


if __name__ == "__main__":
    unittest.main()
