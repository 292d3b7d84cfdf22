"""Duplicating, ordering, removing, patterns, upkeep and search."""

import unittest

from msgspec.structs import replace

from mossy_bridge.checks.runner import inspected
from mossy_bridge.exchange.reading import flow_from_bytes
from mossy_bridge.exchange.writing import flow_bytes
from mossy_bridge.model import find as search
from mossy_bridge.model.codes import FilesInUse, InUse, next_code, next_file, next_text, renumbered
from mossy_bridge.model.edits import duplicate as duplicating
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits import order as ordering
from mossy_bridge.model.edits import patterns as pattern_edits
from mossy_bridge.model.edits import remove as removing
from mossy_bridge.model.edits import upkeep
from mossy_bridge.model.patterns import resolved
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import board, deed, flow, play_level, screen, way


def order(f):
    return [level.id for level in f.levels]


class Numbering(unittest.TestCase):
    def test_the_next_code(self):
        for code, taken, wanted in (
            ("1-2", (), "1-3"),
            ("1-2", ("1-3",), "1-2b"),
            ("1-2", ("1-3", "1-2B"), "1-2c"),
            ("1-2b", ("1-3",), "1-2c"),
            ("09", (), "10"),
            ("W", (), "W2"),
            ("", ("1",), ""),
        ):
            with self.subTest(code=code, taken=taken):
                self.assertEqual(next_code(code, InUse(taken)), wanted)

    def test_names_go_on_with_the_code(self):
        for text, old, new, taken, wanted in (
            ("Bell Sands", "1-2", "1-3", (), "Bell Sands 3"),
            ("Level 2", "1-2", "1-3", (), "Level 3"),
            ("Level 02", "1-2", "1-3", (), "Level 03"),
            ("Level 2", "1-2", "1-2b", (), "Level 2b"),
            ("Gate 7", "1-2", "1-3", (), "Gate 8"),
            ("Level 2", "1-2", "1-3", ("level 3",), "Level 4"),
            ("Title", "", "", (), "Title 2"),
            ("", "1", "2", (), ""),
        ):
            with self.subTest(text=text, new=new):
                self.assertEqual(next_text(text, old, new, InUse(taken)), wanted)

    def test_files_go_on_in_the_style_of_the_others(self):
        others = FilesInUse(["maps/level_01.map", "maps/level_02.map"])
        self.assertEqual(next_file("maps/level_02.map", "2", "3", others), "maps/level_03.map")
        self.assertEqual(next_file("a/eel-sluice.map", "4", "5", FilesInUse(["a/mud-flats.map"])), "a/eel-sluice-5.map")
        self.assertEqual(next_file("", "4", "5", others), "")

    def test_renumbering_a_region_keeps_branches(self):
        levels = [play_level(name, code=code, region="r") for name, code in
                  (("a", "1-4"), ("b", "1-4b"), ("c", ""), ("d", "2-2"))]  # fmt: skip
        f = renumbered(flow(screen("s", code="T", region="r"), *levels, play_level("e", code="9")), "r", "2-01")
        self.assertEqual([level.code for level in f.levels], ["T", "2-01", "2-01b", "2-02", "2-03", "9"])
        with self.assertRaises(ValueError):
            renumbered(f, "r", "first")


