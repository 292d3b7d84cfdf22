"""The journal of unsaved work: whole or not at all, however it was cut off."""

import tempfile
import unittest
from pathlib import Path
from random import Random

from msgspec.structs import replace

from mossy_bridge.exchange.journal import Journal, changed, read_journal
from mossy_bridge.exchange.reading import CannotRead
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits import patterns as pattern_edits
from mossy_bridge.model.edits.order import move_levels
from mossy_bridge.model.flow import Flow, Start
from tests.support.random_flows import MAKERS


class Journals(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.file = Path(folder.name) / "a.journal"
        self.journal = Journal(self.file)
        self.addCleanup(self.journal.close)

    def write(self, flow, path=None, when=1e9):
        self.journal.write(flow, "Tidewick", path, when)

    def edited(self, flow, seed):
        pick = Random(seed)
        name = pick.choice(flow.levels).id
        return pick.choice([
            lambda: edits.set_level(flow, name, name=f"n {seed}"),
            lambda: edits.add_level(flow, f"New {seed}")[0],
            lambda: edits.remove_levels(flow, [name]) if len(flow.levels) > 1 else flow,
            lambda: move_levels(flow, [name]),
            lambda: replace(flow, title=f"t {seed}", start=Start(level=name)),
            lambda: edits.place_card(flow, name, seed, 3),
            lambda: pattern_edits.make_pattern(flow, name, "Model")[0],
        ])()  # fmt: skip

    def test_what_is_read_is_what_was_written_last(self):
        for seed in range(40):
            flow = MAKERS[seed % len(MAKERS)](seed)
            self.journal.close()
            for step in range(6):
                self.write(flow, Path("/somewhere/ü.mossy"), when=seed)
                entry = read_journal(self.file)
                self.assertEqual((entry.flow, entry.title, entry.path), (flow, "Tidewick", Path("/somewhere/ü.mossy")))
                flow = self.edited(flow, 100 * seed + step)

    def test_a_change_is_as_long_as_what_it_changes(self):
        flow = Flow(levels=tuple(edits.add_level(Flow(), f"l{n}")[0].levels[0] for n in range(400)))
        self.write(flow)
        first = self.file.stat().st_size
        self.write(edits.set_level(flow, "l7", name="x"))
        self.assertLess(self.file.stat().st_size - first, first / 8)
        self.assertEqual(changed(flow, flow), {})

    def test_cut_off_anywhere_it_tells_an_earlier_change_whole(self):
        flows = [MAKERS[0](1)]
        for seed in range(5):
            self.write(flows[-1])
            flows.append(self.edited(flows[-1], seed))
        data = self.file.read_bytes()
        first = data.index(b"\n") + 1
        for end in range(0, len(data) + 1, 7):
            self.file.write_bytes(data[:end])
            if end < first:
                with self.assertRaises(CannotRead):
                    read_journal(self.file)
            else:
                self.assertIn(read_journal(self.file).flow, flows)
        spoilt = bytearray(data)
        spoilt[first + 30] ^= 1
        self.file.write_bytes(spoilt)
        self.assertEqual(read_journal(self.file).flow, flows[0])

    def test_it_is_begun_anew_before_it_gets_long(self):
        flow = MAKERS[0](1)
        for number in range(3000):
            flow = replace(flow, title=f"t {number}")
            self.write(flow)
        self.assertLess(self.file.stat().st_size, 200_000)
        self.assertEqual(read_journal(self.file).flow, flow)

    def test_a_spoilt_time_and_a_file_that_is_none(self):
        for when in (1e300, float("nan"), -5.0):
            self.journal.close()
            self.write(Flow(title="x"), when=when)
            self.assertIsNone(read_journal(self.file).when)
        for data in (b"", b"nonsense\n", b"00000000 {}\n", b"\xff\n" * 9):
            self.file.write_bytes(data)
            with self.assertRaises(CannotRead):
                read_journal(self.file)
        with self.assertRaises(CannotRead):
            read_journal(self.file.parent)


if __name__ == "__main__":
    unittest.main()
