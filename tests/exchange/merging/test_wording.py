"""Changes between versions, in words."""

import unittest

from mossy_bridge.exchange.merging.changes import changes
from mossy_bridge.exchange.merging.wording import ChangeWording
from mossy_bridge.exchange.writing import tree_of
from tests.support.build import deed, fact, flow, play_level, way


def tree():
    return tree_of(flow(
        play_level("a", way("on", "b", name="East gate"), name="Fen", deeds=[deed("dig", name="Dig")]),
        play_level("b", way("on", {"kind": "end", "ending": "won"}), name="Weir", spawns=[{"id": "p"}, {"id": "q", "name": "Foot"}]),
        play_level("c", name="Reed"), facts=[fact("key", name="Brass key")],
    ))  # fmt: skip


def words(change):
    old, new = tree(), tree()
    change(new)
    wording = ChangeWording(old, new)
    return [wording.told(one) for one in changes(old, new)]


def level(found, at):
    return found["levels"][at]


class Words(unittest.TestCase):
    def test_each_kind_of_change(self):
        for wanted, change in (
            ("level Fen renamed to Marsh", lambda f: level(f, 0).update(name="Marsh")),
            ("Fen: exit East gate renamed to Gate", lambda f: level(f, 0)["exits"][0].update(name="Gate")),
            ("Fen: minutes 3 instead of 0", lambda f: level(f, 0).update(minutes=3)),
            ("Fen: shipping no instead of yes", lambda f: level(f, 0).update(ships=False)),
            ("Fen: the condition to open “has key” instead of “always”", lambda f: level(f, 0).update(opens="has key")),
            ("Fen: East gate: leads to Weir, Foot instead of Weir", lambda f: level(f, 0)["exits"][0].update(to={"level": "b", "spawn": "q"})),
            ("Fen: East gate: leads to the next level of the order, else Reed instead of Weir",
             lambda f: level(f, 0)["exits"][0].update(to={"kind": "next", "otherwise": {"level": "c"}})),
            ("Weir: on: leads to nothing instead of the ending won", lambda f: level(f, 1)["exits"][0].pop("to")),
            ("Fen: deed Dig removed", lambda f: level(f, 0)["deeds"].clear()),
            ("level Reed removed", lambda f: f["levels"].pop()),
            ("level Reed moved behind Fen", lambda f: f["levels"].insert(1, f["levels"].pop())),
            ("level Reed moved to the beginning", lambda f: f["levels"].insert(0, f["levels"].pop())),
            ("level Lock added behind Weir", lambda f: f["levels"].insert(2, {"id": "d", "name": "Lock"})),
            ("fact Brass key removed", lambda f: f["facts"].clear()),
            ("Brass key: kind “count” instead of “flag”", lambda f: f["facts"][0].update(kind="count")),
            ("title “Marsh” instead of nothing", lambda f: f.update(title="Marsh")),
            ("walker: width 2 instead of 0.8", lambda f: f.update(walker={"width": 2})),
            ("Reed: the place on the map {\"x\": 3} instead of nothing", lambda f: f.update(map={"c": {"x": 3}})),
        ):  # fmt: skip
            with self.subTest(wanted):
                self.assertEqual(words(change), [wanted])

    def test_a_field_that_a_pattern_gives(self):
        old = tree()
        old["patterns"], old["levels"][0]["pattern"] = [{"id": "p", "minutes": 4}], "p"
        new = {**old, "levels": [{**old["levels"][0], "minutes": 2}, *old["levels"][1:]]}
        self.assertEqual(
            [ChangeWording(old, new).told(one) for one in changes(old, new)],
            ["Fen: minutes 2 instead of as in its pattern"],
        )


if __name__ == "__main__":
    unittest.main()