class Duplicating(unittest.TestCase):
    def original(self):
        on, again = way("on", "b", "p"), way("lost", {"kind": "again"}, trigger={"kind": "fail"})
        a = play_level("a", on, again, code="1-1", name="Quay", file="maps/quay.map", ticked=["music"])
        return flow(a, play_level("b", way("win", "won"), code="1-2"), checklist=[{"id": "music"}])

    def test_a_copy_goes_behind_with_next_code_free_name_and_list(self):
        f, made = duplicating.duplicate(self.original(), ["a"])
        copy = f.level(made[0])
        self.assertEqual(order(f), ["a", copy.id, "b"])
        self.assertEqual((copy.code, copy.name, copy.file), ("1-1b", "Quay 1b", "maps/quay_1b.map"))
        self.assertEqual(copy.exits, f.level("a").exits)
        self.assertEqual(copy.unreviewed, ("exit on", "exit lost", "spawn p", "file"))
        self.assertEqual((copy.copied_from, copy.ticked), ("a", ()))
        self.assertEqual(flow_from_bytes(flow_bytes(f)), f)

    def test_the_list_empties_as_parts_are_changed_or_confirmed(self):
        f, (copy,) = duplicating.duplicate(self.original(), ["a"])
        f = edits.connect(f, copy, "on", "b")
        self.assertNotIn("exit on", f.level(copy).unreviewed)
        f = edits.looked_at(f, copy, "file")
        self.assertEqual(f.level(copy).unreviewed, ("exit lost", "spawn p"))
        self.assertEqual(edits.looked_at(f, copy).level(copy).unreviewed, ())

    def test_copies_of_several_lead_to_each_other(self):
        f, (a, b) = duplicating.duplicate(self.original(), ["b", "a"])
        self.assertEqual(order(f), ["a", "b", a, b])
        self.assertEqual(f.level(a).exit("on").to.level, b)

    def test_copies_of_copies_take_no_name_twice(self):
        f = self.original()
        for _ in range(5):
            f, _ = duplicating.duplicate(f, order(f))
        for names in (
            [lv.id for lv in f.levels],
            [lv.code for lv in f.levels],
            [lv.file for lv in f.levels if lv.file],
        ):
            self.assertEqual(len(set(names)), len(names))
        self.assertEqual(len(f.levels), 64)

    def test_what_was_cut_out_is_put_in_as_it_was_and_a_second_time_as_a_copy(self):
        f = self.original()
        rest, quay = replace(f, levels=f.levels[1:]), f.level("a")
        f, _ = duplicating.put_in(rest, [quay], "b")
        f, _ = duplicating.put_in(f, [quay], "a")
        self.assertEqual(order(f), ["b", "a", "quay_1b"])
        self.assertEqual((f.levels[1], f.levels[2].code, f.levels[2].copied_from), (quay, "1-1b", "a"))


class Ordering(unittest.TestCase):
    def setUp(self):
        levels = [play_level(name, region=region) for name, region in
                  (("a", "x"), ("b", "x"), ("c", "y"), ("d", "y"), ("e", ""))]  # fmt: skip
        self.flow = flow(*levels, regions=[{"id": "x"}, {"id": "y", "tint": "reed"}])

    def test_moving_levels(self):
        for moved, before, wanted in (
            (["a"], "d", "bcade"),
            (["d", "a"], "c", "badce"),
            (["a", "b"], "", "cdeab"),
            (["b", "c"], "c", "abcde"),
            (["b"], "a", "bacde"),
        ):
            with self.subTest(moved=moved, before=before):
                self.assertEqual("".join(order(ordering.move_levels(self.flow, moved, before))), wanted)
        f = ordering.move_levels(self.flow, ["a"], "d", region="y")
        self.assertEqual(f.level("a").region, "y")
        with self.assertRaises(edits.CannotEdit):
            ordering.move_levels(self.flow, ["gone"])

    def test_regions_are_added_named_tinted_moved_and_removed(self):
        f, new = ordering.add_region(self.flow, "The Marsh", ["e"])
        self.assertEqual((new, f.level("e").region), ("the_marsh", "the_marsh"))
        f = ordering.set_region(f, "x", name="Shore", tint="tide")
        self.assertEqual((f.regions[0].name, f.regions[0].tint), ("Shore", "tide"))
        f = ordering.move_region(f, "y", "a")
        self.assertEqual("".join(order(f)), "cdabe")
        self.assertEqual([region.id for region in f.regions], ["y", "x", "the_marsh"])
        f = ordering.remove_region(f, "y")
        self.assertEqual([level.region for level in f.levels], ["", "", "x", "x", "the_marsh"])
        self.assertEqual(flow_from_bytes(flow_bytes(f)), f)


class Removing(unittest.TestCase):
    def test_ways_in_lead_on_to_where_the_level_led(self):
        middle = play_level("b", way("lost", "a", trigger={"kind": "fail"}), way("on", "c", "p", completes=True))
        ends = play_level("a", way("go", "b")), play_level("c", way("win", "won"))
        hub = board("m", {"id": "t", "level": "b"})
        f = removing.remove_and_reconnect(flow(*ends, middle, hub, start={"level": "b"}), ["b"])
        self.assertEqual((f.level("a").exit("go").to.level, f.level("m").tiles[0].level), ("c", "c"))
        self.assertEqual((f.start.level, f.start.spawn), ("c", "p"))

    def test_two_neighbours_removed_lead_past_both_only_where_one_leads_out(self):
        chain = [play_level(a, way("on", b)) for a, b in (("a", "b"), ("b", "c"), ("c", "d"))]
        f = removing.remove_and_reconnect(flow(*chain, play_level("d")), ["b", "c"])
        self.assertEqual(f.level("a").exit("on").to.level, "b")  # b led nowhere but into what is removed as well


