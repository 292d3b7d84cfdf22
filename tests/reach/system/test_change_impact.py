"""What an edit cannot change is not worked out again, and what it can is."""

import random
import unittest

from msgspec.structs import replace

from mossy_bridge.model.flow import Plan
from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.survey.run import survey_flow
from mossy_bridge.reach.system.change_impact import plays_alike
from tests.support.build import deed, flow, play_level, way
from tests.support.random_flows import random_flow


def verdicts(survey):
    """Every answer, and the length of every route."""
    groups = (survey.levels, survey.exits, survey.deeds, survey.paths, survey.tiles, survey.endings)
    found = [{place: (v.answer, len(v.route)) for place, v in group.items()} for group in groups]
    stuck = (survey.stuck.answer, len(survey.stuck.route), survey.loops.answer)
    return found, stuck, survey.missed, survey.crossings, {name: kept.holds for name, kept in survey.promises.items()}


def with_exit(flow_, **fields):
    """The flow with its first level's first exit changed."""
    level = flow_.levels[0]
    changed = replace(level, exits=(replace(level.exits[0], **fields), *level.exits[1:]))
    return replace(flow_, levels=(changed, *flow_.levels[1:]))


def with_level(flow_, **fields):
    """The flow with its first level changed."""
    return replace(flow_, levels=(replace(flow_.levels[0], **fields), *flow_.levels[1:]))


class Essence(unittest.TestCase):
    def setUp(self):
        door = way("door", "b", trigger={"kind": "touch"}, area=[30, 7, 2, 3])
        a = play_level("a", door, deeds=[deed("d", "gain f")], plan={"width": 40, "height": 12})
        self.flow = flow({**a, "spawns": [{"id": "p", "x": 4, "y": 10}]}, play_level("b", way("x", "won", opens="has f")),
                         facts=("f",))  # fmt: skip
        self.survey = survey_flow(self.flow)

    def again(self, changed):
        """Whether the changed flow is surveyed again; either way the answers are those of a fresh survey."""
        survey = survey_flow(changed, before=self.survey)
        self.assertEqual(verdicts(survey), verdicts(survey_flow(changed)))
        self.assertIs(survey.flow.levels[0], changed.levels[0])
        return survey.graph is not self.survey.graph

    def test_names_notes_and_moved_doors_change_nothing(self):
        for changed in (
            with_level(self.flow, name="Rope Walk", notes="low light", minutes=3),
            with_level(self.flow, plan=Plan(width=50, height=12)),
            with_exit(self.flow, name="Sluice door", area=(20, 7, 2, 3), transition="fade"),
            replace(self.flow, title="Tidewick"),
        ):
            self.assertFalse(self.again(changed))

    def test_whatever_a_rule_asks_is_looked_at_again(self):
        level = self.flow.levels[0]
        for changed in (
            with_exit(self.flow, opens="lacks f"),
            with_exit(self.flow, area=(3, 7, 2, 3)),  # now over the spawn point
            with_exit(self.flow, completes=True),
            with_level(self.flow, opens="has f"),
            with_level(self.flow, deeds=()),
            replace(self.flow, levels=self.flow.levels[::-1]),
            replace(self.flow, levels=(*self.flow.levels, replace(level, id="c"))),
            replace(self.flow, facts=(replace(self.flow.facts[0], initial=True),)),
            replace(self.flow, progress="profile"),
        ):
            self.assertTrue(self.again(changed))

    def test_random_flows_with_a_level_of_another(self):
        pick = random.Random(7)
        alike = 0
        for seed in range(60):
            one, other = random_flow(seed), random_flow(seed + 1000)
            place = pick.randrange(min(len(one.levels), len(other.levels)))
            mixed = replace(other.levels[place], id=one.levels[place].id)
            if pick.random() < 0.4:
                mixed = replace(one.levels[place], name="Other", difficulty=3)
            changed = replace(one, levels=(*one.levels[:place], mixed, *one.levels[place + 1 :]))
            before = survey_flow(one)
            self.assertEqual(verdicts(survey_flow(changed, before=before)), verdicts(survey_flow(changed)), seed)
            alike += plays_alike(Rules(changed), Rules(one))
        self.assertGreater(alike, 15)
        self.assertLess(alike, 45)


if __name__ == "__main__":
    unittest.main()
