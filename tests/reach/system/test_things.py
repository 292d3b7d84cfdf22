"""What a survey tells of, and that what it does not know is said in its place."""

import unittest

from msgspec.structs import replace

from mossy_bridge.model.edits.levels import add_thing, change_thing, set_exit, set_level
from mossy_bridge.model.flow import Exit
from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.explicit.explore import explore
from mossy_bridge.reach.survey.result import Explored, Survey
from mossy_bridge.reach.survey.run import survey_flow
from mossy_bridge.reach.survey.verdicts import NO, UNKNOWN, Verdict
from mossy_bridge.reach.system.program_graph import ProgramGraph
from mossy_bridge.reach.system.things import things_of
from tests.support.build import board, deed, flow, play_level, screen, way

ZONES, PATHS = [{"id": "low"}, {"id": "high"}], [{"from": "low", "to": "high"}]
LEVELS = (
    screen("title", way("go", "quay")),
    play_level("quay", way("out", "reeds"), way("over", "won"), deeds=[deed("oil", "gain oil"), deed("bell", repeats="always")]),
    play_level("reeds", way("back", "quay", opens="has oil"), zones=ZONES, paths=PATHS),
    board("map", {"id": "one", "level": "quay"}),
)  # fmt: skip
MARSH = flow(*LEVELS, facts=("oil",))


class Things(unittest.TestCase):
    def test_everything_once_in_the_order_of_the_flow(self):
        found = things_of(MARSH)
        self.assertEqual(
            {kind: list(names) for kind, names in found.numbers.items()},
            {
                "level": ["title", "quay", "reeds", "map"],
                "exit": [("title", "go"), ("quay", "out"), ("quay", "over"), ("reeds", "back")],
                "deed": [("quay", "oil"), ("quay", "bell")],
                "tile": [("map", "one")],
                "path": [("reeds", "low", "high")],
                "ending": ["won"],
            },
        )
        self.assertEqual(list(found.missable), ["title", "quay", "reeds", "map", ("quay", "oil")])

    def test_their_numbers_are_kept_only_while_they_are_the_same(self):
        known = things_of(MARSH)
        for same in (set_level(MARSH, "quay", name="Old Quay"), set_exit(MARSH, "reeds", "back", opens="never")):
            self.assertIs(things_of(same, known).numbers, known.numbers)
        for other in (
            add_thing(MARSH, "reeds", "exits", Exit(id="on"))[0],
            change_thing(MARSH, "quay", "deeds", "bell", lambda bell: replace(bell, repeats="run")),
            flow(*LEVELS[:3], facts=("oil",)),
            flow(*LEVELS, facts=("oil",), endings=[{"id": "won"}, {"id": "lost"}]),
        ):
            self.assertIsNot(things_of(other, known).numbers, known.numbers)


class Answers(unittest.TestCase):
    def test_what_is_not_known_is_said_to_be_unknown_in_its_place(self):
        rules, program = Rules(MARSH), ProgramGraph(Rules(MARSH))
        explored = Explored(rules, explore(program, [program.start], lambda: False))
        known = {
            "levels": {"reeds": NO, "title": Verdict("yes", list, ((),))},
            "missed": {("quay", "oil"): "no", "quay": "yes"},
        }
        survey = Survey(flow=MARSH, rules=rules, program=program, explored=explored, **known)
        whole = survey.completed()
        told = [(name, verdict.answer) for name, verdict in whole.levels.items()]
        self.assertEqual(told, [("title", "yes"), ("quay", "unknown"), ("reeds", "no"), ("map", "unknown")])
        self.assertEqual(list(whole.exits.values()), [UNKNOWN] * 4)
        self.assertEqual(
            list(whole.missed.items()),
            [("title", "unknown"), ("quay", "yes"), ("reeds", "unknown"), ("map", "unknown"), (("quay", "oil"), "no")],
        )
        self.assertEqual((survey.decided, whole.decided), (False, False))
        self.assertEqual((whole.levels["title"].trace(), whole.levels["reeds"].trace), ([], tuple))

    def test_a_survey_answers_in_the_order_of_the_flow(self):
        survey = survey_flow(MARSH)
        self.assertTrue(survey.decided)
        for kind, names in survey.things.numbers.items():
            self.assertEqual(list(survey.verdicts(kind)), list(names), kind)
        self.assertEqual(list(survey.missed), list(survey.things.missable))


if __name__ == "__main__":
    unittest.main()
