"""What is open on a board as play goes on."""

from unittest import TestCase

from mossy_bridge.play.board_progress import (
    ByHand,
    asked_by_tiles,
    board_along,
    condition_of,
    open_tiles,
    state_by_hand,
)
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import parse_move
from tests.support.build import board, deed, flow, play_level, way

TILES = (
    {"id": "first", "level": "shore", "right": "second"},
    {"id": "second", "level": "isle", "col": 1, "left": "first"},
)


def isle_flow():
    return flow(
        board("chart", *TILES, first_tile="first"),
        play_level("shore", way("home", "chart"), deeds=[deed("pick_up", "gain oar")]),
        play_level("isle", way("home", "chart"), opens="has oar"),
        facts=["oar"],
    )


class BoardAlong(TestCase):
    def test_a_tile_is_new_at_the_move_that_opens_it_and_only_there(self):
        f = isle_flow()
        moves = ["tile chart.first", "deed shore.pick_up", "exit shore.home"]
        moments = list(board_along(Rules(f), f.level("chart"), filter(None, map(parse_move, moves))))
        self.assertEqual([moment.move for moment in moments], ["", *moves])
        self.assertEqual([sorted(moment.open) for moment in moments], [["first"]] * 2 + [["first", "second"]] * 2)
        self.assertEqual([sorted(moment.new) for moment in moments], [[], [], ["second"], []])


class SetByHand(TestCase):
    def test_what_is_open_and_the_condition_for_it(self):
        f = isle_flow()
        rules, chart = Rules(f), f.level("chart")
        for facts, opened, condition in (({}, {"first"}, "lacks oar"), ({"oar": True}, {"first", "second"}, "has oar")):
            hand = ByHand(facts)
            self.assertEqual(open_tiles(rules, chart, state_by_hand(rules, hand)), opened)
            self.assertEqual(condition_of(f, asked_by_tiles(f, chart), hand), condition)
