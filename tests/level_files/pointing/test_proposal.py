"""Rules made by pointing: what tells things apart, what is taken of them, and that they find what is truly there."""

import json
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from mossy_bridge.exchange.readers.rules import contents_of
from mossy_bridge.exchange.readers.samples import form_of, sample_of
from mossy_bridge.level_files.pointing.proposal import CannotPropose, proposals, proposed_unit, with_rule
from mossy_bridge.model.flow import Reader, Rule
from tests.support.game_files import FORMS, KINDS, random_levels, reader, written

LEVELS = ("slipway", "bell_sands", "net_loft")


def sample(text, name="slipway"):
    data = text.encode()
    return sample_of(name, form_of(data), data)


def numbers(one, wanted):
    """The nodes that say some text: of elements and objects, of any of their fields, of lines in the line."""
    if one.form == "text":
        return [number for number, node in enumerate(one.nodes) if wanted in node.text]
    nodes = range(len(one.nodes))
    return [number for number in nodes if one.nodes[number].kind != "text" and wanted in own_texts(one, number)]


def own_texts(one, number):
    node = one.nodes[number]
    inside = [one.nodes[child].text for child in one.children[number]] if node.kind == "object" else []
    return [node.name, *node.attributes.values(), *inside]


def proposed(makes, samples, *wanted, others=()):
    """What pointing at the first node that says each text proposes."""
    samples = [samples] if not isinstance(samples, list) else samples
    pointed = [(0, numbers(samples[0], text)[0]) for text in wanted]
    known = [(0, number) for text in others for number in numbers(samples[0], text)]
    return proposals(makes, samples, pointed, known, LEVELS, ("west", "east"))


def each(makes, samples, *wanted, others=()):
    return proposed(makes, samples, *wanted, others=others)[0].rule.each


