"""Logs held against flows: what a game that follows its flow logs is explained, and a game that cheats is found."""

import copy
import json
import os
import random
import unittest
from collections import Counter

from mossy_bridge.exchange.game.table import game_table
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended
from mossy_bridge.play_logs.explaining import Explainer
from mossy_bridge.play_logs.reading import LONGEST_LINE, sessions_of
from mossy_bridge.standin.session import Session
from mossy_bridge.standin.soundness import faults
from tests.support.build import board, deed, fact, flow, play_level, screen, way
from tests.support.random_flows import four_kinds

FLOWS = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120")) // 5
MOVES = ("exit", "deed", "path", "tile")


def lines(*events):
    return [json.dumps(event).encode() for event in events]


def begin(*logs, **more):
    return {"event": "begin", "session": "s", "new": True, "logs": list(logs or ("arrive", "ending", *MOVES)), **more}


def arrive(level, spawn=None):
    return {"event": "arrive", "level": level, **({"spawn": spawn} if spawn else {})}


def made(kind, level, name):
    return {"event": kind, "level": level, kind: name}


def explained(flow_, *events):
    explainer = Explainer(flow_)
    return [explainer.explain(session) for session in sessions_of("log", lines(*events))][-1]


def plain(flow_):
    return json.loads(json.dumps(game_table(flow_)))


def played(table, seed, steps=20):
    """What a game logs that follows a table at random, quitting now and then."""
    pick, events = random.Random(seed), []
    session = Session(table, events.append)
    if not session.begin():
        return events
    for _ in range(steps):
        moves = session.moves()
        if session.state is None or not moves or pick.random() < 0.05:
            session.quit()
        else:
            session.play(pick.choice(moves))
    session.end()
    return events


def marsh():
    return flow(
        screen("title", way("new", "sands", fresh=True), way("on", {"kind": "resume"})),
        play_level("sands", way("gate", "light", spawn="q", opens="has key"), way("shore", "light"),
                   deeds=[deed("dig", "gain key"), deed("coin", "add 1 oil")], name="Bell Sands"),
        play_level("light", way("lit", "won", opens="at least 1 oil"), way("back", "sands"), spawns=[{"id": "p"}, {"id": "q"}]),
        board("map", {"id": "t", "level": "sands"}), facts=[fact("key"), fact("oil:5")],
    )  # fmt: skip


START = (begin(), arrive("title"), made("exit", "title", "new"), arrive("sands", "p"))


