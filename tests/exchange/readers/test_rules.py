"""Things made by rules: random files in every form against what is truly in them, and every fault with its place."""

import unittest

from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from mossy_bridge.exchange.readers.rules import contents_of
from mossy_bridge.model.flow import Rule
from mossy_bridge.model.ids import id_from
from tests.support.game_files import FORMS, random_levels, reader, written


def simple(reader_, makes, each, take, **more):
    return replace(reader_, rules=(Rule(makes=makes, each=each, take=take, **more),))


class RandomFiles(unittest.TestCase):
    @given(
        st.integers(0, 10**6),
        st.sampled_from(FORMS),
        st.sampled_from((1.0, 0.25, 2.0)),
        st.booleans(),
        st.sampled_from(("corner", "centre", "foot")),
    )
    def test_everything_is_found_where_it_is(self, seed, form, scale, up, anchor):
        level = random_levels(seed, 1)["hall_1"]
        options = {"scale": scale, "up": up, "anchor": anchor}
        found = contents_of(written(form, level, **options), [reader(form, **options)])
        self.assertEqual(found.faults, ())
        self.assertEqual([thing.size for thing in found.of("plan")], [(64, 18)])
        for kind in ("exit", "spawn", "deed", "solid"):
            truly = [thing for thing in level["things"] if thing["kind"] == kind]
            said = found.of(kind)
            self.assertEqual(len(said), len(truly))
            for one, thing in zip(said, truly, strict=True):
                y = 18 - thing["y"] - thing["height"] if up else thing["y"]
                box = (thing["x"], y, thing["width"], thing["height"])
                foot = (thing["x"] + thing["width"] / 2, y if up else y + thing["height"])
                self.assertEqual(one.rect if kind in ("exit", "solid") else one.point,
                                 box if kind in ("exit", "solid") else foot)  # fmt: skip
                self.assertEqual(one.id, id_from(thing["id"], (), kind) if kind != "solid" else "")
                self.assertEqual(one.texts.get("level"), thing.get("level"))
                self.assertEqual(one.texts.get("gains"), thing.get("gains"))


class Faults(unittest.TestCase):
    def faults(self, data, *readers):
        return [fault.told() for fault in contents_of(data, readers).faults]

    def test_numbers_that_are_none(self):
        base = reader("xml")
        exit_ = simple(base, "exit", "//g", {"x": "@x", "y": "@y", "width": "@w", "height": "@h"})
        for attributes, says in (
            ('x="three"', "x is “three”, which is no number"),
            ('x="nan"', "no number"),
            ('x="1e9"', "farther than"),
            ('w="-1"', "width is -1, which is negative"),
        ):
            with self.subTest(attributes):
                told = self.faults(f"<a>\n<g {attributes}/></a>".encode(), exit_)
                self.assertEqual(len(told), 1)
                self.assertTrue(told[0].startswith("line 2, rule 1 of maps: "), told[0])
                self.assertIn(says, told[0])

    def test_a_rule_that_fails_leaves_the_others(self):
        base = reader("xml")
        rules = (Rule(makes="exit", each="//q:g"), Rule(makes="spawn", each="//g", take={"id": "@n"}))
        found = contents_of(b"<a><g n='East'/></a>", [replace(base, rules=rules)])
        self.assertEqual([thing.id for thing in found.things], ["east"])
        self.assertEqual([(fault.reader, fault.rule) for fault in found.faults], [("maps", 0)])

    def test_a_thing_that_two_readers_find(self):
        one = simple(reader("xml"), "exit", "//g", {"id": "@n"})
        other = replace(one, id="others")
        self.assertEqual(self.faults(b"<a><g n='East'/></a>", one, other),
                         ["line 1, rule 1 of others: exit “East” is found by maps and by others"])  # fmt: skip
        self.assertEqual(self.faults(b"<a><g n='East'/><g n='East'/></a>", one), [])
        self.assertEqual(self.faults(b"<a><g/></a>", one, other), [])

    def test_a_rule_that_finds_far_too_much(self):
        rule = simple(reader("text"), "exit", "a", {})
        told = self.faults(b"a" * 30_000, rule)
        self.assertEqual(len(told), 1)
        self.assertIn("finds more than 20,000 things", told[0])

    def test_a_file_of_another_form(self):
        self.assertIn("no well-formed XML", self.faults(b"{}", reader("xml"))[0])

    def test_what_is_not_there_is_left_out(self):
        rule = simple(reader("xml"), "spawn", "//g", {"id": "@n", "x": "@x", "y": "@y"})
        thing = contents_of(b"<a><g x='3'/></a>", [rule]).things[0]
        self.assertEqual((thing.id, thing.point, thing.texts), ("", None, {}))


if __name__ == "__main__":
    unittest.main()
