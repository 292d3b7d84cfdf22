"""The level files of the demo: in three forms, as the sound flow has them; the unfinished one has drifted."""

import unittest
from collections import Counter

from mossy_bridge.exchange.reading import flow_from_bytes
from mossy_bridge.level_files.differences import compared
from mossy_bridge.level_files.taking import take_over
from mossy_bridge.model.patterns import resolved
from tests.exchange.readers.test_store import DEMO, FolderCase, store_of


class Demo(FolderCase):
    def demo(self, name):
        flow = flow_from_bytes((DEMO / f"{name}.mossy").read_bytes())
        return flow, store_of(self, DEMO).read(resolved(flow))

    def test_all_is_as_the_files_have_it(self):
        flow, files = self.demo("tidewick")
        self.assertEqual({reader.form for reader in flow.readers}, {"xml", "json", "text"})
        self.assertEqual(len(files), 17)
        self.assertEqual([fault for contents in files.values() for fault in contents.faults], [])
        self.assertEqual(compared(resolved(flow), files).differences, ())

    def test_its_plans_are_read_from_them(self):
        flow, files = self.demo("tidewick")
        bare = flow_from_bytes((DEMO / "tidewick.mossy").read_bytes().replace(b'"width": 64,', b'"width": 9,'))
        self.assertNotEqual(bare.level("slipway").plan, flow.level("slipway").plan)
        self.assertEqual(take_over(bare, files, "places"), flow)

    def test_the_unfinished_one_has_drifted_in_five_ways(self):
        flow, files = self.demo("tidewick_unfinished")
        found = compared(resolved(flow), files).differences
        kinds = Counter((one.kind, one.makes) for one in found)
        self.assertEqual(kinds, {("place", "exit"): 1, ("place", "solid"): 1, ("leads", "exit"): 2,
                                 ("more", "deed"): 1, ("lacks", "spawn"): 1})  # fmt: skip
        left = compared(resolved(take_over(flow, files, "all")), files).differences
        self.assertEqual([(one.kind, one.level) for one in left], [("lacks", "rope_walk")])


if __name__ == "__main__":
    unittest.main()