class TellingApart(unittest.TestCase):
    """By hand: which expression is proposed first."""

    def test_elements(self):
        plain = '<map><door n="a" x="1"/><door n="b" x="2"/><post n="c"/></map>'
        kinds = '<map><thing kind="gate" id="a" to="z"/><thing kind="start" id="b"/><thing kind="gate" id="c"/></map>'
        layers = '<map><layer name="rock"><box x="1"/></layer><layer name="water"><box x="2"/></layer></map>'
        parents = '<map><doors><item n="a"/></doors><keys><item n="b"/></keys></map>'
        sides = (
            '<map><post name="west" side="left"/><post name="east" side="right"/><post name="mid" side="left"/></map>'
        )
        ways = '<map><door name="up" by="touch"/><door name="in" by="press"/><door name="out" by="press"/></map>'
        for label, file, wanted, expected in (
            ("by their name", plain, ("a",), "//door"),
            ("the root", plain, ("map",), "/map"),
            ("by a field that says the sort", kinds, ("a",), "//thing[@kind='gate']"),
            ("of two sorts", kinds, ("a", "b"), "//thing[@kind='gate' or @kind='start']"),
            ("by the layer that holds them", layers, ("1",), "//layer[@name='rock']/box"),
            ("over layers", layers, ("1", "2"), "//box"),
            ("by the name of what holds them", parents, ("a",), "//doors/item"),
            ("never by their side", sides, ("west",), "//post"),
            ("nor by what sets them off", ways, ("up",), "//door"),
            ("of two names", plain, ("a", "c"), "//door | //post"),
        ):
            with self.subTest(label):
                self.assertEqual(each("exit", sample(file), *wanted), expected)

    def test_several_of_one_name_in_what_holds_a_thing(self):
        one = sample("<map><map><layer>a</layer></map><map><layer>b</layer><layer>a</layer></map></map>")
        for node, siblings in ((2, [(0, 2)]), (4, [(0, 4), (0, 5)])):
            found = proposals("exit", [one], [(0, node)])
            self.assertTrue(found and all((0, node) in proposal.finds for proposal in found))
            self.assertTrue(any(proposal.finds >= set(siblings) for proposal in found))

    def test_a_namespace(self):
        file = '<map xmlns="urn:marsh" xmlns:q="urn:q"><thing n="a"/><q:door n="b"/></map>'
        self.assertEqual(each("exit", sample(file), "a"), "//d:thing")
        self.assertEqual(each("exit", sample(file), "b"), "//q:door")

    def test_values(self):
        kinds = json.dumps({"things": [{"is": "door", "n": "a", "to": "slipway"}, {"is": "arrival", "n": "b"},
                                       {"is": "door", "n": "c", "to": "x"}]})  # fmt: skip
        layers = json.dumps({"layers": [{"name": "rock", "boxes": [{"x": 1, "n": "a"}]},
                                        {"name": "water", "boxes": [{"x": 2, "n": "b"}]}]})  # fmt: skip
        odd = json.dumps({"the map": {"doors": [{"n": "it's"}, {"n": "b"}]}})
        for label, file, wanted, expected in (
            ("by a member that says the sort", kinds, ("a",), "$.things[?@.is == 'door']"),
            ("of all sorts", kinds, ("a", "b"), "$.things[?@.is == 'door' || @.is == 'arrival']"),
            ("by the layer that holds them", layers, ("a",), "$.layers[?@.name == 'rock'].boxes[*]"),
            ("over layers", layers, ("a", "b"), "$.layers[*].boxes[*]"),
            ("keys that are no words", odd, ("b",), "$['the map'].doors[*]"),
        ):
            with self.subTest(label):
                self.assertEqual(each("exit", sample(file), *wanted), expected)

    def test_what_is_known_to_be_something_else_tells_apart(self):
        file = '<map><t mark="p" x="1"/><t mark="p" x="2"/><t mark="q" x="3"/><t mark="q" x="4"/></map>'
        self.assertEqual(each("exit", sample(file), "1"), "//t")
        self.assertEqual(each("exit", sample(file), "1", others=("3",)), "//t[@mark='p']")

    def test_a_layer_is_told_from_a_room_by_other_files(self):
        one = '<map><part name="rock"><box x="1"/></part><part name="hall {}"><box x="2"/></part></map>'
        files = [sample(one.format(number), f"level_{number}") for number in range(4)]
        self.assertEqual(each("solid", files, "1"), "//part[@name='rock']/box")
        self.assertEqual(each("solid", files, "2"), "//box")

    def test_lines(self):
        file = "size 64 18\ngate [east gate] 3 4 2 2 > slipway west\ngate [b] 5 4 2 2 > bell_sands\nname = 'A b'\n"
        rule = proposed("exit", sample(file), "east gate")[0].rule
        self.assertEqual(
            rule.each,
            r"^gate \[(?P<name>[^\]]*)\] (?P<x>[-+.\d]+) (?P<y>[-+.\d]+) (?P<width>[-+.\d]+) (?P<height>[-+.\d]+)"
            r" > (?P<name_2>\S+)(?: (?P<name_3>\S+))?$",
        )
        self.assertEqual((rule.take["id"], rule.take["level"]), ("name", "name_2"))
        self.assertEqual(each("plan", sample(file), "size"), r"^size (?P<width>[-+.\d]+) (?P<height>[-+.\d]+)$")

    def test_lines_of_two_beginnings_at_once(self):
        file = "touch a at 1 2 3 4 to slipway\npress b at 1 2 3 4 to net_loft\nstand c at 1 2\n"
        both = proposed("exit", sample(file), "touch", "press")[0].rule
        self.assertTrue(both.each.startswith("^(?P<trigger>touch|press) (?P<name>"))
        self.assertEqual(both.take["trigger"], "trigger")
        self.assertEqual(proposed("exit", sample(file), "press")[0].rule.take["trigger"], "=press")

    def test_what_has_nothing_in_common(self):
        for file, wanted in (
            ('{"a": {"n": "x"}, "b": [{"n": "y"}]}', ("x", "y")),
            ("gate 3\n\nrock=4", ("gate", "rock")),
        ):
            with self.subTest(file), self.assertRaisesRegex(CannotPropose, "point at"):
                proposed("exit", sample(file), *wanted)


