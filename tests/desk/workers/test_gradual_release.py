"""Large results are freed bit by bit, and what somebody else holds stays whole."""

import unittest
import weakref

from mossy_bridge.desk.workers.gradual_release import let_go, parts_of
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import flow, play_level, way


class Thing:
    """Something that can be watched being freed."""


class LettingGo(unittest.TestCase):
    def test_what_nobody_else_holds_is_freed_and_the_rest_stays(self):
        things = [Thing(), Thing()]
        freed = [weakref.ref(thing) for thing in things]
        kept, parts = {"kept": things[0]}, [[things.pop()]]
        parts.append(kept)
        let_go(parts).join()
        self.assertEqual(parts, [])
        self.assertIsNone(freed[1]())
        self.assertIs(kept["kept"], freed[0]())

    def test_the_parts_of_a_survey_are_its_collections(self):
        survey = survey_flow(flow(play_level("a", way("x", "won"))))
        parts = parts_of(survey)
        for part in (survey.levels, survey.exits, survey.program.transitions):
            self.assertTrue(any(one is part for one in parts))
        let_go(parts).join()
        self.assertEqual(survey.levels["a"].answer, "yes")
        self.assertEqual(parts_of(None), [])


if __name__ == "__main__":
    unittest.main()
