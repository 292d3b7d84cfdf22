"""Level files in a folder."""

import os
import tempfile
import unittest
from pathlib import Path

from mossy_bridge.exchange import folders as lf
from mossy_bridge.exchange.below import file_below
from mossy_bridge.exchange.reading import flow_from_bytes
from mossy_bridge.exchange.writing import flow_bytes
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import flow, play_level


class Below(unittest.TestCase):
    def test_nothing_outside_the_folder_is_named_or_listed(self):
        with tempfile.TemporaryDirectory() as name:
            home, outside = Path(name) / "home", Path(name) / "outside"
            for folder in (home / "maps", outside):
                folder.mkdir(parents=True)
                (folder / "a_1.map").write_text("")
            (home / "link").symlink_to(outside)
            (home / "loop").symlink_to("loop")
            self.assertEqual(file_below(home, "maps/a_1.map"), (home / "maps" / "a_1.map").resolve())
            self.assertEqual(file_below(home, "maps/gone.map"), (home / "maps" / "gone.map").resolve())
            for file in (
                "../outside/a_1.map",
                str(outside / "a_1.map"),
                "link/a_1.map",
                "loop",
                "a\0b",
                "maps/../../x",
            ):
                self.assertIsNone(file_below(home, file), file)
            named = [
                "maps/a_2.map",
                "../outside/a_2.map",
                "link/a_2.map",
                "/etc/passwd",
                "loop/a.map",
                "n" * 300 + "/a.map",
            ]
            self.assertEqual(lf.files_beside(home, named), ["maps/a_1.map"])

    def test_files_that_a_flow_cannot_name_are_passed_over(self):
        with tempfile.TemporaryDirectory() as name:
            for file in (b"1.map", b"\xff.map", b"2\x1b.map", "３.map".encode(), "²_4.map".encode()):
                (Path(name) / os.fsdecode(file)).write_text("")
            found = lf.files_below(Path(name))
            self.assertEqual(found, ["1.map", "²_4.map", "３.map"])
            made = lf.flow_from_folder("T", found, "*.map")
            self.assertEqual(flow_from_bytes(flow_bytes(made)), made)


class Naming(unittest.TestCase):
    def test_the_pattern_is_found_by_itself(self):
        for files, wanted in (
            (["maps/level_1.map", "maps/level_2.map", "readme.md"], "maps/level_*.map"),
            (["a/1-1 Quay.tmx", "a/1-2 Pan.tmx", "pics/a.png", "pics/b.png", "pics/c.png"], "a/*.tmx"),
            (["quay.lvl", "pan.lvl"], "*.lvl"),
            ([], ""),
        ):
            with self.subTest(files=files):
                self.assertEqual(lf.naming_pattern(files), wanted)

    def test_files_stand_in_natural_order_with_codes_and_names(self):
        files = ["maps/level_10.map", "maps/level_2.map", "maps/other.txt", "level_3.map"]
        self.assertEqual(lf.matching(files, "maps/level_*.map"), ["maps/level_2.map", "maps/level_10.map"])
        for file, pattern, name, code in (
            ("maps/level_02.map", "maps/level_*.map", "Level 2", "2"),
            ("maps/2-3b_salt_pans.map", "maps/*.map", "3b salt pans", "2-3b"),
            ("01_slipway.map", "*.map", "Slipway", "1"),
            ("bell_sands.map", "*.map", "Bell sands", ""),
        ):
            with self.subTest(file=file):
                self.assertEqual(lf.code_of(file), code)
                if "3b" not in name:
                    self.assertEqual(lf.name_of(file, pattern), name)

    def test_a_flow_from_a_folder_is_sound(self):
        files = [f"maps/level_{number}.map" for number in (1, 2, 3)]
        f = lf.flow_from_folder("Tidewick", files, "maps/level_*.map")
        self.assertEqual([(level.code, level.file) for level in f.levels], [(str(i + 1), files[i]) for i in range(3)])
        self.assertEqual(flow_from_bytes(flow_bytes(f)), f)
        survey = survey_flow(f)
        self.assertEqual({verdict.answer for verdict in survey.levels.values()}, {"yes"})
        self.assertEqual(lf.flow_from_folder("Empty", [], "*.map").levels, ())


class Looking(unittest.TestCase):
    def test_files_below_a_folder(self):
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            for file in ("b_10.map", "b_9.map", "deep/c.map", ".hidden/x.map", "b_9.map~", ".z.map"):
                (folder / file).parent.mkdir(exist_ok=True)
                (folder / file).write_text("")
            self.assertEqual(lf.files_below(folder), ["b_9.map", "b_10.map", "deep/c.map"])

    def test_added_gone_and_renamed_files(self):
        f = flow(*(play_level(f"l{i}", file=f"maps/level_{i}.map") for i in range(1, 4)))
        same = [level.file for level in f.levels]
        self.assertFalse(lf.news(f, [*same, "maps/notes.txt", "art/level_9.map"]))
        self.assertEqual(lf.news(f, [*same, "maps/level_9.map"]).added, ("maps/level_9.map",))
        self.assertEqual(lf.news(f, same[:2]).gone, ("maps/level_3.map",))
        both = [*same[:2], "maps/the_marsh.map"]
        stamp = {"maps/level_3.map": (7, 100)}
        moved = lf.news(f, both, stamp, {"maps/the_marsh.map": (7, 100)})
        self.assertEqual(moved.renamed, (("maps/level_3.map", "maps/the_marsh.map"),))
        for now in ((8, 100), (7, 99)):  # one gone and one new with other content are two files
            apart = lf.news(f, both, stamp, {"maps/the_marsh.map": now})
            self.assertEqual((apart.renamed, apart.gone, apart.added), ((), ("maps/level_3.map",), (both[2],)))
        self.assertEqual(lf.news(f, both).renamed, ())  # nothing is known of it, and its name is not like it
        self.assertEqual(
            lf.news(f, [*same[:2], "maps/level_3b.map"]).renamed, (("maps/level_3.map", "maps/level_3b.map"),)
        )
        self.assertEqual(lf.follow(f, moved.renamed).level("l3").file, "maps/the_marsh.map")