class Taking(unittest.TestCase):
    """By hand: which field is taken for what."""

    def test_fields_by_name_and_by_value(self):
        for label, makes, file, wanted, expected in (
            ("by name", "exit", '<m><d id="a" left="1" top="2" w="3" h="4" dest="slipway" at="west"/></m>', "a",
             {"id": "@id", "x": "@left", "y": "@top", "width": "@w", "height": "@h", "level": "@dest", "spawn": "@at"}),
            ("a name before a number", "spawn", '<m><p id="7" name="mole" x="1" y="2"/><p id="8" name="pier" x="1" y="2"/></m>',
             "7", {"id": "@name", "x": "@x", "y": "@y"}),
            ("by levels that it names", "exit", '<m><d n="a" q="slipway"/><d n="b" q="net_loft"/></m>', "a", {"level": "@q"}),
            ("no numbers by chance", "exit", '<m><d n="a" q="1"/></m>', "a", {}),
            ("properties", "exit", '<m><d id="a"><p k="to" v="slipway"/><p k="at" v="west"/></d></m>', "a",
             {"id": "@id", "level": "p[@k='to']/@v", "spawn": "p[@k='at']/@v"}),
            ("elements below", "deed", "<m><t><name>oil</name><pos x='1' y='2'/></t></m>", "t",
             {"id": "name", "x": "pos/@x", "y": "pos/@y"}),
            ("a list of four", "solid", '{"walls": [{"n": "a", "box": [0, 1, 2, 3]}]}', "a",
             {"x": "$.box[0]", "y": "$.box[1]", "width": "$.box[2]", "height": "$.box[3]"}),
            ("two lists", "exit", '{"d": [{"name": "a", "pos": [1, 2], "size": [3, 4], "leads": {"to": "slipway"}}]}', "a",
             {"id": "$.name", "x": "$.pos[0]", "y": "$.pos[1]", "width": "$.size[0]", "height": "$.size[1]",
              "level": "$.leads.to"}),
            ("objects by a key", "exit", '{"d": [{"name": "a", "p": [{"k": "to", "v": "slipway"}, {"k": "z", "v": "q"}]}]}', "a",
             {"id": "$.name", "level": "$.p[?@.k == 'to'].v"}),
            ("faces and triggers", "spawn", '<m><p id="a" q="left"/><p id="b" q="right"/></m>', "a",
             {"id": "@id", "faces": "@q"}),
            ("the plan", "plan", '<m wide="3" high="4" picture="a.png"/>', "m",
             {"width": "@wide", "height": "@high", "picture": "@picture"}),
        ):  # fmt: skip
            with self.subTest(label):
                take = proposed(makes, sample(file), wanted)[0].rule.take
                if makes == "deed":
                    take = {key: take[key] for key in expected}
                self.assertEqual(dict(take), expected)

    def test_the_unit_of_the_file(self):
        row = '<r x="{}" y="{}" width="{}" height="32"/>'
        on_grid = "".join(row.format(16 * n, 240, 48) for n in range(8))
        for label, rows, unit in (("on a grid", on_grid, 16), ("one beside it", on_grid + row.format(7, 0, 16), 1),
                                  ("tiles", "".join(row.format(n, 8, 3) for n in range(8)), 1)):  # fmt: skip
            with self.subTest(label):
                self.assertEqual(
                    proposed_unit(proposed("solid", sample(f"<m>{rows}</m>"), "48" if "48" in rows else "3")[0]), unit
                )

    def test_one_rule_for_the_plan(self):
        first, second = Rule(makes="plan", each="/a"), Rule(makes="plan", each="/b")
        other = Rule(makes="exit", each="//d")
        self.assertEqual(with_rule((first, other), second), (second, other))
        self.assertEqual(with_rule((first, other), other), (first, other, other))


class RandomGames(unittest.TestCase):
    """Pointing at one thing of each kind in a made-up game finds, in every file, what is truly there."""

    def pointed_rules(self, form, files, levels):
        samples = [sample_of(name, form, data) for name, data in files.items()]
        rules = ()
        for kind, word in (("plan", None), *KINDS.items()):
            for at, one in enumerate(samples):
                found = self.nodes_of(form, one, word)
                if found:
                    ordered = [one, *(other for other in samples if other is not one)]
                    rule = proposals(kind, ordered, [(0, found[0])], (), set(levels), ())[0].rule
                    rules = with_rule(rules, rule)
                    break
                self.assertLess(at, len(samples))
        return rules

    @staticmethod
    def nodes_of(form, one, word):
        if word is None:
            return [0]
        if form == "xml":
            return [n for n, node in enumerate(one.nodes) if node.attributes.get("kind") == word]
        if form == "json":
            return [n for n in range(len(one.nodes)) if one.fields[n].get("$.kind") == word]
        return [n for n, node in enumerate(one.nodes) if node.text.startswith(f"{word} ")]

    def check(self, form, seed, anchor):
        levels = random_levels(seed, 8)
        files = {name: written(form, level, anchor=anchor) for name, level in levels.items()}
        rules = self.pointed_rules(form, files, levels)
        by_hand = reader(form, anchor=anchor)
        with_anchor = [Rule(makes=rule.makes, each=rule.each, anchor=anchor, take=rule.take) for rule in rules]
        by_pointing = Reader(id="maps", files="levels/*", form=form, rules=tuple(with_anchor))
        for name, data in files.items():
            wanted, found = contents_of(data, [by_hand]), contents_of(data, [by_pointing])
            self.assertEqual(found.faults, ())
            self.assertEqual(sorted(map(self.seen, found.things)), sorted(map(self.seen, wanted.things)), name)

    @staticmethod
    def seen(thing):
        place = thing.size or thing.rect or thing.point
        return thing.kind, thing.id if thing.kind != "solid" else "", thing.texts.get("level", "-"), place

    @settings(max_examples=25, deadline=None)
    @given(st.integers(0, 10_000), st.sampled_from(["corner", "centre", "foot"]))
    def test_elements(self, seed, anchor):
        self.check("xml", seed, anchor)

    @settings(max_examples=25, deadline=None)
    @given(st.integers(0, 10_000), st.sampled_from(["corner", "centre", "foot"]))
    def test_values(self, seed, anchor):
        self.check("json", seed, anchor)

    @settings(max_examples=25, deadline=None)
    @given(st.integers(0, 10_000), st.sampled_from(["corner", "centre", "foot"]))
    def test_lines(self, seed, anchor):
        self.check("text", seed, anchor)

    def test_all_forms_are_tried(self):
        self.assertEqual(set(FORMS), {"xml", "json", "text"})


if __name__ == "__main__":
    unittest.main()