class Patterns(unittest.TestCase):
    def setUp(self):
        one = play_level("a", way("lost", {"kind": "again"}), way("on", "b"), minutes=3, notes="mine", code="1")
        f = flow(one, play_level("b", way("win", "won")))
        self.flow, self.pattern = pattern_edits.make_pattern(f, "a", "Marsh level")

    def test_a_level_made_a_pattern_stays_as_it_was(self):
        level = self.flow.level("a")
        self.assertEqual((level.pattern, level.exits, level.notes), ("marsh_level", (), "mine"))
        whole = edits.whole(self.flow, "a")
        self.assertEqual([exit_.id for exit_ in whole.exits], ["lost", "on"])
        self.assertEqual(whole.minutes, 3)
        self.assertEqual(flow_from_bytes(flow_bytes(self.flow)), self.flow)

    def test_changing_the_pattern_changes_every_level_that_follows(self):
        f = pattern_edits.base_on(self.flow, ["b"], self.pattern)
        self.assertEqual([exit_.id for exit_ in edits.whole(f, "b").exits], ["lost", "on", "win"])
        f = edits.set_level(f, "pattern:marsh_level", minutes=7)
        self.assertEqual([level.minutes for level in resolved(f).levels], [7, 7])
        f = edits.set_exit(f, "pattern:marsh_level", "on", completes=True)
        self.assertTrue(edits.whole(f, "a").exit("on").completes)

    def test_what_is_set_here_is_told_and_can_be_taken_back(self):
        f = edits.set_exit(self.flow, "a", "on", completes=True)
        self.assertIn(("exits", "on"), pattern_edits.overridden(f, "a"))
        f = edits.set_level(f, "a", minutes=9)
        f = pattern_edits.take_back(f, "a", "minutes")
        f = pattern_edits.take_back(f, "a", "exits", "on")
        self.assertEqual(edits.whole(f, "a"), edits.whole(self.flow, "a"))

    def test_detached_and_removed_levels_stay_as_they_were(self):
        whole = edits.whole(self.flow, "a")
        for f in (pattern_edits.detach(self.flow, "a"), pattern_edits.remove_pattern(self.flow, self.pattern)):
            level = f.level("a")
            self.assertEqual((level.pattern, level.exits, level.minutes), ("", whole.exits, 3))
            self.assertEqual(flow_from_bytes(flow_bytes(f)), f)

    def test_a_patterns_changes_show_no_drift(self):
        found = [finding.check for finding in inspected(survey_flow(self.flow), self.flow)]
        self.assertNotIn("pattern-drift", found)


class Upkeep(unittest.TestCase):
    def test_checklist(self):
        f, item = upkeep.add_item(flow(play_level("a")), "Has its own music")
        f, other = upkeep.add_item(f, "Lit", ["play", "screen"])
        f = upkeep.tick(upkeep.tick(f, "a", other, True), "a", item, True)
        self.assertEqual(f.level("a").ticked, (item, other))
        self.assertEqual(upkeep.tick(f, "a", item, False).level("a").ticked, (other,))
        f = upkeep.set_item(f, item, text="Music")
        self.assertEqual(f.checklist[0].text, "Music")
        self.assertEqual(upkeep.remove_item(f, item).level("a").ticked, (other,))
        with self.assertRaises(edits.CannotEdit):
            upkeep.add_item(f, "  ")

    def test_values_for_testing(self):
        f = flow(play_level("a", way("x", "won", opens="never")))
        at = "levels.a.exits.x.opens"
        f = upkeep.for_testing(upkeep.for_testing(f, at, "never"), at, "always", "quick")
        self.assertEqual([(s.ships_as, s.why) for s in f.trial_settings], [("always", "quick")])
        self.assertEqual(upkeep.not_for_testing(f, at).trial_settings, ())
        with self.assertRaises(edits.CannotEdit):
            upkeep.for_testing(f, "levels.a.exits.gone.opens", "always")


class Search(unittest.TestCase):
    def test_the_very_code_comes_first(self):
        f = flow(play_level("a", deed("x") and way("east_gate", "won"), code="1-1", name="Gate Quay", file="g.map"),
                 play_level("b", code="1-10", name="East"), facts=("eastwind",))  # fmt: skip

        def told(text):
            return [(match.kind, match.level, match.id) for match in search.found(f, text)]

        self.assertEqual(told("1-1")[:2], [("level", "a", ""), ("level", "b", "")])
        self.assertEqual(told("east")[0], ("level", "b", ""))
        self.assertIn(("exit", "a", "east_gate"), told("east"))
        self.assertIn(("fact", "", "eastwind"), told("EAST"))
        self.assertEqual(told("g.map"), [("level", "a", "")])
        self.assertEqual(told("gate quay"), [("level", "a", "")])
        self.assertEqual(told("no such"), [])
        self.assertEqual(told("  "), [])
