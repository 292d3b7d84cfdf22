"""Ways into levels: where they land, the way back, and what stands out; and giving them other landings."""

import unittest

from mossy_bridge.model.edits.arrivals import landed_anew, landing_at
from mossy_bridge.model.edits.levels import CannotEdit
from mossy_bridge.model.flow import Spawn
from mossy_bridge.plan.arrivals import Arrival, arrivals
from mossy_bridge.reach.queries.surely_had import surely_had
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import board, deed, flow, play_level, screen, way

PLAN = {"width": 40, "height": 20, "solids": [[0, 16, 40, 2]]}


def door(name, x, to, spawn="", otherwise=None):
    """An exit at an edge of a plan."""
    return {"id": name, "area": [x, 12, 2, 4], "to": {"level": to, "spawn": spawn, "otherwise": otherwise}}


def shore():
    """Three levels in a row; two ways from different sides land in the middle of b."""
    spots = [{"id": "west", "x": 4, "y": 16}, {"id": "east", "x": 36, "y": 16, "faces": "left"}]
    return flow(
        screen("title", way("go", "a"), way("on", {"kind": "next"})),
        play_level("a", door("on", 38, "b", "west"), plan=PLAN, spawns=spots),
        play_level("b", door("back", 0, "a", "east"), door("on", 38, "c", "west"), plan=PLAN, spawns=spots),
        play_level("c", door("back", 0, "b", "west"), way("up", {"kind": "previous"}), plan=PLAN, spawns=spots),
        board("page", {"id": "t1", "level": "c", "spawn": "east"}),
        start={"level": "title"},
    )


class Ways(unittest.TestCase):
    def test_every_way_in_is_listed_in_order_with_what_stands_out(self):
        found = {(one.level, one.how, one.source, one.thing): one for one in arrivals(shore())}
        self.assertEqual(list(found), [
            ("title", "start", "", ""),
            ("a", "exit", "title", "go"), ("a", "exit", "b", "back"),
            ("b", "exit", "a", "on"), ("b", "exit", "c", "back"), ("b", "next", "c", "up"), ("b", "unused", "", ""),
            ("c", "exit", "b", "on"), ("c", "tile", "page", "t1"),
        ])  # fmt: skip
        self.assertEqual(found["a", "exit", "title", "go"], Arrival("a", "exit", "title", "go", "west", True))
        self.assertEqual(found["a", "exit", "b", "back"], Arrival("a", "exit", "b", "back", "east", False, "on", 2.0))
        shared = found["b", "exit", "a", "on"]
        self.assertEqual((shared.spawn, shared.back, shared.distance, shared.shared), ("west", "back", 2.0, True))
        self.assertEqual(found["b", "exit", "c", "back"].distance, 34.0)
        self.assertTrue(found["b", "next", "c", "up"].by_default)
        self.assertEqual(found["b", "unused", "", ""].spawn, "east")

    def test_checkpoints_use_their_spawn_points(self):
        spots = [{"id": "p"}, {"id": "q"}]
        f = flow(play_level("a", way("x", "won"), spawns=spots, deeds=[deed("bell", checkpoint="q")]))
        self.assertEqual([one.how for one in arrivals(f)], ["start"])


class Landings(unittest.TestCase):
    def test_other_landings_for_exits_tiles_and_the_start(self):
        f = landing_at(shore(), "b", "c", "back", "exit", "east")
        self.assertEqual(f.level("c").exit("back").to.spawn, "east")
        self.assertEqual(landing_at(f, "c", "page", "t1", "tile", "west").level("page").tiles[0].spawn, "west")
        self.assertEqual(landing_at(f, "title", "", "", "start", "p").start.spawn, "p")
        with self.assertRaisesRegex(CannotEdit, "always lands at the first spawn point"):
            landing_at(f, "b", "c", "up", "next", "east")

    def test_a_landing_of_its_own_also_behind_otherwise(self):
        back = {"kind": "back", "otherwise": {"level": "a"}}
        f = flow(screen("s", way("x", back)), play_level("a", way("y", "won")))
        f = landed_anew(f, "a", "s", "x", "exit", Spawn(id="landing", name="From s"))
        to = f.level("s").exit("x").to
        self.assertEqual((to.kind, to.otherwise.spawn), ("back", "from_s"))
        self.assertEqual([spawn.id for spawn in f.level("a").spawns], ["p", "from_s"])


class SurelyHad(unittest.TestCase):
    def test_what_everybody_has_and_nobody_has(self):
        f = flow(
            play_level("a", way("on", "b", opens="has key"), deeds=[deed("find", "gain key"), deed("see", "gain bell")]),
            play_level("b", way("x", "won", opens="has bell or has rope")), play_level("c", way("x", "won")),
            facts=["key", "bell", "rope", "unasked"],
        )  # fmt: skip
        survey = survey_flow(f)
        self.assertEqual(surely_had(survey, "a"), ((), ("rope",)))
        self.assertEqual(surely_had(survey, "b"), (("key",), ("rope",)))
        self.assertEqual(surely_had(survey, "c"), ((), ()))  # nobody is there


if __name__ == "__main__":
    unittest.main()
