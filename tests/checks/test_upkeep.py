"""Every check of the chapter Upkeep."""

import unittest

from mossy_bridge.checks.runner import inspected
from mossy_bridge.exchange.shipping_values import undeliverable
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import deed, flow, play_level, screen, way


class Upkeep(unittest.TestCase):
    def check(self, slug, flow_, *expected, only=True, **options):
        found = [
            f for f in inspected(survey_flow(flow_), flow_, only=[slug] if only else [], **options) if f.check == slug
        ]
        self.assertEqual([f.at for f in found], [(place,) for place in expected])
        return found

    def test_promises(self):
        promises = [
            {"id": "dry", "name": "Never dry", "kind": "never", "ending": "won", "when": "lacks oil"},
            {"id": "kept", "kind": "can", "level": "b"},
            {"id": "far", "kind": "within", "level": "b", "crossings": 0},
        ]
        f = flow(
            play_level("a", way("x", "won"), way("y", "b")),
            play_level("b", way("z", "won")),
            facts=["oil"],
            promises=promises,
        )
        found = self.check("promise-broken", f, "dry", "far")
        self.assertEqual([str(m) for m in found[0].route], ["exit a.x"])
        self.assertIn("the player can reach b in at most 0 crossings", found[1].message)

    def test_walks(self):
        walks = [
            {"id": "fine", "moves": ["exit a.x"], "expect": "ends:won"},
            {"id": "stops", "moves": ["deed a.d", "deed a.d"]},
            {"id": "should_fail", "moves": ["exit a.x"], "expect": "fails"},
            {"id": "elsewhere", "moves": ["deed a.d"], "expect": "at:b"},
            {"id": "fails", "moves": ["exit b.x"], "expect": "fails"},
        ]
        f = flow(play_level("a", way("x", "won"), deeds=[deed("d")]), play_level("b", way("x", "a")), walks=walks)
        found = self.check("walk-broken", f, "stops", "should_fail", "elsewhere")
        self.assertIn("at move 2: “deed a.d”: it has been done", found[0].message)
        self.assertEqual(
            [one.repair.label if one.repair else "" for one in found], ["Keep the move that still works", "", ""]
        )
        self.assertEqual(found[0].repair.edit(f).walks[1].moves, ("deed a.d",))

    def test_a_walk_to_somewhere_is_mended_by_the_shortest_way_there(self):
        walks = [{"id": "to_b", "moves": ["exit a.gone"], "expect": "at:b"},
                 {"id": "to_end", "moves": ["exit a.x"], "expect": "ends:won"}]  # fmt: skip
        f = flow(play_level("a", way("x", "b")), play_level("b", way("y", "won")), walks=walks)
        for one in self.check("walk-broken", f, "to_b", "to_end"):
            f = one.repair.edit(f)
        self.check("walk-broken", f)
        self.assertEqual([walk.moves for walk in f.walks], [("exit a.x",), ("exit a.x", "exit b.y")])

    def test_checklist(self):
        items = [{"id": "music", "text": "Has its own music", "kinds": ["play"]}, {"id": "art", "kinds": ["screen"]}]
        f = flow(play_level("a", ticked=["music"]), play_level("b"), screen("s"), checklist=items)
        self.assertIn("has not ticked “Has its own music”", self.check("checklist-open", f, "b", "s")[0].message)

    def test_copies(self):
        original = play_level("a", way("x", "won"), way("y", "b"))
        copy = play_level("b", way("x", "a"), way("y", "b"), copied_from="a", unreviewed=["file", "exit x", "exit y"])
        found = self.check("copy-unreviewed", flow(original, copy), "b")
        self.assertIn("exit y (leads where the original does), file, exit x yet", found[0].message)

    def test_trial_settings(self):
        settings = [{"at": "levels.a.opens", "ships_as": "always", "why": "quicker"}, {"at": "levels.z.opens"}]
        f = flow(play_level("a", opens="always"), trial_settings=settings)
        self.assertEqual(self.check("trial-setting", f, "levels.a.opens")[0].severity, "hint")
        self.assertEqual(self.check("trial-setting", f, "levels.a.opens", final=True)[0].severity, "error")

    def test_a_value_to_deliver_that_cannot_stand_there_is_an_error(self):
        settings = [{"at": f"levels.a.{field}", "ships_as": value} for field, value in
                    (("minutes", "long"), ("opens", "always"), ("difficulty", 1e6), ("name", "Quay"))]  # fmt: skip
        f = flow(play_level("a", opens="always", minutes=3, difficulty=4, name="A"), trial_settings=settings)
        places = ("levels.a.minutes", "levels.a.opens", "levels.a.difficulty", "levels.a.name")
        found = self.check("trial-setting", f, "levels.a.minutes", "levels.a.difficulty", "levels.a.opens",
                           "levels.a.name", undeliverable=undeliverable)  # fmt: skip
        self.assertEqual([one.severity for one in found], ["error", "error", "hint", "hint"])
        self.assertIn("cannot stand there: expected a number", found[0].message)
        self.assertEqual(set(undeliverable(f)), {places[0], places[2]})

    def test_idle_waivers(self):
        waivers = [
            {"check": "exit-unconnected", "at": "a.x"},
            {"check": "exit-unconnected", "at": "a.y"},
            {"check": "of-another-version", "at": "a"},
        ]
        f = flow(play_level("a", way("x"), way("y", "won")), waivers=waivers)
        found = self.check("waiver-idle", f, "a.y", only=False)
        self.assertEqual([w.at for w in found[0].repair.edit(f).waivers], ["a.x", "a"])
        self.check("waiver-idle", f)


if __name__ == "__main__":
    unittest.main()
