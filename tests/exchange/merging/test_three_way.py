"""Merging by hand: what both sides may change, what is in conflict, and how that is written."""

import json
import unittest

from mossy_bridge.exchange.merging.markers import conflict_line, marked_text
from mossy_bridge.exchange.merging.three_way import merge
from mossy_bridge.exchange.reading import CannotRead, flow_from_bytes, flow_from_tree
from mossy_bridge.exchange.writing import tree_of
from tests.support.build import deed, flow, play_level, way

LEVELS = [play_level(name, way("on", "b"), deeds=[deed("dig")]) for name in "abc"]


def base():
    return tree_of(flow(*json.loads(json.dumps(LEVELS)), facts=["key"]))


def changed(**levels):
    """The base with fields of levels set; a field of None is left out, a level of None is not there."""
    tree = base()
    for name, values in levels.items():
        level = next(one for one in tree["levels"] if one["id"] == name)
        if values is None:
            tree["levels"].remove(level)
        else:
            level.update(values)
    return tree


def ordered(names, new=()):
    tree = base()
    levels = {one["id"]: one for one in tree["levels"]} | {name: {**tree["levels"][0], "id": name} for name in new}
    tree["levels"] = [levels[name] for name in names]
    return tree


def told(found):
    return [(one.at, one.base, one.ours, one.theirs) for one in found.conflicts]


def order(found):
    return "".join(one["id"] for one in found.ours["levels"])


class ByHand(unittest.TestCase):
    def test_what_does_not_touch_the_same_field_comes_together(self):
        found = merge(base(), changed(a={"name": "Ada"}, b={"minutes": 3}), changed(a={"code": "1-1"}, c=None))
        self.assertEqual(told(found), [])
        levels = {one["id"]: one for one in found.ours["levels"]}
        self.assertEqual((levels["a"]["name"], levels["a"]["code"], levels["b"]["minutes"]), ("Ada", "1-1", 3))
        self.assertNotIn("c", levels)

    def test_the_same_change_on_both_sides_is_one(self):
        side = changed(a={"name": "Ada"}, c=None)
        self.assertEqual(told(merge(base(), side, json.loads(json.dumps(side)))), [])

    def test_conflicts(self):
        for label, ours, theirs, conflict in (
            ("one field", changed(a={"name": "Ada"}), changed(a={"name": "Bo"}), ("levels.a.name", None, "Ada", "Bo")),
            ("a field left out", changed(a={"minutes": 2}), changed(a={"minutes": 3}), ("levels.a.minutes", None, 2, 3)),
            ("lists without ids", changed(a={"cast": ["x"]}), changed(a={"cast": ["y"]}), ("levels.a.cast", None, ["x"], ["y"])),
        ):  # fmt: skip
            with self.subTest(label):
                found = merge(base(), ours, theirs)
                self.assertEqual(told(found), [conflict])
                self.assertEqual((found.ours, found.theirs), (ours, theirs))

    def test_where_an_exit_leads_is_one_field(self):
        ours, theirs = base(), base()
        ours["levels"][0]["exits"][0]["to"] = {"level": "c"}
        theirs["levels"][0]["exits"][0]["to"] = {"level": "b", "spawn": "p"}
        (conflict,) = merge(base(), ours, theirs).conflicts
        self.assertEqual((conflict.at, conflict.ours), ("levels.a.exits.on.to", {"level": "c"}))

    def test_removed_against_changed(self):
        found = merge(base(), changed(a=None), changed(a={"name": "Ada"}))
        self.assertEqual(
            [(one.at, one.ours is None, one.theirs["name"]) for one in found.conflicts], [("levels.a", True, "Ada")]
        )
        self.assertEqual((order(found), len(found.theirs["levels"])), ("bc", 3))

    def test_orders(self):
        for label, ours, theirs, wanted in (
            ("one side moves", ordered("cab"), base(), "cab"),
            ("one moves, one adds behind", ordered("cab"), ordered("abxc", "x"), "cabx"),
            ("both add at one place", ordered("ayzbc", "yz"), ordered("axbc", "x"), "axyzbc"),
            ("both add at the beginning", ordered("zabc", "z"), ordered("yabc", "y"), "yzabc"),
            ("one removes what the other adds behind", ordered("ac"), ordered("abxc", "x"), "axc"),
            ("both move alike", ordered("bca"), ordered("bca"), "bca"),
        ):
            with self.subTest(label):
                found = merge(base(), ours, theirs)
                self.assertEqual((told(found), order(found)), ([], wanted))
        found = merge(base(), ordered("bac"), ordered("acb"))
        self.assertEqual(told(found), [("levels.order", ["a", "b", "c"], ["b", "a", "c"], ["a", "c", "b"])])

    def test_added_on_both_sides(self):
        ours, theirs = ordered("abcx", "x"), ordered("abcx", "x")
        theirs["levels"][3]["name"] = "Xeno"
        self.assertEqual(told(merge(base(), ours, theirs)), [])
        ours["levels"][3]["name"] = "Xylo"
        self.assertEqual([one.at for one in merge(base(), ours, theirs).conflicts], ["levels.x.name"])

    def test_what_cannot_be_read_is_no_result(self):
        low, high = base(), base()
        for tree, field, value in ((low, "low", 5), (high, "high", 3)):
            tree["facts"] = [{"id": "oil", "kind": "count", field: value}]
        start = base()
        start["facts"] = [{"id": "oil", "kind": "count"}]
        found = merge(start, low, high)
        self.assertEqual(told(found), [])
        self.assertTrue(found.problems)

    def test_markers_make_it_no_flow_until_a_side_is_taken(self):
        ours, theirs = changed(a={"name": "Ada"}, b={"minutes": 4}), changed(a={"name": "Bo"}, c={"code": "9"})
        found = merge(base(), ours, theirs)
        text = marked_text(found)
        with self.assertRaises(CannotRead):
            flow_from_bytes(text.encode())
        self.assertEqual(text.count("<<<<<<< ours"), 1)
        for keep, drop in ((0, 1), (1, 0)):
            lines, side = [], None
            for line in text.splitlines():
                if line[:7] in ("<<<<<<<", "=======", ">>>>>>>"):
                    side = {"<": 0, "=": 1, ">": None}[line[0]]
                elif side in (None, keep):
                    lines.append(line)
            read = flow_from_bytes("\n".join(lines).encode())
            self.assertEqual(read, flow_from_tree((found.ours, found.theirs)[keep]), drop)

    def test_a_conflict_on_one_line(self):
        (conflict,) = merge(base(), changed(a={"name": "Ada"}), changed(a={"name": "Bo"})).conflicts
        self.assertEqual(conflict_line(conflict), 'levels.a.name\t-\t"Ada"\t"Bo"')


if __name__ == "__main__":
    unittest.main()
