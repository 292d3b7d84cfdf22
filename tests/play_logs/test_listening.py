"""Games listened to while they are played: over real sockets and growing files, however they behave."""

import contextlib
import json
import socket
import tempfile
import threading
import time
import unittest
from pathlib import Path

from mossy_bridge.play_logs.listening import CannotListen, follow_file, listen_to_port
from mossy_bridge.play_logs.live import MOST_GAMES, MOST_WRONG, LiveGames
from mossy_bridge.play_logs.possible_states import Stopped
from mossy_bridge.play_logs.reading import LONGEST_LINE
from tests.play_logs.test_explaining import START, arrive, begin, made, marsh

WAIT = 20.0


def wire(*events):
    return b"".join(json.dumps(event).encode() + b"\n" for event in events)


class Watched:
    """A live judge whose view is taken in its own thread, after everything that it is told."""

    def __init__(self, live):
        self._live, self.view = live, live.view()

    def __getattr__(self, name):
        def tell(*told):
            found = getattr(self._live, name)(*told)
            self.view = self._live.view()
            return found

        return tell


class Listening(unittest.TestCase):
    """Listens in a thread until the test is over."""

    def setUp(self):
        self.over = threading.Event()
        self.live = Watched(LiveGames(marsh(), self.over.is_set))
        self.failure = None
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def listen(self, work):
        def run():
            try:
                work()
            except (CannotListen, Stopped) as error:
                self.failure = error

        thread = threading.Thread(target=run, daemon=True)
        thread.start()
        self.addCleanup(thread.join, WAIT)
        self.addCleanup(self.over.set)
        return thread

    def wait_until(self, condition):
        began = time.monotonic()
        while not condition():
            self.assertLess(time.monotonic() - began, WAIT, self.live.view)
            time.sleep(0.005)

    def port(self):
        ports = []
        self.listen(lambda: listen_to_port(0, self.live, self.over.is_set, ports.append))
        self.wait_until(lambda: ports)
        return ports[0]

    def connect(self, port, host="127.0.0.1"):
        game = socket.create_connection((host, port), timeout=WAIT)
        self.addCleanup(game.close)
        return game

    def follow(self, log):
        return self.listen(lambda: follow_file(log, self.live, self.over.is_set))

    def players(self):
        return {one.name: one for one in self.live.view.players}


