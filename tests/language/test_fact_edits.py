"""Facts: where they are used, and how they are edited."""

import unittest

from msgspec.structs import replace

from mossy_bridge.language.fact_edits import add_fact, fact_of, merge_facts, remove_fact, set_fact, set_rewinding
from mossy_bridge.language.fact_uses import FactUses, uses_of_facts
from mossy_bridge.model.edits.levels import CannotEdit, set_level
from mossy_bridge.play.edit_impact import consequences
from mossy_bridge.play.fact_lifetimes import becomes
from mossy_bridge.reach.queries.first_gained import first_gained
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import deed, flow, play_level, way


def marsh():
    """Three levels with keys, oil and a tide."""
    return flow(
        play_level(
            "a", way("x", "b", opens="has key or not (at least 2 oil)"), deeds=[deed("d", "gain key", "add 1 oil")]
        ),
        play_level("b", way("y", "c", effects=["lose key"]), on_arrival=["turn tide to flood"]),
        play_level(
            "c", way("z", "won", opens="at least 1 of (has rope, tide is flood)"), deeds=[deed("e", "clear oil")]
        ),
        facts=("key", "rope", "oil:5", "tide=ebb,flood", "idle"),
        promises=[{"id": "p", "kind": "can", "level": "c", "when": "lacks key"}],
    )


def first_had(flow_):
    survey = survey_flow(flow_)
    return first_gained(survey, FactUses(survey.flow), survey.crossings)


class Uses(unittest.TestCase):
    def test_every_change_and_question_is_found_where_it_stands(self):
        found = {(use.fact, use.use, use.at) for use in uses_of_facts(marsh())}
        self.assertEqual(found, {
            ("key", "asked", "a.x"), ("oil", "asked", "a.x"), ("key", "gained", "a.d"), ("oil", "gained", "a.d"),
            ("key", "spent", "b.y"), ("tide", "turned", "b"), ("rope", "asked", "c.z"), ("tide", "asked", "c.z"),
            ("oil", "reset", "c.e"), ("key", "asked", "p"),
        })  # fmt: skip

    def test_first_had_is_the_nearest_level_that_gives_it(self):
        had = first_had(marsh())
        self.assertEqual(had, {"key": "a", "rope": "never", "oil": "a", "tide": "b", "idle": "never"})
        self.assertEqual(first_had(set_fact(marsh(), "rope", initial=True))["rope"], "from the start")

    def test_uses_are_kept_where_levels_are_the_same(self):
        before = marsh()
        kept = FactUses(before)
        for after in (set_level(before, "b", on_arrival=("gain rope",)), set_fact(before, "oil", high=9), replace(before, promises=()),
                      replace(before, levels=before.levels[::-1]), replace(before, levels=before.levels[1:])):  # fmt: skip
            kept, anew = FactUses(after, kept), FactUses(after)
            for fact in ("key", "rope", "oil", "tide", "idle"):
                told = [use for use in uses_of_facts(after) if use.fact == fact]
                self.assertEqual((kept.of(fact), anew.of(fact)), (told, told))
                self.assertEqual(fact in kept.facts(), bool(told))
                for level in ("a", "b", "c", ""):
                    self.assertEqual(list(kept.at(fact, level)), [use for use in told if use.level == level])

    def test_what_becomes_of_a_fact_hangs_on_its_lifetime_and_the_saving(self):
        f = marsh()
        self.assertEqual(becomes(f, fact_of(f, "oil"))[0], "back to 0")
        self.assertEqual(becomes(f, fact_of(f, "oil"))[3], "as at the last arrival")
        rewinding = set_fact(f, "oil", rewinds=True)
        self.assertEqual(becomes(rewinding, fact_of(rewinding, "oil"))[2], "as at the last arrival or checkpoint")
        visit = set_fact(f, "key", lifetime="visit")
        self.assertEqual(set(becomes(visit, fact_of(visit, "key"))[:4]), {"not had any more"})
        profile = set_fact(f, "tide", lifetime="profile")
        self.assertEqual(set(becomes(profile, fact_of(profile, "tide"))), {"kept"})


