"""Edits, patterns, order and names."""

import unittest

from mossy_bridge.model.addresses import place_exists, title_of
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import Destination
from mossy_bridge.model.ids import id_from, is_id, nearest
from mossy_bridge.model.patterns import resolved
from mossy_bridge.model.sequence import first_play_level, neighbour
from tests.support.build import flow, play_level, screen, way


class Names(unittest.TestCase):
    def test_ids_are_made_from_names(self):
        for name, taken, expected in (
            ("The Slipway", (), "the_slipway"), ("Müllers Höhle!", (), "mullers_hohle"), ("2-3", (), "level_2_3"),
            ("", (), "level"), ("Has", (), "has_2"), ("Inn", ("inn", "inn_2"), "inn_3"), ("灯台", (), "level"),
        ):  # fmt: skip
            with self.subTest(name):
                self.assertEqual(id_from(name, taken), expected)
                self.assertTrue(is_id(id_from(name, taken)))

    def test_the_nearest_name(self):
        self.assertEqual(nearest("claper", ["clapper", "oil"]), "clapper")
        self.assertIsNone(nearest("zzz", ["clapper", "oil"]))


class Order(unittest.TestCase):
    def test_neighbours(self):
        f = flow(screen("s"), play_level("a"), play_level("h", ships=False), play_level("b"))
        self.assertEqual((neighbour(f, "a", 1).id, neighbour(f, "b", -1).id), ("b", "a"))
        self.assertIsNone(neighbour(f, "b", 1))
        self.assertIsNone(neighbour(f, "gone", 1))
        self.assertEqual(first_play_level(f).id, "a")


class Edits(unittest.TestCase):
    def setUp(self):
        self.flow = flow(play_level("a", way("x", "b"), region="r"), play_level("b"), regions=[{"id": "r"}])

    def test_what_is_not_touched_is_shared(self):
        after = edits.set_level(self.flow, "a", name="Alpha")
        self.assertEqual((after.level("a").name, self.flow.level("a").name), ("Alpha", ""))
        self.assertIs(after.level("b"), self.flow.level("b"))

    def test_several_are_changed_at_once_as_one_after_the_other(self):
        based = {"pattern": "bank", "exits": [way("own", "b")]}
        f = flow(play_level("a", way("x", "b"), way("y", "b"), unreviewed=["exit x"]), {"id": "c", **based},
                 play_level("b", way("x", "a")), patterns=[{"id": "bank", "exits": [way("taken", "a")]}])  # fmt: skip
        places = [("a", "x"), ("c", "taken"), ("pattern:bank", "taken"), ("a", "y"), ("c", "own")]
        one_by_one = f
        for level, exit_ in places:
            one_by_one = edits.set_exit(one_by_one, level, exit_, fresh=True)
        self.assertEqual(edits.set_exits(f, places, fresh=True), one_by_one)
        self.assertEqual(one_by_one.level("a").unreviewed, ())
        self.assertEqual([exit_.id for exit_ in one_by_one.level("c").exits], ["own", "taken"])
        one_by_one = edits.set_level(edits.set_level(f, "c", name="n"), "b", name="n")
        self.assertEqual(edits.set_levels(f, ["c", "b"], name="n"), one_by_one)
        self.assertEqual(edits.set_each(f, {"c": {"name": "n"}, "gone": {"name": "m"}, "b": {"name": "n"}}), one_by_one)
        for impossible in (
            lambda: edits.set_levels(f, ["c", "gone"], name="n"),
            lambda: edits.set_exits(f, [("b", "y")], fresh=True),
        ):
            self.assertRaises(edits.CannotEdit, impossible)

    def test_connecting_keeps_what_is_used_otherwise(self):
        otherwise = Destination(kind="end", ending="won")
        f = edits.set_exit(self.flow, "a", "x", to=Destination(kind="next", otherwise=otherwise))
        to = edits.connect(f, "a", "x", "b", "p").level("a").exit("x").to
        self.assertEqual((to.kind, to.level, to.spawn, to.otherwise), ("level", "b", "p", otherwise))

    def test_impossible_edits_are_refused_in_words(self):
        for edit in (
            lambda f: edits.connect(f, "a", "x", "gone"),
            lambda f: edits.set_exit(f, "a", "gone", fresh=True),
            lambda f: edits.set_level(f, "gone", name=""),
            lambda f: edits.remove_levels(f, ["gone"]),
            lambda f: edits.add_exit(f, "gone", "x"),
            lambda f: edits.remove_thing(f, "a", "exits", "gone"),
        ):
            with self.assertRaises(edits.CannotEdit) as caught:
                edit(self.flow)
            self.assertGreater(len(str(caught.exception)), 10)

    def test_adding_and_removing_levels(self):
        f, new = edits.add_level(self.flow, "The Mill", after="a")
        self.assertEqual(([lv.id for lv in f.levels], new), (["a", "the_mill", "b"], "the_mill"))
        self.assertEqual(f.level(new).region, "r")
        self.assertEqual(len(f.level(new).spawns), 1)
        f = edits.remove_levels(edits.place_card(f, "b", 10.4, 3), ["b"])
        self.assertEqual(([lv.id for lv in f.levels], f.map), (["a", "the_mill"], {}))
        empty, first = edits.add_level(flow(), "One")
        self.assertEqual(empty.start.level, first)

    def test_a_level_is_put_into_a_crossing(self):
        f, new = edits.insert_in_crossing(self.flow, "a", self.flow.level("a").exits[0].id, "Between")
        first = self.flow.level("a").exits[0]
        self.assertEqual(f.level("a").exits[0].to.level, new)
        self.assertEqual((f.level(new).exits[0].to, f.level(new).exits[0].completes), (first.to, True))
        with self.assertRaises(edits.CannotEdit):
            edits.insert_in_crossing(edits.set_exit(self.flow, "a", first.id, to=None), "a", first.id, "Between")

    def test_a_new_exit_is_chosen_unless_it_has_an_area(self):
        f, name = edits.add_exit(flow(screen("s")), "s", "Go on")
        self.assertEqual((name, f.level("s").exit(name).trigger.kind), ("go_on", "choose"))
        f, name = edits.add_exit(f, "s", "Go on", area=(1, 2, 3, 4))
        self.assertEqual((name, f.level("s").exit(name).trigger.kind), ("go_on_2", "touch"))

    def test_acceptance_is_given_and_taken_back(self):
        f = edits.accept(self.flow, "stuck", "a", "on purpose")
        self.assertEqual(f.waivers[0].why, "on purpose")
        self.assertEqual(edits.withdraw(f, "stuck", "a"), self.flow)


