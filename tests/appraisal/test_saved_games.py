"""Old saved games against the new version: by hand, and by brute force over the rules of play."""

import os
import random
import unittest

from mossy_bridge.appraisal.saved_games import saved_games
from mossy_bridge.exchange.reading import flow_from_tree
from mossy_bridge.model.edits.levels import remove_levels, remove_thing, set_exit
from mossy_bridge.play.destinations import Landing
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import NOTHING_REWINDS, Ended, Origin, RewindPoint, State
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import deed, fact, flow, play_level, screen, way
from tests.support.random_edits import edited, tree
from tests.support.random_flows import four_kinds

FLOWS = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120")) // 4
MOST = 1_500


def games(old, new):
    found = saved_games(survey_flow(old), survey_flow(new))
    return {(one.level, one.respawn): (one.resumes, one.why) for one in found}


def marsh(**more):
    return flow(
        screen("title", way("new", "a", fresh=True)),
        play_level("a", way("on", "b", opens="has key"), way("by", "b"), deeds=[deed("dig", "gain key")]),
        play_level("b", way("light", "won", opens="has key"), spawns=[{"id": "p"}, {"id": "q"}]), facts=[fact("key"), fact("oil:5")], **more,
    )  # fmt: skip


class ByHand(unittest.TestCase):
    def test_the_same_version_resumes_all(self):
        self.assertEqual(games(marsh(), marsh()), {("a", "p"): ("yes", ""), ("b", "p"): ("yes", "")})

    def test_what_is_gone(self):
        self.assertEqual(games(marsh(), remove_levels(marsh(), ["b"]))["b", "p"], ("no", "gone"))
        self.assertEqual(games(marsh(), remove_thing(marsh(), "b", "spawns", "p"))["b", "p"], ("no", "gone"))

    def test_stuck_now_and_not_before(self):
        old = set_exit(marsh(), "b", "light", opens="always")
        self.assertEqual(games(old, marsh())["b", "p"], ("no", "stuck"))
        self.assertEqual(games(marsh(), set_exit(marsh(), "b", "light", opens="never")), {("a", "p"): ("yes", ""), ("b", "p"): ("yes", "")},
                         "no ending is reached at all: then nobody is asked")  # fmt: skip

    def test_stuck_before_too_is_no_news(self):
        self.assertEqual(games(marsh(), set_exit(marsh(), "a", "on", name="Other"))["b", "p"], ("yes", ""))

    def test_where_nothing_is_saved_there_is_nothing(self):
        self.assertEqual(games(marsh(saving="never"), marsh()), {})


class Carried:
    """A saved game carried over by hand: the test's own reading of what is kept."""

    def __init__(self, old, new):
        self.old, self.new = Rules(old, resuming=True), Rules(new)
        self.before = {one.id: (at, one) for at, one in enumerate(self.old.flow.facts)}

    def value(self, one, had):
        _, before = self.before.get(one.id, (None, None))
        if before is None or before.kind != one.kind or before.lifetime != one.lifetime or one.id not in had:
            return one.first
        value = had[one.id]
        if one.kind == "choice":
            return value if value in one.values else one.first
        return min(max(value, one.low), one.high) if one.kind == "count" else value

    def state(self, saved):
        """The state it is resumed in; why not, as a text."""
        level = self.new.flow.level(saved.level)
        if level is None or (saved.respawn and saved.respawn not in [one.id for one in level.spawns]):
            return "gone"
        if not level.ships:
            return "does not ship"
        had = {one.id: saved.facts[at] for at, one in self.before.values()}
        facts = tuple(self.value(one, had) for one in self.new.flow.facts)
        known = frozenset(one.id for one in self.new.flow.levels)
        spent = frozenset(one for one in saved.spent if self.has_deed(one))
        state = State("", "", facts, saved.seen & known, saved.done & known, spent, "", self.origin(saved.origin), True)
        return self.new.arrive(state, Landing(saved.level, saved.respawn))._replace(saved=None)

    def has_deed(self, place):
        level = self.new.flow.level(place[0])
        return level is not None and level.deed(place[1]) is not None

    def origin(self, origin):
        level = self.new.flow.level(origin.level) if origin else None
        if level is None or (origin.respawn and origin.respawn not in [one.id for one in level.spawns]):
            return None
        rewinding = [one.id for one in self.old.flow.facts if one.rewinds]
        had = dict(zip(rewinding, origin.rewind_point.facts, strict=True))
        facts = tuple(self.value(one, had) for one in self.new.flow.facts if one.rewinds)
        spent = frozenset(
            one for one in origin.rewind_point.spent if self.has_deed(one) and one in self.new.rewinding.redone
        )
        return Origin(origin.level, origin.respawn, RewindPoint(facts, spent) if facts else NOTHING_REWINDS)