class Ports(Listening):
    def test_two_players_at_once(self):
        port = self.port()
        ada, bo = self.connect(port), self.connect(port)
        ada.sendall(wire({**begin(), "player": "Ada"}, arrive("title"), {"event": "at", "x": 3, "y": 4}))
        bo.sendall(wire({**begin(), "player": "Bo"}, *START[1:], made("exit", "sands", "gate")))
        self.wait_until(lambda: len(self.live.view.wrong) == 1 and "Ada" in self.players())
        self.wait_until(lambda: self.players()["Ada"].at)
        here = self.players()
        self.assertEqual((here["Ada"].level, here["Ada"].at, here["Ada"].answer), ("title", (3.0, 4.0), "yes"))
        self.assertEqual((here["Bo"].level, here["Bo"].spawn, here["Bo"].answer), ("sands", "p", "no"))
        self.assertIn("needs key", here["Bo"].trouble)
        wrong = self.live.view.wrong[0]
        self.assertEqual((wrong.player, wrong.impossible.event.line), ("Bo", 5))
        ada.close()
        self.wait_until(lambda: len(self.live.view.ended) == 1)
        self.assertEqual(self.live.view.ended[0].explained.levels, ("title",))

    def test_only_this_machine_is_listened_to(self):
        port = self.port()
        for host in {info[4][0] for info in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET)}:
            if not host.startswith("127."):
                with self.assertRaises(OSError):
                    socket.create_connection((host, port), timeout=2).close()
        self.connect(port).sendall(wire(begin()))
        self.wait_until(lambda: self.live.view.players)

    def test_a_port_that_is_taken_is_told(self):
        with socket.socket() as other:
            other.bind(("127.0.0.1", 0))
            other.listen()
            taken = other.getsockname()[1]
            with self.assertRaisesRegex(CannotListen, f"port {taken} cannot be listened to"):
                listen_to_port(taken, self.live, self.over.is_set, lambda _: None)

    def test_floods_garbage_and_lines_without_an_end(self):
        game = self.connect(self.port())
        game.sendall(wire(begin()) + b"what?\n" * 50 + b"x" * (5 * LONGEST_LINE) + b"\n" + wire(arrive("title")))
        for _ in range(100):
            game.sendall(wire(*[made("exit", "title", "on")] * 20))
        game.sendall(wire({"event": "dance"}) + b'{"event": "arr')
        game.close()
        self.wait_until(lambda: self.live.view.ended)
        view = self.live.view
        self.assertEqual((view.events, view.unread), (2001, 53))
        self.assertEqual(view.ended[0].explained.answer, "no")
        self.assertLessEqual(len(view.wrong), MOST_WRONG)

    def test_one_that_stalls_holds_up_nobody(self):
        port = self.port()
        idle = self.connect(port)
        idle.sendall(b'{"event": "beg')
        other = self.connect(port)
        other.sendall(wire({**begin(), "player": "Bo"}, arrive("title")))
        self.wait_until(lambda: self.players().get("Bo") and self.players()["Bo"].level == "title")
        idle.sendall(b'in", "player": "Ida", "new": true}\n' + wire(arrive("title")))
        self.wait_until(lambda: self.players().get("Ida") and self.players()["Ida"].level == "title")

    def test_too_many_games_are_refused_and_counted(self):
        port = self.port()
        games = [self.connect(port) for _ in range(MOST_GAMES)]
        self.wait_until(lambda: len(self.live.view.players) == MOST_GAMES)
        one_more = self.connect(port)
        self.assertEqual(one_more.recv(1), b"", "it is closed")
        self.assertEqual(self.live.view.refused, 1)
        games[0].close()
        self.wait_until(lambda: len(self.live.view.players) == MOST_GAMES - 1)
        self.connect(port).sendall(wire(begin()))
        self.wait_until(lambda: len(self.live.view.players) == MOST_GAMES)

    def test_the_end_of_listening_ends_the_sessions(self):
        game = self.connect(self.port())
        game.sendall(wire(*START))
        self.wait_until(lambda: self.live.view.events == 3)
        self.over.set()
        self.wait_until(lambda: not self.live.view.players)
        with contextlib.suppress(ConnectionError):
            self.assertEqual(game.recv(1), b"")
        self.assertEqual(self.live.view.ended[0].explained.levels, ("title", "sands"))


class Growing(Listening):
    def test_a_file_that_grows_even_by_half_lines(self):
        log = self.folder / "play.jsonl"
        self.follow(log)
        with open(log, "wb", buffering=0) as file:
            file.write(wire(begin(), arrive("title")))
            self.wait_until(lambda: [one.level for one in self.live.view.players] == ["title"])
            rest = wire(made("exit", "title", "new"), arrive("sands", "p"), made("exit", "sands", "gate"))
            for at in range(0, len(rest), 7):
                file.write(rest[at : at + 7])
            self.wait_until(lambda: self.live.view.wrong)
        self.assertEqual(self.live.view.players[0].level, "sands")

    def test_one_that_begins_anew_or_is_replaced_is_another_game(self):
        log, other = self.folder / "play.jsonl", self.folder / "other"
        log.write_bytes(wire(*START))
        self.follow(log)
        self.wait_until(lambda: self.live.view.events == 3)
        log.write_bytes(wire(begin()))
        self.wait_until(lambda: len(self.live.view.ended) == 1)
        other.write_bytes(wire(begin(), arrive("title"), arrive("title")))
        other.replace(log)
        self.wait_until(lambda: len(self.live.view.ended) == 2 and self.live.view.wrong)
        self.assertEqual([len(one.explained.levels) for one in self.live.view.ended], [2, 0])

    def test_several_sessions_in_one_file(self):
        log = self.folder / "play.jsonl"
        log.write_bytes(wire(*START, {**begin(), "session": "t"}, arrive("title")))
        self.follow(log)
        self.wait_until(lambda: self.live.view.events == 4)
        view = self.live.view
        self.assertEqual(([one.explained.session.title for one in view.ended], view.players[0].name), (["s"], "t"))

    def test_what_is_no_file_is_told(self):
        thread = self.follow(self.folder)
        thread.join(WAIT)
        self.assertIsInstance(self.failure, CannotListen)
        self.assertIn(str(self.folder), str(self.failure))


del Listening
if __name__ == "__main__":
    unittest.main()
