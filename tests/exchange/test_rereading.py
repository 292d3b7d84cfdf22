"""What every edit passes: nothing gets into a flow that its file could not hold."""

import unittest
from random import Random
from unittest import mock

from msgspec.structs import replace

from mossy_bridge.exchange import rereading
from mossy_bridge.exchange.folders import follow
from mossy_bridge.exchange.reading import CannotRead, flow_from_bytes, flow_from_tree
from mossy_bridge.exchange.rereading import cleaned, reread
from mossy_bridge.exchange.writing import flow_bytes
from mossy_bridge.model.codes import renumbered
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits import patterns as pattern_edits
from mossy_bridge.model.edits.duplicate import duplicate
from mossy_bridge.model.flow import Fact, Flow, Level, MapPlace, TrialSetting
from mossy_bridge.model.ids import id_from, is_id
from tests.support.build import deed, flow, play_level, way
from tests.support.edited_flows import edited as edited_at_random
from tests.support.faulty_flows import faulty_flow
from tests.support.random_flows import MAKERS


def marsh():
    return flow(
        play_level("slipway", way("east_gate", "bell_sands"), deeds=[deed("find", "add 1 oil")], file="a.map", code="1-1"),
        play_level("bell_sands", way("on", "won"), file="b.map", code="1-2"), facts=["oil:3", "tide=ebb,flood"],
    )  # fmt: skip


class Refused(unittest.TestCase):
    def test_in_the_words_of_reading_and_with_its_place(self):
        start = marsh()
        tide = Fact(id="wind", kind="choice", values=("low-tide", "or", "höhe", "1st"))
        cases = [
            (edits.set_level(start, "slipway", minutes=float("nan")), "levels[0].minutes: is no number"),
            (edits.set_level(start, "slipway", minutes=1e999), "levels[0].minutes: is no number"),
            (edits.set_level(start, "slipway", name="n" * 1001), "levels[0].name: is longer than 1,000 characters"),
            (edits.set_exit(start, "slipway", "east_gate", area=(0, 0, 1e308, 1)), "levels[0].exits[0].area[2]: may not be above"),
            (replace(start, facts=(*start.facts, tide)), "facts[2].values[0]: “low-tide” is not an id"),
            (replace(start, facts=(*start.facts, tide)), "facts[2].values[1]: “or” is a keyword"),
            (replace(start, facts=(replace(start.facts[0], high=-1),)), "facts[0].high: may not be negative"),
            (replace(start, facts=(replace(start.facts[0], low=2),)), "facts[0].initial: 0 is not between"),
            (replace(start, trial_settings=(TrialSetting(ships_as=float("nan")),)), "trial_settings[0].ships_as: is no number"),
            (replace(start, trial_settings=(TrialSetting(ships_as=10**30),)), "trial_settings[0].ships_as: the number is too"),
            (replace(start, map={"slipway": MapPlace(x=1e7)}), "map.slipway.x: may not be above 1,000,000"),
            (replace(start, map={"Slip": MapPlace()}), "map.Slip: “Slip” is not an id"),
            (replace(start, walker=replace(start.walker, width=0)), "walker.width: must be above 0"),
            (replace(start, levels=(*start.levels, start.levels[0])), "levels[2].id: the id “slipway” is already used by levels[0]"),
            (edits.set_level(start, "slipway", opens="has"), "levels[0].opens: in “has”: something is missing"),
        ]  # fmt: skip
        for edited, expected in cases:
            with self.subTest(expected):
                with self.assertRaises(CannotRead) as caught:
                    reread(edited, start)
                self.assertTrue(
                    any(problem.startswith(expected) for problem in caught.exception.problems), caught.exception
                )
                with self.assertRaises(CannotRead):
                    flow_from_bytes(flow_bytes(edited))

    def test_of_what_was_there_before_nothing_is_said(self):
        start = marsh()
        broken = replace(start, levels=(replace(start.levels[0], name="n" * 2000), *start.levels[1:]))
        self.assertEqual(reread(replace(broken, title="x"), broken).title, "x")

    def test_of_a_copy_only_what_it_has_otherwise_than_its_original_is_looked_at(self):
        start = marsh()
        copied, (copy,) = duplicate(start, ["slipway"])
        self.assertEqual(reread(copied, start), copied)
        told = {
            "levels[1].name: is longer than 1,000 characters": edits.set_level(copied, copy, name="n" * 1001),
            "levels[1].exits[0].area[2]: may not be above": edits.set_exit(copied, copy, "east_gate", area=(0, 0, 1e308, 1)),
        }  # fmt: skip
        for words, edited in told.items():
            with self.assertRaises(CannotRead) as caught:
                reread(edited, start)
            self.assertIn(words, str(caught.exception))
        broken = replace(start, levels=(replace(start.levels[0], notes="n" * 200_000), *start.levels[1:]))
        self.assertEqual(len(reread(duplicate(broken, ["slipway"])[0], broken).levels), 3, "nothing of it is new")


