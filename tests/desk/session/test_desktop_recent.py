"""The desktop's own list of files used lately."""

import os
import tempfile
import unittest
from pathlib import Path
from unittest import mock
from xml.etree import ElementTree

from mossy_bridge.desk.session.desktop_recent import BOOKMARK, KIND, MIME, recent_list, tell_desktop

OTHERS = """<?xml version="1.0" encoding="UTF-8"?>
<xbel version="1.0" xmlns:bookmark="http://www.freedesktop.org/standards/desktop-bookmarks"
      xmlns:mime="http://www.freedesktop.org/standards/shared-mime-info">
  <!-- kept -->
  <bookmark href="file:///x/letter.txt" added="2026-01-01T00:00:00Z" modified="2026-01-01T00:00:00Z"
            visited="2026-01-01T00:00:00Z"><info><metadata owner="http://freedesktop.org">
    <mime:mime-type type="text/plain"/><bookmark:applications>
    <bookmark:application name="Other" exec="'other %u'" modified="2026-01-01T00:00:00Z" count="3"/>
    </bookmark:applications></metadata></info></bookmark>
</xbel>
"""


class RecentFiles(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.list = Path(folder.name) / "share" / "recently-used.xbel"
        self.flow = Path(folder.name) / "my marsh & more.mossy"

    def marks(self):
        return {one.get("href"): one for one in ElementTree.parse(self.list).getroot().iterfind("bookmark")}

    def count(self):
        [own] = self.marks()[self.flow.as_uri()].iter(f"{{{BOOKMARK}}}application")
        return own.get("name"), own.get("exec"), own.get("count")

    def test_a_flow_is_put_in_once_and_counted(self):
        for _ in range(3):
            tell_desktop(self.flow, self.list)
        self.assertEqual(list(self.marks()), [self.flow.as_uri()])
        self.assertEqual(self.count(), ("Mossy Bridge", "'mossy-bridge open %f'", "3"))
        [kind] = self.marks()[self.flow.as_uri()].iter(f"{{{MIME}}}mime-type")
        self.assertEqual(kind.get("type"), KIND)
        self.assertEqual(self.list.stat().st_mode & 0o077, 0, "nobody else may read it")

    def test_what_others_have_put_in_stays(self):
        self.list.parent.mkdir()
        self.list.write_text(OTHERS, "utf-8")
        tell_desktop(self.flow, self.list)
        self.assertEqual(set(self.marks()), {"file:///x/letter.txt", self.flow.as_uri()})
        kept = self.list.read_text("utf-8")
        for part in ("<!-- kept -->", "'other %u'", 'count="3"', "text/plain"):
            self.assertIn(part, kept)

    def test_a_list_that_cannot_be_read_is_left_as_it_is(self):
        self.list.parent.mkdir()
        for spoiled in (b"", b"<xbel", b"<other/>", OTHERS.encode()[:300]):
            self.list.write_bytes(spoiled)
            tell_desktop(self.flow, self.list)
            self.assertEqual(self.list.read_bytes(), spoiled)
            self.assertEqual(os.listdir(self.list.parent), [self.list.name])

    def test_where_nothing_can_be_written_nothing_happens(self):
        self.list.parent.write_text("a file stands there")
        tell_desktop(self.flow, self.list)
        self.assertEqual(self.list.parent.read_text(), "a file stands there")

    def test_the_list_is_where_the_desktop_has_it(self):
        with mock.patch.dict(os.environ, {"XDG_DATA_HOME": "/data"}):
            self.assertEqual(recent_list(), Path("/data/recently-used.xbel"))


if __name__ == "__main__":
    unittest.main()
