"""Every check of the chapter Level files, with its repair."""

import inspect
import re
import unittest
from pathlib import Path

from mossy_bridge.checks.registry import CHECKS
from mossy_bridge.checks.runner import inspected
from mossy_bridge.exchange.readers.rules import contents_of
from mossy_bridge.level_files.differences import compared
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import deed, flow, play_level

READER = {
    "id": "maps", "name": "Marsh maps", "files": "levels/*.xml", "form": "xml", "words": {"END": "end:won"},
    "rules": [
        {"makes": "plan", "each": "/map", "take": {"width": "@w", "height": "@h"}},
        {"makes": "exit", "each": "//gate", "complete": True,
         "take": {"id": "@n", "x": "@x", "y": "@y", "width": "@w", "height": "@h", "level": "@to"}},
        {"makes": "spawn", "each": "//start", "take": {"id": "@n", "x": "@x", "y": "@y"}},
    ],
}  # fmt: skip
A = "<map w='64' h='18'><start n='p' x='0' y='0'/><gate n='east' x='60' y='12' w='2' h='4' to='{}'/>{}</map>"


def gate(to, **more):
    return {"id": "east", "area": [60, 12, 2, 4], "to": to, **more}


class Declared(unittest.TestCase):
    def test_every_check_that_looks_at_the_disk_says_so(self):
        looks = re.compile(r"here\.(disk|level_files|folder|found)\b|_of\(here, ")
        told = {slug for slug, one in CHECKS.items() if one.disk}
        found = {slug for slug, one in CHECKS.items() if one.function and looks.search(inspect.getsource(one.function))}
        self.assertEqual(found, told)
        self.assertIn("file-lacks", found)


