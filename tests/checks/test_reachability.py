"""Every check of the chapter Reachability, on flows worked out by hand."""

import unittest

from mossy_bridge.checks.runner import inspected
from mossy_bridge.reach.limits import Limits
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import board, deed, fact, flow, play_level, screen, state_after, way

AUTO = {"kind": "auto"}


class Reachability(unittest.TestCase):
    def check(self, slug, flow_, *expected, budget=20):
        found = inspected(survey_flow(flow_, budget), flow_, only=[slug])
        with self.subTest(slug, expected=expected):
            self.assertEqual(
                [f.at for f in found], [place if isinstance(place, tuple) else (place,) for place in expected]
            )
            for finding in found:
                self.assertTrue(finding.message.endswith("."), finding.message)
                if finding.route:
                    state_after(flow_, *map(str, finding.route))
        return found

    def test_level_unreachable_says_what_stands_in_the_way(self):
        f = flow(
            play_level("a", way("x", "locked", opens="has key"), way("y", "won")),
            play_level("locked", way("x", "behind"), deeds=[deed("d", "gain key")]),
            play_level("behind", way("x", "won")),
            play_level("alone", way("x", "won")),
            play_level("cut", way("x", "won"), ships=False),
            facts=["key"],
        )
        found = self.check("level-unreachable", f, "locked", "behind", "alone")
        self.assertIn("x in a asks for “has key”, which never holds there", found[0].message)
        self.assertIn("nothing reaches there either", found[1].message)
        self.assertIn("No exit and no tile leads there", found[2].message)

    def test_reasons_are_true_where_hardly_any_state_was_looked_at(self):
        many = [deed(f"d{i}", f"gain k{i}") for i in range(18)]
        uses = [way(f"w{i}", "hall", opens=f"has k{i}") for i in range(18)]
        both = way("both", "far", opens="has left and has right")
        f = flow(
            play_level("hall", way("l", "left"), way("r", "right"), *uses, deeds=many),
            play_level("left", way("on", "yard"), deeds=[deed("d", "gain left")]),
            play_level("right", way("on", "yard"), deeds=[deed("d", "gain right")]),
            play_level("yard", both, way("locked", "far", opens="has nothing"), way("home", "won", opens="has left or has right"),
                       way("other", "won", opens="has right")),
            play_level("far", way("x", "won")),
            screen("menu", way("on", {"kind": "next"})),
            facts=["left", "right", "nothing", *(f"k{i}" for i in range(18))],
        )  # fmt: skip
        survey = survey_flow(f, 20, limits=Limits(first_edges=60, states_one_by_one=20))
        self.assertFalse(survey.settled)
        found = inspected(survey, f, only=["exit-never-opens"])
        told = {finding.at[0]: finding.message for finding in found}
        self.assertEqual(told.keys(), {"yard.both", "yard.locked"})
        self.assertIn("“has left and has right” never holds here", told["yard.both"])
        self.assertIn("“has nothing” never holds here", told["yard.locked"])

    def test_exit_deed_tile_and_path(self):
        f = flow(
            play_level("a", way("x", "m", opens="has key"), way("broken", "gone"), way("none"), way("resume", {"kind": "resume"}), way("on", "m"), deeds=[deed("d", when="has key"), deed("e")],
                       zones=[{"id": "low"}, {"id": "high"}, {"id": "far"}], paths=[{"from": "low", "to": "high"}, {"from": "far", "to": "high"}]),
            board("m", {"id": "t", "level": "b"}, {"id": "u", "level": "c"}, exits=[way("x", "won")]),
            play_level("b", way("x", "won")),
            play_level("c", way("x", "won"), opens="has key"),
            facts=["key"],
        )  # fmt: skip
        self.check("exit-never-opens", f, "a.x")
        self.check("deed-never-happens", f, "a.d")
        self.check("tile-never-opens", f, "m.u")
        self.check("path-never-opens", f, "a.far.high")

    def test_ending_unreachable(self):
        f = flow(play_level("a", way("x", "won")), endings=[{"id": "won"}, {"id": "lost"}])
        self.check("ending-unreachable", f, "lost")

    def test_stuck_names_the_move_that_sealed_it(self):
        f = flow(
            play_level("a", way("x", "won", opens="has key"), way("down", "pit"), deeds=[deed("d", "gain key")]),
            play_level("pit", way("again", {"kind": "again"})),
            facts=["key"],
        )
        found = self.check("stuck", f, ("pit", "a.down"))
        self.assertEqual([str(m) for m in found[0].route], ["exit a.down"])

    def test_a_fresh_start_does_not_help_but_a_fresh_ending_does(self):
        f = flow(
            play_level("a", way("x", "won", fresh=True), way("y", "b")), play_level("b", way("x", "a", fresh=True))
        )
        self.check("stuck", f, ("b", "a.y"))

    def test_stuck_is_found_by_proof_where_hardly_any_state_was_looked_at(self):
        many = [deed(f"d{i}", f"gain k{i}") for i in range(18)]
        uses = [way(f"w{i}", "hall", opens=f"has k{i}") for i in range(18)]
        f = flow(
            play_level("hall", way("on", "bank"), *uses, deeds=many),
            play_level("bank", way("jump", "pit"), way("back", "hall"), way("x", "won")),
            play_level("pit", way("up", "bank", opens="has k3")),
            facts=[f"k{i}" for i in range(18)],
        )
        survey = survey_flow(f, 20, limits=Limits(first_edges=6, small_flow=0))
        self.assertIsNone(survey.explored.dead_ends.first_stuck)
        found = list(inspected(survey, f, only=["stuck"]))
        self.assertEqual([finding.at for finding in found], [("pit", "bank.jump")])
        self.assertEqual(str(found[0].route[-1]), "exit bank.jump")

    def test_nobody_is_stuck_where_no_ending_is_reached_but_on_a_dead_screen(self):
        self.check("stuck", flow(play_level("a", way("x", "b")), play_level("b")))
        self.check("stuck", flow(play_level("a", way("x", "s")), screen("s")), ("s", "a.x"))
        self.check("stuck", flow(play_level("a", way("x", "s")), screen("s", way("r", {"kind": "resume"}))))

    def test_can_be_missed(self):
        f = flow(
            play_level("a", way("x", "b"), way("side", "c"), deeds=[deed("d"), deed("v", repeats="visit")]),
            play_level("b", way("x", "won")),
            play_level("c", way("x", "a")),
        )
        found = self.check("can-be-missed", f, "c", "a.d")
        self.assertEqual([str(m) for m in found[0].route], ["exit a.x"])

    def test_always_and_never_holds(self):
        f = flow(
            play_level(
                "a",
                way("x", "b", opens="has key"),
                way("y", "b", opens="lacks key"),
                way("z", "c"),
                way("w", "d"),
                deeds=[deed("d", "gain other")],
            ),
            play_level("b", way("x", "won", opens="has other or lacks other")),
            play_level("c", way("x", "won"), opens="has other"),
            play_level("d", way("x", "won"), opens="has key"),
            facts=["key", "other"],
        )
        self.check("never-holds", f, "a.x", "d")
        self.check("always-holds", f, "a.y", "b.x")

    def test_fires_on_arrival(self):
        door = {"id": "door", "area": [0, 0, 4, 4], "to": {"level": "b"}}
        f = flow(
            screen("logo", way("on", "a", trigger=AUTO)),
            play_level(
                "a",
                door,
                way("full", "b", trigger={**AUTO, "when": "at least 1 n"}),
                way("x", "b"),
                spawns=[{"id": "p", "x": 2, "y": 3}, {"id": "q", "x": 20, "y": 3}],
            ),
            play_level("b", way("x", "a", "q", effects=["add 1 n"]), way("y", "won")),
            facts=["n:3"],
        )
        self.check("fires-on-arrival", f, "a.door", "a.full")

    def test_loops_by_itself(self):
        f = flow(
            play_level("start", way("x", "a")),
            play_level("a", way("x", "b", trigger=AUTO)),
            play_level("b", way("x", "a", trigger=AUTO)),
        )
        # Only the second time round does nothing new become seen.
        found = self.check("loops-by-itself", f, "b")
        self.assertEqual(len(found[0].route), 2)

    def test_left_over_facts(self):
        def game(fresh, start="title"):
            return flow(
                screen("title", way("new", "a", fresh=fresh)),
                play_level(
                    "a",
                    way("quit", "title"),
                    way("shop", "shop"),
                    way("x", "won", opens="has key"),
                    deeds=[deed("d", "gain key")],
                ),
                screen("shop", way("back", "a")),
                facts=["key"],
                start={"level": start},
            )

        self.check("left-over-facts", game(False), ("title.new", "key"))
        self.check("left-over-facts", game(True))

    def test_opened_unseen(self):
        f = flow(
            play_level("a", way("b", "b"), way("c", "c"), deeds=[deed("d", "add 1 mark")]),
            play_level("b", way("x", "won"), opens="at least 1 mark"),
            play_level("c", way("x", "won"), opens="at least 1 mark"),
            facts=["mark:9"],
        )
        self.check("opened-unseen", f, "c")

    def test_progress_lowered(self):
        f = flow(
            play_level("a", way("x", "b", effects=["set mark to 1"]), way("up", "b", effects=["raise mark to 1"])),
            play_level("b", way("back", "a", effects=["add 1 mark"]), way("x", "won"), opens="always"),
            play_level("c", way("x", "won"), opens="at least 2 mark"),
            facts=["mark:9"],
        )
        self.check("progress-lowered", f, ("a.x", "mark"))

    def test_resume_stuck(self):
        def cave(to):
            return flow(
                play_level("a", way("x", "won", opens="has lamp"), zones=[{"id": "in"}, {"id": "out"}], paths=[{"from": "out", "to": "in"}],
                           spawns=[{"id": "p", "zone": "in"}], deeds=[deed("light", "gain lamp", repeats="visit"), deed("save", saves=True, when="has lamp", zone=to)]),
                facts=[fact("lamp", lifetime="visit")], saving="deed",
            )  # fmt: skip

        self.check("resume-stuck", cave("in"))
        f = flow(
            play_level("a", way("x", "won", opens="has lamp"), deeds=[deed("light", "gain lamp"), deed("save", saves=True, when="has lamp")]),
            facts=[fact("lamp", lifetime="visit")], saving="deed",
        )  # fmt: skip
        self.check("resume-stuck", f, "a.save")

    def test_not_settled(self):
        deeds = [deed(f"d{n}", "add 1 n", repeats="always") for n in range(2)]
        f = flow(play_level("a", way("x", "won", opens="at least 90000 n"), deeds=deeds), facts=["n:99999"])
        found = inspected(survey_flow(f, 0.05), f)
        self.assertIn("not-settled", [x.check for x in found])
        self.assertFalse({"exit-never-opens", "ending-unreachable", "never-holds"} & {x.check for x in found})

    def test_budget_leaves_unknown_what_is_not_settled(self):
        f = flow(
            play_level("a", way("x", "b", opens="at least 90000 n"), deeds=[deed("d", "add 1 n", repeats="always")]),
            play_level("b", way("y", "won")),
            facts=["n:99999"],
        )
        survey = survey_flow(f, 0.05)
        self.assertEqual((survey.levels["a"].answer, survey.levels["b"].answer), ("yes", "unknown"))
        self.assertEqual((survey.stuck.answer, survey.endings["won"].answer, survey.missed["b"]), ("unknown",) * 3)

    def test_retrying_elsewhere(self):
        fail = {"kind": "fail"}

        def failing(*retry_exits, more=()):
            return flow(
                play_level("a", way("on", "b"), way("die", "retry", trigger=fail)),
                play_level("b", way("on", "won"), way("die", "retry", trigger=fail)),
                screen("retry", *retry_exits), *more,
            )  # fmt: skip

        found = self.check("retry-elsewhere", failing(way("again", "a")), "b.die")
        mended = found[0].repair.edit(failing(way("again", "a")))
        self.check("retry-elsewhere", mended)
        back, resume = {"kind": "back"}, {"kind": "resume", "otherwise": {"level": "a"}}
        self.check("retry-elsewhere", failing(way("again", back)))
        self.check("retry-elsewhere", failing(way("again", resume)))
        self.check("retry-elsewhere", failing(way("again", "a"), way("other", "b")))
        self.check("retry-elsewhere", failing(way("again", "a", fresh=True)))  # a new run begins where it begins
        far = screen("far", way("on", "a"))
        self.check("retry-elsewhere", failing(way("again", "far"), more=[far]), "b.die")
        self.check("retry-elsewhere", failing(way("end", "won")))

    def test_what_rewinds_to_no_effect(self):
        again, oil = {"kind": "again"}, fact("oil:9", rewinds=True)

        def quay(*exits, facts=(oil,)):
            deeds = [deed("fetch", "add 1 oil")]
            ends = [way("x", "won", opens="at least 2 oil"), *exits]
            return flow(play_level("quay", *ends, deeds=deeds), facts=list(facts))

        self.check("rewind-idle", quay(way("fail", again)))
        found = self.check("rewind-idle", quay(way("round", "quay")), "oil")
        self.assertIn("nobody is ever sent back by failing", found[0].message)
        self.check("rewind-idle", found[0].repair.edit(quay(way("round", "quay"))))
        self.check("rewind-idle", quay(way("fail", again), facts=["oil:9"]))
        self.check("rewind-idle", quay(way("fail", again, fresh=True)), "oil")
        key = fact("key", rewinds=True)
        still = flow(play_level("quay", way("fail", again), way("x", "won", opens="has key"), deeds=[deed("d", "add 1 oil")]),
                     facts=[key, oil])  # fmt: skip
        found = self.check("rewind-idle", still, "key")
        self.assertIn("no restart ever changes it", found[0].message)

    def test_lives_that_come_back(self):
        again, back, fail = {"kind": "again"}, {"kind": "back"}, {"kind": "fail"}
        lives = fact("lives:3", initial=3, rewinds=True)

        def cove(*exits, retry=(), facts=(lives,)):
            over = screen("over", way("x", "won"))
            on = way("on", "won", opens="at least 1 lives")
            return flow(play_level("cove", on, *exits), screen("retry", *retry), over, facts=list(facts))

        straight = way("die", again, trigger=fail, effects=["take 1 lives"])
        found = self.check("lives-come-back", cove(straight), ("cove.die", "lives"))
        self.assertIn("cove: die changes lives, which failing then takes back", found[0].message)
        self.check("lives-come-back", cove(straight, facts=[fact("lives:3", initial=3)]))
        self.check("lives-come-back", cove(way("die", again, trigger=fail, fresh=True, effects=["take 1 lives"])))
        self.check("lives-come-back", cove(way("die", again, trigger=fail, effects=["set lives to 3"])))
        leaving = way("die", "retry", trigger=fail, effects=["take 1 lives"])
        self.check("lives-come-back", cove(leaving, retry=[way("again", back)]), ("cove.die", "lives"))
        self.check("lives-come-back", cove(leaving, retry=[way("home", "cove")]))
        plain = way("die", "retry", trigger=fail)
        paying = [way("again", back, effects=["take 1 lives"]), way("quit", "over")]
        self.check("lives-come-back", cove(plain, retry=paying), ("retry.again", "lives"))
        home = flow(  # goes back to before the cove, where lives were three; there one is lost, and given back
            play_level("quay", way("on", "cove")),
            play_level("cove", way("home", back, effects=["take 1 lives"]), way("x", "won", opens="at least 1 lives")),
            facts=[lives],
        )  # fmt: skip
        self.check("lives-come-back", home, ("cove.home", "lives"))
        mending = screen("retry", way("again", back), deeds=[deed("pay", "take 1 lives")])
        paid = flow(play_level("cove", way("on", "won", opens="at least 1 lives"), plain), mending, facts=[lives])
        self.check("lives-come-back", paid, ("retry.pay", "lives"))
        spending = [way("shop", "retry", effects=["take 2 lives"]), way("again", back)]
        self.check("lives-come-back", cove(plain, retry=spending), ("retry.shop", "lives"))
        self.check(
            "lives-come-back", cove(plain, retry=[way("quit", "over", effects=["take 1 lives"]), way("again", back)])
        )

    def test_what_is_only_half_taken_back(self):
        again = {"kind": "again"}
        oil = fact("oil:9", rewinds=True)

        def shed(effects, *more, facts=(oil, "fame:9", "lamp"), ways=None, **fields):
            ways = [way("fail", again)] if ways is None else ways
            ends = way("x", "won", opens="at least 2 oil or at least 2 fame or has lamp")
            deeds = [deed("fetch", *effects, **fields), *more]
            return flow(play_level("shed", ends, *ways, deeds=deeds), facts=list(facts))

        found = self.check("rewind-half", shed(["add 1 oil", "add 1 fame"]), ("shed.fetch", "fame"))
        self.assertIn("can be done again after failing, but fame is kept", found[0].message)
        self.assertEqual([str(move) for move in found[0].route], ["deed shed.fetch", "exit shed.fail"])
        self.check("rewind-half", shed(["add 1 oil"]))
        self.check("rewind-half", shed(["add 1 fame"]))
        self.check("rewind-half", shed(["add 1 oil", "add 1 fame"], ways=[way("round", "shed")]))
        self.check("rewind-half", shed(["add 1 oil", "gain lamp"]))  # it cannot be had more than once
        burn = deed("burn", "lose lamp", when="has lamp", repeats="always")
        self.check("rewind-half", shed(["add 1 oil", "gain lamp"], burn), ("shed.fetch", "lamp"))
        self.check("rewind-half", shed(["add 1 oil", "add 1 fame"], repeats="visit"))


if __name__ == "__main__":
    unittest.main()
