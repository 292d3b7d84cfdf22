"""What an edit changes, in words."""

import unittest

from msgspec.structs import replace

from mossy_bridge.model.differences import differences
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import Destination, Spawn
from tests.support.build import flow, play_level, way


class Differences(unittest.TestCase):
    def setUp(self):
        self.flow = flow(
            play_level("a", {**way("gate", None), "name": "East gate"}, name="The Slipway"),
            play_level("b", name="Bell Sands"),
        )

    def told(self, after):
        return list(differences(self.flow, after))

    def test_nothing(self):
        self.assertEqual(self.told(self.flow), [])
        self.assertEqual(self.told(replace(self.flow, title=self.flow.title)), [])

    def test_fields_things_and_destinations(self):
        led = edits.set_exit(self.flow, "a", "gate", to=Destination(level="b", spawn="p"), area=(1.0, 2.0, 3.0, 4.5))
        self.assertEqual(self.told(led), ["The Slipway, East gate: area 0; 0; 0; 0 → 1; 2; 3; 4.5",
                                          "The Slipway, East gate: destination nowhere → Bell Sands at p"])  # fmt: skip
        more, _ = edits.add_thing(self.flow, "b", "spawns", Spawn(id="west", name="West end"))
        self.assertEqual(self.told(more), ["Bell Sands: new spawn point West end"])
        self.assertEqual(self.told(edits.remove_levels(self.flow, ["b"])), ["level Bell Sands goes"])
        turned = replace(self.flow, levels=self.flow.levels[::-1])
        self.assertEqual(self.told(turned), ["the levels stand in another order"])
        end = edits.set_exit(self.flow, "a", "gate", to=Destination(kind="next", otherwise=Destination(kind="back")))
        self.assertIn("nowhere → the next level, otherwise the level last played", self.told(end)[0])
        self.assertEqual(self.told(replace(self.flow, walker=replace(self.flow.walker, speed=9.0))), ["speed 6 → 9"])


if __name__ == "__main__":
    unittest.main()
