"""What an edit changes, in words."""

import unittest

from msgspec.structs import replace

from mossy_bridge.model.differences import differences
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import Destination, Path, Reader, Rule, Spawn, TrialSetting
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

    def test_what_has_no_id_is_told_by_what_it_is_about(self):
        paths = (Path(start="gate", end="pier"), Path(start="pier", end="sands", both_ways=True))
        walked = edits.set_level(self.flow, "a", paths=paths)
        self.assertEqual(self.told(walked), ["The Slipway: paths none → gate to pier; pier and sands"])
        accepted = edits.accept(self.flow, "twins", "a", "so be it")
        self.assertEqual(self.told(accepted), ["waivers none → a"])
        tried = replace(self.flow, trial_settings=(TrialSetting(at="walker.speed", ships_as=6),))
        self.assertEqual(self.told(tried), ["trial settings none → walker.speed"])
        reader = Reader(id="maps", files="*.xml", form="xml", rules=(Rule(makes="exit", each="//door"),))
        before = replace(self.flow, readers=(Reader(id="maps", files="*.xml", form="xml"),))
        self.assertEqual(list(differences(before, replace(self.flow, readers=(reader,)))), ["maps: rules none → exit"])

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
        self.assertIn("nowhere → the next level of the order, otherwise the level last played", self.told(end)[0])
        self.assertEqual(self.told(replace(self.flow, walker=replace(self.flow.walker, speed=9.0))), ["speed 6 → 9"])


if __name__ == "__main__":
    unittest.main()