class LevelFiles(unittest.TestCase):
    def look(self, slug, a=None, file=None, reader=READER, **more):
        level = {"file": "levels/a.xml", "plan": {"width": 64, "height": 18}, **(a or {})}
        flow_ = flow(
            play_level("a", *level.pop("exits", [gate({"level": "b"})]), **level),
            play_level(
                "b", {"id": "on", "trigger": {"kind": "choose"}, "to": {"kind": "end", "ending": "won"}}, name="Bee"
            ),
            readers=[reader],
            **more,
        )
        data = A.format("b", "") if file is None else file
        files = {"levels/a.xml": contents_of(data.encode(), flow_.readers)}
        survey = survey_flow(flow_)
        found = inspected(survey, flow_, Path("/nowhere"), only=[slug], level_files=compared(survey.flow, files))
        return flow_, files, [one for one in found if one.check == slug]

    def mended(self, flow_, files, finding):
        """The flow after a repair, which leaves nothing of its kind behind."""
        after = finding.repair.edit(flow_)
        again = inspected(
            survey_flow(after), after, Path("/nowhere"), only=[finding.check], level_files=compared(after, files)
        )
        self.assertNotIn((finding.check, finding.at), [(one.check, one.at) for one in again])
        return after

    def test_nothing_is_said_where_nothing_differs(self):
        for slug in ("file-unreadable", "file-lacks", "file-has-more", "file-leads-elsewhere", "file-place-differs",
                     "reader-idle"):  # fmt: skip
            self.assertEqual(self.look(slug)[2], [], slug)

    def test_unreadable(self):
        for file, says in (
            ("<map", "levels/a.xml: line 1"),
            ("<map><gate x='q'/></map>", "rule 2 of Marsh maps: x is “q”"),
        ):
            _, _, found = self.look("file-unreadable", file=file)
            self.assertEqual([(one.severity, one.at) for one in found], [("error", ("a",))])
            self.assertIn(says, found[0].message)

    def test_lacks(self):
        more = {"exits": [gate({"level": "b"}), {"id": "west", "area": [0, 12, 1, 4], "to": {"level": "b"}}],
                "spawns": [{"id": "p"}, {"id": "q"}], "deeds": [deed("d")]}  # fmt: skip
        _, _, found = self.look("file-lacks", more)
        self.assertEqual([(one.severity, one.at) for one in found], [("error", ("a.west",)), ("hint", ("a.q",))])
        self.assertEqual(found[0].message, "a: west is not in levels/a.xml.")

    def test_has_more(self):
        flow_, files, found = self.look(
            "file-has-more", file=A.format("b", "<gate n='North Door' to='b' x='3' y='12' w='1' h='4'/>")
        )
        self.assertEqual([(one.severity, one.at) for one in found], [("warning", ("a", "North Door"))])
        self.assertEqual(found[0].message, "levels/a.xml has an exit “North Door”, which a lacks; it leads to Bee.")
        after = self.mended(flow_, files, found[0])
        new = after.level("a").exits[-1]
        self.assertEqual((new.id, new.name, new.area, new.to.level), ("north_door", "North Door", (3, 12, 1, 4), "b"))
        _, _, found = self.look("file-has-more", file=A.format("b", "<gate n='North' to='nowhere'/>"))
        self.assertIsNone(found[0].repair)
        self.assertIn("to “nowhere”, which no level is called", found[0].message)

    def test_leads_elsewhere(self):
        flow_, files, found = self.look("file-leads-elsewhere", file=A.format("END", ""))
        self.assertEqual([(one.severity, one.at) for one in found], [("error", ("a.east",))])
        self.assertEqual(found[0].message, "a: east leads to Bee, but in levels/a.xml to the ending won.")
        self.assertEqual(self.mended(flow_, files, found[0]).level("a").exits[0].to.ending, "won")
        _, _, found = self.look("file-leads-elsewhere", file=A.format("c", ""))
        self.assertEqual(
            (found[0].repair, "but in levels/a.xml to “c”, which no level is called" in found[0].message), (None, True)
        )

    def test_what_is_otherwise_used_is_kept(self):
        to = {"kind": "next", "otherwise": {"kind": "end", "ending": "won"}}
        flow_, files, found = self.look("file-leads-elsewhere", {"exits": [gate(to)]}, A.format("a", ""))
        self.assertEqual(self.mended(flow_, files, found[0]).level("a").exits[0].to.otherwise.ending, "won")

    def test_place_differs(self):
        for a, at, says in (
            ({"exits": [gate({"level": "b"}, area=[58, 12, 2, 4])]}, "a.east",
             "a: east lies at 58, 12 (2 × 4), but in levels/a.xml at 60, 12 (2 × 4)."),
            ({"spawns": [{"id": "p", "x": 3}]}, "a.p", "a: p lies at 3, 0, but in levels/a.xml at 0, 0."),
            ({"plan": {"width": 60, "height": 18}}, "a", "The plan of a is 60 × 18, but in levels/a.xml 64 × 18."),
            ({"plan": None}, "a", "The plan of a has no size yet, but in levels/a.xml 64 × 18."),
        ):  # fmt: skip
            with self.subTest(says):
                flow_, files, found = self.look("file-place-differs", a)
                self.assertEqual([(one.severity, one.at, one.message) for one in found], [("hint", (at,), says)])
                self.mended(flow_, files, found[0])

    def test_idle_readers(self):
        _, _, found = self.look("reader-idle", reader={**READER, "files": "maps/*.xml"})
        self.assertEqual([one.at for one in found], [("maps",)])
        self.assertIn("is for maps/*.xml, but no level has such a file", found[0].message)
        rules = [*READER["rules"], {"makes": "deed", "each": "//pickup"}]
        _, _, found = self.look("reader-idle", reader={**READER, "rules": rules})
        self.assertEqual([one.at for one in found], [("maps.3",)])
        self.assertEqual(self.look("reader-idle", reader={**READER, "rules": rules}, file="<map")[2], [])

    def test_accepted_differences_are_no_idle_reference(self):
        file = A.format("b", "<gate n='North Door' to='b'/>")
        waiver = {"check": "file-has-more", "at": "North Door", "why": "painted on"}
        flow_, files, found = self.look("file-has-more", file=file, waivers=[waiver])
        self.assertEqual(found[0].waived, "painted on")
        said = {
            one.check
            for one in inspected(survey_flow(flow_), flow_, Path("/nowhere"), level_files=compared(flow_, files))
        }
        self.assertNotIn("reference-idle", said)
        self.assertNotIn("waiver-idle", said)


if __name__ == "__main__":
    unittest.main()
