"""Levels against their files: matching, every kind of drift, and taking over."""

import random
import unittest

from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from mossy_bridge.exchange.readers.rules import contents_of
from mossy_bridge.exchange.reading import flow_from_tree
from mossy_bridge.level_files.contents import FileContents, FileThing, fits, made_id
from mossy_bridge.level_files.differences import compared, matched
from mossy_bridge.level_files.taking import take_over, taken
from mossy_bridge.level_files.wording import told
from mossy_bridge.model.flow import Exit, Flow, Reader, Spawn, Trigger
from mossy_bridge.model.patterns import resolved
from tests.support.game_files import ENDINGS, FORMS, random_levels, reader, reader_tree, written


def differences(flow, files):
    return compared(flow, files).differences


def exits(*names, kind="touch"):
    return [Exit(id=name, area=(10 * at, 0, 2, 4), trigger=Trigger(kind=kind)) for at, name in enumerate(names)]


def found(name="", rect=None):
    texts = {"id": name} if name else {}
    return FileThing("exit", "maps", 0, texts, rect=rect, id=made_id("exit", texts))


def ids(pairs):
    return [(thing.id, said.texts.get("id", said.rect)) for thing, said in pairs]


class Matching(unittest.TestCase):
    def test_by_id_made_of_the_text(self):
        pairs, more, lacking = matched(exits("east_gate", "west"), [found("East Gate"), found("North")])
        self.assertEqual(ids(pairs), [("east_gate", "East Gate")])
        self.assertEqual(([one.called for one in more], [one.id for one in lacking]), (["North"], ["west"]))

    def test_without_an_id_by_place_then_by_number(self):
        at_b, elsewhere = (10.005, 0, 2, 4), (50, 0, 2, 4)
        pairs, more, lacking = matched(exits("a", "b", "c"), [found(rect=elsewhere), found(rect=at_b)])
        self.assertEqual(ids(pairs), [("b", at_b), ("a", elsewhere)])
        self.assertEqual((more, [one.id for one in lacking]), ([], ["c"]))

    def test_an_id_used_twice_is_none(self):
        pairs, more, _ = matched(exits("a", "b"), [found("a", (10, 0, 2, 4)), found("a", (0, 0, 2, 4)), found("a")])
        self.assertEqual(ids(pairs), [("b", "a"), ("a", "a")])
        self.assertEqual(len(more), 1)

    def test_timers_and_choices_need_not_be_in_files(self):
        self.assertEqual(matched(exits("a", kind="timer"), [])[2], [])
        pairs, more, _ = matched(exits("a", kind="choose"), [found("a")])
        self.assertEqual((ids(pairs), more), ([("a", "a")], []))

    def test_places_of_spawn_points(self):
        spawn = FileThing("spawn", "maps", 0, {}, point=(3.0, 4.0))
        pairs, _, lacking = matched([Spawn(id="a"), Spawn(id="b", x=3, y=4)], [spawn])
        self.assertEqual((pairs[0][0].id, [one.id for one in lacking]), ("b", ["a"]))


class Files(unittest.TestCase):
    def test_patterns_of_files(self):
        for pattern, file, wanted in (
            ("levels/*.xml", "levels/a.xml", True),
            ("levels/*.xml", "./levels/a.xml", True),
            ("levels/*.xml", "levels/b/a.xml", False),
            ("levels/**/*.xml", "levels/b/c/a.xml", True),
            ("levels/**/*.xml", "levels/a.xml", True),
            ("**/a*b.xml", "a-b.xml", True),
            ("levels/**", "levels/b/a.xml", True),
            ("levels/[a].xml", "levels/a.xml", False),
            ("*.xml", "", False),
        ):
            with self.subTest(f"{pattern} {file}"):
                self.assertEqual(fits(Reader(id="r", files=pattern, form="xml"), file), wanted)


def game(seed, form="xml", count=4, units=None, **options):
    """A flow made by taking over random files, and what these hold."""
    levels = random_levels(seed, count)
    names = {name: f"levels/{name}.{ENDINGS[form]}" for name in levels}
    read = (reader(form, **options),)
    files = {names[name]: contents_of(written(form, level, **options), read) for name, level in levels.items()}
    tree = {"mossy_bridge": 1, "readers": [reader_tree(form, **options)], "units": units or {},
            "levels": [{"id": name, "file": file} for name, file in names.items()]}  # fmt: skip
    return flow_from_tree(tree), files


