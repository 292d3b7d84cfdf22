"""Sessions walked again: the moves found are possible, and log what was logged."""

import os
import random
import unittest

from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, parse_move
from mossy_bridge.play.trial import QUIT, begun
from mossy_bridge.play_logs.explaining import Explainer
from mossy_bridge.play_logs.reading import sessions_of
from mossy_bridge.play_logs.retracing import walk_of
from tests.play_logs.test_explaining import MOVES, START, arrive, begin, lines, made, marsh, plain, played
from tests.support.random_flows import four_kinds

FLOWS = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120")) // 5


def walked(flow_, *events):
    return walk_of(Explainer(flow_).states, next(sessions_of("log", lines(*events))))


def logged_by(rules, walk, kinds):
    """What a game would log of a walk, of some kinds of events; whatever follows an ending begins anew."""
    trial = begun(rules)
    found = [("arrive", trial.state.place, trial.state.respawn)]
    for text in walk:
        move = parse_move(text)
        if text == QUIT:
            if not isinstance(trial.now.state, Ended):
                found.append(("quit",))
            trial = trial.quit()
        else:
            found.append((move.kind, text))
            trial = trial.take(move)
        state = trial.now.state
        if isinstance(state, Ended):
            found.append(("ending", state.ending))
        elif text == QUIT or move.kind in ("exit", "tile"):
            found.append(("arrive", state.place, state.respawn))
    return [one for one in found if one[0] in kinds]


def told(event):
    kind = event["event"]
    if kind == "arrive":
        return kind, event["level"], event.get("spawn", "")
    if kind in MOVES:
        return kind, f"{kind} " + ".".join(event[key] for key in ("level", "from", "to", kind) if key in event)
    return (kind, event["ending"]) if kind == "ending" else (kind,)


class Retraced(unittest.TestCase):
    def test_what_is_not_logged_stands_between(self):
        self.assertEqual(walked(marsh(), begin("arrive"), arrive("title"), arrive("sands", "p"), arrive("light", "q")),
                         ("exit title.new", "deed sands.dig", "exit sands.gate"))  # fmt: skip
        self.assertEqual(walked(marsh(), *START, {"event": "quit"}, arrive("title")), ("exit title.new", QUIT))

    def test_playing_on_after_an_ending_is_quitting(self):
        way = (made("deed", "sands", "coin"), made("exit", "sands", "shore"), arrive("light", "p"), made("exit", "light", "lit"),
               {"event": "ending", "ending": "won"}, arrive("title"))  # fmt: skip
        self.assertEqual(walked(marsh(), *START, *way)[-3:], ("exit sands.shore", "exit light.lit", QUIT))

    def test_resuming_instead_of_the_exit(self):
        events = (begin("arrive"), arrive("title"), arrive("sands"), {"event": "quit"}, arrive("title"),
                  {"event": "resume"}, arrive("sands"))  # fmt: skip
        self.assertEqual(walked(marsh(), *events), ("exit title.new", QUIT, "exit title.on"))

    def test_what_cannot_be_has_no_walk(self):
        self.assertIsNone(walked(marsh(), *START, made("exit", "sands", "gate")))

    def test_random_logs_are_walked_again(self):
        walks = gaps = 0
        for seed, flow_ in enumerate(four_kinds(FLOWS)):
            events, pick = played(plain(flow_), seed), random.Random(seed)
            if len(events) < 2:
                continue
            rules = Rules(flow_, resuming=True)
            for kinds in (("arrive", "ending", *MOVES), ("arrive", "ending"), ("arrive", "ending", pick.choice(MOVES))):
                logged = [one for one in events[1:] if one["event"] in (*kinds, "quit")]
                walk = walked(flow_, {**events[0], "logs": list(kinds)}, *logged)
                if walk is None:
                    self.assertEqual(Explainer(flow_).explain(next(sessions_of("log", lines(
                        {**events[0], "logs": list(kinds)}, *logged)))).answer, "unknown", (seed, kinds))  # fmt: skip
                    continue
                walks, gaps = walks + 1, gaps + (len(kinds) < 6)
                wanted = [told(one) for one in logged]
                for at in reversed(range(1, len(wanted))):
                    if wanted[at][0] == "quit" and wanted[at - 1][0] == "ending":
                        del wanted[at]  # playing on after an ending
                again = logged_by(rules, walk, (*kinds, "quit"))
                self.assertEqual(again[: len(wanted)], wanted, (seed, kinds, walk))
        self.assertGreater(walks, 2 * FLOWS)
        self.assertGreater(gaps, FLOWS)


if __name__ == "__main__":
    unittest.main()
