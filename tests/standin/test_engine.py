"""The stand-in's engine, which knows the table alone, against the rules of play, move by move."""

import json
import os
import random
import unittest
from collections import Counter

from mossy_bridge.exchange.game.table import game_table
from mossy_bridge.model.patterns import resolved
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, parse_move
from mossy_bridge.standin import engine
from tests.support.random_flows import four_kinds, rewinding_flow

FLOWS = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120"))
STEPS, WALKS = 25, 3


class Twins:
    """One flow played by the rules and by the engine at once."""

    def __init__(self, flow):
        self.rules = Rules(flow, resuming=True)
        self.table = json.loads(json.dumps(game_table(flow)))
        self.game = engine.Game(self.table)
        self.flow = resolved(flow)
        self.levels = self.table["levels"]

    def move(self, state, move):
        """A move of the engine as the rules write it."""
        level = self.levels[state.level]
        if move.kind == "path":
            path = level["paths"][move.thing]
            ends = [level["zones"][path[end]] for end in ("from", "to")]
            return f"path {level['id']}.{'.'.join(reversed(ends) if move.back else ends)}"
        return f"{move.kind} {level['id']}.{level[move.kind + 's'][move.thing]['id']}"

    def spawn(self, level, spawn):
        return self.levels[level]["spawns"][spawn]["id"] if spawn != engine.NONE else ""

    def deeds(self, spent):
        return {(self.levels[level]["id"], self.levels[level]["deeds"][deed]["id"]) for level, deed in spent}

    def value(self, at, value):
        fact = self.flow.facts[at]
        return {"flag": bool, "count": int, "choice": lambda place: fact.values[place]}[fact.kind](value)

    def facts(self, values):
        return tuple(self.value(at, value) for at, value in enumerate(values))

    def rewind(self, point):
        at = [at for at, fact in enumerate(self.flow.facts) if fact.rewinds]
        return tuple(self.value(*pair) for pair in zip(at, point.facts, strict=True)), self.deeds(point.spent)

    def origin(self, origin):
        place = self.levels[origin.level]["id"] if origin else ""
        return origin and (place, self.spawn(origin.level, origin.respawn), self.rewind(origin.rewind))

    def saved(self, saved):
        return saved and (self.levels[saved.level]["id"], self.spawn(saved.level, saved.respawn),
                          self.facts(saved.facts), self.names(saved.seen), self.names(saved.done),
                          self.deeds(saved.spent), self.origin(saved.origin))  # fmt: skip

    def names(self, levels):
        return {self.levels[level]["id"] for level in levels}

    def told(self, state):
        """A state of the engine in the terms of the flow."""
        if isinstance(state, engine.Ended):
            return self.table["endings"][state.ending]["id"]
        level = self.levels[state.level]
        zone = level["zones"][state.zone] if state.zone != engine.NONE else ""
        return (level["id"], zone, self.facts(state.facts), self.names(state.seen), self.names(state.done),
                self.deeds(state.spent), self.spawn(state.level, state.respawn), self.origin(state.origin),
                state.arrived, self.saved(state.saved), self.rewind(state.rewind))  # fmt: skip

    def truly(self, state):
        """A state of the rules in the same terms."""
        if isinstance(state, Ended):
            return state.ending
        return (state.place, state.zone, state.facts, set(state.seen), set(state.done), set(state.spent),
                state.respawn, self.true_origin(state.origin), state.arrived, self.true_saved(state.saved),
                (state.rewind_point.facts, set(state.rewind_point.spent)))  # fmt: skip

    def true_origin(self, origin):
        return origin and (
            origin.level,
            origin.respawn,
            (origin.rewind_point.facts, set(origin.rewind_point.spent)),
        )

    def true_saved(self, saved):
        return saved and (saved.level, saved.respawn, saved.facts, set(saved.seen), set(saved.done), set(saved.spent),
                          self.true_origin(saved.origin))  # fmt: skip


class Engine(unittest.TestCase):
    def setUp(self):
        self.counts = Counter()

    def check(self, flow, seed):
        twins = Twins(flow)
        for walk in range(WALKS):
            self.walk(twins, random.Random(f"{seed} {walk}"), f"flow {seed}, walk {walk}")

    def walk(self, twins, pick, label):
        true, here = twins.rules.begin(), twins.game.begin()
        self.assertEqual(here is None, true is None, label)
        trace, before, played, last = [], true, here, None
        for _ in range(STEPS if true else 0):
            self.assertEqual(twins.told(here), twins.truly(true), (label, trace))
            if isinstance(true, Ended):
                self.counts["ending"] += 1
                left = twins.rules.on_leaving(twins.rules.exit(parse_move(trace[-1])), before)
                exit_ = twins.levels[played.level]["exits"][last.thing]
                true, here = twins.rules.quit(left), twins.game.quit(twins.game.leaving(played, exit_))
                continue
            before, played = true, here
            wanted = {str(move): after for move, after in twins.rules.moves(true)}
            found = {twins.move(here, move): move for move in twins.game.moves(here)}
            self.assertEqual(set(found), set(wanted), (label, trace))
            if not wanted or pick.random() < 0.06:
                self.counts["quit"] += 1
                trace.append("quit")
                true, here = twins.rules.quit(true), twins.game.quit(here)
                continue
            chosen = pick.choice(sorted(wanted))
            trace.append(chosen)
            self.counts[chosen.split()[0]] += 1
            last = found[chosen]
            true, here = wanted[chosen], twins.game.play(here, last)

    def test_random_flows_of_four_kinds(self):
        for seed, flow in enumerate(four_kinds(FLOWS // 2)):
            self.check(flow, seed)
        for kind in ("exit", "deed", "path", "tile", "quit", "ending"):
            self.assertGreater(self.counts[kind], FLOWS // 10, self.counts)

    def test_random_flows_whose_facts_rewind(self):
        for seed in range(FLOWS // 2):
            self.check(rewinding_flow(seed), seed)
        self.assertGreater(self.counts["exit"], FLOWS)


if __name__ == "__main__":
    unittest.main()
