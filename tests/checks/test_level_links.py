"""Which levels name which, kept from flow to flow, is as if found anew."""

import unittest
from random import Random

from mossy_bridge.checks.level_links import LevelLinks
from mossy_bridge.model.edits.levels import connect
from tests.support.build import board, flow, play_level, screen, way
from tests.support.edited_flows import edited
from tests.support.faulty_flows import faulty_flow


class Links(unittest.TestCase):
    def test_as_if_begun_anew(self):
        for seed in range(10):
            pick, flow_ = Random(seed), faulty_flow(seed)
            links = LevelLinks(flow_)
            for _ in range(20):
                flow_ = edited(flow_, pick)
                links, anew = LevelLinks(flow_, links), LevelLinks(flow_)
                for name in (*(level.id for level in flow_.levels), "gone"):
                    self.assertEqual(set(links.naming(name)), set(anew.naming(name)))
                    self.assertEqual(links.beside([name]), anew.beside([name]))
                    self.assertEqual(list(links.ways_in(name)), list(anew.ways_in(name)))

    def test_who_names_whom(self):
        either = {"kind": "next", "otherwise": {"level": "c", "spawn": "p"}}
        before = flow(
            play_level("a", way("east", "b"), way("on", either), way("round", "a")),
            play_level("b", opens="seen c and not done d"),
            play_level("c", copied_from="a"),
            board("map", {"id": "one", "level": "b"}, {"id": "two", "level": "gone"}),
            screen("menu", way("on", "b", opens="seen menu")),
        )
        links = LevelLinks(before)
        naming = {name: set(links.naming(name)) for name in ("a", "b", "c", "d", "gone", "menu")}
        self.assertEqual(
            naming,
            {"a": {"c"}, "b": {"a", "map", "menu"}, "c": {"a", "b"}, "d": {"b"}, "gone": {"map"}, "menu": set()},
        )
        self.assertEqual([level.id for level in links.around("b")], ["a", "b", "map", "menu"])
        self.assertEqual([level.id for level in links.around("gone")], ["map"])
        after = LevelLinks(connect(before, "a", "east", "c", "p"), links)
        self.assertEqual((set(after.naming("b")), set(links.naming("b"))), ({"map", "menu"}, {"a", "map", "menu"}))

    def test_ways_in_are_told_with_the_spawn_points_that_they_name(self):
        either = {"kind": "next", "otherwise": {"level": "b", "spawn": "p"}}
        one = flow(
            screen("menu", way("on", "b", opens="seen a")),
            play_level("a", way("on", either), way("round", "a"), opens="seen b"),
            play_level("b", copied_from="a"),
            board("map", {"id": "one", "level": "b", "spawn": "q"}),
        )
        links = LevelLinks(one)

        def told(name):
            return [(way.level.id, way.thing.id, way.spawn) for way in links.ways_in(name)]

        self.assertEqual(told("b"), [("menu", "on", ""), ("a", "on", "p"), ("map", "one", "q")])
        self.assertEqual(told("a"), [("a", "round", "")])
        self.assertEqual(told("nowhere"), [])


if __name__ == "__main__":
    unittest.main()