class ByHand(unittest.TestCase):
    def test_what_is_explained_and_what_is_not(self):
        gate, key = made("exit", "sands", "gate"), made("deed", "sands", "dig")
        for label, events, answer, why in (
            ("nothing", (begin(),), "yes", ""),
            ("with the key", (*START, key, gate, arrive("light", "q")), "yes", ""),
            ("without", (*START, gate), "no", "Needs Key"),
            ("another landing", (*START, key, gate, arrive("light", "p")), "no", "an arrival in Light, at q, was expected"),
            ("no arrival", (*START, key, gate, key), "no", "an arrival in Light, at q, was expected"),
            ("two arrivals", (*START, arrive("sands", "p")), "no", "the player is in Bell Sands"),
            ("not there", (*START, made("exit", "light", "back")), "no", "the player is in Bell Sands, not there"),
            ("no such level", (*START, arrive("nowhere")), "no", "the flow has no level nowhere"),
            ("no such exit", (*START, made("exit", "sands", "hole")), "no", "Bell Sands has no exit hole"),
            ("twice", (*START, key, key), "no", ""),
            ("a fact that came", (*START, key, {"event": "fact", "fact": "key", "value": True}), "yes", ""),
            ("a fact that did not", (*START, {"event": "fact", "fact": "oil", "value": 3}), "no", "it is 0 there"),
            ("no such fact", (*START, {"event": "fact", "fact": "rope", "value": True}), "no", "the flow has no fact rope"),
            ("quitting", (*START, {"event": "quit"}, arrive("title")), "yes", ""),
            ("resuming", (*START, key, {"event": "quit"}, arrive("title"), made("exit", "title", "on"), {"event": "resume"},
                          arrive("sands", "p")), "yes", ""),
            ("instead of the exit", (begin("arrive"), arrive("title"), arrive("sands"), {"event": "quit"}, arrive("title"),
                                     {"event": "resume"}, arrive("sands")), "yes", ""),
            ("an ending too soon", (*START, made("exit", "sands", "shore"), arrive("light", "p"),
                                    made("exit", "light", "lit")), "no", "oil"),
        ):  # fmt: skip
            with self.subTest(label):
                found = explained(marsh(), *events)
                self.assertEqual(found.answer, answer, found.impossible)
                if why:
                    self.assertIn(why.lower(), found.impossible[0].why.lower())

    def test_what_is_told_of_facts_rules_out_the_rest(self):
        key, none = ({"event": "fact", "fact": "key", "value": value} for value in (True, False))
        oil = {"event": "fact", "fact": "oil", "value": 1}
        sands = (begin("arrive"), arrive("title"), arrive("sands", "p"))
        for label, events, answer in (
            ("it was dug up, though that was not logged", (*sands, key, arrive("light", "q")), "yes"),
            ("before it is, it is not there", (*sands, none, key, arrive("light", "q")), "yes"),
            ("once had it is not lost", (*sands, key, arrive("light", "q"), none), "yes"),
            ("… but for what was before the latest arrival", (*sands, key, arrive("light", "q"), arrive("sands"), none), "no"),
            ("none and some cannot both last", (begin("arrive", "ending"), *sands[1:], oil, arrive("light", "p"), arrive("sands"),
                                                arrive("light", "p"), {**oil, "value": 0}), "no"),
            ("… unless the game was played to its end and begun again", (*sands, oil, arrive("light", "p"), {**oil, "value": 0},
                                                                        arrive("title")), "yes"),
            ("what is known of a deed", (begin("arrive", "deed"), *sands[1:], made("deed", "sands", "coin"), oil), "yes"),
            ("just before it is logged", (begin("arrive", "deed"), *sands[1:], oil, made("deed", "sands", "coin")), "yes"),
            ("what nothing gives", (*sands, {**oil, "value": 2}), "no"),
        ):  # fmt: skip
            with self.subTest(label):
                self.assertEqual(explained(marsh(), *events).answer, answer)

    def test_a_value_within_a_move_is_met(self):
        f = flow(screen("title", way("new", "a", effects=["add 3 oil", "take 2 oil"])),
                 play_level("a", on_arrival=["add 4 oil", "take 3 oil"]), facts=[fact("oil:9")])  # fmt: skip
        for value, answer in ((0, "yes"), (3, "yes"), (1, "yes"), (5, "yes"), (2, "yes"), (4, "no"), (6, "no")):
            told = {"event": "fact", "fact": "oil", "value": value}
            there = (begin("arrive", "exit"), arrive("title"), made("exit", "title", "new"))
            for events in ((*there, told), (*there, arrive("a"), told)):
                self.assertEqual(explained(f, *events).answer, answer, (value, events))
            self.assertEqual(explained(f, *there[:2], told, *there[2:]).answer, "yes", "nothing is known of before")

    def test_moves_that_are_not_logged_may_have_been_made(self):
        self.assertEqual(
            explained(marsh(), begin("arrive"), arrive("title"), arrive("sands"), arrive("light", "q")).answer, "yes"
        )
        known = explained(marsh(), begin("arrive", "deed"), arrive("title"), arrive("sands"), arrive("light", "q"))
        self.assertEqual(known.answer, "no", "the key would have been logged")

    def test_an_ending_and_playing_on(self):
        way_there = (made("deed", "sands", "coin"), made("exit", "sands", "shore"), arrive("light", "p"),
                     made("exit", "light", "lit"))  # fmt: skip
        ending = {"event": "ending", "ending": "won"}
        self.assertEqual(explained(marsh(), *START, *way_there, ending, arrive("title")).answer, "yes")
        self.assertIn(
            "ending won was to be logged", explained(marsh(), *START, *way_there, arrive("title")).impossible[0].why
        )

    def test_after_what_is_impossible_it_is_taken_up_again(self):
        gate = made("exit", "sands", "gate")
        found = explained(marsh(), *START, gate, arrive("light", "q"), made("exit", "light", "back"), arrive("sands", "p"), gate,
                          arrive("light", "q"), made("tile", "map", "t"))  # fmt: skip
        self.assertEqual([one.event.line for one in found.impossible], [5, 11])

    def test_what_a_player_kept_is_there_the_next_time(self):
        f = flow(screen("title", way("new", "a", opens="lacks met"), way("again", "b", opens="has met")),
                 play_level("a", deeds=[deed("hi", "gain met")]), play_level("b"), facts=[fact("met", lifetime="profile")])  # fmt: skip
        first = (
            begin(player="Ada"),
            arrive("title"),
            made("exit", "title", "new"),
            arrive("a", "p"),
            made("deed", "a", "hi"),
        )
        later = {**begin(player="Ada"), "new": False}
        self.assertEqual(explained(f, *first, later, arrive("title"), made("exit", "title", "again")).answer, "yes")
        self.assertEqual(explained(f, *first, later, arrive("title"), made("exit", "title", "new")).answer, "no")
        self.assertEqual(explained(f, later, arrive("title"), made("exit", "title", "new")).answer, "yes")

    def test_too_many_states_accuse_nobody(self):
        deeds = [deed(f"d{n}", f"gain f{n}") for n in range(18)]
        f = flow(screen("title", way("new", "a")), play_level("a", deeds=deeds), facts=[f"f{n}" for n in range(18)])
        found = explained(f, begin("arrive"), arrive("title"), arrive("a"), arrive("title"))
        self.assertEqual((found.answer, found.impossible), ("unknown", ()))


