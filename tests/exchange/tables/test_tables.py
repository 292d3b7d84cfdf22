"""Tables in and out: what is not understood is named, and what is written is read to the same flow."""

import unittest
from importlib.resources import files

import networkx
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from mossy_bridge.exchange.reading import flow_from_bytes
from mossy_bridge.exchange.tables.cells import CannotImport, table_of, table_text
from mossy_bridge.exchange.tables.exporting import HEADINGS, lacking, tables_of
from mossy_bridge.exchange.tables.graphs import dot, graphml, tables_of_graphml
from mossy_bridge.exchange.tables.importing import imported
from mossy_bridge.model.flow import Ending, Flow, Plan, Region, Start, Transition, Trigger
from mossy_bridge.model.patterns import resolved
from tests.support.build import deed, flow, play_level, screen, way
from tests.support.random_flows import random_flow, tangled_flow

DEMOS = [flow_from_bytes(files("mossy_bridge.demo").joinpath(f"{name}.mossy").read_bytes())
         for name in ("tidewick", "tidewick_unfinished")]  # fmt: skip


def crossings(text, levels=None):
    tables = {"exits": table_of("crossings.csv", text)}
    if levels:
        tables["levels"] = table_of("levels.csv", levels)
    return imported("Marsh", tables)


def through_tables(whole, separator=","):
    """A flow written as tables, and read again."""
    texts = {name: table_text(HEADINGS[name], rows, separator) for name, rows in tables_of(whole).items()}
    return imported(whole.title, {name: table_of(name, text) for name, text in texts.items()}).flow


def tabled(whole):
    """A flow without all that tables lack."""
    exits = [exit_ for level in whole.levels for exit_ in level.exits]
    endings = dict.fromkeys(e.to.ending for e in exits if e.to and e.to.kind == "end")
    used = dict.fromkeys(e.transition for e in exits if e.transition)
    regions = dict.fromkeys(level.region for level in whole.levels if level.region)
    levels = tuple(
        replace(
            level, pattern="", copied_from="", ticked=(), unreviewed=(), zones=(), paths=(), cast=(), tiles=(),
            first_tile="", cursor="free", set_here=frozenset(),
            plan=Plan(width=level.plan.width, height=level.plan.height) if level.plan and level.plan.width else None,
            exits=tuple(
                replace(
                    e, to=replace(e.to, otherwise=None) if e.to else None,
                    trigger=Trigger(kind=e.trigger.kind, when=e.trigger.when, seconds=e.trigger.seconds),
                )
                for e in level.exits
            ),
        )
        for level in whole.levels
    )  # fmt: skip
    return Flow(
        title=whole.title, start=Start(level=levels[0].id) if levels else Start(), facts=whole.facts, levels=levels,
        endings=tuple(Ending(id=name) for name in endings), regions=tuple(Region(id=name) for name in regions),
        transitions=tuple(Transition(id=name) for name in used),
    )  # fmt: skip


class RoundTrip(unittest.TestCase):
    @given(st.sampled_from((random_flow, tangled_flow)), st.integers(0, 10**6), st.sampled_from(",\t;"))
    def test_random_flows(self, make, seed, separator):
        whole = resolved(make(seed))
        self.assertEqual(through_tables(whole, separator), tabled(whole))

    def test_the_demos(self):
        for demo in DEMOS:
            with self.subTest(demo.title):
                whole = resolved(demo)
                self.assertEqual(through_tables(whole), tabled(whole))

    def test_texts_that_tables_make_trouble_with(self):
        for text in ("=1+1", "+x", "-", "@a", "'", "'=x", "a,b;c\td", 'say "ring"', "two\nlines", "−3", "Ⅳ ü"):
            with self.subTest(text):
                level = {"id": "a", "notes": text, "exits": [], "spawns": [{"id": "p"}]}
                whole = resolved(flow(level, play_level("b", name=text.replace("\n", " ").replace("\t", " ").strip())))
                again = through_tables(whole)
                self.assertEqual(again.levels[0].notes, text)
                self.assertEqual(again.levels[1].name, whole.levels[1].name)
                written = table_text(HEADINGS["levels"], tables_of(whole)["levels"])
                self.assertNotIn(",=1", written)

    def test_what_tables_lack_is_named(self):
        plain = flow(play_level("a", way("on", "won")), endings=[{"id": "won"}])
        self.assertEqual(list(lacking(plain)), [])
        told = "; ".join(lacking(DEMOS[0]))
        for words in ("solids", "tiles of boards", "zones and paths", "steps of transitions", "readers"):
            self.assertIn(words, told)
        bare = tabled(resolved(DEMOS[0]))
        self.assertEqual(list(lacking(bare)), [])