class Edits(unittest.TestCase):
    def test_only_what_lasts_a_run_rewinds(self):
        f = set_fact(marsh(), "oil", rewinds=True)
        self.assertTrue(fact_of(f, "oil").rewinds)
        self.assertFalse(fact_of(set_fact(f, "oil", lifetime="profile"), "oil").rewinds)
        f = set_fact(f, "oil", lifetime="profile")
        with self.assertRaisesRegex(CannotEdit, "only what lasts a run can go back when the player fails"):
            set_fact(f, "oil", rewinds=True)

    def test_keys_and_points_go_back_together_or_nothing_does(self):
        f = set_fact(set_fact(marsh(), "key", lifetime="profile"), "tide", rewinds=True)
        going = [fact.id for fact in set_rewinding(f, True).facts if fact.rewinds]
        self.assertEqual(going, [one.id for one in f.facts if one.id != "key"])
        self.assertFalse(any(fact.rewinds for fact in set_rewinding(f, False).facts))

    def test_added_facts_have_names_of_their_own(self):
        f, one = add_fact(marsh(), "Bell key")
        f, two = add_fact(f, "Bell key", "choice")
        self.assertNotEqual(one, two)
        self.assertEqual((fact_of(f, one).kind, fact_of(f, two).values), ("flag", ("first", "second")))
        self.assertRaises(CannotEdit, add_fact, f, " ")

    def test_a_changed_kind_begins_at_its_default_and_says_what_loses_its_meaning(self):
        f = marsh()
        changed = set_fact(f, "key", kind="count")
        self.assertEqual((fact_of(changed, "key").first, fact_of(changed, "key").high), (0, 9))
        told = [one.sentence for one in consequences(f, changed)]
        self.assertEqual(len(told), 4)
        self.assertTrue(any("could never hold" in sentence for sentence in told))
        self.assertTrue(any("would do nothing" in sentence for sentence in told))
        told = [one.sentence for one in consequences(f, set_fact(f, "key", lifetime="visit"))]
        self.assertEqual(told, ["key would start afresh at each arrival."])

    def test_counts_and_choices_keep_within_their_bounds(self):
        f = set_fact(marsh(), "oil", low=2)
        self.assertEqual(fact_of(f, "oil").first, 2)
        self.assertRaises(CannotEdit, set_fact, f, "oil", high=1)
        self.assertRaises(CannotEdit, set_fact, f, "tide", values=())
        f = set_fact(set_fact(f, "tide", initial="flood"), "tide", values=("ebb", "slack"))
        self.assertEqual(fact_of(f, "tide").first, "ebb")

    def test_merging_puts_one_in_the_place_of_the_other_everywhere(self):
        f = merge_facts(marsh(), "key", "rope")
        self.assertEqual([fact.id for fact in f.facts], ["rope", "oil", "tide", "idle"])
        self.assertEqual(f.levels[0].exits[0].opens, "has rope or not at least 2 oil")
        self.assertEqual((f.levels[0].deeds[0].effects[0], f.levels[1].exits[0].effects), ("gain rope", ("lose rope",)))
        self.assertEqual(f.promises[0].when, "lacks rope")
        self.assertRaises(CannotEdit, merge_facts, f, "rope", "oil")
        self.assertRaises(CannotEdit, merge_facts, f, "gone", "oil")

    def test_removing_takes_its_effects_along_and_leaves_conditions(self):
        f = remove_fact(marsh(), "key")
        self.assertEqual((f.levels[0].deeds[0].effects, f.levels[1].exits[0].effects), (("add 1 oil",), ()))
        self.assertIn("has key", f.levels[0].exits[0].opens)
        self.assertTrue(f.levels[2] is not None and consequences(marsh(), f))


if __name__ == "__main__":
    unittest.main()