class Logs(unittest.TestCase):
    def test_broken_lines_and_unknown_events_are_counted(self):
        data = [b"not json", *lines(arrive("a")), b'{"event": 3}', b'{"event": "jump"}', b'["event"]', b"\xff\xfe", b"",
                b'{"event": "arrive"}', b'{"event": "at", "x": 1, "y": 2, "pad": "' + b"x" * LONGEST_LINE + b'"}',
                *lines({"event": "end", "t": 3.5}, {"event": "begin", "t": "soon"}, {"event": "end", "t": 1e400})]  # fmt: skip
        first, second = sessions_of("log", data)
        self.assertEqual((first.name, first.first_line, first.unread_lines, first.unknown_events), ("", 1, 6, 1))
        self.assertEqual([(event.kind, event.t) for event in first.events], [("arrive", 0.0), ("end", 3.5)])
        self.assertEqual((second.events, second.first_line), ([], 11))


class RandomLogs(unittest.TestCase):
    def follows(self, flow_, events):
        """Whether moves that are all logged, and the arrivals between them, are a walk of the rules."""
        rules = Rules(flow_, resuming=True)
        state = left = rules.begin()
        for event in events[1:]:
            kind = event["event"]
            if kind in ("fact", "end"):
                continue
            if kind == "quit":
                state = rules.quit(left)
            elif kind == "ending":
                if state != Ended(event["ending"]):
                    return False
            elif kind == "arrive":
                if isinstance(state, Ended) or (state.place, state.respawn) != (event["level"], event.get("spawn", "")):
                    return False
            else:
                where = [event["level"], *(event[key] for key in ("from", "to", kind) if key in event)]
                possible = (
                    {} if isinstance(state, Ended) else {str(move): (move, after) for move, after in rules.moves(state)}
                )
                found = possible.get(f"{kind} {'.'.join(where)}")
                if found is None:
                    return False
                left = rules.on_leaving(rules.exit(found[0]), state) if isinstance(found[1], Ended) else found[1]
                state = found[1]
                continue
            left = state if not isinstance(state, Ended) else left
        return True

    def test_a_game_that_follows_its_flow_is_explained_however_much_it_logs(self):
        answers = Counter()
        for seed, flow_ in enumerate(four_kinds(FLOWS)):
            events = played(plain(flow_), seed)
            self.assertTrue(self.follows(flow_, events), seed)
            for logs in (
                ("arrive", "ending", *MOVES),
                ("arrive", "ending"),
                ("arrive", "exit"),
                ("ending", "deed", "tile"),
            ):
                kept = [
                    {**events[0], "logs": list(logs)},
                    *(one for one in events[1:] if one["event"] in (*logs, "quit", "end")),
                ]
                found = explained(flow_, *kept)
                self.assertIn(found.answer, ("yes", "unknown"), (seed, logs, found.impossible))
                answers[found.answer] += 1
        self.assertGreater(answers["yes"], 10 * answers["unknown"])

    def test_facts_told_on_either_side_of_what_changed_them_are_explained(self):
        answers = Counter()
        for seed, flow_ in enumerate(four_kinds(FLOWS)):
            pick, events = random.Random(seed), played(plain(flow_), seed)
            for at in range(1, len(events) - 1):  # some stand before the move that changed them
                moved = events[at]["event"] in MOVES and events[at + 1]["event"] == "fact"
                if moved and events[at - 1]["event"] != "fact" and pick.random() < 0.6:
                    events[at], events[at + 1] = events[at + 1], events[at]
            for logs in (("arrive", "ending", *MOVES), ("arrive", "ending"), ("arrive", "exit"), ("ending", "deed")):
                kept = [{**events[0], "logs": list(logs)},
                        *(one for one in events[1:] if one["event"] in (*logs, "fact", "quit", "end"))]  # fmt: skip
                found = explained(flow_, *kept)
                self.assertIn(found.answer, ("yes", "unknown"), (seed, logs, kept, found.impossible))
                answers[found.answer] += 1
        self.assertGreater(answers["yes"], 10 * answers["unknown"])

    def test_a_game_that_cheats_is_found(self):
        found = missed = 0
        for seed, flow_ in enumerate(four_kinds(FLOWS)):
            pick, table = random.Random(seed), plain(flow_)
            for _ in range(4 if table["levels"] else 0):
                cheat = copy.deepcopy(table)
                self.cheat(cheat, pick)
                if faults(cheat):
                    continue
                events = [one for one in played(cheat, seed) if one["event"] != "fact"]
                follows = self.follows(flow_, events)
                self.assertEqual(explained(flow_, *events).answer, "yes" if follows else "no", (seed, events))
                found, missed = found + (not follows), missed + follows
        self.assertGreater(found, FLOWS)
        self.assertGreater(missed, FLOWS // 4)

    def cheat(self, table, pick):
        """Changes where an exit leads, what it needs, or what a deed does."""
        level = pick.choice(table["levels"])
        exits, deeds = level["exits"], level["deeds"]
        if exits and pick.random() < 0.7:
            exit_ = pick.choice(exits)
            if pick.random() < 0.5:
                exit_["opens"] = exit_["when"] = ["always"]
            else:
                other = pick.randrange(len(table["levels"]))
                exit_["to"] = {"kind": "level", "level": other, "spawn": 0 if table["levels"][other]["spawns"] else -1}
        elif deeds:
            one = pick.choice(deeds)
            one.update(effects=[], when=["always"], repeats="always")


if __name__ == "__main__":
    unittest.main()
