"""Which levels name which, kept from flow to flow, is as if found anew."""

import unittest
from random import Random

from mossy_bridge.checks.named_levels import named_by
from mossy_bridge.model.edits.levels import connect
from mossy_bridge.model.level_links import LevelLinks, led_to_by
from tests.support.build import board, flow, play_level, screen, way
from tests.support.edited_flows import edited
from tests.support.faulty_flows import faulty_flow


class Links(unittest.TestCase):
    def test_as_if_begun_anew(self):
        for seed in range(10):
            for of in (named_by, led_to_by):
                pick, flow_ = Random(seed), faulty_flow(seed)
                links = LevelLinks(flow_, of)
                for _ in range(20):
                    flow_ = edited(flow_, pick)
                    links, anew = LevelLinks(flow_, of, links), LevelLinks(flow_, of)
                    for name in (*(level.id for level in flow_.levels), "gone"):
                        self.assertEqual(set(links.naming(name)), set(anew.naming(name)))
                        self.assertEqual(links.beside([name]), anew.beside([name]))

    def test_who_leads_where(self):
        either = {"kind": "next", "otherwise": {"level": "c", "spawn": "p"}}
        tiles = board("map", {"id": "one", "level": "b"}, {"id": "two", "level": "gone"})
        before = flow(play_level("a", way("east", "b"), way("on", either)), play_level("b"), play_level("c"), tiles)
        links = LevelLinks(before, led_to_by)
        led = {name: set(links.naming(name)) for name in ("a", "b", "c", "gone")}
        self.assertEqual(led, {"a": set(), "b": {"a", "map"}, "c": {"a"}, "gone": {"map"}})
        after = LevelLinks(connect(before, "a", "east", "c", "p"), led_to_by, links)
        self.assertEqual((set(after.naming("b")), set(links.naming("b"))), ({"map"}, {"a", "map"}))

    def test_conditions_name_levels_too_and_copies_what_they_were_copied_from(self):
        asking = screen("a", way("on", "b", opens="seen c and done d and seen a"), copied_from="e")
        level = flow(asking, play_level("b")).levels[0]
        self.assertEqual(named_by(level), {"b", "c", "d", "e"})