class New(unittest.TestCase):
    """New levels are taken as reading makes them; these as if they had stood there empty are looked at with care."""

    def taken(self, *levels, stood=False):
        start = marsh()
        before = replace(start, levels=(*start.levels, *(Level(id=level.id) for level in levels))) if stood else start
        try:
            return repr(reread(replace(start, levels=(*start.levels, *levels)), before))
        except CannotRead as error:
            return error.problems

    def test_as_with_care(self):
        raft, quay = flow(play_level("raft", way("on", "won"), opens="has tide")).levels[0], Level(id="quay")
        spoiled = [
            raft, replace(raft, name="a\nb"), replace(raft, name="a\x01"), replace(raft, name="a\x7f\ud800"), replace(raft, name="ü\x85"),
            replace(raft, notes="a\r\nb\fc"), replace(raft, notes="a\nb\\u0001"), replace(raft, minutes=float("nan")),
            replace(raft, minutes=2**70), replace(raft, difficulty=3), replace(raft, minutes=-1), replace(raft, name="n" * 1001),
            replace(raft, opens="has"), replace(raft, opens="HAS tide"), replace(raft, on_arrival=("gain", "add 1 oil")),
            replace(raft, exits=(raft.exits[0], raft.exits[0])), replace(raft, spawns=(replace(raft.spawns[0], id="or"),)),
            replace(raft, spawns=(replace(raft.spawns[0], x=1e9),)), replace(raft, pattern="bank"), replace(raft, set_here=frozenset({"name"})),
            replace(raft, name='"set_here":[]'), replace(raft, kind="isle"), replace(raft, zones=(None,)), replace(raft, cast=("a b",)),
        ]  # fmt: skip
        refused = 0
        for level in spoiled:
            with self.subTest(repr(level)):
                found = self.taken(level, quay)
                self.assertEqual(found, self.taken(level, quay, stood=True))
                refused += isinstance(found, list)
        self.assertGreater(refused, 8)
        self.assertLess(refused, 18)

    def test_no_id_stands_twice_or_is_a_keyword(self):
        self.assertIn("already used by levels[2]", self.taken(Level(id="raft"), Level(id="raft"))[0])
        self.assertIn("“and” is a keyword", self.taken(Level(id="and"))[0])
        self.assertIn("is not an id", self.taken(Level(id="The raft"))[0])

    def test_hundreds_of_sound_ones_are_not_looked_at_one_by_one(self):
        start = marsh()
        levels = flow(*(play_level(f"l{at}", way("on", "won"), notes="one\ntwo") for at in range(300))).levels
        looked_at = []
        with mock.patch.object(rereading, "rules_broken", lambda _, prefix: looked_at.append(prefix) or ()):
            reread(replace(start, levels=(*start.levels, *levels)), start)
        self.assertEqual(looked_at, [""])


class Tidied(unittest.TestCase):
    def same(self, edited, before):
        taken = reread(edited, before)
        self.assertEqual(flow_from_bytes(flow_bytes(taken)), taken)
        return taken

    def test_texts_are_rid_of_what_no_file_may_hold(self):
        self.assertEqual(cleaned("Bell\ud800 Sands\x1b[31m\x00"), "Bell Sands[31m")
        self.assertEqual((cleaned("a\r\nb\tc"), cleaned("a\r\nb\tc", lines=True)), ("a b c", "a\nb\tc"))
        self.assertEqual(cleaned("ünï \u00a0 ☂ x"), "ünï \u00a0 ☂ x")
        start = marsh()
        taken = self.same(edits.set_level(start, "slipway", name="a\udc80\nb", notes="a\nb\x07"), start)
        self.assertEqual((taken.level("slipway").name, taken.level("slipway").notes), ("a b", "a\nb"))

    def test_values_are_kept_as_reading_makes_them(self):
        start = marsh()
        taken = self.same(replace(start, facts=(replace(start.facts[0], initial=0), start.facts[1])), start)
        self.assertIsNone(taken.facts[0].initial)
        taken = self.same(edits.set_level(start, "slipway", opens="(has  a)"), start)
        self.assertEqual(taken.level("slipway").opens, "has a")

    def test_what_a_level_with_a_pattern_sets_is_marked(self):
        start = flow_from_tree({"mossy_bridge": 1, "patterns": [{"id": "hall"}],
                                "levels": [{"id": "a", "pattern": "hall", "file": "a.map"}]})  # fmt: skip
        bare = replace(start.levels[0], code="1-1", set_here=frozenset())
        self.assertEqual(
            self.same(replace(start, levels=(bare,)), start).levels[0].set_here, {"code", "file", "pattern"}
        )
        for edited in (
            renumbered(start, "", "1-1"),
            follow(start, [("a.map", "b.map")]),
            follow(start, [("a.map", "")]),
        ):
            self.assertEqual(flow_from_bytes(flow_bytes(edited)), edited)
            self.assertIs(reread(edited, start).levels[0], edited.levels[0])

    def test_levels_are_found_where_they_stand_after_every_edit(self):
        for seed in range(10):
            pick, before = Random(seed), reread(faulty_flow(seed), Flow())
            for _ in range(10):
                before.place_of("")  # where levels stand is known, and may be taken over
                after = reread(edited_at_random(before, pick), before)
                for place, level in reversed(list(enumerate(after.levels))):  # of twins the first is found
                    self.assertEqual(after.place_of(level.id), place)
                    self.assertIs(after.level(level.id), level)
                gone = {level.id for level in before.levels} - {level.id for level in after.levels}
                self.assertEqual([after.level(name) for name in gone], [None] * len(gone))
                before = after

    def test_any_random_flow_is_taken_as_it_is(self):
        for seed in range(60):
            for maker in MAKERS:
                made, pick = maker(seed), Random(seed)
                self.assertEqual(reread(made, Flow()), made)
                name = pick.choice(made.levels).id
                patterned, _ = pattern_edits.make_pattern(made, name, "Model")
                self.assertEqual(self.same(patterned, made), patterned)

    def test_ids_made_of_long_names_are_not_too_long(self):
        taken = {id_from("n" * 500, ())}
        for _ in range(30):
            taken.add(id_from("n" * 500, taken))
        self.assertTrue(all(is_id(name) and len(name) <= 100 for name in taken))
        self.assertEqual(len(taken), 31)


if __name__ == "__main__":
    unittest.main()
