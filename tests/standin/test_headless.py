"""The game without a window: what its log tells is what the rules of play say, and what it saves outlives it."""

import copy
import json
import random
import tempfile
import unittest
from pathlib import Path

from mossy_bridge.exchange.game.table import game_table
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended
from mossy_bridge.standin.headless import CannotPlay, play_moves
from mossy_bridge.standin.session import Session
from mossy_bridge.standin.soundness import faults
from tests.support.build import deed, fact, flow, play_level, screen, way
from tests.support.random_flows import four_kinds


def plain(flow_):
    """The table as a game would read it."""
    return json.loads(json.dumps(game_table(flow_)))


def marsh():
    """A title, a level with a deed, a fork that fires by itself, and an ending."""
    return flow(
        screen("title", way("new", "sands", fresh=True), way("on", {"kind": "resume"})),
        play_level("sands", way("gate", "fork"), deeds=[deed("dig", "add 1 oil")], name="Bell Sands"),
        play_level("fork", way("by_itself", "light", trigger={"kind": "auto"}), way("back", "sands")),
        play_level("light", way("lit", "won", opens="at least 1 oil", effects=["add 2 best"]), way("out", "title")),
        facts=[fact("oil:5"), fact("best:9", lifetime="profile")],
    )


class Headless(unittest.TestCase):
    def play(self, table, *moves):
        events = []
        session = play_moves(table, moves, events.append)
        return session, events

    def test_a_log(self):
        moves = ("exit title.new", "deed sands.dig", "exit sands.gate", "exit light.lit")
        _, events = self.play(plain(marsh()), *moves)
        told = [
            " ".join(str(value) for key, value in one.items() if key not in ("t", "session", "logs")) for one in events
        ]
        self.assertEqual(told, [
            "begin True", "arrive title", "exit title new", "arrive sands p", "deed sands dig", "fact oil 1",
            "exit sands gate", "arrive fork p", "exit fork by_itself", "arrive light p", "exit light lit", "ending won",
            "end",
        ])  # fmt: skip
        times = [one["t"] for one in events]
        self.assertEqual(times, sorted(times))

    def test_what_fires_by_itself_may_be_among_the_moves(self):
        one, other = (
            self.play(plain(marsh()), "exit title.new", "exit sands.gate", *more, "exit light.out")[0]
            for more in ((), ("exit fork.by_itself",))
        )
        self.assertEqual(one.state, other.state)

    def test_after_an_ending_only_quitting_goes_on(self):
        moves = ("exit title.new", "deed sands.dig", "exit sands.gate", "exit light.lit")
        with self.assertRaisesRegex(CannotPlay, "Move 5, deed sands.dig: the game has ended"):
            self.play(plain(marsh()), *moves, "deed sands.dig")
        session, _ = self.play(plain(marsh()), *moves, "quit", "exit title.on")
        self.assertEqual((session.level["id"], session.state.facts), ("light", (1, 2)))

    def test_what_is_not_possible_is_told_with_what_is(self):
        with self.assertRaisesRegex(CannotPlay, r"Move 1, exit title.on, is not possible in title. .*exit title.new"):
            self.play(plain(marsh()), "exit title.on")

    def test_exits_that_fire_for_ever_are_told(self):
        auto = {"kind": "auto"}
        circle = flow(play_level("a", way("x", "b", trigger=auto)), play_level("b", way("y", "a", trigger=auto)))
        with self.assertRaisesRegex(CannotPlay, "for ever"):
            self.play(plain(circle))

    def test_random_logs_are_walks_of_the_rules(self):
        compared = 0
        for seed, flow_ in enumerate(four_kinds(10)):
            pick, events = random.Random(seed), []
            session = Session(plain(flow_), events.append)
            if not session.begin():
                continue
            for _ in range(25):
                moves = session.moves()
                if not moves:
                    break
                session.play(pick.choice(moves))
            compared += self.follow(Rules(flow_, resuming=True), events, seed)
        self.assertGreater(compared, 150)

    def follow(self, rules, events, seed):
        """Plays what a log tells by the rules; how many moves there were."""
        state, count = rules.begin(), 0
        for event in events[1:]:
            if event["event"] == "arrive":
                self.assertEqual((state.place, state.respawn), (event["level"], event.get("spawn", "")), seed)
            elif event["event"] == "ending":
                self.assertEqual(state, Ended(event["ending"]), seed)
            elif event["event"] == "fact":
                at = [one.id for one in rules.flow.facts].index(event["fact"])
                self.assertTrue(isinstance(state, Ended) or state.facts[at] == event["value"], seed)
            else:
                where = [event["level"], *(event[key] for key in ("from", "to", event["event"]) if key in event)]
                wanted = f"{event['event']} {'.'.join(where)}"
                possible = {str(move): after for move, after in rules.moves(state)}
                self.assertIn(wanted, possible, seed)
                state, count = possible[wanted], count + 1
        return count


