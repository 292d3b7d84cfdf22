"""Earlier versions: which are kept, and how they come back."""

import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path

from mossy_bridge.exchange.reading import CannotRead
from mossy_bridge.exchange.saving import CannotSave
from mossy_bridge.exchange.versions import LATEST, Versions, read_version
from mossy_bridge.exchange.writing import flow_bytes
from mossy_bridge.model.flow import Flow


class Kept(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.versions = Versions(self.folder / "versions")
        self.path = Path("/project/a.mossy")

    def keep(self, number, when=None):
        self.versions.keep(self.path, flow_bytes(Flow(title=str(number))), when)

    def titles(self):
        return [read_version(version).title for version in self.versions.of(self.path)]

    def test_the_last_twenty_and_the_first_of_each_day(self):
        noon = datetime(2026, 3, 1, 12, tzinfo=UTC)
        for day in range(5):
            for hour in range(8):
                self.keep(f"{day}.{hour}", noon + timedelta(days=day, minutes=hour))
        found = self.titles()
        self.assertEqual(found[:LATEST], [f"{day}.{hour}" for day in (4, 3, 2) for hour in range(7, -1, -1)][:LATEST])
        self.assertEqual(found[LATEST:], ["2.0", "1.0", "0.0"])

    def test_the_same_is_kept_once_and_each_file_has_its_own(self):
        self.keep(1)
        self.keep(1)
        self.keep(2)
        self.assertEqual(self.titles(), ["2", "1"])
        self.assertEqual(self.versions.of(Path("/project/b.mossy")), [])

    def test_one_that_is_damaged_is_told(self):
        self.keep(1)
        version = self.versions.of(self.path)[0]
        version.file.write_bytes(version.file.read_bytes()[:20])
        with self.assertRaises(CannotRead):
            read_version(version)
        self.keep(1)  # it is not what was saved last any more
        self.assertEqual(len(self.versions.of(self.path)), 2)

    def test_where_nothing_can_be_kept(self):
        (self.folder / "versions").write_text("no folder")
        with self.assertRaises(CannotSave):
            self.keep(1)
        self.assertEqual(self.versions.of(self.path), [])


if __name__ == "__main__":
    unittest.main()