class Patterns(unittest.TestCase):
    def setUp(self):
        pattern = {"id": "cell", "name": "Cell", "minutes": 4, "opens": "has key",
                   "spawns": [{"id": "p", "x": 1}, {"id": "q"}], "exits": [{"id": "out"}]}  # fmt: skip
        levels = [{"id": "a", "pattern": "cell", "opens": "always", "spawns": [{"id": "r"}, {"id": "p", "x": 9}]},
                  {"id": "b", "pattern": "none", "minutes": 1}]  # fmt: skip
        self.flow = flow(*levels, patterns=[pattern], facts=["key"])
        self.level = resolved(self.flow).level("a")

    def test_a_level_takes_what_it_leaves_out(self):
        self.assertEqual((self.level.minutes, self.level.opens, self.level.name), (4, "always", ""))
        self.assertEqual([(s.id, s.x) for s in self.level.spawns], [("p", 9), ("q", 0), ("r", 0)])
        self.assertEqual(resolved(self.flow).level("b"), self.flow.level("b"))
        self.assertEqual(resolved(resolved(self.flow)), resolved(self.flow))

    def test_editing_what_is_taken_makes_it_the_levels_own(self):
        f = edits.set_exit(self.flow, "a", "out", name="Way out")
        self.assertEqual([e.name for e in f.level("a").exits], ["Way out"])
        self.assertIn("exits", f.level("a").set_here)
        self.assertEqual(f.patterns, self.flow.patterns)
        f = edits.set_level(f, "a", minutes=4)
        self.assertIn("minutes", f.level("a").set_here)


class Places(unittest.TestCase):
    def test_long_and_short_places(self):
        f = flow(play_level("a", way("x", "won", name="Gate"), name="Alpha"), facts=["key"])
        for place, exists in (
            ("levels.a.exits.x.trigger.when", True),
            ("levels.a.exits.0.opens", True),
            ("title", True),
            ("levels.b.name", False),
            ("levels.a.set_here", False),
            ("facts.key.high", True),
            ("x", False),
            ("levels." + "9" * 5000, False),
        ):
            self.assertEqual(place_exists(f, place), exists, place)
        self.assertEqual(
            (title_of(f, "a"), title_of(f, "a.x"), title_of(f, "key"), title_of(f, "won")),
            ("Alpha", "Alpha: Gate", "key", "won"),
        )


if __name__ == "__main__":
    unittest.main()