class Drift(unittest.TestCase):
    @given(st.integers(0, 10**6), st.sampled_from(FORMS), st.booleans())
    def test_what_was_taken_over_differs_in_nothing(self, seed, form, up):
        flow, files = game(seed, form, up=up, units={"y": "down"})
        whole = take_over(flow, files, "all")
        self.assertEqual(list(differences(whole, files)), [])
        truly = random_levels(seed, 4)
        for level in whole.levels:
            wanted = [one for one in truly[level.id]["things"] if one["kind"] == "exit"]
            boxes = [(one["x"], one["y"], one["width"], one["height"]) for one in wanted]
            self.assertEqual([exit_.area for exit_ in level.exits], boxes)
            self.assertEqual([exit_.to.level for exit_ in level.exits], [one["level"] for one in wanted])

    @given(st.integers(0, 10**6))
    def test_each_planted_drift_is_found_and_taken_over(self, seed):
        flow, files = game(seed)
        whole = take_over(flow, files, "all")
        pick = random.Random(seed)
        level = pick.choice(whole.levels)
        kinds = []
        if level.exits:
            kinds += ["leads", "moved exit", "lost exit", "extra exit"]
        if level.spawns:
            kinds += ["moved spawn"]
        kinds += ["size", "solids"]
        kind = pick.choice(kinds)
        changed, wanted = self.planted(whole, level, kind)
        got = list(differences(changed, files))
        self.assertEqual([(one.kind, one.level, one.makes) for one in got], [(wanted[0], level.id, wanted[1])], kind)
        self.assertIn(level.title, told(changed, got[0]))
        after = taken(changed, got)
        if wanted[0] == "lacks":
            self.assertIs(after, changed)
        else:
            self.assertEqual(list(differences(after, files)), [])

    def planted(self, flow, level, kind):
        """The flow with one drift in a level, and what is to be found."""
        if kind in ("size", "solids"):
            plan = replace(level.plan, width=63) if kind == "size" else replace(level.plan, solids=((0, 0, 70, 70),))
            new, wanted = replace(level, plan=plan), ("place", "plan" if kind == "size" else "solid")
        elif kind == "moved spawn":
            first = replace(level.spawns[0], x=level.spawns[0].x + 0.5)
            new, wanted = replace(level, spawns=(first, *level.spawns[1:])), ("place", "spawn")
        elif kind == "lost exit":
            new, wanted = replace(level, exits=level.exits[1:]), ("more", "exit")
        elif kind == "extra exit":
            new, wanted = replace(level, exits=(*level.exits, Exit(id="extra"))), ("lacks", "exit")
        else:
            first = level.exits[0]
            other = next(one.id for one in flow.levels if one.id != first.to.level)
            to = replace(first.to, level=other)
            first = replace(first, to=to) if kind == "leads" else replace(first, area=(0.5, 0.5, 30, 1))
            new = replace(level, exits=(first, *level.exits[1:]))
            wanted = ("leads" if kind == "leads" else "place", "exit")
        return replace(flow, levels=tuple(new if one is level else one for one in flow.levels)), wanted

    def test_places_alone(self):
        flow, files = game(3)
        whole = take_over(flow, files, "all")
        level = next(one for one in whole.levels if len(one.exits) > 1)
        one, other = level.exits[:2]
        elsewhere = next(lv.id for lv in whole.levels if lv.id != one.to.level)
        drifted = (
            replace(one, to=replace(one.to, level=elsewhere)),
            replace(other, area=(0, 0, 1, 1)),
            *level.exits[2:],
        )
        changed = replace(whole, levels=tuple(replace(lv, exits=drifted) if lv is level else lv for lv in whole.levels))
        after = take_over(changed, files, "places")
        self.assertEqual([(d.kind, d.thing) for d in differences(after, files)], [("leads", one.id)])
        self.assertEqual(after.level(level.id).exits[1], other)
        self.assertEqual(take_over(changed, files, "all", level.id), whole)

    def test_where_file_and_flow_grow_differently_and_no_height_is_known(self):
        flow, files = game(3, up=True)
        tall = {name: FileContents(tuple(t for t in one.things if t.kind != "plan")) for name, one in files.items()}
        made = take_over(flow, tall, "all")
        self.assertEqual({exit_.area for level in made.levels for exit_ in level.exits}, {(0, 0, 0, 0)})
        self.assertEqual(list(differences(made, tall)), [])

    def test_levels_that_do_not_ship_and_what_failed_is_not_compared(self):
        flow, files = game(3)
        kept = tuple(replace(level, ships=False) for level in flow.levels)
        self.assertEqual(list(differences(replace(flow, levels=kept), files)), [])
        whole = take_over(flow, files, "all")
        broken = flow_from_tree(
            {"mossy_bridge": 1, "readers": [reader_tree("xml")], "levels": [{"id": "a", "file": "levels/a.xml"}]}
        ).readers[0]
        failing = {name: contents_of(b"<map><thing kind='gate' x='?'/></map>", (broken,)) for name in files}
        self.assertNotIn("exit", {one.makes for one in differences(whole, failing)})
        damaged = {name: contents_of(b"<map", (broken,)) for name in files}
        self.assertEqual(list(differences(whole, damaged)), [])

    def test_a_level_with_a_pattern(self):
        flow, files = game(3, count=2)
        whole = take_over(flow, files, "all")
        name = next(level.id for level in whole.levels if level.exits)
        model = replace(
            whole.level(name), id="model", file="", exits=(replace(whole.level(name).exits[0], area=(0, 0, 1, 1)),)
        )
        based = flow_from_tree(
            {"mossy_bridge": 1, "levels": [{"id": name, "pattern": "model", "file": whole.level(name).file}]}
        )
        patterned = replace(
            whole, patterns=(model,), levels=(based.levels[0], *(lv for lv in whole.levels if lv.id != name))
        )
        after = take_over(patterned, files, "all")
        self.assertEqual(list(differences(resolved(after), files)), [])
        self.assertEqual(after.level(name).pattern, "model")

    def test_deeds_gain_what_the_file_says(self):
        flow, files = game(11, count=12)
        counts = flow_from_tree({"mossy_bridge": 1, "facts": [{"id": "oil", "kind": "count"}]}).facts
        whole = take_over(replace(flow, facts=counts), files, "all")
        effects = {effect for level in whole.levels for deed in level.deeds for effect in deed.effects}
        self.assertEqual(effects, {"add 1 oil", "gain old_bell"})
        self.assertEqual([fact.name or fact.id for fact in whole.facts], ["oil", "Old bell"])


class Empty(unittest.TestCase):
    def test_a_flow_without_readers(self):
        self.assertEqual(list(differences(Flow(), {})), [])


if __name__ == "__main__":
    unittest.main()
