"""Routes in the designer's words, long places, and values put back."""

import unittest

from msgspec.structs import replace

from mossy_bridge.exchange.shipping_values import put_back
from mossy_bridge.language.naming import fact_changed, facts_named, levels_named
from mossy_bridge.model.addresses import long_title, value_at
from mossy_bridge.model.edits.levels import CannotEdit
from mossy_bridge.model.flow import TrialSetting
from mossy_bridge.play.narration import told_route
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move
from tests.support.build import board, deed, flow, play_level, way


class Routes(unittest.TestCase):
    def test_each_move_says_where_it_leads_and_what_changes(self):
        zones = {"zones": [{"id": "low", "name": "Beach"}, {"id": "high", "name": "Wall"}],
                 "paths": [{"from": "low", "to": "high"}]}  # fmt: skip
        quay = play_level("quay", way("gate", "won", name="Gate", opens="has rope"), name="Quay",
                          deeds=[deed("d", "gain rope", name="Take the rope")], **zones)  # fmt: skip
        f = flow(board("chart", {"id": "t", "level": "quay"}, name="Chart"), quay, facts=("rope",),
                 endings=[{"id": "won", "name": "Home"}])  # fmt: skip
        route = (Move("tile", "chart", "t"), Move("path", "quay", "low", "high"), Move("deed", "quay", "d"),
                 Move("exit", "quay", "gate"))  # fmt: skip
        self.assertEqual(told_route(Rules(f), route), [
            ("chart.t", "Chart: the tile to Quay → Quay"),
            ("quay", "Quay: to Wall"),
            ("quay.d", "Quay: Take the rope (rope yes)"),
            ("quay.gate", "Quay: Gate → the end: Home"),
        ])  # fmt: skip
        self.assertEqual(told_route(Rules(f), route[2:3]), [("quay.d", "Quay: Take the rope (impossible)")])


class Places(unittest.TestCase):
    def setUp(self):
        self.flow = flow(play_level("a", way("x", "won", name="Gate", opens="never"), name="Quay", minutes=3))

    def test_long_places_in_words(self):
        for place, words in (
            ("levels.a.exits.x.trigger.when", "Quay: Gate › trigger › when"),
            ("levels.a.minutes", "Quay: minutes"),
            ("levels.gone.minutes", "levels.gone.minutes"),
            ("saving", "saving"),
        ):
            self.assertEqual(long_title(self.flow, place), words)
        self.assertEqual(value_at(self.flow, "levels.a.exits.x.opens"), "never")
        with self.assertRaises(KeyError):
            value_at(self.flow, "levels.a.exits.x.shuts")

    def test_values_put_back_one_at_a_time(self):
        settings = tuple(TrialSetting(at=at, ships_as=value) for at, value in (
            ("levels.a.exits.x.opens", "seen a"), ("levels.a.minutes", 5), ("levels.a.kind", 7)))  # fmt: skip
        f = replace(self.flow, trial_settings=settings)
        f = put_back(f, "levels.a.exits.x.opens")
        self.assertEqual((f.levels[0].exits[0].opens, f.levels[0].minutes, len(f.trial_settings)), ("seen a", 3, 2))
        f = put_back(f, "levels.a.minutes")
        self.assertEqual(f.levels[0].minutes, 5)
        with self.assertRaises(CannotEdit):
            put_back(f, "levels.a.kind")


class Naming(unittest.TestCase):
    def test_what_conditions_and_effects_name(self):
        text = "has rope and (at least 2 oil or not tide is ebb) and seen quay and done pan"
        self.assertEqual(facts_named(text), {"rope", "oil", "tide"})
        self.assertEqual(levels_named(text), {"quay", "pan"})
        self.assertEqual(
            [fact_changed(e) for e in ("gain rope", "turn tide to ebb", "add 2 oil")], ["rope", "tide", "oil"]
        )


if __name__ == "__main__":
    unittest.main()
