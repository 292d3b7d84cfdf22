"""Where the parts of a flow stand in its file, however that is laid out."""

import json
import random
import unittest

from mossy_bridge.exchange.positions import GROUPS, Position, Positions
from mossy_bridge.exchange.writing import flow_text, tree_of
from tests.support.random_flows import four_kinds


def laid_out(value, pick):
    """JSON as somebody may write it: spaces and line breaks anywhere between."""

    def space():
        return pick.choice(["", "", " ", "\n", "\r\n  ", "\t"])

    if isinstance(value, dict):
        inside = ",".join(
            f"{space()}{json.dumps(k)}{space()}:{space()}{laid_out(v, pick)}{space()}" for k, v in value.items()
        )
        return f"{{{inside}{space()}}}"
    if isinstance(value, list):
        return f"[{','.join(f'{space()}{laid_out(one, pick)}{space()}' for one in value)}{space()}]"
    return json.dumps(value, ensure_ascii=pick.random() < 0.5)


def value_at(text, position):
    """What begins there."""
    lines = text.split("\n")
    start = sum(len(line) + 1 for line in lines[: position.line - 1]) + position.column - 1
    return json.JSONDecoder().raw_decode(text, start)[0]


class Places(unittest.TestCase):
    def test_every_thing_of_random_flows_in_any_layout(self):
        found = 0
        for seed, flow in enumerate(four_kinds(12)):
            tree = tree_of(flow)
            for text in (flow_text(flow), laid_out(tree, random.Random(seed))):
                positions = Positions(text)
                for level in tree.get("levels", ()):
                    self.assertEqual(value_at(text, positions.of(level["id"])), level)
                    self.assertEqual(value_at(text, positions.of(f"levels.{level['id']}")), level)
                    taken = set()
                    for group in GROUPS:
                        for thing in level.get(group, ()):
                            if thing["id"] not in taken:
                                self.assertEqual(value_at(text, positions.of(f"{level['id']}.{thing['id']}")), thing)
                                found += 1
                            taken.add(thing["id"])
                for group in ("facts", "endings"):
                    for thing in tree.get(group, ()):
                        self.assertEqual(value_at(text, positions.of(f"{group}.{thing['id']}")), thing)
        self.assertGreater(found, 300)

    def test_paths_fields_and_what_is_not_there(self):
        text = """{"mossy_bridge": 1,
 "levels": [{"id": "a", "name": "Ünterwald",
   "paths": [{"from": "low", "to": "high"}], "exits": [{"id": "x", "to": {"level": "b"}}]}]}"""
        for place, wanted in (("", (1, 1)), ("nothing", (1, 1)), ("a", (2, 13)), ("a.low.high", (3, 14)), ("a.x", (3, 56)),
                              ("levels.a.name", (2, 33)), ("levels.a.exits.x.to.level", (3, 84)), ("levels.a.exits.x.opens", (3, 56)),
                              ("levels.0.paths.0", (3, 14))):  # fmt: skip
            self.assertEqual(Positions(text).of(place), Position(*wanted), place)


if __name__ == "__main__":
    unittest.main()