class SavedGames(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.kept = Path(folder.name) / "game.json"

    def session(self, table):
        session = Session(table, kept=self.kept)
        session.begin()
        return session

    def make(self, session, *moves):
        for wanted in moves:
            possible = {session.told(move): move for move in session.moves()}
            session.play(possible[wanted])

    def test_a_game_goes_on_where_it_was_saved(self):
        table = plain(marsh())
        session = self.session(table)
        self.make(session, "exit title.new", "deed sands.dig", "exit sands.gate", "exit fork.by_itself")
        again = self.session(table)
        self.assertEqual(again.level["id"], "title")
        self.assertEqual(again.state.saved, session.state.saved)
        self.make(again, "exit title.on")
        self.assertEqual((again.level["id"], again.state.facts, again.state.spent),
                         ("light", session.state.facts, session.state.spent))  # fmt: skip

    def test_what_a_newer_table_lacks_is_dropped(self):
        table = plain(marsh())
        self.make(self.session(table), "exit title.new", "deed sands.dig", "exit sands.gate")
        newer = plain(flow(screen("title", way("on", {"kind": "resume"})), play_level("fork", way("lit", "won")),
                           facts=[fact("bells:3", initial=2), fact("oil:5")]))  # fmt: skip
        again = self.session(newer)
        self.make(again, "exit title.on")
        self.assertEqual((again.level["id"], again.state.facts, again.state.spent), ("fork", (2, 1), frozenset()))

    def test_where_nothing_can_be_saved_the_game_goes_on_and_says_so(self):
        session = Session(plain(marsh()), kept=self.kept.parent / "nowhere" / "game.json")
        session.begin()
        self.make(session, "exit title.new")
        self.assertEqual(session.level["id"], "sands")
        self.assertIn("The game is not saved", session.trouble)

    def test_a_file_that_is_none_is_put_aside_and_told(self):
        aside = self.kept.with_name("game.json.unreadable")
        for text in ("", "[]", "{", '{"facts": 3}', '{"facts": {}, "seen": [], "done": [], "saved": {"level": "sands"}}',
                     '{"facts": {"oil": Infinity}, "seen": [], "done": [], "saved": null}', "[" * 90_000):  # fmt: skip
            with self.subTest(text[:30]):
                self.kept.write_text(text)
                session = self.session(plain(marsh()))
                self.assertEqual(session.level["id"], "title")
                self.assertIn("kept as game.json.unreadable", session.trouble)
                self.assertEqual(aside.read_text(), text)

    def test_what_a_restart_goes_back_to_is_kept_by_ids(self):
        def game(*facts):
            die = way("die", "shop", trigger={"kind": "fail"})
            return plain(flow(screen("title", way("new", "sands"), way("on", {"kind": "resume"})),
                              play_level("sands", die, deeds=[deed("dig", "add 2 oil")]),
                              play_level("shop", way("again", {"kind": "back"})), facts=facts))  # fmt: skip

        rope, oil = fact("rope:9", initial=7, rewinds=True), fact("oil:9", initial=1, rewinds=True)
        older = self.session(game(oil))
        self.make(older, "exit title.new", "deed sands.dig", "exit sands.die")
        self.assertEqual(older.state.origin.rewind.facts, (1,))
        newer = self.session(game(rope, oil))
        self.make(newer, "exit title.on")
        self.assertEqual(newer.state.saved.origin.rewind.facts, (7, 1))


class Soundness(unittest.TestCase):
    def test_tables_of_flows_are_sound(self):
        for flow_ in (marsh(), *four_kinds(15)):
            self.assertEqual(faults(plain(flow_)), [])

    def test_planted_faults_are_found(self):
        def level(table):
            return table["levels"][1]

        for label, spoil, says in (
            ("a key is missing", lambda t: t.pop("facts"), "lacks facts"),
            ("a level's key", lambda t: level(t).pop("exits"), "lacks exits"),
            ("a destination", lambda t: level(t)["exits"][0]["to"].update(level=99), "exits[0].to.level is 99"),
            ("a spawn point", lambda t: t["start"].update(spawn=5), "start.spawn is 5"),
            ("a fact", lambda t: level(t)["deeds"][0].update(effects=[["gain", 7]]), "effects[0] is 7"),
            ("a condition", lambda t: level(t).update(opens=["has", -1]), "opens is -1"),
            ("no condition", lambda t: level(t).update(opens=["if", 0]), "which is no condition"),
            ("a text for a list", lambda t: t.update(levels="x"), "not built as the schema says"),
            ("a truth for a place", lambda t: level(t).update(next=True), "next is True"),
        ):
            with self.subTest(label):
                table = copy.deepcopy(plain(marsh()))
                spoil(table)
                self.assertIn(says, " ".join(faults(table)))

    def test_a_spoiled_table_is_found_or_played(self):
        """Of random damage none brings the game down once the table was found sound."""
        pick, sound = random.Random(4), 0
        for _ in range(150):
            table = copy.deepcopy(plain(marsh()))
            self.spoil(table, pick)
            if faults(table):
                continue
            sound += 1
            session = Session(table)
            session.begin()
            for _ in range(12):
                moves = session.moves()
                if session.state is None or not moves:
                    break
                session.play(pick.choice(moves))
        self.assertGreater(sound, 10)
        self.assertLess(sound, 140)

    def spoil(self, table, pick):
        """Puts another number in some place."""
        part = pick.choice(table["levels"])
        for _ in range(4):
            inner = [
                one
                for one in (part.values() if isinstance(part, dict) else part)
                if isinstance(one, dict | list) and one
            ]
            if not inner:
                break
            part = pick.choice(inner)
        keys = list(part) if isinstance(part, dict) else list(range(len(part)))
        keys = [key for key in keys if isinstance(part[key], int) and not isinstance(part[key], bool)]
        if keys:
            part[pick.choice(keys)] = pick.choice((-2, -1, 0, 1, 2, 5))


if __name__ == "__main__":
    unittest.main()