class Crossings(unittest.TestCase):
    def test_a_table_of_crossings_alone(self):
        made = crossings(
            "\ufeffFrom;To;Exit;When;Effects;Spawn\nThe Slipway;Bell Sands;East gate;has key;;West end\n"
            "Bell Sands;end:lit;;at least 2 oil;add 12 oil, gain bell;\n;;;;;\nBell Sands;next;;tide is ebb;;\n"
        )
        slipway, sands = made.flow.levels
        self.assertEqual((slipway.id, slipway.name, slipway.exits[0].id), ("the_slipway", "The Slipway", "east_gate"))
        self.assertEqual((slipway.exits[0].to.level, slipway.exits[0].to.spawn), ("bell_sands", "west_end"))
        self.assertEqual([spawn.name for spawn in sands.spawns], ["West end"])
        self.assertEqual([exit_.to.kind for exit_ in sands.exits], ["end", "next"])
        self.assertEqual(sands.exits[0].effects, ("add 12 oil", "gain bell"))
        self.assertEqual([(f.id, f.kind, f.high, f.values) for f in made.flow.facts],
                         [("key", "flag", 9, ()), ("oil", "count", 12, ()), ("tide", "choice", 9, ("ebb",)),
                          ("bell", "flag", 9, ())])  # fmt: skip
        self.assertIn("the fact tide is only named: it is made a choice", made.told)
        self.assertIn("1 levels have no spawn point: each gets a Start point", made.told)
        self.assertEqual(made.flow.start.level, "the_slipway")

    def test_levels_of_a_second_table_are_named_by_id_code_or_name(self):
        levels = (
            "id,code,name,kind,region,minutes\na,1-1,The Slipway,play,The Shore,3\nb,1-2,Bell Sands,,The Shore,2.5\n"
        )
        made = crossings("from,to\n1-1,Bell Sands\nb,a\nThe Slipway,c\n", levels)
        a, b = made.flow.levels
        self.assertEqual([(e.to.level) for e in (*a.exits, *b.exits)], ["b", "c", "a"])
        self.assertEqual((a.region, made.flow.regions[0].name, b.minutes), ("the_shore", "The Shore", 2.5))
        self.assertIn("The Slipway leads to “c”, which no level is called", made.told)

    def test_everything_that_is_not_understood_is_named_at_once(self):
        levels = "id,kind,minutes,colour\na,plya,three,red\nA b,,,\na,,,\n"
        with self.assertRaises(CannotImport) as caught:
            crossings("from,too,to,when,completes,trigger\na,,B b,has,perhaps,tuoch\n,,a,,,\n", levels)
        told = "\n".join(caught.exception.problems)
        for words in (
            "levels.csv, row 1: there is no column “colour”",
            "levels.csv, row 2, column kind: “plya” is not one of play, screen, board",
            "levels.csv, row 2, column minutes: “three” is no number",
            "levels.csv, row 3, column id: “A b” is not an id",
            "levels.csv, row 4, column id: the id “a” stands twice",
            "crossings.csv, row 1: there is no column “too”; did you mean “to”?",
            "crossings.csv, row 2, column to: no level is called “B b”",
            "crossings.csv, row 2, column when: in “has”: something is missing at the end",
            "crossings.csv, row 2, column completes: “perhaps” is neither yes nor no",
            "crossings.csv, row 2, column trigger: “tuoch” is not one of",
            "crossings.csv, row 3, column from: is empty",
        ):
            self.assertIn(words, told)

    def test_what_is_no_table(self):
        for text, says in (("", "row 1: has no headings"), ("a\0b", "is no table"), ("from,to\na,b,c\n", "more cells"),
                           ("from,from\n", "stands twice"), ('from,to\n"a', "is no table"),
                           ("one,two\na,b", "the column “from” is missing")):  # fmt: skip
            with self.subTest(text), self.assertRaises(CannotImport) as caught:
                crossings(text)
            self.assertIn(says, str(caught.exception))


class Graphs(unittest.TestCase):
    def whole(self):
        return flow(
            screen("title", way("begin", "a"), way("wait")),
            play_level("a", way("on", {"kind": "next"}, opens="has key"), way("out", "won"), name='The "old" <gate>',
                       deeds=[deed("d", "gain key")]),
            play_level("b", way("back", "a", "p")), facts=["key"],
        )  # fmt: skip

    def test_graphml_is_read_to_the_same_exits(self):
        for demo in (self.whole(), *DEMOS):
            whole = resolved(demo)
            again = imported(whole.title, tables_of_graphml("t.graphml", graphml(whole).encode())).flow
            wanted = tabled(whole)
            self.assertEqual([level.exits for level in again.levels], [level.exits for level in wanted.levels])
            self.assertEqual([(lv.id, lv.name, lv.kind, lv.code) for lv in again.levels],
                             [(lv.id, lv.name, lv.kind, lv.code) for lv in wanted.levels])  # fmt: skip

    def test_other_readers_of_graphml_understand_it(self):
        graph = networkx.parse_graphml(graphml(self.whole()), force_multigraph=True)
        self.assertEqual(graph.nodes["a"]["name"], 'The "old" <gate>')
        self.assertEqual(
            sorted((one, other, data["exit"]) for one, other, data in graph.edges(data=True)),
            [("a", "end:won", "out"), ("a", "next", "on"), ("b", "a", "back"), ("title", "a", "begin"),
             ("title", "nowhere", "wait")],
        )  # fmt: skip

    def test_graphs_that_others_have_written_and_damaged_ones(self):
        made = networkx.MultiDiGraph()
        made.add_node("Hall", kind="play")
        made.add_edge("Hall", "Attic", trigger="press")
        text = "\n".join(networkx.generate_graphml(made))
        with self.assertRaises(CannotImport) as caught:  # its nodes have no ids that ours could have
            imported("t", tables_of_graphml("t.graphml", text.encode()))
        self.assertIn("t.graphml, nodes, row 2, column id: “Hall” is not an id", str(caught.exception))
        for data, says in ((b"<graphml>", "no well-formed XML"), (b"<a/>", "holds no graph"),
                           (b"<g><graph><node id='a'><graph/></node></graph></g>", "more than one graph")):  # fmt: skip
            with self.assertRaises(CannotImport) as caught:
                tables_of_graphml("t.graphml", data)
            self.assertIn(says, str(caught.exception))

    def test_dot_quotes_whatever_is_in_names(self):
        text = dot(self.whole())
        self.assertIn('"at a" [label="The \\"old\\" <gate>", shape=box];', text)
        self.assertIn('"at a" -> "at next" [label="on\\nhas key"];', text)
        self.assertEqual(text.count("->"), 5)


if __name__ == "__main__":
    unittest.main()
