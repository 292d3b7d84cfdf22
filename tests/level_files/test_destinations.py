"""What a level file's words mean in the flow."""

import unittest

from mossy_bridge.level_files.contents import FileThing
from mossy_bridge.level_files.destinations import FileDestinations
from mossy_bridge.model.flow import Destination
from tests.support.build import flow, play_level, screen, way


def marsh():
    return flow(
        play_level("slipway", way("on", "sands", "west"), file="levels/a1.xml", code="1-1", name="The Slipway"),
        {"id": "sands", "file": "levels/deep/a2.xml", "code": "1-2", "name": "Bell Sands",
         "spawns": [{"id": "foot", "name": "Foot of the wall"}, {"id": "west"}]},
        play_level("sluice", file="levels/sluice.xml", name="The Slipway"),
        screen("title", name="Title"),
    )  # fmt: skip


class Destinations(unittest.TestCase):
    def setUp(self):
        self.flow = marsh()
        self.known = FileDestinations(self.flow)

    def led(self, texts, words=None, level="slipway"):
        thing = FileThing("exit", "maps", 0, texts)
        return self.known.of(thing, self.flow.level(level), words or {})

    def test_levels_by_whatever_they_are_called(self):
        for text, level in (
            ("sands", "sands"),
            ("levels/deep/a2.xml", "sands"),
            ("./levels/deep/../deep/a2.xml", None),
            ("deep/a2.xml", "sands"),
            ("a2.xml", "sands"),
            ("a2", "sands"),
            ("1-2", "sands"),
            ("Bell Sands", "sands"),
            ("  sands ", "sands"),
            ("../a1.xml", None),
            ("Title", "title"),
        ):
            with self.subTest(text):
                led = self.led({"level": text})
                self.assertEqual(led.to.level if led.to else None, level)
        self.assertEqual(self.led({"level": "../a1.xml"}, level="sands").to.level, "slipway")

    def test_what_means_nothing_is_said(self):
        self.assertEqual(self.led({"level": "sand"}).doubt, "to “sand”, which no level is called")
        self.assertEqual(self.led({"level": "The Slipway"}).doubt,
                         "to “The Slipway”, which can mean The Slipway and The Slipway")  # fmt: skip
        self.assertEqual(self.led({"level": " "}).doubt, "nowhere")
        self.assertIn("spawn point “east”", self.led({"level": "sands", "spawn": "east"}).doubt)
        self.assertIsNone(self.led({"id": "east"}))

    def test_words(self):
        words = {"N": "next", "": "end:won", "2": "sands", "3": "sands.west", "x": "end:none", "y": "nowhere.at_all",
                 "1-2": "sluice"}  # fmt: skip
        for text, to in (
            ("N", Destination(kind="next")),
            ("", Destination(kind="end", ending="won")),
            ("2", Destination(level="sands")),
            ("3", Destination(level="sands", spawn="west")),
            ("1-2", Destination(level="sluice")),  # before the code of a level
            ("x", None),
            ("y", None),
        ):
            with self.subTest(text):
                self.assertEqual(self.led({"level": text}, words).to, to)

    def test_spawn_points(self):
        for spawn, wanted in (("west", "west"), ("WEST", "west"), ("Foot of the wall", "foot"), ("", "")):
            with self.subTest(spawn):
                led = self.led({"level": "sands", "spawn": spawn})
                self.assertEqual((led.to.spawn, led.names_spawn), (wanted, True))
        self.assertFalse(self.led({"level": "sands"}).names_spawn)
        self.assertEqual(self.led({"level": "3", "spawn": ""}, {"3": "sands.west"}).to.spawn, "west")
        self.assertEqual(self.led({"level": "3", "spawn": "foot"}, {"3": "sands.west"}).to.spawn, "foot")

    def test_the_same_place_said_otherwise(self):
        here = self.flow.level("slipway")
        for texts, to, same in (
            ({"level": "sands"}, Destination(level="sands", spawn="west"), True),
            ({"level": "sands", "spawn": ""}, Destination(level="sands", spawn="west"), False),
            ({"level": "sands", "spawn": ""}, Destination(level="sands", spawn="foot"), True),
            ({"level": "sands", "spawn": "foot"}, Destination(level="sands"), True),
            ({"level": "sands"}, Destination(kind="next"), True),
            ({"level": "sluice"}, Destination(kind="next"), False),
            ({"level": "N"}, Destination(level="sands"), True),
            ({"level": "N"}, Destination(kind="previous"), False),
            ({"level": "E"}, Destination(kind="end", ending="won"), True),
            ({"level": "E"}, Destination(kind="end", ending="lost"), False),
            ({"level": "E"}, None, False),
            ({"level": ""}, None, True),
            ({"level": "no such"}, None, False),
        ):
            with self.subTest(f"{texts} {to}"):
                led = self.led(texts, {"N": "next", "E": "end:won"})
                self.assertEqual(self.known.same(led, to, here), same)


if __name__ == "__main__":
    unittest.main()
