"""Actors are added and renamed wherever they are named; the player is nobody else."""

import unittest

from mossy_bridge.model.edits.actors import add_actor, rename_actor
from mossy_bridge.model.edits.levels import CannotEdit
from tests.support.build import flow, play_level


class Actors(unittest.TestCase):
    def setUp(self):
        gate = {"id": "gate", "trigger": {"kind": "touch", "by": ["player", "crab"]}}
        self.flow = flow(play_level("a", gate, cast=["crab"]), play_level("b"), actors=["player", "crab"])

    def test_renamed_everywhere_and_nothing_else_touched(self):
        after = rename_actor(self.flow, "crab", "Shore crab")
        self.assertEqual(after.actors, ("player", "shore_crab"))
        self.assertEqual(after.level("a").cast, ("shore_crab",))
        self.assertEqual(after.level("a").exit("gate").trigger.by, ("player", "shore_crab"))
        self.assertIs(after.level("b"), self.flow.level("b"))

    def test_refused(self):
        for edit in (lambda: add_actor(self.flow, "player"), lambda: add_actor(self.flow, "Crab"),
                     lambda: rename_actor(self.flow, "crab", "Player"), lambda: rename_actor(self.flow, "player", "me"),
                     lambda: rename_actor(self.flow, "whale", "me")):  # fmt: skip
            self.assertRaises(CannotEdit, edit)
        self.assertEqual(add_actor(self.flow, "Gull").actors, ("player", "crab", "gull"))


if __name__ == "__main__":
    unittest.main()