def ends(rules, state):
    """Whether an ending can be reached without a new run; None where that takes too long to find out."""
    if rules.levels[state.place].source.kind != "play":
        return True
    seen, waiting = {state}, [state]
    while waiting:
        here = waiting.pop()
        for move, after in rules.moves(here):
            if isinstance(after, Ended):
                return True
            fresh = move.kind == "exit" and rules.exit(move).source.fresh
            after = after._replace(saved=None)
            if not fresh and after not in seen:
                seen.add(after)
                waiting.append(after)
        if len(seen) > MOST:
            return None
    return False


def all_saved(rules):
    """Every game that can be saved; None where there are too many states."""
    begun = rules.begin()
    found = {begun.saved} if begun else set()
    seen = {begun._replace(saved=None)} if begun else set()
    waiting = list(seen)
    while waiting:
        for _, after in rules.moves(waiting.pop()):
            if isinstance(after, State):
                found.add(after.saved)
                bare = after._replace(saved=None)
                if bare not in seen:
                    seen.add(bare)
                    waiting.append(bare)
        if len(seen) > MOST:
            return None
    return found - {None}


class BruteForce(unittest.TestCase):
    def test_every_game_that_can_be_saved(self):
        answers = {}
        for seed, old in enumerate(four_kinds(FLOWS)):
            pick = random.Random(seed)
            new = flow_from_tree(edited(tree(old), pick, pick.randint(1, 6)))
            carried = Carried(old, new)
            saved = all_saved(carried.old)
            if saved is None or old.saving == "never":
                continue
            surveys = survey_flow(old), survey_flow(new)
            found = {(one.level, one.respawn): one for one in saved_games(*surveys)}
            self.assertEqual(set(found), {(one.level, one.respawn) for one in saved}, seed)
            for place, one in found.items():
                wanted = {
                    self.judged(carried, game, surveys[1].some_ending)
                    for game in saved
                    if (game.level, game.respawn) == place
                }
                if None in wanted:
                    continue
                worst = {why for why in wanted if why}
                self.assertEqual(
                    (one.resumes, one.why in worst if worst else one.why),
                    ("no", True) if worst else ("yes", ""),
                    (seed, place, wanted),
                )
                answers[one.why] = answers.get(one.why, 0) + 1
        self.assertGreater(answers[""], FLOWS)
        self.assertGreater(answers.get("gone", 0) + answers.get("does not ship", 0), FLOWS // 10)

    def judged(self, carried, game, asked):
        """Why a game cannot be resumed, "" where it can; None where that takes too long to find out."""
        state = carried.state(game)
        if isinstance(state, str):
            return state
        before = carried.old.arrive(State("", "", game.facts, game.seen, game.done, game.spent, "", game.origin, True),
                                    Landing(game.level, game.respawn))._replace(saved=None)  # fmt: skip
        now = ends(carried.new, state)
        if not asked or now:
            return ""
        was = ends(carried.old, before)
        return None if now is None or was is None else "stuck" if was else ""


if __name__ == "__main__":
    unittest.main()
