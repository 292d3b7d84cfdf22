"""The compiled flow against the rules of play."""

import os
import unittest
from collections import deque

import numpy as np

from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended
from mossy_bridge.reach.explicit.breadth_first import breadth_first
from mossy_bridge.reach.system.program_graph import ProgramGraph
from mossy_bridge.reach.system.transitions import ENDING
from tests.support.random_flows import four_kinds

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120")) // 7


def never():
    return False


class AgainstRules(unittest.TestCase):
    def test_a_compiled_flow_makes_the_moves_of_the_rules(self):
        compared = 0
        for flow_ in four_kinds(EXAMPLES // 2):
            rules, program = Rules(flow_), ProgramGraph(Rules(flow_))
            start = rules.begin()
            known = {start}
            waiting = deque(known - {None})
            while waiting and len(known) < 150:
                state = waiting.popleft()
                moves = set()
                for move, after in rules.moves(state):
                    ended = isinstance(after, Ended)
                    moves.add((move, (ENDING, after.ending) if ended else program.packed(after)))
                    if not ended and after not in known:
                        known.add(after)
                        waiting.append(after)
                found = set()
                for transition, location, vector in program.moves(*program.packed(state)):
                    ending = program.transitions[transition].ending
                    found.add(
                        (
                            program.transitions[transition].move,
                            (ENDING, ending) if location == ENDING else (location, vector),
                        )
                    )
                self.assertEqual(moves - found, set())
                # a deed whose being done does not count may be done again, to no effect
                again = {(move, after) for move, after in found - moves if (move.level, move.thing) in state.spent}
                self.assertEqual(found - moves, again)
                compared += 1
        self.assertGreater(compared, 10 * EXAMPLES)

    def test_conditions_hold_as_they_do_by_the_rules(self):
        asked = 0
        for flow_ in four_kinds(EXAMPLES // 2):
            program = ProgramGraph(Rules(flow_))
            if program.start is None:
                continue
            graph = breadth_first(program, [program.start], never, 60)
            numbers = np.arange(len(graph))
            for text in program.cone.conditions:
                test, guard = program.rules.words.test(text), program.guards.of(text)
                expected = [test(graph.state(number)) for number in numbers.tolist()]
                self.assertEqual(graph.holds(text, numbers).tolist(), expected, text)
                self.assertEqual([guard.holds(graph.vector(number)) for number in numbers.tolist()], expected, text)
                asked += len(set(expected)) > 1
        self.assertGreater(asked, EXAMPLES)


if __name__ == "__main__":
    unittest.main()
